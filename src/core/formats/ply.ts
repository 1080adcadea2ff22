/** PLY, text and binary in both byte orders: vertices with colours and normals left aside, polygons of any size; elements it does not know are passed over. */
import { GrowInt } from '../math/grow';
import { keyOf } from '../math/hash';
import { countedKeys, Mesh, UV, type Attribute } from '../mesh/mesh';
import { mergeMeshes } from '../edit/merge';
import { emptyScene, FileError, flatten, safeName, type Scene } from './scene';

type Kind = 'i1' | 'u1' | 'i2' | 'u2' | 'i4' | 'u4' | 'f4' | 'f8';
const KINDS: Readonly<Record<string, Kind>> = {
  char: 'i1',
  int8: 'i1',
  uchar: 'u1',
  uint8: 'u1',
  short: 'i2',
  int16: 'i2',
  ushort: 'u2',
  uint16: 'u2',
  int: 'i4',
  int32: 'i4',
  uint: 'u4',
  uint32: 'u4',
  float: 'f4',
  float32: 'f4',
  double: 'f8',
  float64: 'f8',
};
interface Property {
  name: string;
  kind: Kind;
  count?: Kind;
}
interface Element {
  name: string;
  count: number;
  properties: Property[];
}

const MOST = 200_000_000;

export function readPly(bytes: Uint8Array, fileName = 'file.ply', progress?: (share: number) => void): Scene {
  const name = safeName(fileName);
  const scene = emptyScene();
  if (bytes.length === 0) throw new FileError(`${name} is empty.`);
  const { elements, format, start } = header(bytes, name);
  const next = format === 'ascii' ? words(bytes, start, name) : numbers(bytes, start, format === 'little', name);
  let positions = new Float32Array(0);
  let colors: Float32Array | undefined;
  let uv: Float32Array | undefined;
  let cornerUv: number[] | undefined;
  const corner = new GrowInt(1024);
  const faceEnd = new GrowInt(1024);
  let bad = 0;
  let thin = 0;
  for (const e of elements) {
    const at = (...names: string[]) => e.properties.findIndex((p) => names.includes(p.name) && !p.count);
    if (e.name === 'vertex') {
      const [x, y, z] = [at('x'), at('y'), at('z')];
      if (x < 0 || y < 0 || z < 0) throw new FileError(`${name} says nothing of where its vertices are.`);
      const rgb = [at('red', 'r'), at('green', 'g'), at('blue', 'b')];
      const st = [at('u', 's', 'texture_u'), at('v', 't', 'texture_v')];
      positions = new Float32Array(3 * e.count);
      if (rgb.every((c) => c >= 0)) colors = new Float32Array(4 * e.count).fill(1);
      if (st.every((c) => c >= 0)) uv = new Float32Array(2 * e.count);
      const colorKind = rgb[0] >= 0 ? e.properties[rgb[0]].kind : 'f';
      const whole = colorKind[1] === '2' ? 65535 : 255;
      const full = colorKind[0] === 'f' ? 1 : whole;
      const row = new Float64Array(e.properties.length);
      for (let i = 0; i < e.count; i++) {
        if ((i & 0x3ffff) === 0) progress?.((0.5 * i) / e.count);
        for (let k = 0; k < row.length; k++) {
          const p = e.properties[k];
          if (p.count) {
            for (let n = next(p.count); n > 0; n--) next(p.kind);
          } else row[k] = next(p.kind);
        }
        for (const [k, c] of [x, y, z].entries()) {
          const q = row[c];
          positions[3 * i + k] = Math.abs(q) < 1e30 ? q : (bad++, 0);
        }
        if (colors) for (let k = 0; k < 3; k++) colors[4 * i + k] = row[rgb[k]] / full;
        if (uv) {
          uv[2 * i] = row[st[0]];
          uv[2 * i + 1] = row[st[1]];
        }
      }
      continue;
    }
    const list =
      e.name === 'face' ? e.properties.findIndex((p) => p.count && /^vertex_ind(ex|ices)$/.test(p.name)) : -1;
    const tex = list >= 0 ? e.properties.findIndex((p) => p.count && p.name === 'texcoord') : -1;
    if (tex >= 0) cornerUv = [];
    const held: number[] = [];
    const heldUv: number[] = [];
    for (let i = 0; i < e.count; i++) {
      if ((i & 0x3ffff) === 0) progress?.(0.5 + (0.3 * i) / e.count);
      held.length = 0;
      heldUv.length = 0;
      for (let k = 0; k < e.properties.length; k++) {
        const p = e.properties[k];
        if (!p.count) {
          next(p.kind);
          continue;
        }
        const n = next(p.count);
        if (!(n >= 0 && n < 1_000_000))
          throw new FileError(`${name}: ${e.name} ${i + 1} has a list that cannot be that long.`);
        for (let q = 0; q < n; q++) {
          const v = next(p.kind);
          if (k === list) held.push(v);
          else if (k === tex) heldUv.push(v);
        }
      }
      if (list < 0) continue;
      if (held.some((v) => !(v >= 0 && 3 * v < positions.length))) {
        bad++;
        if (bad === 1) scene.warnings.push(`${name}: face ${i + 1} names a vertex the file does not have. Skipped it.`);
        continue;
      }
      if (held.length < 3 || new Set(held).size !== held.length) {
        thin++;
        continue;
      }
      held.forEach((v, q) => {
        corner.push(v);
        if (cornerUv) cornerUv.push(heldUv[2 * q] ?? 0, heldUv[2 * q + 1] ?? 0);
      });
      faceEnd.push(corner.length);
    }
  }
  if (positions.length === 0) throw new FileError(`${name} holds no vertices.`);
  if (bad > 1) scene.warnings.push(`${name}: ${bad} values or faces in all were not to be used.`);
  if (thin)
    scene.warnings.push(
      `${name}: ${thin} ${thin === 1 ? 'face has' : 'faces have'} fewer than three different corners. Skipped.`,
    );
  const cornerVertex = new Uint32Array(corner.data.subarray(0, corner.length));
  const faceStart = new Uint32Array(faceEnd.length + 1);
  faceStart.set(faceEnd.data.subarray(0, faceEnd.length), 1);
  const attributes: Record<string, Attribute> = {};
  if (colors) attributes.color = { domain: 'vertex', width: 4, data: colors };
  if (cornerUv) attributes[UV] = { domain: 'corner', width: 2, data: Float32Array.from(cornerUv) };
  else if (uv) {
    const from = uv;
    attributes[UV] = {
      domain: 'corner',
      width: 2,
      data: Float32Array.from({ length: 2 * cornerVertex.length }, (_, i) => from[2 * cornerVertex[i >> 1] + (i & 1)]),
    };
  }
  if (faceEnd.length === 0) scene.warnings.push(`${name} holds points only, no faces.`);
  scene.pieces.push({
    name: name.replace(/\.ply$/i, '') || 'model',
    parent: -1,
    mesh: new Mesh({
      positions,
      faceStart,
      cornerVertex,
      attributes,
      ...countedKeys(positions.length / 3, faceEnd.length, keyOf(name)),
    }),
  });
  return scene;
}

