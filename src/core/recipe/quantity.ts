/**
 * Typed quantities: numbers with units and arithmetic, as people write them: "2 cm + 3 mm", "1/3 m", "90 deg / 4".
 * Parsed by jsep, evaluated with dimensions, so that a length times a length is refused where a length is wanted.
 */
import { table } from '../math/table';
import type { Triple } from '../math/affine';
import jsep, { type Expression } from 'jsep';

/** What is measured: a length in metres, an angle in radians, a plain number, a whole one. */
export type QuantityKind = 'length' | 'angle' | 'number' | 'count';

type Dimension = 'length' | 'angle' | 'none';
interface Measured {
  value: number;
  length: number;
  angle: number;
  bare: boolean;
}

const UNITS: Record<string, [number, Dimension]> = table({
  mm: [0.001, 'length'],
  cm: [0.01, 'length'],
  dm: [0.1, 'length'],
  m: [1, 'length'],
  km: [1000, 'length'],
  um: [1e-6, 'length'],
  in: [0.0254, 'length'],
  ft: [0.3048, 'length'],
  deg: [Math.PI / 180, 'angle'],
  rad: [1, 'angle'],
  turn: [2 * Math.PI, 'angle'],
  pct: [0.01, 'none'],
});
const FUNCTIONS: Record<string, (x: number) => number> = table({
  sqrt: Math.sqrt,
  abs: Math.abs,
  round: Math.round,
  floor: Math.floor,
  ceil: Math.ceil,
});

export type LengthUnit = 'mm' | 'cm' | 'm' | 'in' | 'ft';
export const unitSize = (unit: LengthUnit): number => UNITS[unit][0];

const clean = (x: number): number => (x === 0 ? 0 : Number(x.toPrecision(12)));

/**
 * Reads a quantity for a value of the given kind; bare numbers are in `unit` (lengths) or degrees (angles). Throws one
 * sentence.
 */
export function parseQuantity(text: string, kind: QuantityKind, unit: LengthUnit = 'mm'): number {
  const wanted: Dimension = kind === 'length' || kind === 'angle' ? kind : 'none';
  const source = text
    .trim()
    .replace(/,/g, '.')
    .replace(/°/g, ' deg')
    .replace(/%/g, ' pct')
    .replace(/µm/g, ' um')
    .replace(/×/g, '*')
    .replace(/÷/g, '/');
  if (source === '') throw new Error('Type a number.');
  if (source.length > 200) throw new Error('That is too long to be a number.');
  // "2 cm" → "(2*cm)": a number or a bracket followed by a unit's name.
  // A fraction before a unit belongs together: "1/3 m" is a third of a metre.
  const spelled = source
    .replace(/(?<![\w.)])(\d+)\s*\/\s*(\d+)\s*([a-z]+)\b/gi, (whole, a: string, b: string, u: string) =>
      UNITS[u.toLowerCase()] ? `(${a}/${b}*${u.toLowerCase()})` : whole,
    )
    .replace(/(?<![\d.])((?:\d+(?:\.\d*)?|\.\d+)(?:e[+-]?\d+)?)\s*([a-z]+)\b/gi, (whole, n: string, u: string) =>
      UNITS[u.toLowerCase()] ? `(${n}*${u.toLowerCase()})` : whole,
    )
    .replace(/\)\s*([a-z]+)\b/gi, (whole, u: string) => (UNITS[u.toLowerCase()] ? `)*${u.toLowerCase()}` : whole));
  let tree: Expression;
  try {
    tree = jsep(spelled);
  } catch {
    throw new Error(`“${text.trim()}” is not a number that can be read.`);
  }
  const m = run(tree, wanted, unit);
  const okay =
    (m.bare && wanted !== 'none') ||
    (m.length === (wanted === 'length' ? 1 : 0) && m.angle === (wanted === 'angle' ? 1 : 0));
  if (!okay)
    throw new Error(
      wanted === 'none'
        ? 'A plain number is wanted here, without a unit of length or angle.'
        : `${wanted === 'length' ? 'A length' : 'An angle'} is wanted here.`,
    );
  const value = m.bare && wanted !== 'none' ? m.value * bareUnit(wanted, unit) : m.value;
  if (!Number.isFinite(value)) throw new Error('That does not come to a finite number.');
  return clean(value);
}

/** What 1 without a unit stands for: of the project's unit, of a degree. */
function bareUnit(wanted: Dimension | QuantityKind, unit: LengthUnit): number {
  if (wanted === 'length') return UNITS[unit][0];
  return wanted === 'angle' ? Math.PI / 180 : 1;
}

