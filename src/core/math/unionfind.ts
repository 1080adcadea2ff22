/**
 * Which things hang together: a disjoint-set forest with path halving (Tarjan and van Leeuwen 1984), on one flat array.
 * Joining keeps the second one's root, so the order of joins decides the roots and the same input gives the same
 * numbers.
 */
import { EVERY, pulse } from './pulse';

export class UnionFind {
  private readonly parent: Uint32Array;

  constructor(count: number) {
    this.parent = new Uint32Array(count);
    for (let i = 0; i < count; i++) this.parent[i] = i;
  }

  find(i: number): number {
    const { parent } = this;
    while (parent[i] !== i) {
      parent[i] = parent[parent[i]];
      i = parent[i];
    }
    return i;
  }

  join(a: number, b: number): void {
    this.parent[this.find(a)] = this.find(b);
  }

  /** Parts numbered from 0 in the order of their first members, and how many there are. */
  parts(): { of: Uint32Array; count: number } {
    const n = this.parent.length;
    const number = new Int32Array(n).fill(-1);
    const of = new Uint32Array(n);
    let count = 0;
    for (let i = 0; i < n; i++) {
      if ((i & EVERY) === 0) pulse();
      const r = this.find(i);
      if (number[r] < 0) number[r] = count++;
      of[i] = number[r];
    }
    return { of, count };
  }
}
