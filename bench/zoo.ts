/**
 * 30,000 random moves on a zoo of nasty meshes: by every tool with any values, mirrored and refined now and then, up to
 * eight on one another.
 */
import { mirrorMesh } from '../src/core/edit/mirror';
import { subdivide } from '../src/core/subdivide/catmullclark';
import { keyOf } from '../src/core/math';
import type { Mesh } from '../src/core/mesh';
import { countOf } from '../src/core/mesh/picks';
import { anyValues } from '../src/core/testing/anyvalues';
import { aroundOf } from '../src/core/testing/around';
import { dice } from '../src/core/testing/mutants';
import { problemsOf } from '../src/core/testing/valid';
import { animal } from '../src/core/testing/zoo';
import { toolDefs } from '../src/core/tools';
import type { Benchmark, Result } from './measure';

const MOVES = Number(process.env.GLYPTA_MOVES ?? 30000);
/** Meshes grow by being refined and drawn out; beyond this many faces another animal is taken. */
const MOST_FACES = 3000;

interface Tally {
  moves: number;
  refused: number;
  invalid: string[];
  slowest: number;
  slow: string;
}

function step(mesh: Mesh, id: string, roll: (most: number) => number): { what: string; made: () => Mesh } {
  const defs = toolDefs();
  const at = roll(defs.length + 2);
  if (at === defs.length) {
    const axis = (['x', 'y', 'z'] as const)[roll(3)];
    const options = {
      axis,
      keep: roll(2) ? 'positive' : 'negative',
      weld: [0, 1e-4, 0.5][roll(3)],
      clip: roll(2) === 1,
    } as const;
    return { what: `mirror ${axis}`, made: () => mirrorMesh(mesh, options, keyOf(id)) };
  }
  if (at > defs.length) return { what: 'subdivide', made: () => subdivide(mesh, { levels: 1 }) };
  const def = defs[at];
  const kind = def.picks[roll(def.picks.length)];
  const count = countOf(mesh, kind);
  const picked = new Set(Array.from({ length: [1, 2, 5, 40][roll(4)] }, () => roll(count)));
  const size = mesh.positions.reduce((a, b) => Math.max(a, Math.abs(b)), 0) || 1;
  const values = anyValues(def.values, size, roll) as never;
  const indices = Uint32Array.from(picked).sort();
  const ends = indices.length > 1 ? ([indices[1], indices[0]] as const) : undefined;
  return {
    what: `${def.id} ${JSON.stringify(values)} of ${indices.length} ${kind}`,
    made: () => def.run(mesh, { kind, indices, ends }, values, keyOf(id), undefined, aroundOf(size)),
  };
}

export function wander(moves: number): Tally {
  const out: Tally = { moves: 0, refused: 0, invalid: [], slowest: 0, slow: '' };
  for (let seed = 1; out.moves < moves; seed++) {
    const roll = dice(seed * 7919);
    for (let i = 0; i < 9; i++) roll(2);
    const found = animal(roll);
    let { mesh } = found;
    const wrong = problemsOf(mesh);
    if (wrong.length > 0) throw new Error(`The ${found.name} of seed ${seed} is no mesh itself: ${wrong[0]}`);
    for (let i = 0; i < 8 && mesh.faceCount > 0 && mesh.faceCount < MOST_FACES; i++) {
      const { what, made } = step(mesh, `${seed}/${i}`, roll);
      out.moves++;
      const begun = performance.now();
      let next: Mesh;
      try {
        next = made();
      } catch (e) {
        // One sentence for the person is an answer; what the engine says is not.
        const text = (e as Error).message;
        if (e instanceof TypeError || e instanceof RangeError || !/^[A-Z].*\.$/.test(text))
          out.invalid.push(`seed ${seed}, ${found.name}, ${what}: threw ${text}`);
        out.refused++;
        continue;
      }
      const took = performance.now() - begun;
      // What makes a hundred thousand faces may take its time.
      if (next.faceCount < 10 * MOST_FACES && took > out.slowest)
        [out.slowest, out.slow] = [took, `seed ${seed}, ${found.name}, ${what}, ${mesh.faceCount} faces`];
      const problems = problemsOf(next);
      if (problems.length > 0) {
        out.invalid.push(`seed ${seed}, ${found.name}, ${what}: ${problems[0]}`);
        break;
      }
      mesh = next;
    }
  }
  return out;
}

async function run(): Promise<Result[]> {
  const { moves, refused, invalid, slowest, slow } = wander(MOVES);
  if (process.env.GLYPTA_DEBUG) console.error(`The slowest: ${slow}`);
  for (const text of invalid.slice(0, process.env.GLYPTA_DEBUG ? 200 : 5)) console.error(text);
  return [
    {
      name: `${moves} moves on the zoo: invalid`,
      value: invalid.length,
      unit: '',
      bar: `0 (${refused} refused in a sentence)`,
      ok: invalid.length === 0,
    },
    { name: '… the slowest move', value: slowest, unit: 'ms', bar: '≤ 1000 ms', ok: slowest <= 1000 },
  ];
}

export const zooBench: Benchmark = { name: 'zoo', run };
