/**
 * The functions that formulas know. A new one is an entry here: how many values it takes, what they have to be, what it
 * comes to.
 */
import { table } from '../math/table';
import * as exact from '../math/exact';
import { over, together, type Code } from './code';
import { sines } from './loops';
import { cells, gradientNoise, gradientRow, layered, random, valueNoise } from './noise';
import { FormulaError, type Node } from './parse';
import { ANGLE, COLOUR, PLAIN, told, WAY, widthOf, type Type } from './types';

interface Where {
  readonly unit: number;
  readonly name: string;
  readonly at: readonly [number, number];
  readonly args: readonly Node[];
}

export interface FunctionDef {
  readonly help: string;
  readonly least: number;
  readonly most: number;
  make(args: readonly Code[], where: Where): Code;
}

/** A number as radians (angles), in the project's unit (lengths), or as it is. */
export function plain(code: Code, where: Where, i: number): Code {
  const { type } = code;
  if (type.kind === 'truth') return { ...code, type: PLAIN };
  const measured = type.length !== 0 ? where.unit ** type.length : 1;
  if (type.kind !== 'number')
    throw new FormulaError(`${where.name} works on numbers; this is ${told(type)}.`, where.args[i].at);
  if (measured === 1) return { ...code, type: PLAIN };
  return over(PLAIN, [code], (from, count, out) => {
    const a = code.run(from, count);
    for (let k = 0; k < count; k++) out[k] = a[k] / measured;
  });
}

/** A place or a way, in the project's unit. */
function space(code: Code, where: Where, i: number): Code {
  const { type } = code;
  if (type.kind !== 'vector')
    throw new FormulaError(`${where.name} works on a place, as in position; this is ${told(type)}.`, where.args[i].at);
  const measured = where.unit ** type.length;
  if (measured === 1) return { ...code, type: WAY };
  return over(WAY, [code], (from, count, out) => {
    const a = code.run(from, count);
    for (let k = 0; k < 3 * count; k++) out[k] = a[k] / measured;
  });
}

type Row = (from: Float64Array, count: number, out: Float64Array) => void;

const one = (help: string, f: (x: number) => number, type: Type = PLAIN): FunctionDef =>
  rows(
    help,
    (v, count, out) => {
      for (let i = 0; i < count; i++) out[i] = f(v[i]);
    },
    type,
  );

/** With a loop of its own: what many formulas use, and slow where it is called through a value. */
const rows = (help: string, row: Row, type: Type = PLAIN): FunctionDef => ({
  help,
  least: 1,
  most: 1,
  make: ([a], where) => {
    const x = plain(a, where, 0);
    return over(type, [x], (from, count, out) => row(x.run(from, count), count, out));
  },
});

/** Of a number in whatever measure: that of what it is given stays. */
const kept = (help: string, f: (x: number) => number): FunctionDef => ({
  help,
  least: 1,
  most: 1,
  make: ([a], { name, args }) => {
    if (a.type.kind !== 'number')
      throw new FormulaError(`${name} works on numbers; this is ${told(a.type)}.`, args[0].at);
    return over(a.type, [a], (from, count, out) => {
      const v = a.run(from, count);
      for (let i = 0; i < count; i++) out[i] = f(v[i]);
    });
  },
});

/** Rounding goes by the project's unit: a length is rounded to whole ones of it. */
const rounded = (help: string, f: (x: number) => number): FunctionDef => ({
  ...kept(help, f),
  make: ([a], where) => {
    if (a.type.kind !== 'number')
      throw new FormulaError(`${where.name} works on numbers; this is ${told(a.type)}.`, where.args[0].at);
    const step = a.type.length === 0 ? 1 : where.unit ** a.type.length;
    return over(a.type, [a], (from, count, out) => {
      const v = a.run(from, count);
      for (let i = 0; i < count; i++) out[i] = f(v[i] / step) * step;
    });
  },
});

/** All in one measure. */
function alike(args: readonly Code[], where: Where): Code[] {
  let [first] = args;
  const rest: Code[] = [];
  for (let i = 0; i < args.length; i++) {
    const ok = args[i].type.kind === 'number' || args[i].type.kind === 'vector' || args[i].type.kind === 'colour';
    const pair = ok && widthOf(args[i].type) === widthOf(first.type) ? together(first, args[i], where.unit) : undefined;
    if (!pair)
      throw new FormulaError(
        `In ${where.name} stand ${told(first.type)} and ${told(args[i].type)}: they have to be alike.`,
        where.args[i].at,
      );
    [first] = pair;
  }
  for (const a of args) rest.push(together(first, a, where.unit)![1]);
  return rest;
}

