/**
 * Several meshes as one, each placed by a map and remembered as a set by its name. Keys are made anew from each part's own, under a seed
 * for each part: two copies of one thing would share them otherwise.
 */
import { transformVertices, flipFaces } from './transform';
import { determinant, IDENTITY, type Affine } from '../math/affine';
import { key2 } from '../math/hash';
import { emptyMesh, Mesh, type Attribute } from '../mesh/mesh';

export interface MergePart {
  mesh: Mesh;
  name: string;
  place?: Affine;
  seed: number;
}

export function mergeMeshes(parts: readonly MergePart[]): Mesh {
  const meshes = parts.map((p) => {
    if (!p.place || p.place === IDENTITY) return p.mesh;
    const moved = transformVertices(p.mesh, p.place);
    return determinant(p.place) < 0 ? flipFaces(moved) : moved;
  });
  if (meshes.length === 0) return emptyMesh();
  const sum = (f: (m: Mesh) => number) => meshes.reduce((n, m) => n + f(m), 0);
  const vertices = sum((m) => m.vertexCount),
    faces = sum((m) => m.faceCount),
    corners = sum((m) => m.cornerCount);
  const positions = new Float32Array(3 * vertices),
    cornerVertex = new Uint32Array(corners),
    faceStart = new Uint32Array(faces + 1);
  const slots: string[] = [],
    attributes: Record<string, Attribute> = {},
    groups = parts.map((p) => p.name);
  const group = new Int32Array(faces),
    vertexKey = new Float64Array(vertices),
    faceKey = new Float64Array(faces);
  let v = 0,
    c = 0,
    f = 0;
  meshes.forEach((m, i) => {
    positions.set(m.positions, 3 * v);
    for (let k = 0; k < m.cornerCount; k++) cornerVertex[c + k] = m.cornerVertex[k] + v;
    for (let k = 0; k < m.faceCount; k++) {
      faceStart[f + k + 1] = m.faceStart[k + 1] + c;
      faceKey[f + k] = key2(parts[i].seed, m.faceKey[k]);
    }
    for (let k = 0; k < m.vertexCount; k++) vertexKey[v + k] = key2(parts[i].seed, m.vertexKey[k]);
    group.fill(i, f, f + m.faceCount);
    for (const [name, a] of Object.entries(m.attributes)) {
      if (name === 'group') continue;
      const size = a.domain === 'vertex' ? vertices : a.domain === 'face' ? faces : corners,
        offset = a.domain === 'vertex' ? v : a.domain === 'face' ? f : c;
      const had = attributes[name];
      if (had && (had.domain !== a.domain || had.width !== a.width)) continue; // one name for two things: the first stays
      const into = (attributes[name] ??= {
        domain: a.domain,
        width: a.width,
        data: a.data instanceof Int32Array ? new Int32Array(size * a.width).fill(-1) : new Float32Array(size * a.width),
      });
      if (name === 'material') {
        const to = m.slots.map((s) => {
          const at = slots.indexOf(s);
          return at >= 0 ? at : slots.push(s) - 1;
        });
        for (let k = 0; k < m.faceCount; k++) into.data[f + k] = a.data[k] >= 0 ? to[a.data[k]] : -1;
      } else into.data.set(a.data, offset * a.width);
    }
    v += m.vertexCount;
    c += m.cornerCount;
    f += m.faceCount;
  });
  // Normals that only some parts brought would leave the others black.
  if (attributes.normal && meshes.some((m) => m.faceCount > 0 && !m.attributes.normal)) delete attributes.normal;
  attributes.group = { domain: 'face', width: 1, data: group };
  return new Mesh({ positions, cornerVertex, faceStart, vertexKey, faceKey, attributes, slots, groups });
}
