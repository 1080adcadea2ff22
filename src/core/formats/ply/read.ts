/**
 * PLY, text and binary in both byte orders: polygons of any size, colours of vertices or faces, normals, UVs;
 * properties it does not know become data of their own under their names, elements it does not know are passed over and
 * told.
 */
import { GrowFloat, GrowInt } from '../../math/grow';
import { keyOf } from '../../math/hash';
import { COLOR, countedKeys, Mesh, NORMAL, UV, type Attribute } from '../../mesh/mesh';
import { emptyScene, FileError, safeName, type Scene } from '../scene';

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

type Next = (kind: Kind) => number;

/** What colours of a kind of number are shares of. */
const wholeOf = (kind: Kind): number => {
  if (kind[0] === 'f') return 1;
  return kind[1] === '1' ? 255 : 65535;
};

/** Columns of an element that hold one number each, by the names they go by. */
const columns = (e: Element) => {
  const at = (...names: string[]): number => e.properties.findIndex((p) => names.includes(p.name) && !p.count);
  const color = ['red', 'green', 'blue'].map((c) => at(c, c[0], `diffuse_${c}`));
  return {
    place: [at('x'), at('y'), at('z')],
    color: color.every((c) => c >= 0) ? color : undefined,
    alpha: at('alpha', 'a', 'diffuse_alpha'),
    normal: [at('nx', 'normal_x'), at('ny', 'normal_y'), at('nz', 'normal_z')],
    uv: [at('u', 's', 'texture_u'), at('v', 't', 'texture_v')],
  };
};

/** Numbers that a file gives beside what we know, each as data of its own. */
class Others {
  private readonly named: { column: number; name: string; data: Float32Array }[] = [];
  private taken = 0;
  constructor(e: Element, known: readonly number[]) {
    e.properties.forEach((p, column) => {
      const name = p.name.replace(/\W/g, '_').slice(0, 40);
      if (!p.count && !known.includes(column) && name)
        this.named.push({ column, name: `_${name}`, data: new Float32Array(e.count) });
    });
  }
  take(row: ArrayLike<number>): void {
    for (const { column, data } of this.named) data[this.taken] = row[column];
    this.taken++;
  }
  into(attributes: Record<string, Attribute>, domain: 'vertex' | 'face'): void {
    for (const { name, data } of this.named)
      attributes[name] = { domain, width: 1, data: this.taken === data.length ? data : data.slice(0, this.taken) };
  }
}

interface Vertices {
  positions: Float32Array;
  /** 4 per vertex. */
  colors?: Float32Array;
  normals?: Float32Array;
  uv?: Float32Array;
  others: Others;
  bad: number;
}

function readVertices(e: Element, next: Next, name: string, progress?: (share: number) => void): Vertices {
  const c = columns(e);
  if (c.place.some((k) => k < 0)) throw new FileError(`${name} says nothing of where its vertices are.`);
  const out: Vertices = {
    positions: new Float32Array(3 * e.count),
    others: new Others(e, [...c.place, ...(c.color ?? []), c.alpha, ...c.normal, ...c.uv]),
    bad: 0,
  };
  if (c.color) out.colors = new Float32Array(4 * e.count).fill(1);
  if (c.normal.every((k) => k >= 0)) out.normals = new Float32Array(3 * e.count);
  if (c.uv.every((k) => k >= 0)) out.uv = new Float32Array(2 * e.count);
  const whole = c.color ? wholeOf(e.properties[c.color[0]].kind) : 1;
  const row = new Float64Array(e.properties.length);
  for (let i = 0; i < e.count; i++) {
    if ((i & 0x3ffff) === 0) progress?.((0.5 * i) / e.count);
    for (let k = 0; k < row.length; k++) {
      const p = e.properties[k];
      if (p.count) for (let n = next(p.count); n > 0; n--) next(p.kind);
      else row[k] = next(p.kind);
    }
    for (let k = 0; k < 3; k++) {
      const q = row[c.place[k]];
      out.positions[3 * i + k] = Math.abs(q) < 1e30 ? q : (out.bad++, 0);
    }
    if (out.colors) {
      for (let k = 0; k < 3; k++) out.colors[4 * i + k] = row[c.color![k]] / whole;
      if (c.alpha >= 0) out.colors[4 * i + 3] = row[c.alpha] / wholeOf(e.properties[c.alpha].kind);
    }
    if (out.normals) for (let k = 0; k < 3; k++) out.normals[3 * i + k] = row[c.normal[k]];
    if (out.uv) for (let k = 0; k < 2; k++) out.uv[2 * i + k] = row[c.uv[k]];
    out.others.take(row);
  }
  return out;
}

class Faces {
  readonly corner = new GrowInt(1024);
  readonly end = new GrowInt(1024);
  /** 4 per face. */
  colors?: GrowFloat;
  /** 2 per corner. */
  uv?: GrowFloat;
  others?: Others;
  bad = 0;
  thin = 0;
  private first = '';

  constructor(private readonly name: string) {}

