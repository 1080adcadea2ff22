/**
 * GLB and glTF (2.0), written through gltf-transform. glTF knows triangles only, one vertex for each combination of
 * place, normal, UVs and whatever else corners have.
 *
 * Which corners are the same is found by going along the corners written so far at each vertex, in flat lists: with a
 * map of lists for each vertex 1,000,000 triangles took 4.1 s, so 0.5 s (`./glypta bench --only glb`).
 */
import { Document, type Accessor, type Node } from '@gltf-transform/core';
import { compose, IDENTITY, placeOf, toMatrix4, type Affine } from '../../math/affine';
import { EVERY, pulse } from '../../math/pulse';
import { boundsOf } from '../../mesh/bounds';
import { COLOR, isOwn, Mesh, NORMAL, uvSets } from '../../mesh/mesh';
import { cornerNormals } from '../../mesh/normals';
import { triangulate } from '../../mesh/triangulate';
import { transformMesh } from '../../edit/transform';
import { toLinear } from '../../math/colour';
import { safeName, type Scene } from '../scene';
import { writer } from './io';
import { materialTo } from './materials';

/** Faces that meet at less than this look smooth, where the mesh brings no normals of its own. Radians. */
export const SMOOTH_ANGLE = 0.7;

/**
 * glTF nodes move, turn and size, but cannot lean: what leans is written into the mesh, or handed on to what is inside.
 */
function withoutLean(scene: Scene): Scene {
  const rest: Affine[] = [];
  const pieces = scene.pieces.map((p, i) => {
    const above = p.parent >= 0 ? rest[p.parent] : IDENTITY;
    const local = p.place ? compose(above, p.place) : above;
    rest[i] = IDENTITY;
    if (local === IDENTITY || placeOf(local).lean.every((x) => Math.abs(x) < 1e-7))
      return { ...p, place: local === IDENTITY ? undefined : local };
    rest[i] = local;
    return { ...p, place: undefined, mesh: p.mesh && transformMesh(p.mesh, local) };
  });
  return { ...scene, pieces };
}

export async function writeGlb(scene: Scene): Promise<Uint8Array> {
  return writer().writeBinary(documentOf(scene));
}

/** glTF as text, its buffer and its pictures as files beside it. */
export async function writeGltf(scene: Scene, stem: string): Promise<[string, Uint8Array][]> {
  const doc = documentOf(scene);
  doc.getRoot().listBuffers()[0]?.setURI(`${stem}.bin`);
  doc
    .getRoot()
    .listTextures()
    .forEach((t, i) => t.setURI(safeName(t.getName(), `picture-${i + 1}.png`)));
  const { json, resources } = await writer().writeJSON(doc);
  return [
    [`${stem}.gltf`, new TextEncoder().encode(JSON.stringify(json))],
    ...Object.entries(resources).map(([n, b]): [string, Uint8Array] => [n, b]),
  ];
}

const TYPES = ['SCALAR', 'VEC2', 'VEC3', 'VEC4'] as const;

function documentOf(input: Scene): Document {
  const scene = withoutLean(input);
  const doc = new Document();
  const shared = new Map<Mesh, ReturnType<Document['createMesh']>>();
  // Pictures lie in a buffer as well, where there is no mesh to make one.
  if (scene.images.length > 0) doc.createBuffer();
  const textures = scene.images.map((i) => doc.createTexture(i.name).setImage(i.bytes).setMimeType(i.mime));
  const materials = new Map(scene.materials.map((m) => [m.id, materialTo(doc, m, textures)]));
  // A scene without nodes is none.
  const root = scene.pieces.length > 0 ? doc.createScene('Scene') : null;
  doc.getRoot().setDefaultScene(root);
  const nodes: Node[] = [];
  const accessor = (
    data: Float32Array<ArrayBuffer> | Uint32Array<ArrayBuffer> | Uint16Array<ArrayBuffer>,
    width: number,
  ) =>
    doc
      .createAccessor()
      .setType(TYPES[width - 1])
      .setArray(data)
      .setBuffer(doc.getRoot().listBuffers()[0] ?? doc.createBuffer());
  for (const piece of scene.pieces) {
    const node = doc.createNode(piece.name);
    nodes.push(node);
    if (piece.parent >= 0) nodes[piece.parent].addChild(node);
    else root!.addChild(node);
    if (piece.place) node.setMatrix(toMatrix4(piece.place) as Parameters<Node['setMatrix']>[0]);
    if (!piece.mesh || piece.mesh.faceCount === 0) continue;
    // Linked copies are one mesh in several places.
    const had = shared.get(piece.mesh);
    if (had) {
      node.setMesh(had);
      continue;
    }
    const mesh = doc.createMesh(piece.name);
    shared.set(piece.mesh, mesh);
    for (const part of partsOf(piece.mesh)) {
      const index = part.vertices > 65535 ? part.index : Uint16Array.from(part.index);
      const p = doc.createPrimitive().setIndices(accessor(index, 1));
      for (const { semantic, width, data } of part.data) {
        const a = accessor(data, width);
        // What the file says of where it is: the library's own way looks each number up by name, 200 ms for 500,000
        // places.
        if (semantic === 'POSITION') Object.assign(a, boundsOfPlaces(data));
        p.setAttribute(semantic, a);
      }
      const material = materials.get(part.slot);
      if (material) p.setMaterial(material);
      if (part.group) p.setExtras({ group: part.group });
      mesh.addPrimitive(p);
    }
    node.setMesh(mesh);
  }
  doc.getRoot().getAsset().generator = 'Glypta';
  return doc;
}

