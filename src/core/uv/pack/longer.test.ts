import type { Mesh } from '../../mesh/mesh';
import { gears, lumpyBall } from '../../testing/organic';
import { UNWRAPPING, uvOf, withUv } from '../../testing/unwrapping';
import { packedLonger, type LongerOptions } from './longer';
import { islandsOf, uvFigures } from '../measure';
import { unwrapMesh, type UnwrapOptions } from '../unwrap';
import { thoroughly } from '../../testing/thoroughly';

const BASE: UnwrapOptions = { ...UNWRAPPING, size: 512 };
const options = (o: Partial<LongerOptions> = {}): LongerOptions => ({
  size: 512,
  padding: 4,
  turn: true,
  locked: new Set(),
  upright: new Set(),
  effort: 400,
  stop: () => false,
  better: () => undefined,
  ...o,
});

/** How long sides are on the sheet, against what they were: the same for all of them. */
function scales(mesh: Mesh, before: Float32Array, after: Float32Array): { least: number; most: number } {
  let [least, most] = [Infinity, 0];
  for (let f = 0; f < mesh.faceCount; f++)
    for (let c = mesh.faceStart[f]; c + 1 < mesh.faceStart[f + 1]; c++) {
      const long = (uv: Float32Array): number => Math.hypot(uv[2 * c] - uv[2 * c + 2], uv[2 * c + 1] - uv[2 * c + 3]);
      if (long(before) < 1e-3) continue;
      least = Math.min(least, long(after) / long(before));
      most = Math.max(most, long(after) / long(before));
    }
  return { least, most };
}

test.each([
  ['a lumpy ball', () => lumpyBall(7)],
  ['gears', () => gears(1)],
])('%s packed longer: fuller, nothing twice, no shape changed; each better layout is told', (_, make) => {
  const mesh = unwrapMesh(make(), BASE).mesh;
  const told: number[] = [];
  const out = packedLonger(mesh, options({ better: (_uv, fill) => told.push(fill) }));
  const [was, now] = [uvOf(mesh), out].map((uv) => uvFigures(withUv(mesh, uv), uv, 1024));
  expect(now).toMatchObject({ overlap: 0, outside: 0, flips: 0, islands: was.islands });
  expect(now.coverage).toBeGreaterThan(was.coverage - 0.002);
  const { least, most } = scales(mesh, uvOf(mesh), out);
  expect(most / least).toBeLessThan(1.001);
  expect(told).toEqual([...told].sort((a, b) => a - b));
});

test('what is fuller than what is there is told at once', () => {
  const mesh = unwrapMesh(lumpyBall(7), { ...BASE, density: 1 }).mesh;
  const told: number[] = [];
  packedLonger(mesh, options({ effort: 1, better: (_uv, fill) => told.push(fill) }));
  expect(told[0]).toBeGreaterThan(0.5);
});

thoroughly('what is locked stays, and it ends when it is told to', () => {
  const mesh = unwrapMesh(lumpyBall(7), BASE).mesh;
  const before = uvOf(mesh);
  const { ofFace } = islandsOf(mesh, before);
  const first = Array.from(ofFace.keys()).filter((f) => ofFace[f] === 0);
  const out = packedLonger(mesh, options({ locked: new Set([first[0]]) }));
  for (const f of first)
    for (let c = 2 * mesh.faceStart[f]; c < 2 * mesh.faceStart[f + 1]; c++) expect(out[c]).toBe(before[c]);
  expect(uvFigures(withUv(mesh, out), out, 1024).overlap).toBe(0);
  let asked = 0;
  packedLonger(mesh, options({ effort: 1e9, stop: () => ++asked > 20 }));
  expect(asked).toBeLessThan(40);
});
