/**
 * A layout that is kept: where every corner of a surface lies on the sheet, with the keys of its face and vertex and
 * where on the surface it was, so that it can be followed when these are gone. A file of its own: a document is no
 * place for millions of numbers.
 */
import { deflateSync, inflateSync } from 'fflate';
import { UV, Mesh } from '../../mesh/mesh';
import type { Spot } from '../../mesh/spots';
import { triangulate } from '../../mesh/triangulate';
import type { HandPlaces } from './placed';
import { onOthers } from '../raster';

const MAGIC = 0x31594c47;
const HEADER = 16;
/** More corners are none that were ever written: a file says so before anything is made of it. */
const MOST = 64_000_000;
/** No file is packed closer than this. */
const MOST_PACKED = 1032;

export interface Layout {
  places: HandPlaces;
  /** Keys of faces that lie on others: they may go on to. */
  lying: ReadonlySet<number>;
  /** Of an entry: where its corner was on the surface. */
  spot(entry: number): Spot;
}

/** Throws one sentence for a surface without UVs. */
export function writeLayout(mesh: Mesh): Uint8Array {
  const uv = mesh.attributes[UV]?.data;
  if (!uv) throw new Error('There is no layout to keep: unfold the piece first.');
  const { faceCount: f, vertexCount: v, cornerCount: c } = mesh;
  const out = new ArrayBuffer(sizeOf(f, v, c));
  const t = tables(out, f, v, c);
  t.faceKey.set(mesh.faceKey);
  t.vertexKey.set(mesh.vertexKey);
  t.at.set(mesh.places.at);
  t.role.set(mesh.places.role);
  t.uv.set(uv);
  t.vertex.set(mesh.cornerVertex);
  t.start.set(mesh.faceStart);
  const packed = deflateSync(new Uint8Array(out), { level: 6 });
  const file = new Uint8Array(HEADER + packed.length);
  new Uint32Array(file.buffer, 0, 4).set([MAGIC, f, v, c]);
  file.set(packed, HEADER);
  return file;
}

export function readLayout(bytes: Uint8Array): Layout {
  const broken = new Error('The layout that was kept cannot be read: its file is broken.');
  if (bytes.length < HEADER) throw broken;
  const [magic, f, v, c] = new Uint32Array(bytes.slice(0, HEADER).buffer);
  const size = sizeOf(f, v, c);
  // What it says it holds has to be there, and no more is unpacked than that.
  if (magic !== MAGIC || Math.max(f, v, c) > MOST || size > MOST_PACKED * bytes.length) throw broken;
  const data = new ArrayBuffer(size);
  try {
    if (inflateSync(bytes.subarray(HEADER), { out: new Uint8Array(data) }).length !== size) throw broken;
  } catch {
    throw broken;
  }
  const t = tables(data, f, v, c);
  if (t.start[0] !== 0 || t.start[f] !== c || t.vertex.some((x) => x >= v)) throw broken;
  const face: number[] = [];
  const vertex: number[] = [];
  for (let i = 0; i < f; i++) {
    if (t.start[i + 1] < t.start[i]) throw broken;
    for (let k = t.start[i]; k < t.start[i + 1]; k++) {
      face.push(t.faceKey[i]);
      vertex.push(t.vertexKey[t.vertex[k]]);
    }
  }
  return {
    lying: lyingOf(t),
    places: { face, vertex, uv: Array.from(t.uv, (x) => (Number.isFinite(x) ? x : 0)) },
    spot: (k) => {
      const o = 4 * t.vertex[k];
      return Float64Array.of(t.at[o], t.at[o + 1], t.at[o + 2], t.at[o + 3], t.role[t.vertex[k]]);
    },
  };
}

/** Sheets that are looked at, side by side. */
const SHEETS = 16;

/** Pixels along the side of a sheet by which it is told what lies on what. */
const pixelsFor = (sheets: number): number => (sheets > 2 ? 1024 : 2048);

/** Keys of faces that lie on others. */
function lyingOf({ start, uv, faceKey }: ReturnType<typeof tables>): Set<number> {
  const flat = new Float32Array(1.5 * uv.length);
  let most = 1;
  for (let i = 0; 2 * i < uv.length; i++) {
    flat[3 * i] = uv[2 * i];
    flat[3 * i + 1] = uv[2 * i + 1];
    if (uv[2 * i] > most) most = uv[2 * i];
  }
  const mesh = new Mesh({
    positions: flat,
    faceStart: start,
    cornerVertex: Uint32Array.from({ length: uv.length / 2 }, (_, c) => c),
    vertexKey: () => new Float64Array(0),
    faceKey,
  });
  const out = new Set<number>();
  const sheets = Math.min(SHEETS, Math.ceil(most));
  onOthers(triangulate(mesh), uv, pixelsFor(sheets), sheets, (a, b) => {
    out.add(faceKey[a]).add(faceKey[b]);
  });
  return out;
}

/** The layout of a surface as it would be read. It needs its UVs. */
export function layoutOf(mesh: Mesh): Layout {
  const { at, role } = mesh.places;
  const face = new Array<number>(mesh.cornerCount);
  for (let f = 0; f < mesh.faceCount; f++) face.fill(mesh.faceKey[f], mesh.faceStart[f], mesh.faceStart[f + 1]);
  const uv = mesh.attributes[UV].data;
  return {
    lying: new Set(),
    places: { face, vertex: Array.from(mesh.cornerVertex, (v) => mesh.vertexKey[v]), uv: Array.from(uv) },
    spot: (k) => {
      const v = mesh.cornerVertex[k];
      return Float64Array.of(at[4 * v], at[4 * v + 1], at[4 * v + 2], at[4 * v + 3], role[v]);
    },
  };
}

const sizeOf = (f: number, v: number, c: number): number => 8 * (f + v) + 4 * (5 * v + 3 * c + f + 1);

/** Keys first: numbers of eight bytes stand at places of eight. */
function tables(data: ArrayBuffer, f: number, v: number, c: number) {
  let at = 0;
  const next = <T>(make: (from: number) => T, bytes: number): T => {
    const made = make(at);
    at += bytes;
    return made;
  };
  return {
    faceKey: next((o) => new Float64Array(data, o, f), 8 * f),
    vertexKey: next((o) => new Float64Array(data, o, v), 8 * v),
    at: next((o) => new Float32Array(data, o, 4 * v), 16 * v),
    role: next((o) => new Uint32Array(data, o, v), 4 * v),
    uv: next((o) => new Float32Array(data, o, 2 * c), 8 * c),
    vertex: next((o) => new Uint32Array(data, o, c), 4 * c),
    start: next((o) => new Uint32Array(data, o, f + 1), 4 * f + 4),
  };
}
