import type { Mesh } from '../mesh/mesh';

/**
 * What is wrong with a mesh, in words; nothing for a valid one: indices in range, no vertex twice in a face, three
 * corners at least, numbers finite, keys unique, attributes as long as what they are of.
 */
export function problemsOf(mesh: Mesh): string[] {
  const out: string[] = [];
  const { faceStart, cornerVertex, faceCount, vertexCount } = mesh;
  const seenIn = new Int32Array(vertexCount).fill(-1);
  for (let f = 0; f < faceCount; f++) {
    const ring = cornerVertex.subarray(faceStart[f], faceStart[f + 1]);
    if (ring.length < 3) out.push(`face ${f} has ${ring.length} corners`);
    for (const v of ring) {
      if (v >= vertexCount) out.push(`face ${f} leaves the mesh`);
      else if (seenIn[v] === f) out.push(`face ${f} passes a vertex twice: ${ring.join(' ')}`);
      seenIn[v] = f;
    }
  }
  if (!mesh.positions.every(Number.isFinite)) out.push('a place is not finite');
  if (new Set(mesh.vertexKey).size !== vertexCount) out.push('two vertices share a key');
  if (new Set(mesh.faceKey).size !== faceCount) out.push('two faces share a key');
  const size = { vertex: vertexCount, face: faceCount, corner: mesh.cornerCount };
  for (const [name, a] of Object.entries(mesh.attributes))
    if (a.data.length !== size[a.domain] * a.width) out.push(`${name} is as long as something else`);
  if (mesh.places.at.length !== 4 * vertexCount) out.push('its places are as many as something else');
  return out;
}
