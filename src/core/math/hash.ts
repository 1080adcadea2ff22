/**
 * Hashes for lasting keys. A key is a 53-bit non-negative integer held in a double, so it survives JSON, typed arrays
 * and structured clone unchanged. Two 32-bit lanes are mixed with the finaliser of MurmurHash3 (Appleby, public domain)
 * and folded to 21 + 32 bits. With a million elements the chance of any clash is about 5e-5.
 */

const { imul } = Math;

const TWO32 = 4294967296;

function mix(h: number): number {
  h = imul(h ^ (h >>> 16), 0x85ebca6b);
  h = imul(h ^ (h >>> 13), 0xc2b2ae35);
  return h ^ (h >>> 16);
}

/** Ordered hash of two keys. */
export function key2(a: number, b: number): number {
  const al = a >>> 0;
  const ah = (a / TWO32) >>> 0;
  const bl = b >>> 0;
  const bh = (b / TWO32) >>> 0;
  let h1 = mix(al ^ 0x9e3779b9);
  let h2 = mix(ah ^ imul(al, 0x27d4eb2f) ^ 0x7f4a7c15);
  h1 = mix(imul(h1, 31) ^ bl ^ imul(h2, 0x165667b1));
  h2 = mix(imul(h2, 37) ^ bh ^ imul(h1, 0x2545f491));
  return (h2 & 0x1fffff) * TWO32 + (h1 >>> 0);
}

export const key3 = (a: number, b: number, c: number): number => key2(key2(a, b), c);
export const key4 = (a: number, b: number, c: number, d: number): number => key2(key2(key2(a, b), c), d);

/** The key of an edge, from the keys of its two vertices, in either order. */
export const edgeKey = (a: number, b: number): number => (a < b ? key2(a, b) : key2(b, a));

/** A key from text, for step and move ids and for roles. */
export function keyOf(text: string): number {
  let h1 = 0x2f0b4a27;
  let h2 = 0x41c6ce57;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    h1 = imul(h1 ^ c, 0x9e3779b1);
    h2 = imul(h2 ^ c, 0x5f356495);
  }
  h1 = mix(h1 ^ (h2 >>> 15));
  h2 = mix(h2 ^ (h1 >>> 13));
  return (h2 & 0x1fffff) * TWO32 + (h1 >>> 0);
}

/** A short text hash for the evaluator's memory: two keys over canonical text, 106 bits. */
export function textHash(text: string): string {
  return keyOf(text).toString(36) + '-' + keyOf(text.length + '~' + text).toString(36);
}

/** A number for a list of numbers, 0 to 2⁵³: two that differ have the same once in a very long while. */
export function nameOf(list: Uint32Array): number {
  let [a, b] = [list.length, 0];
  for (const f of list) {
    a = Math.imul(a ^ f, 0x9e3779b1);
    a ^= a >>> 15;
    b = (b + Math.imul(f ^ 0x55555555, 0x85ebca6b)) | 0;
  }
  return (a >>> 0) * 2 ** 21 + (b >>> 11);
}

/**
 * A name for a lot of data, made piece by piece: 106 bits of the same mixing, so that no two that differ are ever taken
 * for each other by chance. 20 million numbers a second.
 */
export class Digest {
  private a = 0x2f0b4a27;
  private b = 0x41c6ce57;
  private c = 0x1b873593;
  private d = 0x52dce729;

  private word(w: number): void {
    this.a = imul((this.a << 13) | (this.a >>> 19), 5) ^ imul(w, 0xcc9e2d51);
    this.b = imul(this.b ^ w, 0x9e3779b1);
    this.b ^= this.b >>> 15;
    this.c = (imul(this.c ^ (w >>> 16), 0x85ebca6b) + this.a) | 0;
    this.d = imul((this.d << 7) | (this.d >>> 25), 9) ^ (w + this.b);
  }

  text(t: string): this {
    this.word(t.length);
    for (let i = 0; i < t.length; i++) this.word(t.charCodeAt(i));
    return this;
  }

  /** The numbers as they are stored; how many there are counts too. */
  data(list: ArrayBufferView): this {
    const { buffer, byteOffset, byteLength } = list;
    this.word(byteLength);
    // Where it does not lie on whole words it is brought there.
    const bytes = new Uint8Array(buffer, byteOffset, byteLength);
    const whole = byteOffset % 4 === 0 ? bytes : bytes.slice();
    const words = new Int32Array(whole.buffer, whole.byteOffset, byteLength >> 2);
    for (let i = 0; i < words.length; i++) this.word(words[i]);
    for (let i = words.length << 2; i < byteLength; i++) this.word(bytes[i]);
    return this;
  }

  get name(): string {
    const [a, b, c, d] = [mix(this.a ^ this.d), mix(this.b ^ this.c), mix(this.c ^ this.a), mix(this.d ^ this.b)];
    const key = (high: number, low: number): string => ((high & 0x1fffff) * TWO32 + (low >>> 0)).toString(36);
    return `${key(a, b)}-${key(c, d)}`;
  }
}
