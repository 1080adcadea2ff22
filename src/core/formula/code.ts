/**
 * Parts of formulas that are ready to run: columns of values, made one block after another, in one measure or brought
 * into one.
 */
import { FormulaError } from './parse';
import { PLAIN, told, widthOf, type Type } from './types';

/** So many elements are worked on at once. */
export const BLOCK = 1024;

/** Something a formula may name. */
export interface Known {
  readonly type: Type;
  /** What it means, in a few words. */
  readonly help: string;
  /** The same for all elements. */
  readonly constant?: readonly number[];
  /** A word, the same for all. */
  readonly text?: string;
  /** It is called like a function, with one number. */
  ramp?(x: number): number;
  /** It is called like a function, with a place: x and y, the picture from 0 to 1. */
  picture?(x: number, y: number): number;
  /** Its values for elements from … on, written to `out` from 0 on, as many as its type is wide for each. */
  fill?(from: number, count: number, out: Float64Array): void;
  /** One of three parts alone, where that is quicker than all. */
  part?(k: number, from: number, count: number, out: Float64Array): void;
}

export interface Scope {
  /** Metres that 1 without a unit stands for where a length is wanted. */
  readonly unit: number;
  known(name: string): Known | undefined;
  /** What is known, for completion and for “did you mean”. */
  names(): readonly string[];
  /** Functions that ask after something by its name: a set, another piece. */
  asked?(name: string, text: string): Known | undefined;
}

/**
 * A part of a formula: values for `count` elements from `from` on, in an array of its own that the next call
 * overwrites.
 */
export interface Code {
  readonly type: Type;
  readonly constant: boolean;
  run(from: number, count: number): Float64Array;
}

/**
 * Arrays are as long as what is asked of them first, a block at most: of few elements and of constants there is little
 * to make.
 */
export const fixed = (type: Type, values: ArrayLike<number>): Code => {
  const width = widthOf(type);
  let out = new Float64Array(0);
  return {
    type,
    constant: true,
    run: (_, count) => {
      if (out.length < width * count) {
        out = new Float64Array(width * count);
        for (let i = 0; i < count; i++) for (let k = 0; k < width; k++) out[width * i + k] = values[k];
      }
      return out;
    },
  };
};

/** A part that goes by others; where these are constant it is worked out here and now. */
export function over(
  type: Type,
  parts: readonly Code[],
  run: (from: number, count: number, out: Float64Array) => void,
): Code {
  const width = widthOf(type);
  if (parts.every((p) => p.constant)) {
    const one = new Float64Array(width);
    run(0, 1, one);
    return fixed(type, one);
  }
  let out = new Float64Array(0);
  return {
    type,
    constant: false,
    run: (from, count) => {
      if (out.length < width * count) out = new Float64Array(width * count);
      run(from, count, out);
      return out;
    },
  };
}

/** The same, times a number. */
export function scaled(code: Code, by: number, type: Type): Code {
  const width = widthOf(type);
  if (by === 1) return { ...code, type };
  return over(type, [code], (from, count, out) => {
    const a = code.run(from, count);
    for (let i = 0; i < count * width; i++) out[i] = a[i] * by;
  });
}

export const isMeasured = (t: Type): boolean => t.kind === 'number' || t.kind === 'vector' || t.kind === 'colour';
const sameMeasure = (a: Type, b: Type): boolean => a.length === b.length && a.angle === b.angle;

/**
 * Both in one measure: a plain number takes that of the other, in the project's unit. Undefined where they do not go
 * together.
 */
export function together(a: Code, b: Code, unit: number): [Code, Code] | undefined {
  if (sameMeasure(a.type, b.type)) return [a, b];
  const into = (x: Code, t: Type): Code | undefined => {
    if (!x.type.bare) return undefined;
    const type = { ...x.type, length: t.length, angle: t.angle, bare: false };
    return scaled(x, unit ** t.length, type);
  };
  const left = into(a, b.type);
  if (left) return [left, b];
  const right = into(b, a.type);
  return right && [a, right];
}

/** As it is wanted: a plain number in the project's unit or in degrees. Throws where it is something else. */
export function as(code: Code, wanted: Type, unit: number, at: readonly [number, number]): Code {
  const { type } = code;
  if (type.kind === wanted.kind && sameMeasure(type, wanted)) return code;
  const measured = isMeasured(type) && isMeasured(wanted) && widthOf(type) === widthOf(wanted);
  if (measured && type.bare) {
    if (wanted.angle === 1 && wanted.length === 0) return scaled(code, Math.PI / 180, wanted);
    return scaled(code, unit ** wanted.length, wanted);
  }
  if (measured && sameMeasure(type, wanted)) return { ...code, type: wanted };
  if (wanted.kind === 'number' && type.kind === 'truth') return { ...code, type: PLAIN };
  throw new FormulaError(`This is ${told(type)}; ${told(wanted)} is wanted.`, at);
}

export const column = (k: Known): Code => {
  if (k.constant) return fixed(k.type, k.constant);
  let out = new Float64Array(0);
  let filled = -1;
  return {
    type: k.type,
    constant: false,
    run: (from, count) => {
      if (out.length < widthOf(k.type) * count) {
        out = new Float64Array(widthOf(k.type) * count);
        filled = -1;
      }
      // The last block, which may be short, is filled each time.
      if (from !== filled || count < BLOCK) k.fill!(from, count, out);
      filled = from;
      return out;
    },
  };
};
