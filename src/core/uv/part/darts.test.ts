import { meshFrom, type Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';
import { layFlat } from '../flatten/layflat';
import { Parting, type Patch } from '../flatten/patch';
import { seamEdges } from './charts';
import { darted, type Darting } from './darts';

const BOUND = 1.3;
const HIGH = 1;

/** A flat sheet of cells with a few sharp tips in it. */
function tips(high: number, at: readonly (readonly [number, number])[]): Mesh {
  const n = 24;
  const places: number[] = [];
  for (let i = 0; i <= n; i++)
    for (let j = 0; j <= n; j++) places.push(i, at.some(([x, y]) => x === i && y === j) ? high : 0, j);
  const faces: number[][] = [];
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++)
      faces.push([i * (n + 1) + j, i * (n + 1) + j + 1, (i + 1) * (n + 1) + j + 1, (i + 1) * (n + 1) + j]);
  return meshFrom(places, faces);
}
const TIPS: [number, number][] = [
  [6, 6],
  [12, 17],
  [18, 8],
];

function opening(mesh: Mesh, wishes: Partial<Darting> = {}) {
  const t = topologyOf(mesh);
  const parting = new Parting(mesh, seamEdges(mesh, { cut: new Set(), hold: new Set(), angle: Infinity }));
  parting.label.fill(0);
  const before = parting.seam.slice();
  const patch = parting.patch(Uint32Array.from({ length: mesh.faceCount }, (_, f) => f));
  const laid = layFlat(patch, BOUND);
  const long = (e: number): number => {
    const [a, b] = [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]];
    return Math.hypot(...[0, 1, 2].map((k) => mesh.positions[3 * a + k] - mesh.positions[3 * b + k]));
  };
  const one = darted(parting, patch, laid, { bound: BOUND, hold: new Set(), weigh: long, ...wishes });
  return { parting, before, patch, laid, one };
}
const cut = ({ parting, before }: { parting: Parting; before: Uint8Array }): number[] =>
  [...parting.seam.keys()].filter((e) => parting.seam[e] !== before[e]);
const isDisc = ({ borders, euler }: Patch): boolean => borders === 1 && euler === 1;

test('a sheet with sharp tips lies within the bound once it is cut to each of them, as one disc', () => {
  const made = opening(tips(HIGH, TIPS));
  expect(made.laid.good).toBe(false);
  expect(made.one?.laid.good).toBe(true);
  expect(isDisc(made.one!.patch)).toBe(true);
  expect(made.one!.patch.faces).toEqual(made.patch.faces);
  const t = topologyOf(made.parting.mesh);
  const ends = new Set(cut(made).flatMap((e) => [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]]));
  for (const [i, j] of TIPS) expect(ends.has(i * 25 + j)).toBe(true);
  // No farther than it has to be: six cells to the rim from each, and a little beside.
  expect(cut(made).length).toBeLessThan(40);
});

test('what is held is not cut: to a tip with all its edges held there is no way', () => {
  const mesh = tips(HIGH, TIPS);
  const t = topologyOf(mesh);
  const hold = new Set<number>();
  for (let e = 0; e < t.edgeCount; e++)
    if ([t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]].includes(6 * 25 + 6)) hold.add(e);
  const made = opening(mesh, { hold });
  expect(cut(made).some((e) => hold.has(e))).toBe(false);
});

test('where darts would not do, nothing is cut: too much is beyond, too far from the rim, no disc', () => {
  const rough = Array.from({ length: 23 * 23 }, (_, k): [number, number] => [1 + (k % 23), 1 + Math.floor(k / 23)]);
  const everywhere = opening(
    tips(
      2,
      rough.filter((_, k) => k % 3 === 0),
    ),
  );
  expect(everywhere.one).toBeUndefined();
  expect(cut(everywhere)).toEqual([]);
  const mesh = tips(HIGH, TIPS);
  const { parting, patch, laid, before } = opening(mesh, { hold: new Set(topologyOf(mesh).edgeVertex.keys()) });
  expect(
    darted(parting, { ...patch, borders: 2 }, laid, { bound: BOUND, hold: new Set(), weigh: () => 1 }),
  ).toBeUndefined();
  expect([...parting.seam]).toEqual([...before]);
});
