/**
 * OBJ with MTL, both ways. Reading goes over the bytes once; lines are never made into strings except names. Objects become pieces,
 * groups become face groups, materials become slots. A broken line costs that line, never the file, and is told in one sentence.
 */
import { keyOf } from '../math/hash';
import { countedKeys, Mesh, UV, type Attribute } from '../mesh/mesh';
import { distinct } from './distinct';
import { GrowFloat, GrowInt } from '../math/grow';
import { NumberReader, writeInteger, writeNumber } from './numbers';
import type { MapName } from '../material';
import { emptyScene, FileError, flatten, fromHex, safeName, toHex, type Scene, type SceneMaterial } from './scene';
import { withoutOptions } from './companions';

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
              `${this.name}: face ${this.faces} names UV ${t}, but the file has ${ts} so far. Left it without UVs there.`,
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
          `${this.name}: face ${this.faces} names vertex ${wrongIndex}, but the file has ${vs} so far. Skipped that face.`,
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
      this.group = -1;
    } else if (word === 'g') this.group = indexIn(this.groups, this.groupIndex, rest() || 'default');
    else if (word === 'usemtl') {
      const name = rest();
      // A line that names none takes the material off again.
      this.material = name ? indexIn(this.materials, this.materialIndex, name) : -1;
    } else if (word === 'mtllib') this.libraries.push(rest());
    else if (
      !['s', 'l', 'p', 'vp', 'mg', 'cstype', 'deg', 'curv', 'curv2', 'surf', 'parm', 'trim', 'hole', 'end'].includes(
        word,
      )
    ) {
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
    if (this.faceEnd.length === 0) {
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
    scene.warnings.push(...this.faults.sentences());
    return scene;
  };

  /** Faces in the order of their objects, and where each object's begin: a file of thousands of objects is gone through once. */
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

function readMtl(bytes: Uint8Array, scene: Scene, beside?: ReadonlyMap<string, Uint8Array>): SceneMaterial[] {
  const out: SceneMaterial[] = [];
  let m: SceneMaterial | undefined;
  const image = (rest: string) => {
    const name = safeName(withoutOptions(rest));
    const data = beside?.get(name);
    if (!data) {
      (scene.missing ??= []).push(name);
      scene.warnings.push(`The picture ${name} was not with the file. Its material keeps its plain colour.`);
      return undefined;
    }
    const had = scene.images.findIndex((i) => i.name === name);
    if (had >= 0) return had;
    const mime = ({ 0xff: 'image/jpeg', 0x52: 'image/webp' } as const)[data[0]] ?? 'image/png';
    return scene.images.push({ name, mime, bytes: data }) - 1;
  };
  const left = new Set<string>();
  /** Said in so many words, which goes before what a sharpness suggests. */
  const rough = new Set<SceneMaterial>();
  for (const line of new TextDecoder().decode(bytes).split(/\r?\n/)) {
    const text = line.trim();
    if (text === '' || text[0] === '#') continue;
    const end = text.search(/\s/);
    const word = end < 0 ? text : text.slice(0, end);
    const rest = end < 0 ? '' : text.slice(end).trim();
    if (word === 'newmtl') {
      m = { id: rest || 'unnamed', name: rest || 'unnamed', color: [0.8, 0.8, 0.8, 1], roughness: 0.7, metalness: 0 };
      out.push(m);
      continue;
    }
    if (!m) continue;
    const numbers = rest.split(/\s+/).map(Number);
    const unit = (x: number, otherwise: number) => (Number.isFinite(x) ? Math.min(1, Math.max(0, x)) : otherwise);
    if (word === 'Kd') m.color = [unit(numbers[0], 0.8), unit(numbers[1], 0.8), unit(numbers[2], 0.8), m.color[3]];
    else if (word === 'd') m.color = [m.color[0], m.color[1], m.color[2], unit(numbers[0], 1)];
    else if (word === 'Tr') m.color = [m.color[0], m.color[1], m.color[2], 1 - unit(numbers[0], 0)];
    else if (word === 'Pr') {
      m.roughness = unit(numbers[0], 0.7);
      rough.add(m);
    } else if (word === 'Pm') m.metalness = unit(numbers[0], 0);
    else if (word === 'Ns' && !rough.has(m)) m.roughness = roughnessOf(numbers[0]);
    else if (word === 'Ke') {
      const most = Math.max(...numbers.slice(0, 3).map((x) => (x > 0 && x < 1e6 ? x : 0)));
      if (most > 0) m.glow = toHex(numbers.map((x) => unit(x / Math.max(1, most), 0)));
      if (most > 1) m.glowStrength = most;
    } else if (word in MTL_MAPS) {
      const at = image(rest);
      if (at !== undefined) m.maps = { ...m.maps, [MTL_MAPS[word]]: at };
      if (word === 'map_Ke') m.glow ??= '#ffffff';
    } else if (word === 'Ks' && numbers.slice(0, 3).some((x) => x > 0)) left.add(word);
    else if (/^(map_|bump|norm|disp|decal|refl)/i.test(word)) left.add(word);
  }
  if (left.delete('Ks'))
    scene.warnings.push('Colours of highlights (Ks) are not kept: roughness and metalness say it.');
  if (left.size) scene.warnings.push(`Pictures of ${[...left].join(', ')} are not kept yet; colours are.`);
  return out;
}

/** The exponent of a highlight and roughness (Walter, Marschner, Li, Torrance 2007: α = √(2 / (n + 2)), α the square of roughness). */
const roughnessOf = (sharpness: number): number => (sharpness >= 0 ? Math.min(1, (2 / (sharpness + 2)) ** 0.25) : 0.7);
const sharpnessOf = (roughness: number): number => Math.min(1000, Math.max(0, 2 / Math.max(1e-3, roughness ** 4) - 2));

/** Pictures, and what they are of. */
const MTL_MAPS: Readonly<Record<string, MapName>> = {
  map_Kd: 'color',
  map_Ke: 'glow',
  norm: 'normal',
  map_Ka: 'shade',
};

export interface ObjOut {
  obj: Uint8Array;
  mtl: Uint8Array;
}

/** Writes a scene as OBJ and MTL. Polygons stay polygons; `mtlName` is what the OBJ calls its library. */
export function writeObj(input: Scene, mtlName = 'materials.mtl'): ObjOut {
  const scene = flatten(input);
  const named = scene.pieces.filter((p) => p.mesh);
  let size = 256;
  for (const { mesh, name } of named)
    size +=
      mesh!.vertexCount * 52 +
      mesh!.cornerCount * (34 + (mesh!.attributes[UV] ? 36 : 0) + (mesh!.attributes.normal ? 54 : 0)) +
      mesh!.faceCount * 4 +
      4 * name.length +
      64 +
      slotText(mesh!);
  let out = new Uint8Array(size);
  let at = 0;
  const room = (n: number) => {
    if (at + n > out.length) {
      const bigger = new Uint8Array(2 * out.length + n);
      bigger.set(out);
      out = bigger;
    }
  };
  const text = (s: string) => {
    room(3 * s.length);
    at += new TextEncoder().encodeInto(s, out.subarray(at)).written;
  };
  text(`# Glypta\n`);
  if (scene.materials.length) text(`mtllib ${oneLine(mtlName)}\n`);
  const names = uniqueNames(scene.materials);
  /** The material that faces take until another is named: it stays on from object to object. */
  let worn: string | undefined;
  let vBase = 1;
  let tBase = 1;
  let nBase = 1;
  for (const { mesh: m, name } of named) {
    const mesh = m!;
    const p = mesh.positions;
    text(`o ${oneLine(name)}\n`);
    for (let i = 0; i < p.length; i += 3) {
      room(64);
      out[at++] = 118;
      for (let k = 0; k < 3; k++) {
        out[at++] = 32;
        at = writeNumber(out, at, p[i + k]);
      }
      out[at++] = 10;
    }
    const uv = mesh.attributes[UV];
    const normal = mesh.attributes.normal;
    const t = uv && distinct(uv.data as Float32Array, 2);
    const n = normal && distinct(normal.data as Float32Array, 3);
    if (t)
      for (let i = 0; i < t.count; i++) {
        room(48);
        out[at++] = 118;
        out[at++] = 116;
        for (let k = 0; k < 2; k++) {
          out[at++] = 32;
          at = writeNumber(out, at, uv.data[2 * t.first[i] + k]);
        }
        out[at++] = 10;
      }
    if (n)
      for (let i = 0; i < n.count; i++) {
        room(64);
        out[at++] = 118;
        out[at++] = 110;
        for (let k = 0; k < 3; k++) {
          out[at++] = 32;
          at = writeNumber(out, at, normal.data[3 * n.first[i] + k]);
        }
        out[at++] = 10;
      }
    const material = mesh.attributes.material?.data;
    const group = mesh.attributes.group?.data;
    let g = -2;
    for (let f = 0; f < mesh.faceCount; f++) {
      if (group && group[f] !== g) {
        g = group[f];
        text(`g ${oneLine(mesh.groups[g] ?? 'default')}\n`);
      }
      const label = material ? names.get(mesh.slots[material[f]]) : undefined;
      if (label !== worn) text(label === undefined ? 'usemtl\n' : `usemtl ${label}\n`);
      worn = label;
      room(40 * (mesh.faceStart[f + 1] - mesh.faceStart[f]) + 4);
      out[at++] = 102;
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        out[at++] = 32;
        at = writeInteger(out, at, mesh.cornerVertex[c] + vBase);
        if (t || n) {
          out[at++] = 47;
          if (t) at = writeInteger(out, at, t.of[c] + tBase);
        }
        if (n) {
          out[at++] = 47;
          at = writeInteger(out, at, n.of[c] + nBase);
        }
      }
      out[at++] = 10;
    }
    vBase += mesh.vertexCount;
    tBase += t?.count ?? 0;
    nBase += n?.count ?? 0;
  }
  return { obj: out.slice(0, at), mtl: new TextEncoder().encode(writeMtl(scene, names)) };
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

function writeMtl(scene: Scene, names: Map<string, string>): string {
  const n = (x: number) => String(Math.round(x * 1e6) / 1e6);
  return scene.materials
    .map((m) =>
      [
        `newmtl ${names.get(m.id)}`,
        `Kd ${n(m.color[0])} ${n(m.color[1])} ${n(m.color[2])}`,
        `d ${n(m.color[3])}`,
        `Ns ${n(sharpnessOf(m.roughness))}`,
        `Pr ${n(m.roughness)}`,
        `Pm ${n(m.metalness)}`,
        ...(m.glow
          ? [
              `Ke ${fromHex(m.glow)
                .map((x) => n(x * (m.glowStrength ?? 1)))
                .join(' ')}`,
            ]
          : []),
        ...Object.entries(MTL_MAPS).flatMap(([word, map]) => {
          const at = m.maps?.[map];
          return at === undefined ? [] : [`${word} ${safeName(scene.images[at].name)}`];
        }),
        '',
      ].join('\n'),
    )
    .join('\n');
}
