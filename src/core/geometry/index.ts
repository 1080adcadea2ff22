/**
 * What flows between the steps of a recipe: one value of each kind of geometry, or none. Steps say which kinds they take; what they do not
 * take goes past them untouched, so no step can lose what it does not know.
 */
import type { Curves } from '../curve/curves';
import { emptyBuffers, type DisplayBuffers } from '../display/buffers';
import type { DisplayPatch } from '../display/patch';
import type { Affine } from '../math/affine';
import { joinBounds, type Bounds } from '../mesh/bounds';
import { Mesh } from '../mesh/mesh';
import { curves } from './curves';
import type { Drawn, GeometryKind } from './kind';
import { mesh } from './mesh';

export interface Geometry {
  readonly mesh?: Mesh;
  readonly curves?: Curves;
}

export type KindName = keyof Geometry;
export type Kinds = { readonly [K in KindName]-?: GeometryKind<NonNullable<Geometry[K]>> };

/** Every kind of geometry there is. */
export const GEOMETRY_KINDS: Kinds = { mesh, curves };
const list = Object.entries(GEOMETRY_KINDS) as [KindName, GeometryKind<unknown>][];

export type { Drawn, GeometryKind, MergePart } from './kind';
export const NO_GEOMETRY: Geometry = {};

/** A step may give a mesh alone. */
export const asGeometry = (given: Geometry | Mesh): Geometry => (given instanceof Mesh ? { mesh: given } : given);

function* present(g: Geometry): Generator<[KindName, GeometryKind<unknown>, unknown]> {
  for (const [name, kind] of list) {
    const value = g[name];
    if (value !== undefined && !kind.isEmpty(value)) yield [name, kind, value];
  }
}

export const isEmptyGeometry = (g: Geometry): boolean => present(g).next().done === true;

export function transformGeometry(g: Geometry, map: Affine): Geometry {
  const out: Record<string, unknown> = {};
  for (const [name, kind, value] of present(g)) out[name] = kind.transform(value, map);
  return out;
}

/** Several as one: each kind with its like. */
export function mergeGeometries(parts: readonly { value: Geometry; name: string; seed?: number }[]): Geometry {
  const out: Record<string, unknown> = {};
  for (const [name, kind] of list) {
    const own = parts.flatMap((p) => {
      const value = p.value[name] as unknown;
      return value !== undefined && !kind.isEmpty(value) ? [{ value, name: p.name, seed: p.seed }] : [];
    });
    if (own.length) out[name] = kind.merge(own);
  }
  return out;
}

export function boundsOfGeometry(g: Geometry): Bounds | null {
  let out: Bounds | null = null;
  for (const [, kind, value] of present(g)) out = joinBounds(out, kind.bounds(value));
  return out;
}

export function arraysOf(g: Geometry): ArrayBufferView[] {
  const out: ArrayBufferView[] = [];
  for (const [, kind, value] of present(g)) out.push(...kind.arrays(value));
  return out;
}

/** All buffers for the graphics card. `smooth` in radians; 0 for flat. */
export function displayGeometry(g: Geometry, smooth = 0): DisplayBuffers {
  const out = emptyBuffers();
  for (const [, kind, value] of present(g)) Object.assign(out, kind.display(value, smooth));
  return out;
}

/** What differs in the buffers from those of `before`; null where they have to be made anew. */
export function patchGeometry(before: Geometry, after: Geometry, smooth = 0): DisplayPatch | null {
  let out: DisplayPatch | null = null;
  for (const [name, kind] of list) {
    const a = before[name] as unknown;
    const b = after[name] as unknown;
    if (a === b) continue;
    // One kind that changed in place: two would need patches of two sorts.
    if (out || a === undefined || b === undefined || kind.isEmpty(a) !== kind.isEmpty(b)) return null;
    out = kind.patch?.(a, b, smooth) ?? null;
    if (!out) return null;
  }
  return out;
}

export const sketchGeometry = (g: Geometry, radius: number): Drawn[] =>
  [...present(g)].map(([, kind, value]) => kind.sketch(value, radius));
