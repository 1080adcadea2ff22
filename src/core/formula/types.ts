/** What a value in a formula is, and how such are told in sentences. */
export interface Type {
  readonly kind: 'number' | 'vector' | 'colour' | 'truth' | 'text';
  /** Powers of a length and of an angle: an area has length 2. */
  readonly length: number;
  readonly angle: number;
  /** A plain number that was never measured: taken in the project's unit where a measure is wanted. */
  readonly bare: boolean;
}

const make = (kind: Type['kind'], length: number, angle: number, bare: boolean): Type => ({
  kind,
  length,
  angle,
  bare,
});
export const PLAIN = make('number', 0, 0, true);
export const LENGTH = make('number', 1, 0, false);
export const ANGLE = make('number', 0, 1, false);
export const AREA = make('number', 2, 0, false);
/** 1 through a length. */
export const BENT = make('number', -1, 0, false);
export const TRUTH = make('truth', 0, 0, false);
/** A word, as options of a choice are. */
export const TEXT = make('text', 0, 0, false);
export const COLOUR = make('colour', 0, 0, true);
export const PLACE = make('vector', 1, 0, false);
export const WAY = make('vector', 0, 0, true);

export const widthOf = ({ kind }: Type): number => (kind === 'vector' || kind === 'colour' ? 3 : 1);

/** “a length”, “an area”, “a vector of lengths”. */
export function told({ kind, length, angle }: Type): string {
  if (kind === 'truth') return 'a yes or no';
  if (kind === 'text') return 'a word';
  if (kind === 'colour') return 'a colour';
  const one = kind === 'number';
  const named = ({ 0: 'plain number', 1: 'length', 2: 'area', 3: 'volume' } as Record<number, string>)[length];
  let what = named ?? `length to the power of ${length}`;
  if (angle === 1 && length === 0) what = 'angle';
  else if (angle !== 0) what = `${what} times an angle to the power of ${angle}`;
  if (one) return /^[aeiou]/.test(what) ? `an ${what}` : `a ${what}`;
  return length === 0 && angle === 0 ? 'a vector' : `a vector of ${what}s`;
}
