/**
 * The triangles of a glTF mesh as one of ours. glTF has one vertex for each combination of place, normal and UVs; what
 * stands at exactly the same place is joined again, so that a closed model comes back closed, and what differed becomes
 * data of corners.
 *
 * Numbers are copied from the file's own flat arrays where these are plain. 1,000,000 triangles, `./glypta bench --only
 * glb`.
 */
import type { Accessor, Primitive } from '@gltf-transform/core';
import { EVERY, pulse } from '../../math/pulse';
import { keyOf } from '../../math/hash';
import { COLOR, countedKeys, Mesh, NORMAL, UV, type Attribute } from '../../mesh/mesh';
import { toSrgb } from '../../math/colour';
import { distinct } from '../distinct';

const TRIANGLES = 4;
const STRIP = 5;
const FAN = 6;

/** The numbers of an accessor as floats, `width` for each element; normalised integers become shares. */
function floats(a: Accessor, width: number, into: Float32Array, at: number): void {
  const array = a.getArray();
  const count = a.getCount();
  const own = a.getElementSize();
  if (array instanceof Float32Array && own === width) {
    into.set(array.subarray(0, width * count), at);
    return;
  }
  const e: number[] = [];
  for (let i = 0; i < count; i++) {
    if ((i & EVERY) === 0) pulse();
    a.getElement(i, e);
    for (let k = 0; k < width; k++) into[at + width * i + k] = k < own ? e[k] : 1; // an opacity that is not said is whole
  }
}

/** Triangles of a primitive, three of its own vertices each. */
function trianglesOf(p: Primitive, count: number): ArrayLike<number> | undefined {
  const given = p.getIndices()?.getArray();
  const list = given ?? Uint32Array.from({ length: count }, (_, i) => i);
  const mode = p.getMode();
  if (mode === TRIANGLES) return list;
  if (mode !== STRIP && mode !== FAN) return undefined;
  const out = new Uint32Array(3 * Math.max(0, list.length - 2));
  for (let i = 0; i + 2 < list.length; i++) {
    // Every second triangle of a strip runs the other way round.
    const odd = mode === STRIP ? i & 1 : 0;
    out[3 * i] = mode === FAN ? list[0] : list[i];
    out[3 * i + 1] = list[i + 1 + odd];
    out[3 * i + 2] = list[i + 2 - odd];
  }
  return out;
}

/** What corners have beside their place: its name in the file, ours, and numbers each. */
interface Kind {
  semantic: string;
  name: string;
  width: number;
}

const WIDTHS: Readonly<Record<string, number>> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4 };

function kindsOf(primitives: readonly Primitive[]): Kind[] {
  const out = new Map<string, Kind>();
  const has = (semantic: string) => primitives.some((p) => p.getAttribute(semantic));
  for (let i = 0; i < 4; i++)
    if (has(`TEXCOORD_${i}`))
      out.set(`TEXCOORD_${i}`, { semantic: `TEXCOORD_${i}`, name: i === 0 ? UV : `${UV}${i + 1}`, width: 2 });
  if (primitives.length > 0 && primitives.every((p) => p.getAttribute('NORMAL')))
    out.set('NORMAL', { semantic: 'NORMAL', name: NORMAL, width: 3 });
  if (has('COLOR_0')) out.set('COLOR_0', { semantic: 'COLOR_0', name: COLOR, width: 4 });
  for (const p of primitives)
    p.listSemantics().forEach((semantic, i) => {
      const width = WIDTHS[p.listAttributes()[i].getType()];
      if (/^_\w{1,40}$/.test(semantic) && width && !out.has(semantic))
        out.set(semantic, { semantic, name: semantic.toLowerCase(), width });
    });
  return [...out.values()];
}

/** Places that vertices share, by number. */
function samePlaces(positions: Float32Array): { of: Uint32Array; count: number } {
  for (let i = 0; i < positions.length; i++) if (positions[i] === 0) positions[i] = 0; // −0 is 0
  return distinct(positions, 3);
}

export interface Joining {
  /** Material id of a primitive; '' for none. */
  slotOf(p: Primitive): string;
  seed: string;
  warn(text: string): void;
}

