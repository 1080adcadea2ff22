import { mergeMeshes } from '../../edit/merge';
import { COLOR, isOwn, type Mesh, NORMAL, UV, type Attribute } from '../../mesh/mesh';
import { flatten, type Scene } from '../scene';

/** A column of what is written for each vertex: its declaration, and the number. */
interface Column {
  kind: 'uchar' | 'float';
  name: string;
  of(v: number): number;
}

/** Data of corners as data of vertices: the first corner's; undefined where corners of a vertex differ. */
function byVertex(mesh: Mesh, a: Attribute): Float32Array | undefined {
  if (a.domain === 'vertex') return Float32Array.from(a.data);
  const { width } = a;
  const out = new Float32Array(width * mesh.vertexCount).fill(NaN);
  for (let c = 0; c < mesh.cornerCount; c++)
    for (let k = 0; k < width; k++) {
      const o = width * mesh.cornerVertex[c] + k;
      const x = a.data[width * c + k];
      if (Number.isNaN(out[o])) out[o] = x;
      else if (Math.abs(out[o] - x) > 1e-6) return undefined;
    }
  return out.map((x) => (Number.isNaN(x) ? 0 : x));
}

const byte = (x: number): number => Math.max(0, Math.min(255, Math.round(x * 255)));
const RGBA = ['red', 'green', 'blue', 'alpha'];

/** What vertices have beside their place, and faces that have colours of their own. */
function columnsOf(mesh: Mesh): { vertex: Column[]; face: Column[] } {
  const vertex: Column[] = [];
  const face: Column[] = [];
  const normal = mesh.attributes[NORMAL] && byVertex(mesh, mesh.attributes[NORMAL]);
  if (normal)
    ['nx', 'ny', 'nz'].forEach((name, k) => vertex.push({ kind: 'float', name, of: (v) => normal[3 * v + k] }));
  const own = mesh.attributes[COLOR];
  if (own && own.domain !== 'face' && own.width >= 3) {
    const { width, data } = own;
    let clear = false;
    for (let i = 3; width > 3 && i < data.length; i += width) clear ||= data[i] < 1;
    const names = RGBA.slice(0, clear ? 4 : 3);
    const smooth = byVertex(mesh, own);
    // Where corners of a vertex differ, faces have the colour of their first corner.
    names.forEach((name, k) => {
      if (smooth) vertex.push({ kind: 'uchar', name, of: (v) => byte(smooth[width * v + k]) });
      else face.push({ kind: 'uchar', name, of: (f) => byte(data[width * mesh.faceStart[f] + k]) });
    });
  }
  for (const [name, a] of Object.entries(mesh.attributes)) {
    if ((name[0] !== '_' && !isOwn(name)) || a.domain === 'corner') continue;
    for (let k = 0; k < a.width; k++) {
      const label = `${name.replace(/^_/, '')}${a.width > 1 ? `_${k}` : ''}`;
      (a.domain === 'face' ? face : vertex).push({ kind: 'float', name: label, of: (i) => a.data[a.width * i + k] });
    }
  }
  return { vertex, face };
}

/**
 * Writes all meshes of a scene as one PLY, in their places, polygons as they are. Binary (little-endian) unless asked
 * for text.
 */
export function writePly(input: Scene, text = false): Uint8Array {
  const parts = flatten(input).pieces.flatMap((p, i) =>
    p.mesh && p.mesh.vertexCount ? [{ mesh: p.mesh, name: p.name, seed: i }] : [],
  );
  const mesh = parts.length === 1 ? parts[0].mesh : mergeMeshes(parts);
  const p = mesh.positions;
  const more = columnsOf(mesh);
  const uv = mesh.attributes[UV]?.data;
  const large = mesh.faceStart.some((s, f) => f > 0 && s - mesh.faceStart[f - 1] > 127);
  const counting = large ? 'uint' : 'uchar';
  const declare = (c: Column) => `property ${c.kind} ${c.name}`;
  const head = [
    'ply',
    `format ${text ? 'ascii' : 'binary_little_endian'} 1.0`,
    'comment Glypta',
    `element vertex ${mesh.vertexCount}`,
    ...['x', 'y', 'z'].map((k) => `property float ${k}`),
    ...more.vertex.map(declare),
    `element face ${mesh.faceCount}`,
    `property list ${counting} uint vertex_indices`,
    ...(uv ? [`property list ${counting} float texcoord`] : []),
    ...more.face.map(declare),
    'end_header',
    '',
  ].join('\n');
  if (text) {
    const out: string[] = [];
    const n = (x: number) => (Object.is(x, -0) ? '-0' : x);
    for (let v = 0; v < mesh.vertexCount; v++)
      out.push([n(p[3 * v]), n(p[3 * v + 1]), n(p[3 * v + 2]), ...more.vertex.map((c) => c.of(v))].join(' '));
    for (let f = 0; f < mesh.faceCount; f++) {
      const s = mesh.faceStart[f];
      const e = mesh.faceStart[f + 1];
      const places = uv ? [2 * (e - s), ...uv.subarray(2 * s, 2 * e)] : [];
      const corners = mesh.cornerVertex.subarray(s, e);
      out.push([e - s, ...corners, ...places, ...more.face.map((c) => c.of(f))].join(' '));
    }
    return new TextEncoder().encode(`${head}${out.join('\n')}\n`);
  }
  const start = new TextEncoder().encode(head);
  const counted = large ? 4 : 1;
  const wide = (list: readonly Column[]) => list.reduce((n, c) => n + (c.kind === 'float' ? 4 : 1), 0);
  const bytes = new Uint8Array(
    start.length +
      mesh.vertexCount * (12 + wide(more.vertex)) +
      mesh.faceCount * (counted * (uv ? 2 : 1) + wide(more.face)) +
      mesh.cornerCount * (uv ? 12 : 4),
  );
  const view = new DataView(bytes.buffer);
  bytes.set(start);
  let o = start.length;
  const count = (n: number) => {
    if (large) {
      view.setUint32(o, n, true);
      o += 4;
    } else bytes[o++] = n;
  };
  const put = (list: readonly Column[], i: number) => {
    for (const c of list)
      if (c.kind === 'float') {
        view.setFloat32(o, c.of(i), true);
        o += 4;
      } else bytes[o++] = c.of(i);
  };
  for (let v = 0; v < mesh.vertexCount; v++) {
    for (let k = 0; k < 3; k++, o += 4) view.setFloat32(o, p[3 * v + k], true);
    put(more.vertex, v);
  }
  for (let f = 0; f < mesh.faceCount; f++) {
    const s = mesh.faceStart[f];
    const e = mesh.faceStart[f + 1];
    count(e - s);
    for (let c = s; c < e; c++, o += 4) view.setUint32(o, mesh.cornerVertex[c], true);
    if (uv) {
      count(2 * (e - s));
      for (let c = 2 * s; c < 2 * e; c++, o += 4) view.setFloat32(o, uv[c], true);
    }
    put(more.face, f);
  }
  return bytes;
}