const among = (help: string, f: (a: number, b: number) => number): FunctionDef => ({
  help,
  least: 2,
  most: 40,
  make: (args, where) => {
    const list = alike(args, where);
    if (widthOf(list[0].type) !== 1) throw new FormulaError(`${where.name} works on numbers.`, where.at);
    const type = { ...list[0].type, bare: list.every((x) => x.type.bare) };
    return over(type, list, (from, count, out) => {
      out.set(list[0].run(from, count).subarray(0, count));
      for (let k = 1; k < list.length; k++) {
        const v = list[k].run(from, count);
        for (let i = 0; i < count; i++) out[i] = f(out[i], v[i]);
      }
    });
  },
});

const fade = (t: number): number => {
  const x = Math.min(1, Math.max(0, t));
  return x * x * (3 - 2 * x);
};

const layersOf = (x: number): number => Math.max(1, Math.min(12, Math.round(x) || 1));

const noise = (help: string, of: typeof gradientNoise, most: number): FunctionDef => ({
  help,
  least: 1,
  most,
  make: (args, where) => {
    const p = space(args[0], where, 0);
    const octaves = args[1] ? plain(args[1], where, 1) : undefined;
    const seed = args[2] ? plain(args[2], where, 2) : undefined;
    return over(PLAIN, [p, ...(octaves ? [octaves] : []), ...(seed ? [seed] : [])], (from, count, out) => {
      const v = p.run(from, count);
      const o = octaves?.run(from, count);
      const s = seed?.run(from, count);
      if (of === gradientNoise && (octaves?.constant ?? true) && (seed?.constant ?? true)) {
        gradientRow(v, count, o ? layersOf(o[0]) : 1, s ? Math.round(s[0]) | 0 : 0, out);
        return;
      }
      for (let i = 0; i < count; i++) {
        const layers = o ? layersOf(o[i]) : 1;
        const own = s ? Math.round(s[i]) | 0 : 0;
        const x = v[3 * i];
        const y = v[3 * i + 1];
        const z = v[3 * i + 2];
        out[i] = layers === 1 ? of(x, y, z, own) : layered(of, x, y, z, layers, own);
      }
    });
  },
});

function vectors(args: readonly Code[], where: Where): void {
  args.forEach((a, i) => {
    if (a.type.kind !== 'vector')
      throw new FormulaError(`${where.name} works on vectors; this is ${told(a.type)}.`, where.args[i].at);
  });
}

const product = (a: Type, b: Type, kind: Type['kind']): Type => ({
  kind,
  length: a.length + b.length,
  angle: a.angle + b.angle,
  bare: a.bare && b.bare,
});

