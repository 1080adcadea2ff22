/** Borders drawn smooth: shorter, never over what is shut, and nothing of a patch is lost. */
import fc from 'fast-check';
import { plane } from '../../make/primitives';
import { edgeValence, topologyOf } from '../../mesh/topology';
import { thrown } from '../../testing/organic';
import { seamEdges } from './charts';
import { Parting } from '../flatten/patch';
import { smoothBorders } from './smooth';

const N = 24;
const grid = plane({ width: N, depth: N, cutX: N, cutZ: N }, 1);
const t = topologyOf(grid);

const fresh = (): Parting => new Parting(grid, seamEdges(grid, { cut: new Set(), hold: new Set(), angle: Infinity }));
const between = ({ label }: Parting): number[] =>
  Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) => {
    const s = t.edgeCornerStart[e];
    return edgeValence(t, e) === 2 && label[t.cornerFace[t.edgeCorner[s]]] !== label[t.cornerFace[t.edgeCorner[s + 1]]];
  });
/** Where the middle of a face is, in squares from one corner of the grid. */
const middle = (f: number): [number, number] => {
  const at = [0, 0];
  for (let c = grid.faceStart[f]; c < grid.faceStart[f + 1]; c++)
    [0, 2].forEach((k, i) => {
      at[i] += grid.positions[3 * grid.cornerVertex[c] + k] / 4 + N / 8;
    });
  return [at[0], at[1]];
};
const none = new Uint8Array(t.edgeCount);

test('a ragged border between two halves becomes about as short as it can be', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
      const roll = thrown(seed);
      const parting = fresh();
      const rag = Array.from({ length: N }, () => 3 * (roll() - 0.5));
      for (let f = 0; f < grid.faceCount; f++) {
        const [x, z] = middle(f);
        parting.label[f] = x < N / 2 + rag[Math.floor(z)] ? 0 : 1;
      }
      const before = between(parting).length;
      smoothBorders(parting, 20, () => 1, none);
      const now = between(parting).length;
      expect(now).toBeLessThanOrEqual(before);
      expect(now).toBeLessThanOrEqual(N + 6);
      // Each is where the most of it was.
      for (let f = 0; f < grid.faceCount; f++) {
        const [x] = middle(f);
        if (Math.abs(x - N / 2) > 4) expect(parting.label[f]).toBe(x < N / 2 ? 0 : 1);
      }
    }),
    { seed: 5, numRuns: 25 },
  );
});

test('what is shut keeps its border, wherever it runs; a straight one stays as it is', () => {
  const parting = fresh();
  // Stairs, all of them shut.
  for (let f = 0; f < grid.faceCount; f++) {
    const [x, z] = middle(f);
    parting.label[f] = Math.floor(x / 2) + Math.floor(z / 2) < N / 2 ? 0 : 1;
  }
  const stairs = between(parting);
  const shut = none.slice();
  for (const e of stairs) shut[e] = 1;
  smoothBorders(parting, 20, () => 1, shut);
  expect(between(parting)).toEqual(stairs);
  smoothBorders(parting, 20, () => 1, none);
  expect(between(parting)).not.toEqual(stairs);

  const straight = fresh();
  for (let f = 0; f < grid.faceCount; f++) straight.label[f] = middle(f)[1] < N / 2 ? 0 : 1;
  const line = between(straight);
  smoothBorders(straight, 20, () => 1, none);
  expect(between(straight)).toEqual(line);
});

test('without borders there is nothing to be done', () => {
  const parting = fresh();
  parting.label.fill(3);
  smoothBorders(parting, 20, () => 1, none);
  expect(new Set(parting.label)).toEqual(new Set([3]));
});
