/**
 * Formulas over a million vertices, beside a peer that is compiled once and called for each; noise; a hundred thousand
 * random texts.
 */
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

type Roll = (most: number) => number;

/** A formula that is sound in form, of a number, a truth or a vector; of what it means much is not. */
function sound(roll: Roll, want: 'number' | 'truth' | 'vector', deep: number): string {
  const of = (kind: typeof want) => sound(roll, kind, deep - 1);
  const pick = (list: readonly string[]) => list[roll(list.length)];
  if (want === 'truth') {
    if (deep <= 0) return pick(['true', 'index > 2', 'position.y < 3']);
    return pick([
      `${of('number')} ${pick(['<', '<=', '>', '>=', '=', '!='])} ${of('number')}`,
      `(${of('truth')} ${pick(['and', 'or'])} ${of('truth')})`,
      `not ${of('truth')}`,
    ]);
  }
  if (want === 'vector') {
    if (deep <= 0) return pick(['position', 'normal', 'share']);
    return pick([
      `(${of('vector')} + ${of('vector')})`,
      `cross(${of('vector')}, ${of('vector')})`,
      `unit(${of('vector')})`,
      `${of('number')} * ${of('vector')}`,
    ]);
  }
  if (deep <= 0) return pick(['1', '0.25', 'index', 'count', 'share.y', 'position.x', '3 mm', '20°', 'valence', 'pi']);
  return pick([
    `(${of('number')} ${pick(['+', '-', '*', '/', '^'])} ${of('number')})`,
    `-${of('number')}`,
    `if ${of('truth')} then ${of('number')} else ${of('number')}`,
    `${pick(['sin', 'cos', 'sqrt', 'abs', 'floor', 'round'])}(${of('number')})`,
    `${pick(['min', 'max', 'mod'])}(${of('number')}, ${of('number')})`,
    `mix(${of('number')}, ${of('number')}, ${of('number')})`,
    `ramp(${of('number')}, 0, ${of('number')}, 1, ${of('number')})`,
    `noise(${of('vector')}, ${1 + roll(4)})`,
    `random(${of('number')}, ${roll(9)})`,
    `length(${of('vector')})`,
    `dot(${of('vector')}, ${of('vector')})`,
  ]);
}

function texts(): Result[] {
  // Of three texts one is of bits thrown together, one sound, one sound but for a place where something was put in or
  // taken out.
  const bits = [
    '1',
    '2.5',
    'position',
    'index',
    '+',
    '*',
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
  const write = (roll: Roll): string => {
    const kind = roll(3);
    if (kind === 0) return Array.from({ length: 1 + roll(30) }, () => bits[roll(bits.length)]).join('');
    const text = sound(roll, (['number', 'truth', 'vector'] as const)[roll(3)], 1 + roll(4));
    if (kind === 1) return text;
    const at = roll(text.length);
    return text.slice(0, at) + (roll(2) ? bits[roll(bits.length)] : '') + text.slice(at + roll(4));
  };
  const sheet = plane({ width: 1, depth: 1, cutX: 2, cutZ: 2 }, 1);
  const scope = elementScope(sheet, 'vertex', 1);
  let answered = 0;
  let refused = 0;
  let slowest = 0;
  let other = 0;
  for (let seed = 1; seed <= 100_000; seed++) {
    const roll = dice(seed * 104_729);
    const text = write(roll);
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
