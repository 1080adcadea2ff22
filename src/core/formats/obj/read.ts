/**
 * OBJ read: the bytes are gone over once; lines are never made into strings except names. Objects become pieces, groups
 * become face groups, materials become slots, lines become curves. A broken line costs that line, never the file, and
 * is told in one sentence.
 */
import { curvesFrom, type Curves } from '../../curve/curves';
import { keyOf } from '../../math/hash';
import { GrowFloat, GrowInt } from '../../math/grow';
import { COLOR, countedKeys, Mesh, UV, type Attribute } from '../../mesh/mesh';
import { NumberReader } from '../numbers';
import { emptyScene, FileError, safeName, type Scene, type SceneMaterial } from '../scene';
import { readMtl } from './mtl';

const MAX_TOLD = 5;

/** Sentences about a kind of fault: the first few in full, then a count. */
class Faults {
  private told = new Map<string, { list: string[]; count: number }>();
  add(kind: string, sentence: () => string): void {
    const k = this.told.get(kind) ?? { list: [], count: 0 };
    if (k.list.length < MAX_TOLD) k.list.push(sentence());
    k.count++;
    this.told.set(kind, k);
  }
  sentences(): string[] {
    const out: string[] = [];
    for (const [kind, { list, count }] of this.told) {
      out.push(...list);
      if (count > list.length) out.push(`${count - list.length} more: ${kind}.`);
    }
    return out;
  }
}

export interface ObjFiles {
  /** Files that lie beside the OBJ, by name: MTL and pictures. */
  beside?: ReadonlyMap<string, Uint8Array>;
  progress?: (share: number) => void;
}

/** Reads an OBJ. Throws FileError where there is nothing to read. */
export function readObj(bytes: Uint8Array, fileName = 'file.obj', files: ObjFiles = {}): Scene {
  const name = safeName(fileName);
  if (bytes.length === 0) throw new FileError(`${name} is empty.`);
  for (let i = 0; i < Math.min(bytes.length, 4096); i++)
    if (bytes[i] === 0) throw new FileError(`${name} is not an OBJ: it holds binary data.`);
  const r = new Reader(bytes, name, files);
  r.run();
  return r.finish();
}

class Reader {
  private readonly scene = emptyScene();
  private readonly faults = new Faults();
  private readonly v = new GrowFloat(1 << 16);
  private readonly vt = new GrowFloat(1 << 12);
  private readonly vn = new GrowFloat(1 << 12);
  private readonly faceEnd = new GrowInt(1 << 14);
  private readonly faceObject = new GrowInt(1 << 14);
  private readonly faceGroup = new GrowInt(1 << 14);
  private readonly faceMaterial = new GrowInt(1 << 14);
  private readonly cv = new GrowInt(1 << 16);
  private readonly ct = new GrowInt(1 << 16);
  private readonly cn = new GrowInt(1 << 16);
  private readonly objects: string[] = [];
  private readonly groups: string[] = [];
  private readonly groupIndex = new Map<string, number>();
  private readonly materials: string[] = [];
  private readonly materialIndex = new Map<string, number>();
  private readonly libraries: string[] = [];
  private object = -1;
  private group = -1;
  private material = -1;
  private faces = 0;
  /** 3 per vertex, from the first vertex on that has a colour; others are white. */
  private vc: GrowFloat | undefined;
  /** Smoothing group of each face, where the file has such. */
  private faceSmooth: GrowInt | undefined;
  private smooth = 0;
  /** Vertices of lines, each begun by its length. */
  private readonly lines = new GrowInt(64);
  private loosePoints = 0;
  private freeForm = false;
  /** A group that no face has taken yet: it is for what follows, be that an object. */
  private groupWaits = false;
  private badVertices = new Set<number>();
  private bad = false;

  constructor(
    private readonly bytes: Uint8Array,
    private readonly name: string,
    private readonly files: ObjFiles,
  ) {}

