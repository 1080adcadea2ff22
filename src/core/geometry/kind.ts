/** What a kind of geometry has to know how to do. A new kind is one file beside this one and its line in `index.ts`. */
import type { DisplayBuffers } from '../display/buffers';
import type { DisplayPatch } from '../display/patch';
import type { Affine } from '../math/affine';
import type { Bounds } from '../mesh/bounds';
import type { Mesh } from '../mesh/mesh';

export interface MergePart<T> {
  readonly value: T;
  readonly name: string;
  /** Seed of the new keys: two copies of one thing would share them otherwise. Without one, keys stay. */
  readonly seed?: number;
}

/** What the small renderer draws: surfaces, and lines as rows of points. */
export interface Drawn {
  readonly mesh?: Mesh;
  readonly lines?: readonly (readonly (readonly number[])[])[];
}

export interface GeometryKind<T> {
  isEmpty(value: T): boolean;
  transform(value: T, map: Affine): T;
  merge(parts: readonly MergePart<T>[]): T;
  /** Metres; null where there is nothing. */
  bounds(value: T): Bounds | null;
  /** Every array it holds, for the evaluator's memory; arrays that several results share are counted once. */
  arrays(value: T): readonly ArrayBufferView[];
  /** The lasting keys of what it is made of. */
  keys(value: T): Float64Array;
  /** Its part of the buffers for the graphics card. `smooth` in radians. */
  display(value: T, smooth: number): Partial<DisplayBuffers>;
  /**
   * What differs in them from those of `before`; null where they have to be made anew, as for kinds without it unless
   * nothing changed.
   */
  patch?(before: T, after: T, smooth: number): DisplayPatch | null;
  /** Its part of a small picture of something of this size. */
  sketch(value: T, radius: number): Drawn;
}

export const defineGeometry = <T>(kind: GeometryKind<T>): GeometryKind<T> => kind;
