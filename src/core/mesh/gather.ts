/**
 * Carrying attributes when elements are chosen, doubled or put in another order: the one place where that is written.
 */
import { EVERY, pulse } from '../math/pulse';
import type { Attribute, Attributes } from './mesh';

export type Domain = Attribute['domain'];

/** For each new element of a domain, the old one it takes after; -1 for none. A domain left out stays as it is. */
export type Sources = Partial<Record<Domain, ArrayLike<number>>>;

/** An array like another, of another length, filled with what "no value" is: -1 for indices, 0 for the rest. */
export const blank = (like: Attribute['data'], length: number): Attribute['data'] =>
  like instanceof Int32Array ? new Int32Array(length).fill(-1) : new Float32Array(length);

export function gatherAttribute(a: Attribute, from: ArrayLike<number>): Attribute {
  const w = a.width;
  const old = a.data;
  const data = blank(old, from.length * w);
  for (let i = 0; i < from.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const s = from[i];
    if (s >= 0) for (let k = 0; k < w; k++) data[i * w + k] = old[s * w + k];
  }
  return { ...a, data };
}

export function gatherAttributes(attributes: Attributes, sources: Sources): Attributes {
  const out: Record<string, Attribute> = {};
  for (const [name, a] of Object.entries(attributes)) {
    const from = sources[a.domain];
    out[name] = from ? gatherAttribute(a, from) : a;
  }
  return out;
}