export const FUNCTIONS: Readonly<Record<string, FunctionDef>> = table({
  min: among('the smallest of several', Math.min),
  max: among('the largest of several', Math.max),
  abs: kept('without its sign', Math.abs),
  round: rounded('to the nearest whole', Math.round),
  floor: rounded('to the next whole below', Math.floor),
  ceil: rounded('to the next whole above', Math.ceil),
  sign: one('−1, 0 or 1', Math.sign),
  fract: one('what is behind the point', (x) => x - Math.floor(x)),
  sin: rows('sine', sines),
  cos: rows('cosine', (v, count, out) => {
    for (let i = 0; i < count; i++) out[i] = exact.cos(v[i]);
  }),
  tan: one('tangent', exact.tan),
  asin: one('the angle of a sine', exact.asin, ANGLE),
  acos: one('the angle of a cosine', exact.acos, ANGLE),
  atan: one('the angle of a tangent', exact.atan, ANGLE),
  exp: one('e to the power of', exact.exp),
  log: one('natural logarithm', exact.log),
  atan2: {
    help: 'the angle of a direction, from its y and x',
    least: 2,
    most: 2,
    make: (args, where) => {
      const [y, x] = alike(args, where);
      return over(ANGLE, [y, x], (from, count, out) => {
        const a = y.run(from, count);
        const b = x.run(from, count);
        for (let i = 0; i < count; i++) out[i] = exact.atan2(a[i], b[i]);
      });
    },
  },
  sqrt: {
    help: 'square root',
    least: 1,
    most: 1,
    make: ([a], { name, at, args }) => {
      if (a.type.kind !== 'number')
        throw new FormulaError(`${name} works on numbers; this is ${told(a.type)}.`, args[0].at);
      const type = { ...a.type, length: a.type.length / 2, angle: a.type.angle / 2 };
      if (!Number.isInteger(type.length) || !Number.isInteger(type.angle))
        throw new FormulaError(`The square root of ${told(a.type)} is no measure; of an area it is a length.`, at);
      return over(type, [a], (from, count, out) => {
        const v = a.run(from, count);
        for (let i = 0; i < count; i++) out[i] = Math.sqrt(v[i]);
      });
    },
  },
  mod: {
    help: 'what is left after dividing',
    least: 2,
    most: 2,
    make: (args, where) => {
      const [a, b] = alike(args, where);
      return over(a.type, [a, b], (from, count, out) => {
        const x = a.run(from, count);
        const y = b.run(from, count);
        for (let i = 0; i < count; i++) out[i] = x[i] - y[i] * Math.floor(x[i] / y[i]);
      });
    },
  },
  clamp: {
    help: 'kept between two ends',
    least: 3,
    most: 3,
    make: (args, where) => {
      const [x, lo, hi] = alike(args, where);
      const width = widthOf(x.type);
      return over({ ...x.type, bare: [x, lo, hi].every((c) => c.type.bare) }, [x, lo, hi], (from, count, out) => {
        const [v, a, b] = [x.run(from, count), lo.run(from, count), hi.run(from, count)];
        for (let i = 0; i < count * width; i++) out[i] = Math.min(b[i], Math.max(a[i], v[i]));
      });
    },
  },
  mix: {
    help: 'from the first to the second, by a share from 0 to 1',
    least: 3,
    most: 3,
    make: (args, where) => {
      const [a, b] = alike(args.slice(0, 2), where);
      const t = plain(args[2], where, 2);
      const width = widthOf(a.type);
      return over({ ...a.type, bare: a.type.bare && b.type.bare }, [a, b, t], (from, count, out) => {
        const [x, y, s] = [a.run(from, count), b.run(from, count), t.run(from, count)];
        for (let i = 0; i < count; i++)
          for (let k = 0; k < width; k++)
            out[width * i + k] = x[width * i + k] + (y[width * i + k] - x[width * i + k]) * s[i];
      });
    },
  },
  smooth: {
    help: 'from 0 to 1 between two ends, without a kink',
    least: 3,
    most: 3,
    make: (args, where) => {
      const [lo, hi, x] = alike(args, where);
      return over(PLAIN, [lo, hi, x], (from, count, out) => {
        const [a, b, v] = [lo.run(from, count), hi.run(from, count), x.run(from, count)];
        for (let i = 0; i < count; i++) out[i] = fade((v[i] - a[i]) / (b[i] - a[i]));
      });
    },
  },
  vector: {
    help: 'three numbers as one',
    least: 3,
    most: 3,
    make: (args, where) => {
      const [x, y, z] = alike(args, where);
      const type: Type = { ...x.type, kind: 'vector', bare: [x, y, z].every((c) => c.type.bare) };
      return over(type, [x, y, z], (from, count, out) => {
        const [a, b, c] = [x.run(from, count), y.run(from, count), z.run(from, count)];
        for (let i = 0; i < count; i++) {
          out[3 * i] = a[i];
          out[3 * i + 1] = b[i];
          out[3 * i + 2] = c[i];
        }
      });
    },
  },
  colour: {
    help: 'red, green and blue, each from 0 to 1',
    least: 3,
    most: 3,
    make: (args, where) => ({
      ...FUNCTIONS.vector.make(
        args.map((a, i) => plain(a, where, i)),
        where,
      ),
      type: COLOUR,
    }),
  },
  length: {
    help: 'how long a vector is',
    least: 1,
    most: 1,
    make: (args, where) => {
      vectors(args, where);
      const [a] = args;
      return over({ ...a.type, kind: 'number' }, [a], (from, count, out) => {
        const v = a.run(from, count);
        for (let i = 0; i < count; i++) out[i] = Math.sqrt(v[3 * i] ** 2 + v[3 * i + 1] ** 2 + v[3 * i + 2] ** 2);
      });
    },
  },
  distance: {
    help: 'how far two places are from each other',
    least: 2,
    most: 2,
    make: (args, where) => {
      vectors(args, where);
      const [a, b] = alike(args, where);
      return over({ ...a.type, kind: 'number' }, [a, b], (from, count, out) => {
        const [p, q] = [a.run(from, count), b.run(from, count)];
        for (let i = 0; i < count; i++)
          out[i] = Math.sqrt(
            (p[3 * i] - q[3 * i]) ** 2 + (p[3 * i + 1] - q[3 * i + 1]) ** 2 + (p[3 * i + 2] - q[3 * i + 2]) ** 2,
          );
      });
    },
  },
  unit: {
    help: 'a vector made 1 long',
    least: 1,
    most: 1,
    make: (args, where) => {
      vectors(args, where);
      const [a] = args;
      return over(WAY, [a], (from, count, out) => {
        const v = a.run(from, count);
        for (let i = 0; i < count; i++) {
          const l = Math.sqrt(v[3 * i] ** 2 + v[3 * i + 1] ** 2 + v[3 * i + 2] ** 2) || 1;
          for (let k = 0; k < 3; k++) out[3 * i + k] = v[3 * i + k] / l;
        }
      });
    },
  },
  dot: {
    help: 'how far two vectors go the same way',
    least: 2,
    most: 2,
    make: (args, where) => {
      vectors(args, where);
      const [a, b] = args;
      return over(product(a.type, b.type, 'number'), [a, b], (from, count, out) => {
        const [p, q] = [a.run(from, count), b.run(from, count)];
        for (let i = 0; i < count; i++)
          out[i] = p[3 * i] * q[3 * i] + p[3 * i + 1] * q[3 * i + 1] + p[3 * i + 2] * q[3 * i + 2];
      });
    },
  },
  cross: {
    help: 'a vector square to two others',
    least: 2,
    most: 2,
    make: (args, where) => {
      vectors(args, where);
      const [a, b] = args;
      return over(product(a.type, b.type, 'vector'), [a, b], (from, count, out) => {
        const [p, q] = [a.run(from, count), b.run(from, count)];
        for (let i = 0; i < 3 * count; i += 3) {
          out[i] = p[i + 1] * q[i + 2] - p[i + 2] * q[i + 1];
          out[i + 1] = p[i + 2] * q[i] - p[i] * q[i + 2];
          out[i + 2] = p[i] * q[i + 1] - p[i + 1] * q[i];
        }
      });
    },
  },
  ramp: {
    help: 'between values at places: a number, then place and value, place and value …; beyond the ends it stays',
    least: 3,
    most: Infinity,
    make: (args, where) => {
      if (args.length % 2 === 0)
        throw new FormulaError('A ramp takes a number, and then a place and a value for each of its points.', where.at);
      const points = (args.length - 1) / 2;
      const places = alike([args[0], ...Array.from({ length: points }, (_, i) => args[2 * i + 1])], where);
      const values = alike(
        Array.from({ length: points }, (_, i) => args[2 * i + 2]),
        { ...where, args: where.args.filter((_, i) => i > 0 && i % 2 === 0) },
      );
      const width = widthOf(values[0].type);
      return over(values[0].type, [...places, ...values], (from, count, out) => {
        const at = places.map((p) => p.run(from, count));
        const to = values.map((v) => v.run(from, count));
        for (let i = 0; i < count; i++) {
          const x = at[0][i];
          let k = 0;
          while (k < points && !(x < at[k + 1][i])) k++;
          const a = Math.max(0, k - 1);
          const b = Math.min(points - 1, k);
          const span = at[b + 1][i] - at[a + 1][i];
          const t = span > 0 ? (x - at[a + 1][i]) / span : 0;
          for (let q = 0; q < width; q++) {
            const lo = to[a][width * i + q];
            out[width * i + q] = lo + (to[b][width * i + q] - lo) * t;
          }
        }
      });
    },
  },
  noise: noise('smooth hills from −1 to 1: a place, layers, dice', gradientNoise, 3),
  patches: noise('soft patches from −1 to 1: a place, layers, dice', valueNoise, 3),
  cells: noise('how far it is to the nearest of points in cells: a place, layers, dice', cells, 3),
  random: {
    help: 'from 0 to 1 by a number, as in index, and dice',
    least: 1,
    most: 2,
    make: (args, where) => {
      const x = plain(args[0], where, 0);
      const seed = args[1] ? plain(args[1], where, 1) : undefined;
      return over(PLAIN, seed ? [x, seed] : [x], (from, count, out) => {
        const v = x.run(from, count);
        const s = seed?.run(from, count);
        for (let i = 0; i < count; i++) out[i] = random(v[i], s ? Math.round(s[i]) : 0);
      });
    },
  },
});
