/**
 * A tree of boxes over triangles: along a curve that fills space, halved again and again, so it is made in one sort and
 * one pass. What asks it walks its nodes by hand: crossings, rays, nearest places.
 */
import { EVERY, pulse } from '../math/pulse';

const { max, min } = Math;
export const LEAF = 4;

/** 6 per triangle: the least and the greatest of its coordinates. */
export function boxesOf(p: Float32Array, vertex: Uint32Array): Float32Array {
  const out = new Float32Array(2 * vertex.length);
  for (let i = 0, o = 0; i < vertex.length; i += 3, o += 6) {
    if ((i & EVERY) === 0) pulse();
    const a = 3 * vertex[i];
    const b = 3 * vertex[i + 1];
    const c = 3 * vertex[i + 2];
    for (let k = 0; k < 3; k++) {
      const x = p[a + k];
      const y = p[b + k];
      const z = p[c + k];
      out[o + k] = min(x, y, z);
      out[o + 3 + k] = max(x, y, z);
    }
  }
  return out;
}

export const meets = (a: Float32Array, o: number, b: Float32Array, q: number): boolean =>
  a[o] <= b[q + 3] &&
  a[o + 3] >= b[q] &&
  a[o + 1] <= b[q + 4] &&
  a[o + 4] >= b[q + 1] &&
  a[o + 2] <= b[q + 5] &&
  a[o + 5] >= b[q + 2];

export interface BoxTree {
  /** Triangles, those of a leaf side by side. */
  order: Uint32Array;
  /** 6 per node. */
  boxes: Float32Array;
  /**
   * Per node: from which to which triangle of the order, and its second child (the first is the next node); 0 for a
   * leaf.
   */
  nodes: Int32Array;
}

/** Bits of a number from 0 to 1023, two places free between each. */
function spread(x: number): number {
  let v = x & 1023;
  v = (v | (v << 16)) & 0x30000ff;
  v = (v | (v << 8)) & 0x300f00f;
  v = (v | (v << 4)) & 0x30c30c3;
  return (v | (v << 2)) & 0x9249249;
}

/** Triangles along a curve that fills space (Morton 1966): what is near on it is near in space. */
function alongCurve(own: Float32Array): Uint32Array {
  const n = own.length / 6;
  const lo = [Infinity, Infinity, Infinity];
  let size = 0;
  for (let i = 0; i < own.length; i += 6) for (let k = 0; k < 3; k++) lo[k] = min(lo[k], own[i + k]);
  for (let i = 0; i < own.length; i += 6) for (let k = 0; k < 3; k++) size = max(size, own[i + 3 + k] - lo[k]);
  const scale = size > 0 ? 1023 / size : 0;
  // 53 bits for both: of very many triangles the curve is a little coarser.
  const bits = Math.ceil(Math.log2(n + 1));
  const room = 2 ** bits;
  const drop = max(0, 30 + bits - 53);
  const keys = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    if ((i & EVERY) === 0) pulse();
    let code = 0;
    for (let k = 0; k < 3; k++) code |= spread(((own[6 * i + k] + own[6 * i + 3 + k]) / 2 - lo[k]) * scale) << k;
    keys[i] = (code >>> drop) * room + i;
  }
  keys.sort();
  const out = new Uint32Array(n);
  for (let i = 0; i < n; i++) out[i] = keys[i] % room;
  return out;
}

export const treeOf = (own: Float32Array): BoxTree => treeIn(own, alongCurve(own));

/**
 * A tree whose boxes overlap less, for rays and nearest places: each node is halved at the middle of its triangles
 * along the longest side of their middles. Takes longer to make, and a fifth of the time to ask.
 */
export function splitTreeOf(own: Float32Array): BoxTree {
  const n = own.length / 6;
  const order = Uint32Array.from({ length: n }, (_, i) => i);
  const middle = new Float32Array(3 * n);
  for (let i = 0; i < n; i++) for (let k = 0; k < 3; k++) middle[3 * i + k] = (own[6 * i + k] + own[6 * i + 3 + k]) / 2;
  const halve = (start: number, end: number): void => {
    if (end - start <= LEAF) return;
    pulse();
    let axis = 0;
    let wide = -1;
    for (let k = 0; k < 3; k++) {
      let lo = Infinity;
      let hi = -Infinity;
      for (let i = start; i < end; i++) {
        const x = middle[3 * order[i] + k];
        if (x < lo) lo = x;
        if (x > hi) hi = x;
      }
      if (hi - lo > wide) {
        wide = hi - lo;
        axis = k;
      }
    }
    const at = (start + end) >> 1;
    if (wide > 0) select(order, middle, axis, start, end - 1, at);
    halve(start, at);
    halve(at, end);
  };
  halve(0, n);
  return treeIn(own, order);
}

/** Brings those with the lower coordinates before a place, and the others behind it (Hoare 1961). */
function select(order: Uint32Array, middle: Float32Array, axis: number, first: number, last: number, at: number): void {
  let lo = first;
  let hi = last;
  while (lo < hi) {
    const pivot = middle[3 * order[(lo + hi) >> 1] + axis];
    let i = lo;
    let j = hi;
    while (i <= j) {
      while (middle[3 * order[i] + axis] < pivot) i++;
      while (middle[3 * order[j] + axis] > pivot) j--;
      if (i > j) break;
      const x = order[i];
      order[i++] = order[j];
      order[j--] = x;
    }
    if (at <= j) hi = j;
    else if (at >= i) lo = i;
    else return;
  }
}

function treeIn(own: Float32Array, order: Uint32Array): BoxTree {
  const n = order.length;
  const boxes = new Float32Array(6 * 2 * n);
  const nodes = new Int32Array(3 * 2 * n);
  let made = 0;
  const hold = (o: number, from: Float32Array, q: number): void => {
    for (let k = 0; k < 3; k++) {
      if (from[q + k] < boxes[o + k]) boxes[o + k] = from[q + k];
      if (from[q + 3 + k] > boxes[o + 3 + k]) boxes[o + 3 + k] = from[q + 3 + k];
    }
  };
  const build = (start: number, end: number): number => {
    const node = made++;
    if ((node & EVERY) === 0) pulse();
    boxes.fill(Infinity, 6 * node, 6 * node + 3);
    boxes.fill(-Infinity, 6 * node + 3, 6 * node + 6);
    nodes[3 * node] = start;
    nodes[3 * node + 1] = end;
    if (end - start <= LEAF) {
      for (let i = start; i < end; i++) hold(6 * node, own, 6 * order[i]);
      return node;
    }
    const middle = (start + end) >> 1;
    hold(6 * node, boxes, 6 * build(start, middle));
    nodes[3 * node + 2] = build(middle, end);
    hold(6 * node, boxes, 6 * nodes[3 * node + 2]);
    return node;
  };
  build(0, n);
  return { order, boxes, nodes: nodes.subarray(0, 3 * made) };
}
