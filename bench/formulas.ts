/** Formulas over a million vertices, beside a peer that is compiled once and called for each; noise; a hundred thousand random texts. */
import { compile as peerCompile } from 'mathjs';
import { compile, elementScope, evaluate, FormulaError } from '../src/core/formula';
import { FUNCTIONS } from '../src/core/formula/functions';
import { plane } from '../src/core/make/primitives';
import { meshFrom } from '../src/core/mesh';
import { dice } from '../src/core/testing/mutants';
import { median, type Benchmark, type Result } from './measure';

const WAVE = 'position.y + 0.1 * sin(3 * position.x)';

async function columns(): Promise<Result[]> {
  const n = 1_000_000;
  const sheet = meshFrom(
    Float32Array.from({ length: 3 * n }, (_, i) => ((i * 7919) % 100_003) / 10_000),
    [],
  );
  const scope = () => elementScope(sheet, 'vertex', 1);
  const time = (text: string) =>
    median(5, () => {
      evaluate(compile(text, scope()), n);
    });
  const own = await time(WAVE);
  const peer = peerCompile('y + 0.1 * sin(3 * x)');
  const { positions: p } = sheet;
  const out = new Float32Array(n);
  const theirs = await median(
    1,
    () => {
      for (let v = 0; v < n; v++) out[v] = peer.evaluate({ x: p[3 * v], y: p[3 * v + 1] }) as number;
    },
    0,
  );
  const noise = await time('noise(position, 4)');
  const ms = (name: string, value: number, most: number): Result => ({
    name,
    value,
    unit: 'ms',
    bar: `≤ ${most} ms`,
    ok: value <= most,
  });
  return [
    ms(`${WAVE} on ${n} vertices`, own, 40),
    {
      name: '… against mathjs, compiled and called for each',
      value: theirs / own,
      unit: '×',
      bar: '≥ 10',
      ok: theirs / own >= 10,
    },
    ms(`Noise of 4 layers on ${n} vertices`, noise, 600),
  ];
}

function texts(): Result[] {
  const bits = [
    '1',
    '2.5',
    'position',
    'index',
    '+',
    '-',
    '*',
    '/',
    '^',
    '(',
    ')',
    ',',
    '.x',
    'if ',
    ' then ',
    ' else ',
    ' and ',
    'not ',
    '<',
    '=',
  ];
  bits.push(' mm', '°', '"', '#', '\u0000', '🜁', ...Object.keys(FUNCTIONS).map((f) => `${f}(`));
  const sheet = plane({ width: 1, depth: 1, cutX: 2, cutZ: 2 }, 1);
  const scope = elementScope(sheet, 'vertex', 1);
  let answered = 0;
  let refused = 0;
  let slowest = 0;
  let other = 0;
  for (let seed = 1; seed <= 100_000; seed++) {
    const roll = dice(seed * 104_729);
    const text = Array.from({ length: 1 + roll(30) }, () => bits[roll(bits.length)]).join('');
    const start = performance.now();
    try {
      evaluate(compile(text, scope), sheet.vertexCount);
      answered++;
    } catch (e) {
      if (e instanceof FormulaError && e.at[0] >= 0 && e.at[1] <= text.length) refused++;
      else other++;
    }
    slowest = Math.max(slowest, performance.now() - start);
  }
  const told = `0 (${answered} answered, ${refused} refused with a place)`;
  return [
    {
      name: '100,000 random formulas: anything but an answer or a sentence',
      value: other,
      unit: '',
      bar: told,
      ok: other === 0,
    },
    { name: '… the slowest', value: slowest, unit: 'ms', bar: '≤ 100 ms', ok: slowest <= 100 },
  ];
}

export const formulas: Benchmark = { name: 'formulas', run: async () => [...(await columns()), ...texts()] };
