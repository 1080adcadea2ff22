/**
 * T-vertices: a corner of one border that lies on the middle of another's edge, so that the surface looks closed and is
 * not. Open edges are held against the vertices of borders through a grid of cells as wide as a usual open edge.
 */
import { EVERY, pulse } from '../math/pulse';
import type { Mesh } from '../mesh/mesh';
import { topologyOf } from '../mesh/topology';

export interface Tee {
  vertex: number;
  edge: number;
  /** How far along the edge, from its lower end. */
  t: number;
}

const { floor, hypot } = Math;

export function teesOf(mesh: Mesh, distance: number): Tee[] {
  const t = topologyOf(mesh);
  const { positions: p } = mesh;
  const open: number[] = [];
  let sum = 0;
  const length = (e: number) => {
    const [a, b] = [3 * t.edgeVertex[2 * e], 3 * t.edgeVertex[2 * e + 1]];
    return hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
  };
  for (let e = 0; e < t.edgeCount; e++)
    if (t.edgeCornerStart[e + 1] - t.edgeCornerStart[e] === 1) {
      open.push(e);
      sum += length(e);
    }
  if (open.length === 0) return [];
  const cell = Math.max(sum / open.length, 2 * distance, 1e-30);
  const name = (x: number, y: number, z: number) =>
    (Math.imul(x | 0, 73856093) ^ Math.imul(y | 0, 19349663) ^ Math.imul(z | 0, 83492791)) >>> 0;
  const filed = new Map<number, number[]>();
  const border = new Set<number>();
  for (const e of open) for (const k of [0, 1]) border.add(t.edgeVertex[2 * e + k]);
  for (const v of border) {
    const key = name(floor(p[3 * v] / cell), floor(p[3 * v + 1] / cell), floor(p[3 * v + 2] / cell));
    const list = filed.get(key);
    if (list) list.push(v);
    else filed.set(key, [v]);
  }
  const out: Tee[] = [];
  const asked = new Set<number>();
  open.forEach((e, i) => {
    if ((i & EVERY) === 0) pulse();
    const [a, b] = [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]];
    const d = [0, 1, 2].map((k) => p[3 * b + k] - p[3 * a + k]);
    const long = hypot(d[0], d[1], d[2]);
    if (long <= 2 * distance) return;
    asked.clear();
    const steps = Math.min(10_000, Math.ceil((2 * long) / cell));
    for (let s = 0; s <= steps; s++) {
      const at = [0, 1, 2].map((k) => floor((p[3 * a + k] + (d[k] * s) / steps) / cell));
      for (let x = -1; x <= 1; x++)
        for (let y = -1; y <= 1; y++)
          for (let z = -1; z <= 1; z++)
            for (const v of filed.get(name(at[0] + x, at[1] + y, at[2] + z)) ?? []) {
              if (v === a || v === b || asked.has(v)) continue;
              asked.add(v);
              let dot = 0;
              for (let k = 0; k < 3; k++) dot += (p[3 * v + k] - p[3 * a + k]) * d[k];
              const u = dot / (long * long);
              if (u * long <= distance || (1 - u) * long <= distance) continue;
              let off = 0;
              for (let k = 0; k < 3; k++) off += (p[3 * v + k] - p[3 * a + k] - u * d[k]) ** 2;
              if (off <= distance * distance) out.push({ vertex: v, edge: e, t: u });
            }
    }
  });
  return out.sort((x, y) => x.edge - y.edge || x.t - y.t);
}