export function joinPrimitives(all: readonly Primitive[], { slotOf, seed, warn }: Joining): Mesh {
  const parts: { p: Primitive; base: number; list: ArrayLike<number>; count: number }[] = [];
  let vertices = 0;
  let listed = 0;
  let loose = 0;
  for (const p of all) {
    const at = p.getAttribute('POSITION');
    const list = at && trianglesOf(p, at.getCount());
    if (!at || !list) {
      loose++;
      continue;
    }
    parts.push({ p, base: vertices, list, count: at.getCount() });
    vertices += at.getCount();
    listed += 3 * Math.floor(list.length / 3);
  }
  if (loose) warn('lines and points in a mesh were skipped; only triangles are read.');
  const primitives = parts.map((x) => x.p);
  const kinds = kindsOf(primitives);
  const position = new Float32Array(3 * vertices);
  const data = kinds.map((k) => new Float32Array(k.width * vertices));
  const index = new Uint32Array(listed);
  const material = new Int32Array(listed / 3);
  const group = new Int32Array(listed / 3);
  const slots: string[] = [];
  const groups: string[] = [];
  let n = 0;
  let astray = 0;
  for (const { p, base, list, count } of parts) {
    floats(p.getAttribute('POSITION')!, 3, position, 3 * base);
    kinds.forEach((k, j) => {
      const a = p.getAttribute(k.semantic);
      if (a && a.getCount() === count) {
        floats(a, k.width, data[j], k.width * base);
        if (k.semantic.startsWith('TEXCOORD_')) fromBelow(data[j], 2 * base, 2 * (base + count));
      } else if (k.name === COLOR) data[j].fill(1, 4 * base, 4 * (base + count));
    });
    const slot = slotOf(p);
    const named = (p.getExtras() as { group?: unknown }).group;
    const m = slot ? indexOf(slots, slot) : -1;
    const g = typeof named === 'string' ? indexOf(groups, named) : -1;
    for (let i = 0; i + 2 < list.length; i += 3) {
      const a = list[i];
      const b = list[i + 1];
      const c = list[i + 2];
      if (!(a < count && b < count && c < count)) {
        astray++;
        continue;
      }
      material[n / 3] = m;
      group[n / 3] = g;
      index[n++] = base + a;
      index[n++] = base + b;
      index[n++] = base + c;
    }
  }
  if (astray)
    warn(
      `${astray} ${astray === 1 ? 'triangle names a vertex' : 'triangles name vertices'} the mesh does not ` +
        'have. Skipped.',
    );
  const corners = n === listed ? index : index.slice(0, n);
  const { of, count } = samePlaces(position);
  const { number, used } = usedOnly(of, count, corners);
  const positions = new Float32Array(3 * used);
  const cornerVertex = new Uint32Array(corners.length);
  for (let c = 0; c < corners.length; c++) {
    const v = corners[c];
    const w = number[of[v]];
    cornerVertex[c] = w;
    positions[3 * w] = position[3 * v];
    positions[3 * w + 1] = position[3 * v + 1];
    positions[3 * w + 2] = position[3 * v + 2];
  }
  const attributes: Record<string, Attribute> = {};
  kinds.forEach((k, j) => {
    if (k.name === COLOR) for (let i = 0; i < data[j].length; i++) if (i % 4 < 3) data[j][i] = toSrgb(data[j][i]);
    attributes[k.name] = spread(k, data[j], corners, cornerVertex, used);
  });
  const faces = corners.length / 3;
  if (slots.length) attributes.material = { domain: 'face', width: 1, data: material.slice(0, faces) };
  if (groups.length) attributes.group = { domain: 'face', width: 1, data: group.slice(0, faces) };
  return new Mesh({
    positions,
    faceStart: Uint32Array.from({ length: faces + 1 }, (_, i) => 3 * i),
    cornerVertex,
    attributes,
    slots,
    groups,
    ...countedKeys(used, faces, keyOf(seed)),
  });
}

/** Places that some corner has, numbered in the order they are met. */
function usedOnly(of: Uint32Array, count: number, corners: Uint32Array): { number: Int32Array; used: number } {
  const number = new Int32Array(count).fill(-1);
  let used = 0;
  for (let c = 0; c < corners.length; c++) {
    const i = of[corners[c]];
    if (number[i] < 0) number[i] = used++;
  }
  return { number, used };
}

/**
 * Data of the file's vertices as data of corners; colours and data of a file's own as data of vertices, where no place
 * has two.
 */
function spread(k: Kind, data: Float32Array, corners: Uint32Array, cornerVertex: Uint32Array, used: number): Attribute {
  const { width } = k;
  if (k.name === COLOR || k.name[0] === '_') {
    const own = new Float32Array(width * used).fill(NaN);
    let one = true;
    for (let c = 0; c < corners.length && one; c++)
      for (let q = 0; q < width; q++) {
        const x = data[width * corners[c] + q];
        const o = width * cornerVertex[c] + q;
        if (Number.isNaN(own[o])) own[o] = x;
        else one &&= own[o] === x;
      }
    if (one) return { domain: 'vertex', width, data: own };
  }
  const out = new Float32Array(width * corners.length);
  for (let c = 0; c < corners.length; c++) {
    const from = width * corners[c];
    for (let q = 0; q < width; q++) out[width * c + q] = data[from + q];
  }
  return { domain: 'corner', width, data: out };
}

/** Theirs run from the top of a picture, ours from its foot. */
function fromBelow(uv: Float32Array, from: number, to: number): void {
  for (let i = from + 1; i < to; i += 2) uv[i] = 1 - uv[i];
}

function indexOf(list: string[], name: string): number {
  const i = list.indexOf(name);
  return i >= 0 ? i : list.push(name) - 1;
}
