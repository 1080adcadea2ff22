import fc from 'fast-check';
import { cubeSphere } from '../make/primitives';
import { keyOf } from '../math/hash';
import type { Mesh } from '../mesh/mesh';
import { mirrorImages } from '../mesh/mirrorimages';
import { pickOf } from '../mesh/picks';
import { defaultsOf, type Move, type Step } from '../recipe/values';
import { Memory } from '../recipe/memory';
import { followRecipe } from '../steps';
import { elementsBy } from '../rules';
import { seeds, someOf } from '../testing/arbitrary';
import { toolDef } from '../tools';

const ball = (): Step => ({ id: 'b', kind: 'sphere', on: true, values: { diameter: 2, made: 'cube', cuts: 4 } });
const follow = async (steps: Step[]): Promise<Mesh> => {
  const out = await followRecipe(steps, { memory: new Memory(1 << 24) });
  const last = out[out.length - 1];
  if (last.error) throw new Error(last.error);
  return last.mesh;
};
const symmetric = (m: Mesh): boolean => mirrorImages(m, 'x').every((v) => v >= 0);

test.each(['move', 'extrude', 'inset', 'bevel', 'poke', 'push', 'collapse', 'delete'])(
  '%s on one side leaves a ball that is the same on both',
  async (tool) => {
    const base = await follow([ball()]);
    const def = toolDef(tool)!;
    await fc.assert(
      fc.asyncProperty(seeds, async (s) => {
        const kind = def.picks[0];
        const count = { face: base.faceCount, edge: 100, vertex: base.vertexCount }[kind];
        const off = someOf(count, s).slice(0, 1);
        const values = { ...defaultsOf(def.values), ...(tool === 'move' ? { x: 0.05, y: 0.1 } : {}) };
        const move: Move = { id: 'm', tool, pick: pickOf(base, kind, off), values, mirror: 'x' };
        const made = await follow([ball(), { id: 's', kind: 'shape', on: true, values: { moves: [move] } }]);
        expect(symmetric(made)).toBe(true);
        const alone = await follow([
          ball(),
          { id: 's', kind: 'shape', on: true, values: { moves: [{ ...move, mirror: undefined }] } },
        ]);
        if (!symmetric(alone))
          expect(elementsBy(alone, 'vertex', { id: 'lopsided', values: {} }).length).toBeGreaterThan(0);
      }),
      { numRuns: 12 },
    );
  },
);

test('one side made from the other, either way', () => {
  const m = cubeSphere({ radius: 1, cuts: 4 }, 1);
  const spoilt = m.moved(m.positions.map((x, i) => (i % 3 === 1 && m.positions[i - 1] > 0.2 ? 1.5 * x : x)));
  expect(symmetric(spoilt)).toBe(false);
  const tool = toolDef('symmetrise')!;
  const run = (keep: string) =>
    tool.run(
      spoilt,
      { kind: 'face', indices: new Uint32Array(0) },
      { ...defaultsOf(tool.values), keep } as never,
      keyOf('s'),
    );
  const top = (a: Mesh) => a.positions.reduce((t, y, i) => (i % 3 === 1 ? Math.max(t, y) : t), 0);
  for (const keep of ['positive', 'negative']) expect(symmetric(run(keep))).toBe(true);
  expect(top(run('positive'))).toBeGreaterThan(1.2);
  expect(top(run('negative'))).toBeLessThan(1.01);
});