  run(): void {
    const b = this.bytes;
    const n = b.length;
    const reader = new NumberReader(b);
    const SPACE = 32;
    const TAB = 9;
    let at = 0;
    let next = 0;
    while (at < n) {
      let end = at;
      while (end < n && b[end] !== 10) end++;
      // A backslash at the end of a line joins it with the next.
      if (end < n && (b[end - 1] === 92 || (b[end - 1] === 13 && b[end - 2] === 92))) return this.joined();
      let i = at;
      while (i < end && (b[i] === SPACE || b[i] === TAB)) i++;
      let stop = end;
      if (stop > i && b[stop - 1] === 13) stop--;
      const c = b[i];
      const d = b[i + 1];
      if (c === 118 && (d === SPACE || d === TAB)) {
        reader.at = i + 1;
        this.vertex(reader, stop);
      } else if (c === 102 && (d === SPACE || d === TAB)) this.face(i + 1, stop);
      else if (c === 118 && d === 116) {
        reader.at = i + 2;
        const u = reader.number(stop);
        const w = reader.number(stop);
        this.vt.push(finite(u));
        this.vt.push(finite(w));
      } else if (c === 118 && d === 110) {
        reader.at = i + 2;
        for (let k = 0; k < 3; k++) this.vn.push(finite(reader.number(stop)));
      } else if (i < stop && c !== 35) this.word(i, stop);
      at = end + 1;
      if (at > next) {
        this.files.progress?.(at / n);
        next = at + (1 << 22);
      }
    }
  }

  /** The rare file with continued lines: joined first, then read as usual. */
  private joined(): void {
    const b = this.bytes.slice();
    for (let i = 0; i + 1 < b.length; i++) {
      if (b[i] !== 92) continue;
      if (b[i + 1] === 10) {
        b[i] = 32;
        b[i + 1] = 32;
      } else if (b[i + 1] === 13 && b[i + 2] === 10) {
        b[i] = 32;
        b[i + 1] = 32;
        b[i + 2] = 32;
      } else b[i] = 47;
    }
    const fresh = new Reader(b, this.name, this.files);
    fresh.run();
    this.finish = () => fresh.finish();
  }

  private vertex(reader: NumberReader, end: number): void {
    const x = reader.number(end);
    const y = reader.number(end);
    const z = reader.number(end);
    if (!(Math.abs(x) < 3e38 && Math.abs(y) < 3e38 && Math.abs(z) < 3e38)) {
      this.badVertices.add(this.v.length / 3);
      this.bad = true;
      this.faults.add(
        'vertices without a finite place',
        () => `${this.name}: vertex ${this.v.length / 3 + 1} has no finite place. Skipped the faces that use it.`,
      );
      this.v.push(0);
      this.v.push(0);
      this.v.push(0);
      return;
    }
    this.v.push(x);
    this.v.push(y);
    this.v.push(z);
    if (reader.at < end) this.colour(reader, end);
  }

  /** Three more numbers are a colour; one more is a weight, which nothing here has a use for. */
  private colour(reader: NumberReader, end: number): void {
    const r = reader.number(end);
    const g = reader.number(end);
    const b = reader.number(end);
    if (!(r >= 0 && g >= 0 && b >= 0 && r + g + b < 1e6)) return;
    this.vc ??= new GrowFloat(3 * this.v.length);
    while (this.vc.length < this.v.length - 3) this.vc.push(1);
    for (const x of [r, g, b]) this.vc.push(x);
  }

