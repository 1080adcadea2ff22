/** What is told of a sheet in a hurry, against what is packed with care. */
import { animal, lumpyBall } from '../../testing/organic';
import { areaOf } from '../pack/sheets';
import { pack } from '../pack/pack';
import { fullnessOn } from './fullness';
import type { Island } from './island';
import { autoIslands } from './auto';
import { seamEdges } from './charts';
import type { Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';

function islandsOf(mesh: Mesh): Island[] {
  const none = new Set<number>();
  return autoIslands(mesh, {
    ...{ seam: seamEdges(mesh, { cut: none, hold: none, angle: Infinity }), hold: none, islands: 0, straight: 0.5 },
    soft: new Uint8Array(topologyOf(mesh).edgeCount),
    ...{ bound: 1.3, bend: Math.PI, weigh: () => 1 },
  }).islands;
}

test.each([
  ['a lumpy ball', () => lumpyBall(8)],
  ['an animal', () => animal(15)],
])('%s: a little less than what it comes to, and less where less fits', (_, make) => {
  const islands = islandsOf(make());
  const told = fullnessOn({ size: 1024, padding: 4 });
  // All of one density, as they are laid on the sheet.
  const flat = islands.map(({ patch: { triangles }, laid: { uv, rest } }) => {
    const by = Math.sqrt(rest.total / areaOf({ points: uv, triangles }));
    return { points: uv.map((x) => x * by), triangles };
  });
  const { placed } = pack(flat, { size: 1024, padding: 4, turn: true, scale: 0, care: 1 });
  const covered = placed.reduce((sum, points, i) => sum + areaOf({ points, triangles: flat[i].triangles }), 0);
  expect(covered - told(islands)).toBeLessThan(0.08);
  expect(told(islands) - covered).toBeLessThan(0.02);
  // Known boxes change nothing, and wide gaps leave less.
  const once = told(islands);
  expect(told(islands)).toBe(once);
  expect(fullnessOn({ size: 256, padding: 16 })(islands)).toBeLessThan(told(islands));
  // A hundredth of all that goes on the sheet lies on a tenth of its side, at the same gaps.
  const area = islands.reduce((sum, i) => sum + i.laid.rest.total, 0);
  const part = fullnessOn({ size: 2560, padding: 16, area: 100 * area })(islands);
  expect(part).toBe(fullnessOn({ size: 256, padding: 16 })(islands));
});

test('none, and one without area, are no harm', () => {
  const told = fullnessOn({ size: 64, padding: 2 });
  expect(told([])).toBe(0);
  const [some] = islandsOf(lumpyBall(3));
  const flat = { ...some, laid: { ...some.laid, figures: { ...some.laid.figures, density: 0 } } };
  expect(Number.isFinite(told([flat]))).toBe(true);
  expect(told([some, flat])).toBeGreaterThan(0);
});
