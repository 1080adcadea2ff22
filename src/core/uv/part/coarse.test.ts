/** A surface made coarser: still the same surface, and what was marked on it is marked on it. */
import { UnionFind } from '../../math/unionfind';
import { massOf } from '../../mesh/mass';
import type { Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';
import { dice } from '../../testing/mutants';
import { animal as organic, lumpyBall, scanned } from '../../testing/organic';
import { animal } from '../../testing/zoo';
import { seamEdges } from './charts';
import { coarser, type Coarse } from './coarse';
import { Parting } from '../flatten/patch';

function coarse(mesh: Mesh, soft: readonly number[] = [], hold: readonly number[] = []): Coarse | undefined {
  const hard = seamEdges(mesh, { cut: new Set(), hold: new Set(), angle: Infinity });
  const marked = new Uint8Array(hard.length);
  for (const e of soft) marked[e] = 1;
  const weigh = (): number => 1;
  return coarser(new Parting(mesh, hard), { soft: marked, hold: new Set(hold), weigh, share: 0.2, least: 50 });
}

/** Parts, V − E + F of all of it, edges with one face, and such with more than two. */
function figures(mesh: Mesh): { parts: number; euler: number; open: number; many: number } {
  const t = topologyOf(mesh);
  const used = new Set(mesh.cornerVertex);
  const joined = new UnionFind(mesh.vertexCount);
  let [open, many] = [0, 0];
  for (let e = 0; e < t.edgeCount; e++) {
    joined.join(t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]);
    const sides = t.edgeCornerStart[e + 1] - t.edgeCornerStart[e];
    if (sides === 1) open++;
    if (sides > 2) many++;
  }
  const parts = new Set([...used].map((v) => joined.find(v))).size;
  return { parts, euler: used.size - t.edgeCount + mesh.faceCount, open: open > 0 ? 1 : 0, many };
}

test.each([
  ['a lumpy ball', lumpyBall(20)],
  ['an animal', organic(24)],
])('%s: a fifth of the faces, closed, of the same size, nothing turned over', (_, mesh) => {
  const { mesh: small, of } = coarse(mesh)!;
  expect(small.faceCount).toBeLessThan(0.21 * mesh.faceCount);
  expect(figures(small)).toEqual(figures(mesh));
  const [before, now] = [massOf(mesh)!, massOf(small)!];
  expect(now.volume / before.volume).toBeGreaterThan(0.95);
  expect(now.volume / before.volume).toBeLessThan(1.03);
  expect(of.every((f) => f >= 0 && f < small.faceCount)).toBe(true);
  // Each of the coarse faces stands for something, and no one for a great deal.
  const stands = new Uint32Array(small.faceCount);
  for (const f of of) stands[f]++;
  expect(Math.min(...stands)).toBeGreaterThan(0);
  expect(Math.max(...stands)).toBeLessThan(60);
});

test('what bends and what is held only becomes longer: a ring stays one ring, about as long', () => {
  const mesh = lumpyBall(20);
  const t = topologyOf(mesh);
  const above = (f: number): boolean => {
    let sum = 0;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) sum += mesh.positions[3 * mesh.cornerVertex[c] + 1];
    return sum > 0;
  };
  const ring = Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) => {
    const [f, g] = [0, 1].map((k) => t.cornerFace[t.edgeCorner[t.edgeCornerStart[e] + k]]);
    return above(f) !== above(g);
  });
  const long = (m: Mesh, edges: Iterable<number>): number => {
    const ends = topologyOf(m).edgeVertex;
    let sum = 0;
    for (const e of edges)
      sum += Math.hypot(
        ...[0, 1, 2].map((k) => m.positions[3 * ends[2 * e] + k] - m.positions[3 * ends[2 * e + 1] + k]),
      );
    return sum;
  };
  const kinds: [number[], number[]][] = [
    [ring, []],
    [[], ring],
  ];
  for (const [soft, hold] of kinds) {
    const found = coarse(mesh, soft, hold)!;
    const edges = soft.length > 0 ? [...found.soft.keys()].filter((e) => found.soft[e]) : [...found.hold];
    expect(edges.length).toBeLessThan(0.8 * ring.length);
    const ends = topologyOf(found.mesh).edgeVertex;
    const meet = new Map<number, number>();
    for (const e of edges) for (const v of [ends[2 * e], ends[2 * e + 1]]) meet.set(v, (meet.get(v) ?? 0) + 1);
    expect([...new Set(meet.values())]).toEqual([2]);
    expect(meet.size).toBe(edges.length);
    expect(long(found.mesh, edges) / long(mesh, ring)).toBeGreaterThan(0.7);
    expect(long(found.mesh, edges) / long(mesh, ring)).toBeLessThan(1.05);
  }
});

test('whatever there is, it hangs together as before', () => {
  let made = 0;
  const meshes = Array.from({ length: 60 }, (_, seed) => animal(dice(seed + 1)));
  meshes.push({ name: 'a scan with broken edges', mesh: scanned(lumpyBall(16), 3, 0.002, 0.05) });
  for (const { name, mesh } of meshes) {
    const found = coarse(mesh);
    if (!found) continue;
    made++;
    expect([name, figures(found.mesh)]).toEqual([name, figures(mesh)]);
    expect(found.of.every((f) => f >= 0 && f < found.mesh.faceCount)).toBe(true);
  }
  expect(made).toBeGreaterThan(10);
});