  private face(at: number, end: number): void {
    const b = this.bytes;
    const start = this.cv.length;
    const vs = this.v.length / 3;
    const ts = this.vt.length / 2;
    const ns = this.vn.length / 3;
    let i = at;
    let wrong = 0;
    let wrongIndex = 0;
    let flaw = false;
    this.faces++;
    for (;;) {
      while (i < end && (b[i] === 32 || b[i] === 9)) i++;
      if (i >= end || b[i] === 35) break;
      const v = this.integer(i, end);
      i = this.next;
      let t = 0;
      let n = 0;
      if (b[i] === 47 && i < end) {
        i++;
        if (b[i] !== 47) {
          t = this.integer(i, end);
          i = this.next;
        }
        if (b[i] === 47 && i < end) {
          n = this.integer(i + 1, end);
          i = this.next;
        }
      }
      if (i < end && b[i] !== 32 && b[i] !== 9) {
        flaw = true;
        while (i < end && b[i] !== 32 && b[i] !== 9) i++;
      }
      const vi = v < 0 ? vs + v : v - 1;
      if (!(vi >= 0 && vi < vs)) {
        wrong = 1;
        wrongIndex = v;
      } else if (this.bad && this.badVertices.has(vi)) wrong = 2;
      let ti = t < 0 ? ts + t : t - 1;
      if (!(ti >= 0 && ti < ts)) {
        if (t !== 0)
          this.faults.add(
            'UVs that are not in the file',
            () =>
              `${this.name}: face ${this.faces} names UV ${t}, but the file has ${ts} so far. Left it without ` +
              'UVs there.',
          );
        ti = -1;
      }
      let ni = n < 0 ? ns + n : n - 1;
      if (!(ni >= 0 && ni < ns)) ni = -1;
      this.cv.push(vi);
      this.ct.push(ti);
      this.cn.push(ni);
    }
    const size = this.cv.length - start;
    const drop = (kind: string, sentence: () => string) => {
      this.faults.add(kind, sentence);
      this.cv.length = start;
      this.ct.length = start;
      this.cn.length = start;
    };
    if (flaw)
      return drop(
        'faces that cannot be read',
        () => `${this.name}: face ${this.faces} cannot be read. Skipped that face.`,
      );
    if (wrong === 1)
      return drop(
        'faces that name a vertex the file does not have',
        () =>
          `${this.name}: face ${this.faces} names vertex ${wrongIndex}, but the file has ${vs} so far. Skipped ` +
          'that face.',
      );
    if (wrong === 2)
      return drop(
        'faces on vertices without a finite place',
        () => `${this.name}: face ${this.faces} uses a vertex without a finite place. Skipped that face.`,
      );
    if (size < 3)
      return drop(
        'faces of fewer than three points',
        () =>
          `${this.name}: face ${this.faces} has ${['no points', 'one point', 'two points'][size]}. Skipped that face.`,
      );
    if (this.object < 0) {
      this.objects.push('');
      this.object = 0;
    }
    this.faceEnd.push(this.cv.length);
    this.faceObject.push(this.object);
    this.faceGroup.push(this.group);
    this.faceMaterial.push(this.material);
    this.groupWaits = false;
    if (this.faceSmooth || this.smooth) this.smoothed();
  }

  private smoothed(): void {
    this.faceSmooth ??= new GrowInt(this.faceEnd.length + 1024);
    while (this.faceSmooth.length < this.faceEnd.length - 1) this.faceSmooth.push(0);
    this.faceSmooth.push(this.smooth);
  }

  /** A line along vertices, "3/1 4/2 -1"; what is not in the file is left out. */
  private line(text: string): void {
    const vs = this.v.length / 3;
    const list = text
      .split(/\s+/)
      .map((w) => parseInt(w, 10))
      .map((v) => (v < 0 ? vs + v : v - 1))
      .filter((v) => v >= 0 && v < vs && !this.badVertices.has(v));
    if (list.length < 2) return;
    this.lines.push(list.length);
    for (const v of list) this.lines.push(v);
  }

  private next = 0;
  private integer(i: number, end: number): number {
    const b = this.bytes;
    let negative = false;
    let n = 0;
    if (b[i] === 45) {
      negative = true;
      i++;
    }
    while (i < end) {
      const d = b[i] - 48;
      if (d < 0 || d > 9) break;
      n = n * 10 + d;
      i++;
    }
    this.next = i;
    return negative ? -n : n;
  }

  private word(i: number, end: number): void {
    const b = this.bytes;
    let w = i;
    while (w < end && b[w] !== 32 && b[w] !== 9) w++;
    const word = String.fromCharCode(...b.subarray(i, Math.min(w, i + 24)));
    const rest = () => new TextDecoder().decode(b.subarray(w, Math.min(end, w + 1024))).trim();
    if (word === 'o') {
      this.object = this.objects.length;
      this.objects.push(rest());
      if (!this.groupWaits) this.group = -1;
    } else if (word === 'g') {
      this.group = indexIn(this.groups, this.groupIndex, rest() || 'default');
      this.groupWaits = true;
    } else if (word === 's') {
      const n = Number(rest());
      this.smooth = Number.isInteger(n) && n > 0 && n < 2 ** 31 ? n : 0;
    } else if (word === 'l') this.line(new TextDecoder().decode(b.subarray(w, end)).trim());
    else if (word === 'p') this.loosePoints++;
    else if (word === 'usemtl') {
      const name = rest();
      // A line that names none takes the material off again.
      this.material = name ? indexIn(this.materials, this.materialIndex, name) : -1;
    } else if (word === 'mtllib') this.libraries.push(rest());
    else if (FREE_FORM.includes(word)) this.freeForm = true;
    else {
      this.faults.add(
        'lines that were not understood',
        () => `${this.name}: a line beginning “${word.replace(/[^\x20-\x7e]/g, '?')}” was not understood. Skipped it.`,
      );
    }
  }