const FORMATS: ReadonlyMap<string, 'ascii' | 'little' | 'big'> = new Map([
  ['ascii', 'ascii'],
  ['binary_little_endian', 'little'],
  ['binary_big_endian', 'big'],
]);

function header(
  bytes: Uint8Array,
  name: string,
): { elements: Element[]; format: 'ascii' | 'little' | 'big'; start: number } {
  const text = new TextDecoder('latin1').decode(bytes.subarray(0, 65536));
  const end = /^end_header[ \t]*\r?\n/m.exec(text);
  if (!/^ply\s/.test(text) || !end)
    throw new FileError(`${name} is not a PLY that can be read: its head does not end.`);
  const elements: Element[] = [];
  let format: 'ascii' | 'little' | 'big' | undefined;
  for (const line of text.slice(0, end.index).split(/\r?\n/)) {
    const w = line.trim().split(/\s+/);
    if (w[0] === 'format') format = FORMATS.get(w[1]);
    else if (w[0] === 'element') {
      const count = Number(w[2]);
      if (!Number.isInteger(count) || count < 0 || count > MOST)
        throw new FileError(
          `${name} says it has “${(w[2] ?? '').slice(0, 20)}” of “${(w[1] ?? '').slice(0, 40)}”, which cannot be.`,
        );
      elements.push({ name: w[1], count, properties: [] });
    } else if (w[0] === 'property' && elements.length) {
      const list = w[1] === 'list';
      const kind = KINDS[list ? w[3] : w[1]];
      const count = list ? KINDS[w[2]] : undefined;
      if (!kind || (list && !count))
        throw new FileError(`${name} has a property of a kind that is not known: ${line.trim()}.`);
      elements[elements.length - 1].properties.push({ name: list ? w[4] : w[2], kind, ...(count ? { count } : {}) });
    }
  }
  if (!format) throw new FileError(`${name} does not say whether it is text or binary.`);
  const least = elements.reduce(
    (s, e) =>
      s + e.count * e.properties.reduce((t, p) => t + (format === 'ascii' ? 2 : Number((p.count ?? p.kind)[1])), 0),
    0,
  );
  const start = end.index + end[0].length;
  if (least > bytes.length - start + 2)
    throw new FileError(
      `${name} is cut short: what its head promises does not fit into ${bytes.length.toLocaleString('en')} bytes.`,
    );
  return { elements, format, start };
}

