/**
 * Several meshes as one, each remembered as a set by its name. Keys are made anew from each part's own, under a seed
 * for each part: two copies of one thing would share them otherwise.
 */
import { EVERY, pulse } from '../math/pulse';
import { edgeKey, key2 } from '../math/hash';
import { blank } from '../mesh/gather';
import { alikeColoured } from '../mesh/colours';
import { marksAs, type MarkName, type Marks } from '../mesh/marks';
import { emptyMesh, Mesh, type Attribute, type MeshTextures } from '../mesh/mesh';
import { copiedRole, Later } from '../mesh/places';

export interface MergePart {
  mesh: Mesh;
  name: string;
  /** Seed of the part's new keys; without one its keys stay as they are. */
  seed?: number;
}

export function mergeMeshes(parts: readonly MergePart[]): Mesh {
  const meshes = alikeColoured(parts.map((p) => p.mesh));
  if (meshes.length === 0) return emptyMesh();
  const sum = (f: (m: Mesh) => number) => meshes.reduce((n, m) => n + f(m), 0);
  const vertices = sum((m) => m.vertexCount);
  const faces = sum((m) => m.faceCount);
  const corners = sum((m) => m.cornerCount);
  const positions = new Float32Array(3 * vertices);
  const cornerVertex = new Uint32Array(corners);
  const faceStart = new Uint32Array(faces + 1);
  const slots: string[] = [];
  const attributes: Record<string, Attribute> = {};
  const groups = parts.map((p) => p.name);
  const group = new Int32Array(faces);
  const vertexKey = new Float64Array(vertices);
  const faceKey = new Float64Array(faces);
  let v = 0;
  let c = 0;
  let f = 0;
  meshes.forEach((m, i) => {
    const seed = parts[i].seed;
    positions.set(m.positions, 3 * v);
    for (let k = 0; k < m.cornerCount; k++) cornerVertex[c + k] = m.cornerVertex[k] + v;
    for (let k = 0; k < m.faceCount; k++) {
      if ((k & EVERY) === 0) pulse();
      faceStart[f + k + 1] = m.faceStart[k + 1] + c;
      faceKey[f + k] = seed === undefined ? m.faceKey[k] : key2(seed, m.faceKey[k]);
    }
    for (let k = 0; k < m.vertexCount; k++)
      vertexKey[v + k] = seed === undefined ? m.vertexKey[k] : key2(seed, m.vertexKey[k]);
    group.fill(i, f, f + m.faceCount);
    for (const [name, a] of Object.entries(m.attributes)) {
      if (name === 'group') continue;
      const size = { vertex: vertices, face: faces, corner: corners }[a.domain];
      const offset = { vertex: v, face: f, corner: c }[a.domain];
      const had = attributes[name];
      if (had && (had.domain !== a.domain || had.width !== a.width)) continue; // one name for two things: the first stays
      const into = (attributes[name] ??= {
        domain: a.domain,
        width: a.width,
        data: blank(a.data, size * a.width),
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
  const kept = parts.find((p) => p.seed === undefined)?.mesh;
  const { lineage } = kept ?? {};
  return new Mesh({
    positions,
    cornerVertex,
    faceStart,
    vertexKey,
    faceKey,
    attributes,
    slots,
    groups,
    lineage,
    textures: oneTexture(meshes),
    marks: meshes.some((m) => m.marks) ? new Later(() => mergedMarks(meshes, parts)) : undefined,
    places: new Later(() => {
      const out = { at: new Float32Array(4 * vertices), role: new Uint32Array(vertices) };
      let first = 0;
      meshes.forEach((m, i) => {
        const own = m.places;
        const { seed } = parts[i];
        out.at.set(own.at, 4 * first);
        for (let k = 0; k < own.role.length; k++)
          out.role[first + k] = seed === undefined ? own.role[k] : copiedRole(own.role[k], seed);
        first += own.role.length;
      });
      return out;
    }),
  });
}

/** The texture that all of them wear; none where one wears another, or nothing: on its sheet it would show anything. */
export function oneTexture(meshes: readonly Mesh[]): MeshTextures | undefined {
  const [first, ...others] = meshes.filter((m) => m.faceCount > 0).map((m) => m.textures);
  return others.every((t) => t === first) ? first : undefined;
}

function mergedMarks(meshes: readonly Mesh[], parts: readonly MergePart[]): Marks {
  const all = meshes.map((m, i) => {
    const { seed } = parts[i];
    const key = (v: number) => (seed === undefined ? m.vertexKey[v] : key2(seed, m.vertexKey[v]));
    return marksAs(m, (a, b) => [edgeKey(key(a), key(b))]);
  });
  const joined = (name: MarkName) => new Map(all.flatMap((marks) => [...(marks[name] ?? [])]));
  return { crease: joined('crease'), hard: joined('hard') };
}