  finish = (): Scene => {
    const { scene } = this;
    if (this.v.length === 0 && this.faceEnd.length === 0)
      throw new FileError(`${this.name} holds no vertices or faces. Is it an OBJ?`);
    const drawn = this.curves();
    if (this.faceEnd.length === 0 && !drawn) {
      scene.warnings.push(`${this.name} has vertices, but no faces that can be used.`);
      this.objects.push('');
    }
    this.readLibraries();
    this.sortFaces();
    const base = this.name.replace(/\.[^.]*$/, '');
    for (let o = 0; o < this.objects.length; o++) {
      const mesh = this.meshOf(o);
      if (mesh.faceCount === 0 && this.faceEnd.length > 0) continue;
      scene.pieces.push({ name: this.objects[o] || base, parent: -1, mesh });
    }
    if (drawn) scene.pieces.push({ name: `${base} lines`, parent: -1, curves: drawn });
    if (this.loosePoints) scene.warnings.push(`${this.name} also holds points by themselves, which are not kept.`);
    if (this.freeForm) scene.warnings.push(`${this.name} also holds free-form curves or surfaces, which are not kept.`);
    scene.warnings.push(...this.faults.sentences());
    return scene;
  };

  /** Lines as curves of straight parts: handles at thirds of the way. */
  private curves(): Curves | undefined {
    const list: { points: [number, number, number][]; closed: boolean }[] = [];
    const { data, length } = this.lines;
    const place = (v: number): [number, number, number] => [
      this.v.data[3 * v],
      this.v.data[3 * v + 1],
      this.v.data[3 * v + 2],
    ];
    for (let i = 0; i < length; i += data[i] + 1) {
      const own = data.subarray(i + 1, i + 1 + data[i]);
      const points = [place(own[0])];
      for (let k = 1; k < own.length; k++) {
        const [a, b] = [place(own[k - 1]), place(own[k])];
        for (const t of [1 / 3, 2 / 3, 1])
          points.push([0, 1, 2].map((q) => a[q] + t * (b[q] - a[q])) as [number, number, number]);
      }
      list.push({ points, closed: own.length > 2 && own[0] === own[own.length - 1] });
    }
    return list.length ? curvesFrom(list, keyOf(`${this.name}/lines`)) : undefined;
  }

  /**
   * Faces in the order of their objects, and where each object's begin: a file of thousands of objects is gone through
   * once.
   */
  private facesOf = new Uint32Array(0);
  private objectStart = new Uint32Array(1);
  private sortFaces(): void {
    const start = new Uint32Array(this.objects.length + 1);
    const of = this.faceObject.data;
    const count = this.faceEnd.length;
    for (let f = 0; f < count; f++) start[of[f] + 1]++;
    for (let o = 0; o < this.objects.length; o++) start[o + 1] += start[o];
    const next = start.slice();
    this.facesOf = new Uint32Array(count);
    for (let f = 0; f < count; f++) this.facesOf[next[of[f]]++] = f;
    this.objectStart = start;
    this.to = new Int32Array(this.v.length / 3).fill(-1);
  }

  /** For each vertex of the file its number in the object being made; all -1 between objects. */
  private to = new Int32Array(0);

