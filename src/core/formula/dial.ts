/**
 * What a dial is to a formula: a number with its measure, a yes or no, a word, a colour, or a ramp that is called like
 * a function.
 */
import { brightnessAt, type Brightness } from '../formats/brightness';
import { toLinear } from '../math/colour';
import { rampThrough, type RampPoints } from '../math/ramp';
import type { Known } from './code';
import { ANGLE, COLOUR, LENGTH, PLAIN, TEXT, TRUTH, type Type } from './types';

export interface DialValue {
  readonly kind: string;
  /** Metres, radians, or as it is; 0 or 1 of a switch, which of the options, a colour as 0xRRGGBB. */
  readonly value: number;
  /** Words to choose from, or the ids of pieces or materials. */
  readonly options?: readonly string[];
  /** Of a ramp. */
  readonly points?: RampPoints;
  readonly smooth?: boolean;
  /** Of a picture: its stored file, and what was read of it where a recipe is followed. */
  readonly file?: { readonly sha: string; readonly name: string };
  readonly read?: Brightness;
}

const TYPES: Readonly<Record<string, Type>> = {
  length: LENGTH,
  angle: ANGLE,
  number: PLAIN,
  count: PLAIN,
  toggle: TRUTH,
  choice: TEXT,
  piece: TEXT,
  material: TEXT,
  picture: TEXT,
  colour: COLOUR,
};
export const typeOfDial = (kind: string): Type => TYPES[kind] ?? PLAIN;

/** Red, green and blue from 0 to 1, linear, of 0xRRGGBB as it is written in sRGB. */
export const colourParts = (value: number): [number, number, number] => {
  const part = (shift: number) => toLinear(((Math.round(value) >> shift) & 0xff) / 255);
  return [part(16), part(8), part(0)];
};

export function knownOfDial(d: DialValue): Known {
  const type = typeOfDial(d.kind);
  if (d.kind === 'ramp') return { type, help: 'a ramp', ramp: rampThrough(d.points ?? [], d.smooth === true) };
  if (d.kind === 'picture') {
    const { read } = d;
    // Where nothing is drawn yet, as while a formula is typed, it is read as black.
    return { type, help: 'a picture', picture: read ? (x, y) => brightnessAt(read, x, y) : () => 0 };
  }
  if (type === TEXT) return { type, help: 'a dial', text: d.options?.[Math.round(d.value)] ?? '' };
  return { type, help: 'a dial', constant: type === COLOUR ? colourParts(d.value) : [d.value] };
}