function boundsOfPlaces(data: Float32Array): Pick<Accessor, 'getMin' | 'getMax'> {
  const { min, max } = boundsOf(data);
  const into = (out: number[], from: readonly number[]) => {
    for (let k = 0; k < 3; k++) out[k] = from[k];
    return out;
  };
  return { getMin: (out) => into(out, min), getMax: (out) => into(out, max) };
}

interface Part {
  slot: string;
  group: string;
  vertices: number;
  index: Uint32Array<ArrayBuffer>;
  data: { semantic: string; width: number; data: Float32Array<ArrayBuffer> }[];
}

/** What is written of each corner: `width` numbers from `data`, at the corner or at its vertex. */
interface Source {
  semantic: string;
  width: number;
  data: ArrayLike<number>;
  byVertex: boolean;
}

function sourcesOf(mesh: Mesh): Source[] {
  const own = mesh.attributes[NORMAL];
  const normals = own ? normalised(own.data as Float32Array) : cornerNormals(mesh, SMOOTH_ANGLE);
  upright(normals);
  const out: Source[] = [
    { semantic: 'POSITION', width: 3, data: mesh.positions, byVertex: true },
    { semantic: 'NORMAL', width: 3, data: normals, byVertex: false },
  ];
  uvSets(mesh).forEach((name, i) => {
    const data = Float32Array.from(mesh.attributes[name].data);
    for (let k = 1; k < data.length; k += 2) data[k] = 1 - data[k]; // from the top
    out.push({ semantic: `TEXCOORD_${i}`, width: 2, data, byVertex: false });
  });
  for (const [name, { domain, width, data }] of Object.entries(mesh.attributes)) {
    if (width > 4) continue;
    if (isOwn(name) && domain === 'face') {
      out.push({ semantic: `_${name}`, width, data: ofCorners(mesh, data, width), byVertex: false });
      continue;
    }
    if (domain === 'face') continue;
    const byVertex = domain === 'vertex';
    if (name === COLOR && width >= 3) {
      const linear = Float32Array.from(data, (x, i) => (i % width < 3 ? toLinear(x) : x));
      out.push({ semantic: 'COLOR_0', width, data: linear, byVertex });
    } else if (name[0] === '_') out.push({ semantic: name.toUpperCase(), width, data, byVertex });
    else if (isOwn(name)) out.push({ semantic: `_${name}`, width, data, byVertex });
  }
  return out;
}

/** What a face says, for each of its corners. */
function ofCorners(mesh: Mesh, data: ArrayLike<number>, width: number): Float32Array {
  const out = new Float32Array(width * mesh.cornerCount);
  for (let f = 0; f < mesh.faceCount; f++)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      for (let k = 0; k < width; k++) out[width * c + k] = data[width * f + k];
  return out;
}

/** glTF wants unit normals, even on faces without area. */
function upright(n: Float32Array): void {
  for (let i = 0; i < n.length; i += 3) if (n[i] === 0 && n[i + 1] === 0 && n[i + 2] === 0) n[i + 1] = 1;
}