  read(e: Element, next: Next, vertices: number, progress?: (share: number) => void): void {
    const list = e.properties.findIndex((p) => p.count && /^vertex_ind(ex|ices)$/.test(p.name));
    const tex = e.properties.findIndex((p) => p.count && p.name === 'texcoord');
    const c = columns(e);
    if (tex >= 0) this.uv = new GrowFloat();
    if (c.color) this.colors = new GrowFloat();
    this.others = new Others(e, [...(c.color ?? []), c.alpha]);
    const whole = c.color ? wholeOf(e.properties[c.color[0]].kind) : 1;
    const row = new Float64Array(e.properties.length);
    const held: number[] = [];
    const heldUv: number[] = [];
    for (let i = 0; i < e.count; i++) {
      if ((i & 0x3ffff) === 0) progress?.(0.5 + (0.3 * i) / e.count);
      held.length = 0;
      heldUv.length = 0;
      for (let k = 0; k < e.properties.length; k++) {
        const p = e.properties[k];
        if (p.count) readList(p, next, this.name, e.name, i, listFor(k, list, tex, held, heldUv));
        else row[k] = next(p.kind);
      }
      if (list < 0 || !this.fits(held, vertices, i)) continue;
      held.forEach((v, q) => {
        this.corner.push(v);
        this.uv?.push(heldUv[2 * q] ?? 0);
        this.uv?.push(heldUv[2 * q + 1] ?? 0);
      });
      this.end.push(this.corner.length);
      if (this.colors) {
        for (const k of c.color!) this.colors.push(row[k] / whole);
        this.colors.push(c.alpha >= 0 ? row[c.alpha] / wholeOf(e.properties[c.alpha].kind) : 1);
      }
      this.others.take(row);
    }
  }

  private fits(held: readonly number[], vertices: number, i: number): boolean {
    if (held.some((v) => !(v >= 0 && v < vertices))) {
      this.bad++;
      this.first ||= `${this.name}: face ${i + 1} names a vertex the file does not have. Skipped it.`;
      return false;
    }
    if (held.length >= 3 && new Set(held).size === held.length) return true;
    this.thin++;
    return false;
  }

  say(bad: number, warnings: string[]): void {
    if (this.first) warnings.push(this.first);
    if (bad > 1) warnings.push(`${this.name}: ${bad} values or faces in all were not to be used.`);
    const { thin } = this;
    if (thin)
      warnings.push(
        `${this.name}: ${thin} ${thin === 1 ? 'face has' : 'faces have'} fewer than three different corners. Skipped.`,
      );
  }
}

const listFor = (k: number, list: number, tex: number, held: number[], uv: number[]): number[] | undefined => {
  if (k === list) return held;
  return k === tex ? uv : undefined;
};

function readList(p: Property, next: Next, name: string, element: string, i: number, into: number[] | undefined): void {
  const n = next(p.count!);
  if (!(n >= 0 && n < 1_000_000))
    throw new FileError(`${name}: ${element} ${i + 1} has a list that cannot be that long.`);
  for (let q = 0; q < n; q++) {
    const v = next(p.kind);
    into?.push(v);
  }
}

export function readPly(bytes: Uint8Array, fileName = 'file.ply', progress?: (share: number) => void): Scene {
  const name = safeName(fileName);
  const scene = emptyScene();
  if (bytes.length === 0) throw new FileError(`${name} is empty.`);
  const { elements, format, start } = header(bytes, name);
  const next: Next = format === 'ascii' ? words(bytes, start, name) : numbers(bytes, start, format === 'little', name);
  let vertices: Vertices | undefined;
  const faces = new Faces(name);
  const passed: string[] = [];
  for (const e of elements) {
    if (e.name === 'vertex') vertices = readVertices(e, next, name, progress);
    else if (e.name === 'face') faces.read(e, next, (vertices?.positions.length ?? 0) / 3, progress);
    else {
      if (e.count > 0) passed.push(e.name.slice(0, 40));
      for (let i = 0; i < e.count; i++)
        for (const p of e.properties)
          if (p.count) readList(p, next, name, e.name, i, undefined);
          else next(p.kind);
    }
  }
  if (!vertices || vertices.positions.length === 0) throw new FileError(`${name} holds no vertices.`);
  faces.say(faces.bad + vertices.bad, scene.warnings);
  if (passed.length) scene.warnings.push(`${name} also holds ${passed.join(' and ')}, which are not kept.`);
  if (faces.end.length === 0) scene.warnings.push(`${name} holds points only, no faces.`);
  const mesh = meshOf(vertices, faces, name);
  scene.pieces.push({ name: name.replace(/\.ply$/i, '') || 'model', parent: -1, mesh });
  return scene;
}

function meshOf({ positions, colors, normals, uv, others }: Vertices, faces: Faces, name: string): Mesh {
  const count = faces.end.length;
  const cornerVertex = new Uint32Array(faces.corner.data.subarray(0, faces.corner.length));
  const faceStart = new Uint32Array(count + 1);
  faceStart.set(faces.end.data.subarray(0, count), 1);
  const attributes: Record<string, Attribute> = {};
  const toCorners = (data: ArrayLike<number>, width: number, of: (c: number) => number): Attribute => {
    const out = new Float32Array(width * cornerVertex.length);
    for (let c = 0; c < cornerVertex.length; c++)
      for (let k = 0; k < width; k++) out[width * c + k] = data[width * of(c) + k];
    return { domain: 'corner', width, data: out };
  };
  const byVertex = (c: number) => cornerVertex[c];
  if (faces.colors) {
    const faceOf = new Uint32Array(cornerVertex.length);
    for (let f = 0; f < count; f++) faceOf.fill(f, faceStart[f], faceStart[f + 1]);
    attributes[COLOR] = toCorners(faces.colors.data, 4, (c) => faceOf[c]);
  } else if (colors) attributes[COLOR] = { domain: 'vertex', width: 4, data: colors };
  if (normals) attributes[NORMAL] = toCorners(normals, 3, byVertex);
  if (faces.uv)
    attributes[UV] = {
      domain: 'corner',
      width: 2,
      data: Float32Array.from(faces.uv.data.subarray(0, faces.uv.length)),
    };
  else if (uv) attributes[UV] = toCorners(uv, 2, byVertex);
  others.into(attributes, 'vertex');
  faces.others?.into(attributes, 'face');
  return new Mesh({
    positions,
    faceStart,
    cornerVertex,
    attributes,
    ...countedKeys(positions.length / 3, count, keyOf(name)),
  });
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
