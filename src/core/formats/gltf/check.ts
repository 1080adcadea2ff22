/**
 * What glTF says of itself, looked at before a library follows it: parts that are lists, indices that lead somewhere,
 * accessors no larger than the file can fill, nodes that are a forest and not too deep. So nothing it asks for can cost
 * more than it brought.
 */
import { tooDeep } from '../depth';
import { FileError } from '../scene';

type Json = Record<string, unknown>;

/** Values that an accessor may have without data behind it, which are all 0. */
const MOST_EMPTY = 1_000_000;
const DEEPEST = 400;
const WIDTHS: Readonly<Record<string, number>> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 };
const BYTES: Readonly<Record<number, number>> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };
const LISTS = ['accessors', 'buffers', 'bufferViews', 'images', 'materials', 'meshes', 'nodes', 'scenes', 'textures'];

export function jsonOf(bytes: Uint8Array, name: string): Json {
  if (tooDeep(bytes)) throw new FileError(`${name} is nested deeper than can be followed.`);
  let json: unknown;
  try {
    json = JSON.parse(new TextDecoder().decode(bytes));
  } catch {
    throw new FileError(`${name} is not a glTF that can be read: its text is broken.`);
  }
  if (typeof json !== 'object' || json === null || Array.isArray(json))
    throw new FileError(`${name} is not a glTF that can be read: its text is broken.`);
  return json as Json;
}

/** Throws one sentence where it cannot be read safely. `size`: bytes of all that came with it. */
export function checkGltf(json: object, size: number, name: string): void {
  const j = json as Json;
  const broken = (what: string) => new FileError(`${name} is damaged: ${what}.`);
  for (const k of LISTS) {
    const list = j[k];
    if (list === undefined) continue;
    if (!Array.isArray(list) || !list.every((x) => typeof x === 'object' && x !== null && !Array.isArray(x)))
      throw broken(`its list of ${k} is none`);
  }
  const list = (k: string) => (j[k] ?? []) as Json[];
  for (const part of [...list('buffers'), ...list('images')]) {
    const uri = part.uri;
    if (uri !== undefined && typeof uri !== 'string') throw broken('an address is no text');
    // Addresses elsewhere are never followed.
    if (uri && /^[a-z][a-z0-9+.-]*:/i.test(uri) && !uri.startsWith('data:'))
      throw new FileError(
        `${name} wants ${uri.slice(0, 80)} from elsewhere. Nothing is fetched from outside: bring the file with it.`,
      );
  }
  const views = list('bufferViews');
  const buffers = list('buffers');
  const most = size + 4;
  for (const b of buffers)
    if (!within(b.byteLength, isUnpacked(b) ? MOST_PACKED * most : most))
      throw broken('a buffer is longer than the file');
  for (const v of views) {
    const buffer = buffers[v.buffer as number];
    if (!buffer) throw broken('a part of a buffer belongs to none');
    const from = v.byteOffset ?? 0;
    if (!within(from, 2 ** 31) || !within(v.byteLength, 2 ** 31) || from + v.byteLength > (buffer.byteLength as number))
      throw broken('a part of a buffer lies outside of it');
    const packed = extensionOf(v, MESHOPT);
    if (packed) checkPacked(v, packed, buffers, broken);
    if (v.byteStride !== undefined && !within(v.byteStride, 252)) throw broken('a stride is out of range');
  }
  const unpacked = dracoAccessors(list('meshes'));
  list('accessors').forEach((a, i) =>
    checkAccessor(a, views, unpacked.has(i) ? MOST_EMPTY + MOST_PACKED * size : MOST_EMPTY, broken),
  );
  checkNodes(list('nodes'), broken);
}

const within = (x: unknown, most: number): x is number =>
  Number.isInteger(x) && (x as number) >= 0 && (x as number) <= most;

const MESHOPT = 'EXT_meshopt_compression';
const DRACO = 'KHR_draco_mesh_compression';
/** Bytes that one byte of the file may unpack to, or numbers: what was made to be drawn stays far below. */
const MOST_PACKED = 256;

const extensionOf = (of: Json, name: string): Json | undefined => {
  const x = (of.extensions as Json | null | undefined)?.[name];
  return typeof x === 'object' && x !== null ? (x as Json) : undefined;
};