  private meshOf(o: number): Mesh {
    const faces = this.facesOf.subarray(this.objectStart[o], this.objectStart[o + 1]);
    let corners = 0;
    let anyUv = false;
    let anyNormal = false;
    for (const f of faces) {
      const s = f ? this.faceEnd.data[f - 1] : 0;
      corners += this.faceEnd.data[f] - s;
      for (let c = s; c < this.faceEnd.data[f]; c++) {
        if (this.ct.data[c] >= 0) anyUv = true;
        if (this.cn.data[c] >= 0) anyNormal = true;
      }
    }
    const total = this.v.length / 3;
    const all = this.objects.length === 1;
    const to = this.to;
    const used: number[] = [];
    if (all)
      for (let v = 0; v < total; v++) {
        if (!this.bad || !this.badVertices.has(v)) to[v] = used.push(v) - 1;
      }
    const faceStart = new Uint32Array(faces.length + 1);
    const cornerVertex = new Uint32Array(corners);
    const uv = anyUv ? new Float32Array(2 * corners) : undefined;
    const normal = anyNormal ? new Float32Array(3 * corners) : undefined;
    const material = new Int32Array(faces.length);
    const group = new Int32Array(faces.length);
    const slots: string[] = [];
    const slotOf = new Map<number, number>();
    const groups: string[] = [];
    const groupOf = new Map<number, number>();
    let k = 0;
    for (let i = 0; i < faces.length; i++) {
      const f = faces[i];
      for (let c = f ? this.faceEnd.data[f - 1] : 0; c < this.faceEnd.data[f]; c++, k++) {
        const v = this.cv.data[c];
        if (to[v] < 0) to[v] = used.push(v) - 1;
        cornerVertex[k] = to[v];
        const t = this.ct.data[c];
        const q = this.cn.data[c];
        if (uv && t >= 0) {
          uv[2 * k] = this.vt.data[2 * t];
          uv[2 * k + 1] = this.vt.data[2 * t + 1];
        }
        if (normal && q >= 0) for (let j = 0; j < 3; j++) normal[3 * k + j] = this.vn.data[3 * q + j];
      }
      faceStart[i + 1] = k;
      material[i] = local(this.faceMaterial.data[f], slotOf, slots, this.materials);
      group[i] = local(this.faceGroup.data[f], groupOf, groups, this.groups);
    }
    const n = used.length;
    const positions = new Float32Array(3 * n);
    for (let i = 0; i < n; i++) {
      const v = 3 * used[i];
      positions[3 * i] = this.v.data[v];
      positions[3 * i + 1] = this.v.data[v + 1];
      positions[3 * i + 2] = this.v.data[v + 2];
      to[used[i]] = -1;
    }
    const attributes: Record<string, Attribute> = {};
    if (this.vc && used.some((v) => 3 * v < this.vc!.length)) {
      const data = new Float32Array(4 * n).fill(1);
      used.forEach((v, i) => {
        for (let k = 0; k < 3; k++) if (3 * v + k < this.vc!.length) data[4 * i + k] = this.vc!.data[3 * v + k];
      });
      attributes[COLOR] = { domain: 'vertex', width: 4, data };
    }
    const smooth = this.faceSmooth;
    if (smooth) {
      const data = Int32Array.from(faces, (f) => (f < smooth.length ? smooth.data[f] : 0));
      if (data.some((x) => x > 0)) attributes[SMOOTHING] = { domain: 'face', width: 1, data };
    }
    if (uv) attributes[UV] = { domain: 'corner', width: 2, data: uv };
    if (normal) attributes.normal = { domain: 'corner', width: 3, data: normal };
    if (slots.length) attributes.material = { domain: 'face', width: 1, data: material };
    if (groups.length) attributes.group = { domain: 'face', width: 1, data: group };
    return new Mesh({
      positions,
      faceStart,
      cornerVertex,
      attributes,
      slots,
      groups,
      ...countedKeys(n, faces.length, keyOf(`${this.name}/${o}`)),
    });
  }

  private readLibraries(): void {
    const found = new Map<string, SceneMaterial>();
    for (const library of this.libraries) {
      const bytes = this.files.beside?.get(safeName(library));
      if (!bytes) {
        (this.scene.missing ??= []).push(safeName(library));
        this.scene.warnings.push(
          `${this.name} wants its materials from ${safeName(library)}, which was not with it. Colours are guessed.`,
        );
        continue;
      }
      for (const m of readMtl(bytes, this.scene, this.files.beside)) found.set(m.id, m);
    }
    for (const name of this.materials)
      this.scene.materials.push(
        found.get(name) ?? { id: name, name, color: [0.7, 0.7, 0.68, 1], roughness: 0.7, metalness: 0 },
      );
  }
}

const FREE_FORM = ['vp', 'mg', 'cstype', 'deg', 'curv', 'curv2', 'surf', 'parm', 'trim', 'hole', 'end', 'bmat', 'step'];
/** Smoothing groups of faces, as numbers of their own. */
export const SMOOTHING = '_smoothing';

const finite = (x: number): number => (Math.abs(x) < 3e38 ? x : 0);

function indexIn(list: string[], index: Map<string, number>, name: string): number {
  let i = index.get(name);
  if (i === undefined) {
    i = list.push(name) - 1;
    index.set(name, i);
  }
  return i;
}

function local(global: number, of: Map<number, number>, list: string[], names: string[]): number {
  if (global < 0) return -1;
  let i = of.get(global);
  if (i === undefined) {
    i = list.push(names[global]) - 1;
    of.set(global, i);
  }
  return i;
}
