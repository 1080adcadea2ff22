/** OBJ written: straight between numbers and bytes. */
import { flattenCurves, type Curves } from '../../curve/curves';
import { boundsOf } from '../../mesh/bounds';
import { COLOR, UV, type Mesh } from '../../mesh/mesh';
import { distinct } from '../distinct';
import { writeInteger, writeNumber } from '../numbers';
import { flatten, onPictureSets, type Scene, type SceneImage, type SceneMaterial } from '../scene';
import { picturesOfMtl, writeMtl } from './mtl';
import { SMOOTHING } from './read';

export interface ObjOut {
  obj: Uint8Array;
  mtl: Uint8Array;
  /** What goes beside the MTL. */
  images: SceneImage[];
}

/** Bytes of the file so far, in room that is guessed beforehand. */
class Out {
  bytes: Uint8Array;
  at = 0;
  constructor(size: number) {
    this.bytes = new Uint8Array(size);
  }

  room(n: number): void {
    if (this.at + n <= this.bytes.length) return;
    const bigger = new Uint8Array(2 * this.bytes.length + n);
    bigger.set(this.bytes);
    this.bytes = bigger;
  }

  text(s: string): void {
    this.room(3 * s.length);
    this.at += new TextEncoder().encodeInto(s, this.bytes.subarray(this.at)).written;
  }

  /** A line of some numbers after a word of one or two letters; `count` of them from `from` on. */
  numbers(word: string, data: ArrayLike<number>, from: number, count: number, more?: ArrayLike<number>, at = 0): void {
    this.room(160);
    const out = this.bytes;
    let o = this.at;
    for (let i = 0; i < word.length; i++) out[o++] = word.charCodeAt(i);
    for (let k = 0; k < count; k++) {
      out[o++] = 32;
      o = writeNumber(out, o, data[from + k]);
    }
    for (let k = 0; more && k < 3; k++) {
      out[o++] = 32;
      o = writeNumber(out, o, more[at + k]);
    }
    out[o++] = 10;
    this.at = o;
  }
}

const sizeOf = (mesh: Mesh, name: string): number =>
  mesh.vertexCount * (mesh.attributes[COLOR] ? 90 : 52) +
  mesh.cornerCount * (34 + (mesh.attributes[UV] ? 36 : 0) + (mesh.attributes.normal ? 54 : 0)) +
  mesh.faceCount * 4 +
  4 * name.length +
  64 +
  slotText(mesh);

class Writer {
  /** The material that faces take until another is named: it stays on from object to object. */
  private worn: string | undefined;
  private v = 1;
  private t = 1;
  private n = 1;

  constructor(
    private readonly out: Out,
    private readonly names: ReadonlyMap<string, string>,
  ) {}

  mesh(mesh: Mesh, name: string): void {
    const { out } = this;
    const p = mesh.positions;
    const colors = coloursOf(mesh);
    out.text(`o ${oneLine(name)}\n`);
    for (let v = 0; v < mesh.vertexCount; v++) out.numbers('v', p, 3 * v, 3, colors, 4 * v);
    const uv = mesh.attributes[UV];
    const { normal } = mesh.attributes;
    const t = uv && distinct(uv.data as Float32Array, 2);
    const n = normal && distinct(normal.data as Float32Array, 3);
    if (t) for (let i = 0; i < t.count; i++) out.numbers('vt', uv.data, 2 * t.first[i], 2);
    if (n) for (let i = 0; i < n.count; i++) out.numbers('vn', normal.data, 3 * n.first[i], 3);
    this.faces(mesh, t?.of, n?.of);
    this.v += mesh.vertexCount;
    this.t += t?.count ?? 0;
    this.n += n?.count ?? 0;
  }

  private faces(mesh: Mesh, t: Uint32Array | undefined, n: Uint32Array | undefined): void {
    const { out, names } = this;
    const material = mesh.attributes.material?.data;
    const group = mesh.attributes.group?.data;
    const own = mesh.attributes[SMOOTHING];
    const smooth = own?.domain === 'face' ? own.data : undefined;
    let g = -2;
    let s = 0;
    for (let f = 0; f < mesh.faceCount; f++) {
      if (group && group[f] !== g) {
        g = group[f];
        out.text(`g ${oneLine(mesh.groups[g] ?? 'default')}\n`);
      }
      const label = material ? names.get(mesh.slots[material[f]]) : undefined;
      if (label !== this.worn) out.text(label === undefined ? 'usemtl\n' : `usemtl ${label}\n`);
      this.worn = label;
      if (smooth && smooth[f] !== s) {
        s = smooth[f];
        out.text(s ? `s ${s}\n` : 's off\n');
      }
      this.face(mesh, f, t, n);
    }
    if (s) out.text('s off\n');
  }