/** A buffer that is not in the file: what is packed elsewhere is unpacked to it. */
const isUnpacked = (buffer: Json): boolean =>
  extensionOf(buffer, MESHOPT)?.fallback === true && buffer.uri === undefined;

function checkPacked(view: Json, packed: Json, buffers: Json[], broken: (what: string) => FileError): void {
  const { count, byteStride, byteLength, byteOffset = 0 } = packed;
  const from = buffers[packed.buffer as number];
  if (!from || isUnpacked(from)) throw broken('a packed part belongs to no buffer');
  if (
    !within(byteOffset, 2 ** 31) ||
    !within(byteLength, 2 ** 31) ||
    byteOffset + byteLength > (from.byteLength as number)
  )
    throw broken('a packed part lies outside of its buffer');
  if (!within(count, 2 ** 31) || !within(byteStride, 256) || count * byteStride !== view.byteLength)
    throw broken('a packed part does not unpack to what it says');
}

/** Accessors whose numbers come from packed triangles: there is nothing behind them until these are unpacked. */
function dracoAccessors(meshes: Json[]): Set<number> {
  const out = new Set<number>();
  for (const mesh of meshes) {
    if (!Array.isArray(mesh.primitives)) continue;
    for (const p of mesh.primitives as (Json | null)[]) {
      if (!p || !extensionOf(p, DRACO)) continue;
      if (typeof p.indices === 'number') out.add(p.indices);
      for (const at of Object.values((p.attributes ?? {}) as Json)) if (typeof at === 'number') out.add(at);
    }
  }
  return out;
}

function checkAccessor(a: Json, views: Json[], mostEmpty: number, broken: (what: string) => FileError): void {
  const width = WIDTHS[a.type as string];
  const bytes = BYTES[a.componentType as number];
  if (!width || !bytes || !within(a.count, 2 ** 31)) throw broken('a list of numbers does not say what it holds');
  if (a.bufferView === undefined) {
    if (a.count * width > mostEmpty) throw broken('a list of numbers has none behind it');
  } else {
    const view = views[a.bufferView as number];
    if (!view) throw broken('a list of numbers has none behind it');
    const stride = (view.byteStride as number | undefined) ?? width * bytes;
    const from = a.byteOffset ?? 0;
    const end = a.count === 0 ? 0 : stride * (a.count - 1) + width * bytes;
    if (!within(from, 2 ** 31) || from + end > (view.byteLength as number))
      throw broken('a list of numbers is longer than what is behind it');
  }
  if (a.sparse !== undefined) {
    const s = a.sparse as Json | null;
    if (typeof s !== 'object' || s === null || !within(s.count, a.count)) throw broken('a sparse list is out of range');
    for (const part of [s.indices, s.values] as (Json | undefined)[])
      if (!part || !views[part.bufferView as number]) throw broken('a sparse list has nothing behind it');
  }
}

/** Every node at most once under one other, no circles, and no deeper than can be followed. */
function checkNodes(nodes: Json[], broken: (what: string) => FileError): void {
  const parent = new Int32Array(nodes.length).fill(-1);
  nodes.forEach((node, i) => {
    if (node.children === undefined) return;
    if (!Array.isArray(node.children)) throw broken('what a node holds is no list');
    for (const c of node.children as unknown[]) {
      if (!within(c, nodes.length - 1)) throw broken('a node holds one that is not there');
      if (parent[c] >= 0 || c === i) throw broken('a node is in two places');
      parent[c] = i;
    }
  });
  const depth = new Int32Array(nodes.length);
  const way: number[] = [];
  for (let i = 0; i < nodes.length; i++) {
    let at = i;
    while (at >= 0 && depth[at] === 0 && way.length <= nodes.length) {
      way.push(at);
      at = parent[at];
    }
    if (way.length > nodes.length) throw broken('its nodes go round in a circle');
    let d = at >= 0 ? depth[at] : 0;
    while (way.length) depth[way.pop()!] = ++d;
    if (d > DEEPEST) throw broken('its nodes are nested deeper than can be followed');
  }
}