function run(e: Expression, wanted: Dimension, unit: LengthUnit): Measured {
  const node = e as Expression & Record<string, never>;
  switch (node.type as string) {
    case 'Literal': {
      if (typeof node.value !== 'number') break;
      return { value: node.value, length: 0, angle: 0, bare: true };
    }
    case 'Identifier': {
      const u = UNITS[String(node.name).toLowerCase()];
      if (u) return { value: u[0], length: u[1] === 'length' ? 1 : 0, angle: u[1] === 'angle' ? 1 : 0, bare: false };
      if (node.name === 'pi') return { value: Math.PI, length: 0, angle: 0, bare: true };
      throw new Error(`“${String(node.name)}” is not a unit that is known.`);
    }
    case 'UnaryExpression': {
      const a = run(node.argument, wanted, unit);
      if (node.operator === '-') return { ...a, value: -a.value };
      if (node.operator === '+') return a;
      break;
    }
    case 'CallExpression': {
      const f = FUNCTIONS[String((node.callee as { name?: string }).name)];
      const args = node.arguments as Expression[];
      if (f && args.length === 1) {
        const a = run(args[0], wanted, unit);
        return { ...a, value: f(a.value) };
      }
      break;
    }
    case 'BinaryExpression': {
      let a = run(node.left, wanted, unit);
      let b = run(node.right, wanted, unit);
      const op = node.operator as string;
      if (op === '*')
        return {
          value: a.value * b.value,
          length: a.length + b.length,
          angle: a.angle + b.angle,
          bare: a.bare && b.bare,
        };
      if (op === '/')
        return {
          value: a.value / b.value,
          length: a.length - b.length,
          angle: a.angle - b.angle,
          bare: a.bare && b.bare,
        };
      if (op === '+' || op === '-') {
        // A bare number beside one with a unit is in the field's own unit.
        if (a.bare && !b.bare) a = dress(a, wanted, unit);
        if (b.bare && !a.bare) b = dress(b, wanted, unit);
        if (a.length !== b.length || a.angle !== b.angle)
          throw new Error('Those two cannot be added: one is not the same kind of measure as the other.');
        return { ...a, value: op === '+' ? a.value + b.value : a.value - b.value, bare: a.bare && b.bare };
      }
    }
  }
  throw new Error('Only numbers, units and + − × ÷ can be used here.');
}

function dress(m: Measured, wanted: Dimension, unit: LengthUnit): Measured {
  return {
    value: m.value * bareUnit(wanted, unit),
    length: wanted === 'length' ? 1 : 0,
    angle: wanted === 'angle' ? 1 : 0,
    bare: false,
  };
}

/** A value as text without its unit: lengths in `unit`, angles in degrees. */
export function formatNumber(value: number, kind: QuantityKind, unit: LengthUnit = 'mm', digits = 3): string {
  const x = value / bareUnit(kind, unit);
  const r = Number(x.toFixed(digits));
  return String(Object.is(r, -0) ? 0 : r);
}

export function formatQuantity(value: number, kind: QuantityKind, unit: LengthUnit = 'mm', digits?: number): string {
  const n = formatNumber(value, kind, unit, digits);
  if (kind === 'length') return `${n} ${unit}`;
  return kind === 'angle' ? `${n}°` : n;
}

/**
 * A quantity that may go on from the one before: "+ 5 mm", "* 2", "/ 3" change `from` (metres or radians); anything
 * else stands for itself. A leading minus is a sign, as everywhere: "+ -5 mm" takes away.
 */
export function parseRelative(text: string, kind: QuantityKind, unit: LengthUnit, from: number): number {
  const [sign = ''] = text.trim();
  const rest = text.trim().slice(1).trim();
  if (rest === '' || !'+*×÷/'.includes(sign)) return parseQuantity(text, kind, unit);
  if (sign === '+') return from + parseQuantity(rest, kind, unit);
  const by = parseQuantity(rest, 'number', unit);
  if (sign === '*' || sign === '×') return from * by;
  if (by === 0) throw new Error('Nothing can be divided by zero.');
  return from / by;
}

/** Points as text: coordinates parted by commas, points by semicolons. */
export const formatPoints = (points: readonly Triple[], unit: LengthUnit, digits: number): string =>
  points.map((p) => p.map((x) => formatQuantity(x, 'length', unit, digits)).join(', ')).join('; ');

/** The same read: three lengths a point, each with arithmetic and units of its own. Throws one sentence. */
export function parsePoints(text: string, unit: LengthUnit): Triple[] {
  const list = text
    .split(';')
    .map((part) => part.trim())
    .filter((part) => part !== '');
  return list.map((part, i) => {
    const numbers = part.split(',');
    if (numbers.length !== 3)
      throw new Error(
        `Point ${i + 1} has ${numbers.length} of three lengths: x, y, z; the next point after a semicolon.`,
      );
    const [x, y, z] = numbers.map((n) => parseQuantity(n, 'length', unit));
    return [x, y, z];
  });
}