  private face(mesh: Mesh, f: number, t: Uint32Array | undefined, n: Uint32Array | undefined): void {
    const end = mesh.faceStart[f + 1];
    this.out.room(40 * (end - mesh.faceStart[f]) + 4);
    const out = this.out.bytes;
    let { at } = this.out;
    out[at++] = 102;
    for (let c = mesh.faceStart[f]; c < end; c++) {
      out[at++] = 32;
      at = writeInteger(out, at, mesh.cornerVertex[c] + this.v);
      if (t || n) {
        out[at++] = 47;
        if (t) at = writeInteger(out, at, t[c] + this.t);
      }
      if (n) {
        out[at++] = 47;
        at = writeInteger(out, at, n[c] + this.n);
      }
    }
    out[at++] = 10;
    this.out.at = at;
  }

  /** Curves as lines of straight parts. */
  curves(curves: Curves, name: string): void {
    const { out } = this;
    out.text(`o ${oneLine(name)}\n`);
    for (const line of flattenCurves(curves, fineness(curves))) {
      for (const q of line) out.numbers('v', q, 0, 3);
      out.text(`l ${line.map((_, i) => this.v + i).join(' ')}\n`);
      this.v += line.length;
    }
  }
}

/** Writes a scene as OBJ and MTL. Polygons stay polygons; `mtlName` is what the OBJ calls its library. */
export function writeObj(input: Scene, mtlName = 'materials.mtl'): ObjOut {
  const scene = onPictureSets(flatten(input));
  const out = new Out(scene.pieces.reduce((n, { mesh, name }) => n + (mesh ? sizeOf(mesh, name) : 0), 256));
  const names = uniqueNames(scene.materials);
  const writer = new Writer(out, names);
  out.text(`# Glypta\n`);
  if (scene.materials.length) out.text(`mtllib ${oneLine(mtlName)}\n`);
  for (const { mesh, name } of scene.pieces) if (mesh) writer.mesh(mesh, name);
  for (const { curves, name } of scene.pieces) if (curves && curves.closed.length > 0) writer.curves(curves, name);
  const { images, split } = picturesOfMtl(scene);
  return {
    obj: out.bytes.slice(0, out.at),
    mtl: new TextEncoder().encode(writeMtl(scene, names, split)),
    images,
  };
}

/** Colours of vertices, 4 each; where corners of a vertex differ, of its last. */
function coloursOf(mesh: Mesh): Float32Array | undefined {
  const own = mesh.attributes[COLOR];
  if (!own || own.domain === 'face' || own.width < 3) return undefined;
  const out = new Float32Array(4 * mesh.vertexCount).fill(1);
  const count = own.domain === 'vertex' ? mesh.vertexCount : mesh.cornerCount;
  for (let i = 0; i < count; i++) {
    const v = own.domain === 'vertex' ? i : mesh.cornerVertex[i];
    for (let k = 0; k < 3; k++) out[4 * v + k] = own.data[own.width * i + k];
  }
  return out;
}

/** How far straight parts may stand off a curve: a four-thousandth of what is drawn. */
function fineness(c: Curves): number {
  const b = boundsOf(c.points);
  return (Math.hypot(b.max[0] - b.min[0], b.max[1] - b.min[1], b.max[2] - b.min[2]) || 1) / 4000;
}

const slotText = (mesh: Mesh): number => Object.keys(mesh.attributes).length * 64;
const oneLine = (s: string): string => s.replace(/[\r\n\\]+/g, ' ').trim() || 'unnamed';

function uniqueNames(materials: readonly SceneMaterial[]): Map<string, string> {
  const taken = new Set<string>();
  const out = new Map<string, string>();
  for (const m of materials) {
    let name = oneLine(m.name);
    for (let i = 2; taken.has(name); i++) name = `${oneLine(m.name)} ${i}`;
    taken.add(name);
    out.set(m.id, name);
  }
  return out;
}
