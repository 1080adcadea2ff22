/**
 * The long parts of a 3MF, its lists of vertices and triangles, read straight from their bytes. Through a parser of XML
 * each element becomes an object of texts: 1,000,000 triangles took 7.4 s and 630 MB, so 1.6 s (`./glypta bench --only
 * 3mf`).
 *
 * Strict on purpose: whatever is not plainly a list of plain elements (comments, prefixes, entities, other attributes)
 * makes it give up, and the parser reads the whole, as it would any other XML.
 */
import { GrowFloat, GrowInt } from '../../math/grow';
import { EVERY, pulse } from '../../math/pulse';
import { NumberReader } from '../numbers';

/**
 * What stands in one <mesh>: places, corners, and of each triangle its group of properties and three of its members; −1
 * for none.
 */
export class MeshLists {
  // Small at first: a file may hold a million empty ones.
  readonly place = new GrowFloat(16);
  readonly corner = new GrowInt(16);
  readonly property = new GrowInt(16);
}

/** Numbers a triangle's properties may have as attributes, in the order they are kept in. */
export const PROPERTIES = ['pid', 'p1', 'p2', 'p3'] as const;

export interface Sections {
  /** The document without what the lists held. */
  rest: Uint8Array[];
  meshes: MeshLists[];
}

const LT = 60;
const GT = 62;
const SLASH = 47;
const isSpace = (c: number): boolean => c === 32 || c === 10 || c === 13 || c === 9;

class Cursor {
  at = 0;
  private readonly numbers: NumberReader;
  constructor(readonly b: Uint8Array) {
    this.numbers = new NumberReader(b);
  }

  is(text: string): boolean {
    for (let k = 0; k < text.length; k++) if (this.b[this.at + k] !== text.charCodeAt(k)) return false;
    return true;
  }

  space(): void {
    while (isSpace(this.b[this.at])) this.at++;
  }

  /** The number in quotes after a name and `=`; undefined where it is none. */
  value(): number | undefined {
    const { b } = this;
    if (b[this.at] !== 61) return undefined;
    const quote = b[this.at + 1];
    if (quote !== 34 && quote !== 39) return undefined;
    const from = this.at + 2;
    let end = from;
    while (end < b.length && b[end] !== quote && end - from < 40) end++;
    if (b[end] !== quote || end === from) return undefined;
    this.numbers.at = from;
    const x = this.numbers.number(end);
    if (this.numbers.at !== end) return undefined;
    this.at = end + 1;
    return x;
  }

  /** After the attributes of an element that holds nothing. */
  close(name: string): boolean {
    this.space();
    if (this.b[this.at] === SLASH && this.b[this.at + 1] === GT) {
      this.at += 2;
      return true;
    }
    if (this.b[this.at] !== GT) return false;
    this.at++;
    this.space();
    if (!this.is(`</${name}>`)) return false;
    this.at += name.length + 3;
    return true;
  }
}

function vertices(c: Cursor, into: MeshLists): boolean {
  const at = [NaN, NaN, NaN];
  for (let n = 0; ; n++) {
    if ((n & EVERY) === 0) pulse();
    c.space();
    if (c.is('</vertices>')) return true;
    if (!c.is('<vertex')) return false;
    c.at += 7;
    at.fill(NaN);
    for (;;) {
      c.space();
      const k = c.b[c.at] - 120; // x, y, z
      if (k < 0 || k > 2) break;
      c.at++;
      const x = c.value();
      if (x === undefined) return false;
      at[k] = x;
    }
    if (!c.close('vertex')) return false;
    for (const x of at) into.place.push(x);
  }
}

function triangles(c: Cursor, into: MeshLists): boolean {
  const v = [NaN, NaN, NaN];
  const p = [-1, -1, -1, -1];
  for (let n = 0; ; n++) {
    if ((n & EVERY) === 0) pulse();
    c.space();
    if (c.is('</triangles>')) return true;
    if (!c.is('<triangle')) return false;
    c.at += 9;
    v.fill(-1);
    p.fill(-1);
    for (;;) {
      c.space();
      const first = c.b[c.at];
      if (first !== 118 && first !== 112) break; // v, p
      const second = c.b[c.at + 1];
      c.at += 2;
      const isPid = first === 112 && second === 105 && c.b[c.at] === 100;
      if (isPid) c.at++;
      const k = isPid ? 0 : second - 48;
      const x = c.value();
      if (x === undefined || !Number.isInteger(x) || x < 0 || x > 0x7fffffff) return false;
      if (first === 118) {
        if (k < 1 || k > 3) return false;
        v[k - 1] = x;
      } else {
        if (k < 0 || k > 3) return false;
        p[k] = x;
      }
    }
    if (!c.close('triangle')) return false;
    for (const x of v) into.corner.push(x);
    for (const x of p) into.property.push(x);
  }
}

/** Takes the lists out of a model; undefined where something is not as plain as it nearly always is. */
export function sectionsOf(b: Uint8Array, progress?: (share: number) => void): Sections | undefined {
  const c = new Cursor(b);
  const rest: Uint8Array[] = [];
  const meshes: MeshLists[] = [];
  let kept = 0;
  let hasPlaces = false;
  while (c.at < b.length) {
    c.at = b.indexOf(LT, c.at);
    if (c.at < 0) break;
    if (b[c.at + 1] === 33) return undefined; // a comment, or text that is not to be read
    const isVertices = c.is('<vertices');
    const isTriangles = !isVertices && c.is('<triangles');
    c.at++;
    if (!isVertices && !isTriangles) continue;
    const end = b.indexOf(GT, c.at);
    if (end < 0 || b[end - 1] === SLASH) return undefined;
    if (isVertices) {
      if (hasPlaces) return undefined;
      meshes.push(new MeshLists());
    } else if (!hasPlaces) return undefined;
    hasPlaces = isVertices;
    rest.push(b.subarray(kept, end + 1));
    c.at = end + 1;
    const whole = isVertices ? vertices(c, meshes.at(-1)!) : triangles(c, meshes.at(-1)!);
    if (!whole) return undefined;
    kept = c.at;
    progress?.(c.at / b.length);
  }
  if (hasPlaces) return undefined;
  rest.push(b.subarray(kept));
  return { rest, meshes };
}