/** Triangles by material and group, each with its own run of vertices. */
function partsOf(mesh: Mesh): Part[] {
  const t = triangulate(mesh);
  const sources = sourcesOf(mesh);
  const material = mesh.attributes.material?.data;
  const group = mesh.attributes.group?.data;
  const kinds: { m: number; g: number; count: number }[] = [];
  const kindOf = new Map<number, number>();
  const of = new Uint32Array(t.face.length);
  for (let i = 0; i < t.face.length; i++) {
    const m = material ? material[t.face[i]] : -1;
    const g = group ? group[t.face[i]] : -1;
    const key = (m + 1) * (mesh.groups.length + 1) + g + 1;
    let kind = kindOf.get(key);
    if (kind === undefined) kindOf.set(key, (kind = kinds.push({ m, g, count: 0 }) - 1));
    of[i] = kind;
    kinds[kind].count++;
  }
  const start = new Uint32Array(kinds.length + 1);
  kinds.forEach((k, i) => {
    start[i + 1] = start[i] + k.count;
  });
  const sorted = new Uint32Array(t.face.length);
  const next = start.slice();
  for (let i = 0; i < t.face.length; i++) sorted[next[of[i]]++] = i;
  const head = new Int32Array(mesh.vertexCount).fill(-1);
  return kinds.map(({ m, g }, i) => {
    const list = sorted.subarray(start[i], start[i + 1]);
    const { index, corners } = distinctCorners(mesh, t.corners, list, sources, head);
    return {
      slot: mesh.slots[m] ?? '',
      group: mesh.groups[g] ?? '',
      vertices: corners.length,
      index,
      data: sources.map((s) => ({ semantic: s.semantic, width: s.width, data: gathered(mesh, s, corners) })),
    };
  });
}

function gathered(mesh: Mesh, { width, data, byVertex }: Source, corners: Uint32Array): Float32Array<ArrayBuffer> {
  const out = new Float32Array(width * corners.length);
  for (let i = 0; i < corners.length; i++) {
    const from = width * (byVertex ? mesh.cornerVertex[corners[i]] : corners[i]);
    for (let k = 0; k < width; k++) out[width * i + k] = data[from + k];
  }
  return out;
}

/** Normals count as the same within this, everything else when it is the same. */
const SAME_NORMAL = 1e-6;

/** `head`: −1 for every vertex, before and after. */
function distinctCorners(
  mesh: Mesh,
  corners: Uint32Array,
  triangles: Uint32Array,
  sources: readonly Source[],
  head: Int32Array,
): { index: Uint32Array<ArrayBuffer>; corners: Uint32Array } {
  const { cornerVertex } = mesh;
  const own = sources.filter((s) => !s.byVertex);
  const index = new Uint32Array(3 * triangles.length);
  const written = new Uint32Array(3 * triangles.length);
  const link = new Int32Array(3 * triangles.length);
  const same = (a: number, b: number): boolean => {
    for (const { width, data, semantic } of own) {
      const slack = semantic === 'NORMAL' ? SAME_NORMAL : 0;
      for (let k = 0; k < width; k++) {
        const d = data[width * a + k] - data[width * b + k];
        if (d > slack || d < -slack) return false;
      }
    }
    return true;
  };
  let count = 0;
  let n = 0;
  for (let i = 0; i < triangles.length; i++) {
    if ((i & EVERY) === 0) pulse();
    for (let k = 0; k < 3; k++) {
      const c = corners[3 * triangles[i] + k];
      const v = cornerVertex[c];
      let at = head[v];
      while (at >= 0 && written[at] !== c && !same(written[at], c)) at = link[at];
      if (at < 0) {
        at = count++;
        written[at] = c;
        link[at] = head[v];
        head[v] = at;
      }
      index[n++] = at;
    }
  }
  for (let i = 0; i < count; i++) head[cornerVertex[written[i]]] = -1;
  return { index, corners: written.slice(0, count) };
}

function normalised(n: Float32Array): Float32Array {
  const out = new Float32Array(n.length);
  for (let i = 0; i < n.length; i += 3) {
    const l = Math.hypot(n[i], n[i + 1], n[i + 2]);
    if (l > 0) for (let k = 0; k < 3; k++) out[i + k] = n[i + k] / l;
  }
  return out;
}