function numbers(bytes: Uint8Array, start: number, little: boolean, name: string): (kind: Kind) => number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = start;
  return (kind) => {
    const size = kind.charCodeAt(1) - 48;
    if (at + size > bytes.length) throw new FileError(`${name} is cut short at ${at.toLocaleString('en')} bytes.`);
    const o = at;
    at += size;
    switch (kind) {
      case 'f4':
        return view.getFloat32(o, little);
      case 'i4':
        return view.getInt32(o, little);
      case 'u1':
        return view.getUint8(o);
      case 'u4':
        return view.getUint32(o, little);
      case 'f8':
        return view.getFloat64(o, little);
      case 'i1':
        return view.getInt8(o);
      case 'u2':
        return view.getUint16(o, little);
      default:
        return view.getInt16(o, little);
    }
  };
}

function words(bytes: Uint8Array, start: number, name: string): () => number {
  let at = start;
  const text = new TextDecoder('latin1');
  return () => {
    while (at < bytes.length && bytes[at] <= 32) at++;
    const from = at;
    while (at < bytes.length && bytes[at] > 32) at++;
    if (from === at) throw new FileError(`${name} is cut short: it ends before all it promises.`);
    const n = Number(text.decode(bytes.subarray(from, at)));
    return Number.isNaN(n) ? Infinity : n; // no number: told apart by what uses it
  };
}

/** Writes all meshes of a scene as one PLY, in their places, polygons as they are. Binary (little-endian) unless asked for text. */
export function writePly(input: Scene, text = false): Uint8Array {
  const parts = flatten(input).pieces.flatMap((p, i) =>
    p.mesh && p.mesh.vertexCount ? [{ mesh: p.mesh, name: p.name, seed: i }] : [],
  );
  const mesh = parts.length === 1 ? parts[0].mesh : mergeMeshes(parts);
  const p = mesh.positions;
  const color =
    mesh.attributes.color?.domain === 'vertex' && mesh.attributes.color.width === 4
      ? mesh.attributes.color.data
      : undefined;
  const uv = mesh.attributes[UV]?.data;
  const large = mesh.faceStart.some((s, f) => f > 0 && s - mesh.faceStart[f - 1] > 255);
  const head = [
    'ply',
    `format ${text ? 'ascii' : 'binary_little_endian'} 1.0`,
    'comment Glypta',
    `element vertex ${mesh.vertexCount}`,
    'property float x',
    'property float y',
    'property float z',
    ...(color ? ['property uchar red', 'property uchar green', 'property uchar blue'] : []),
    `element face ${mesh.faceCount}`,
    `property list ${large ? 'uint' : 'uchar'} uint vertex_indices`,
    ...(uv ? [`property list ${large ? 'uint' : 'uchar'} float texcoord`] : []),
    'end_header',
    '',
  ].join('\n');
  const byte = (x: number) => Math.max(0, Math.min(255, Math.round(x * 255)));
  if (text) {
    const out: string[] = [];
    const n = (x: number) => (Object.is(x, -0) ? '-0' : x);
    for (let v = 0; v < mesh.vertexCount; v++)
      out.push(
        [
          n(p[3 * v]),
          n(p[3 * v + 1]),
          n(p[3 * v + 2]),
          ...(color ? [0, 1, 2].map((k) => byte(color[4 * v + k])) : []),
        ].join(' '),
      );
    for (let f = 0; f < mesh.faceCount; f++) {
      const s = mesh.faceStart[f];
      const e = mesh.faceStart[f + 1];
      out.push(
        [e - s, ...mesh.cornerVertex.subarray(s, e), ...(uv ? [2 * (e - s), ...uv.subarray(2 * s, 2 * e)] : [])].join(
          ' ',
        ),
      );
    }
    return new TextEncoder().encode(`${head}${out.join('\n')}\n`);
  }
  const start = new TextEncoder().encode(head);
  const counted = large ? 4 : 1;
  const bytes = new Uint8Array(
    start.length +
      mesh.vertexCount * (12 + (color ? 3 : 0)) +
      mesh.faceCount * counted * (uv ? 2 : 1) +
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
  for (let v = 0; v < mesh.vertexCount; v++) {
    for (let k = 0; k < 3; k++, o += 4) view.setFloat32(o, p[3 * v + k], true);
    if (color) for (let k = 0; k < 3; k++) bytes[o++] = byte(color[4 * v + k]);
  }
  for (let f = 0; f < mesh.faceCount; f++) {
    const s = mesh.faceStart[f];
    const e = mesh.faceStart[f + 1];
    count(e - s);
    for (let c = s; c < e; c++, o += 4) view.setUint32(o, mesh.cornerVertex[c], true);
    if (!uv) continue;
    count(2 * (e - s));
    for (let c = 2 * s; c < 2 * e; c++, o += 4) view.setFloat32(o, uv[c], true);
  }
  return bytes;
}
