/** What every tool must keep, over all that are registered: a new one is tested by being there. */
import { keyOf } from '../math/hash';
import { box } from '../make/primitives';
import { shapeOf } from '../mesh/measure';
import { NORMAL, type Mesh } from '../mesh/mesh';
import { countOf } from '../mesh/picks';
import { complete, defaultsOf } from '../recipe/values';
import { anyValues } from '../testing/anyvalues';
import { aroundOf } from '../testing/around';
import { dice } from '../testing/mutants';
import { problemsOf } from '../testing/valid';
import { animal } from '../testing/zoo';
import { FAMILIES, mainValue, toolDef, toolDefs, type ToolDef } from '.';

const SENTENCE = /^[A-Z0-9“].*\.$/s;
const id = keyOf('contract');

/** Runs a tool; what it refuses it must refuse in one sentence. */
function made(
  def: ToolDef,
  mesh: Mesh,
  kind: 'face' | 'edge' | 'vertex',
  indices: Uint32Array,
  values: object,
): Mesh | undefined {
  const ends = indices.length > 1 ? ([indices[0], indices[indices.length - 1]] as const) : undefined;
  const size = mesh.positions.reduce((a, b) => Math.max(a, Math.abs(b)), 0) || 1;
  const tell = (text: string) => expect(text).toMatch(SENTENCE);
  try {
    return def.run(mesh, { kind, indices, ends }, values as never, id, tell, aroundOf(size));
  } catch (e) {
    expect([def.id, (e as Error).constructor.name]).toEqual([def.id, 'Error']);
    expect((e as Error).message).toMatch(SENTENCE);
    return undefined;
  }
}

/** Which of them may open a closed body, or part it. */
const OPENS = new Set([
  'delete',
  'detach',
  'copy-out',
  'open',
  'plane-cut',
  'weld',
  'collapse',
  'extrude-edges',
  'fill',
  'flip',
  'dissolve',
]);

describe.each(toolDefs().map((t) => [t.id, t] as const))('%s', (_, def) => {
  test('says what it is in our words', () => {
    expect(def.title).toMatch(/^[A-Z]/);
    expect(def.help).toMatch(/^[A-Z][^.]*$/);
    expect(def.words.split(' ').length).toBeGreaterThan(1);
    expect(Object.keys(FAMILIES)).toContain(def.family);
    for (const [, name] of def.sentence.matchAll(/\{(\w+)\}/g))
      expect(name === 'pick' || name in def.values).toBe(true);
    expect(def.sentence.includes('{pick}')).toBe(!def.whole);
    const main = mainValue(def);
    if (main) expect(typeof def.values[main].default).toBe('number');
    const drawn = { points: 'places', strokes: 'dabs' }[def.begins as string];
    expect(Object.values(def.values).some((v) => v.kind === drawn)).toBe(drawn !== undefined);
    expect(def.icon).toMatch(/^M[-\d.]+ [-\d. a-zA-Z]{12,}$/);
  });

  test('leaves a mesh of any nasty one, with any values', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const roll = dice(seed * 104729 + def.id.length);
      for (let i = 0; i < 9; i++) roll(2);
      const { name, mesh } = animal(roll);
      const kind = def.picks[roll(def.picks.length)];
      const count = countOf(mesh, kind);
      const indices = Uint32Array.from(new Set(Array.from({ length: [1, 3, 40][roll(3)] }, () => roll(count)))).sort();
      const size = mesh.positions.reduce((a, b) => Math.max(a, Math.abs(b)), 0) || 1;
      const values = anyValues(def.values, size, roll);
      const out = made(def, mesh, kind, indices, values);
      if (!out) continue;
      expect([name, seed, problemsOf(out)]).toEqual([name, seed, []]);
      // Normals may be set, or let go of where they are not so any more.
      const named = (m: Mesh) => Object.keys(m.attributes).filter((n) => n !== NORMAL);
      expect(named(out).sort()).toEqual(named(mesh).sort());
      expect(out.slots).toEqual(mesh.slots);
    }
  });

  test('everything picked, on a sound body', () => {
    for (const kind of def.picks) {
      const m = box({ width: 1, height: 1, depth: 1, cutX: 3, cutY: 3, cutZ: 3, onGround: false }, 1);
      const out = made(
        def,
        m,
        kind,
        Uint32Array.from({ length: countOf(m, kind) }, (_x, i) => i),
        complete(def.values, {}),
      );
      if (out) expect(problemsOf(out)).toEqual([]);
    }
  });

  test('the same again gives the same to the bit', () => {
    const m = box({ width: 1, height: 1, depth: 1, cutX: 2, cutY: 2, cutZ: 2, onGround: false }, 1);
    const kind = def.picks[0];
    const run = () => made(def, m, kind, Uint32Array.of(3, 5), defaultsOf(def.values));
    const [a, b] = [run(), run()];
    expect(b?.positions).toEqual(a?.positions);
    expect(b?.cornerVertex).toEqual(a?.cornerVertex);
    expect(b?.faceKey).toEqual(a?.faceKey);
  });

  test('ten kilometres off, and a tenth of a millimetre small', () => {
    for (const [scale, away] of [
      [1, 10000],
      [1e-4, 0],
    ]) {
      const made0 = box({ width: 1, height: 1, depth: 1, cutX: 2, cutY: 2, cutZ: 2, onGround: false }, 1);
      const m = made0.with({ positions: made0.positions.map((x) => x * scale + away), places: undefined });
      for (const kind of def.picks) {
        const out = made(def, m, kind, Uint32Array.of(0, 1), defaultsOf(def.values));
        if (out) expect(problemsOf(out)).toEqual([]);
      }
    }
  });

  if (!OPENS.has(def.id))
    test('closed stays closed', () => {
      const m = box({ width: 1, height: 1, depth: 1, cutX: 3, cutY: 3, cutZ: 3, onGround: false }, 1);
      for (const kind of def.picks)
        for (let seed = 1; seed <= 12; seed++) {
          const roll = dice(seed * 31337);
          const indices = Uint32Array.from(new Set([roll(countOf(m, kind)), roll(countOf(m, kind))])).sort();
          const values = { ...defaultsOf(def.values), ...('by' in def.values ? { by: 0.01 } : {}) };
          const out = made(def, m, kind, indices, values);
          if (out && out.faceCount > 0) expect([kind, seed, shapeOf(out).openEdges]).toEqual([kind, seed, 0]);
        }
    });
});

test('ids and keys are each of one tool', () => {
  const defs = toolDefs();
  expect(new Set(defs.map((d) => d.id)).size).toBe(defs.length);
  const keys = defs.flatMap((d) => (d.key ? [d.key] : []));
  expect(new Set(keys).size).toBe(keys.length);
  expect(toolDef('bevel')?.picks).toContain('edge');
  expect(toolDef('nothing of the kind')).toBeUndefined();
});
