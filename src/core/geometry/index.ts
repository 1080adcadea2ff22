/**
 * What flows between the steps of a recipe: one value of each kind of geometry, or none. Steps say which kinds they
 * take; what they do not take goes past them untouched, so no step can lose what it does not know.
 */
import type { Copies } from '../copies/copies';
import { sizeOfCopies, withFlattened } from '../copies/flatten';
import type { Curves } from '../curve/curves';
import { emptyBuffers, type DisplayBuffers } from '../display/buffers';
import type { DisplayPatch } from '../display/patch';
import type { Affine } from '../math/affine';
import { joinBounds, type Bounds } from '../mesh/bounds';
import { addShape, shapeOf, type Shape } from '../mesh/measure';
import { emptyMesh, Mesh } from '../mesh/mesh';
import { copies } from './copies';
import { curves } from './curves';
import type { Drawn, GeometryKind } from './kind';
import { mesh } from './mesh';

export interface Geometry {
  readonly mesh?: Mesh;
  readonly curves?: Curves;
  readonly copies?: Copies;
}

export type KindName = keyof Geometry;
export type Kinds = { readonly [K in KindName]-?: GeometryKind<NonNullable<Geometry[K]>> };

/** Every kind of geometry there is. */
export const GEOMETRY_KINDS: Kinds = { mesh, curves, copies };
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

/** The shape of what would be one mesh: copies are counted, not made. */
export function shapeOfGeometry(g: Geometry): Shape {
  const out = shapeOf(g.mesh ?? emptyMesh());
  if (!g.copies) return out;
  const own = g.copies.sources.map((s) => shapeOf(s.mesh ?? emptyMesh()));
  for (const s of g.copies.of) addShape(out, own[s]);
  return out;
}

const wholes = new WeakMap<Geometry, Geometry>();

/** With copies made into mesh and curves: for whatever works on elements. Remembered. */
export function whole(g: Geometry): Geometry {
  const { copies: many, ...own } = g;
  if (!many || many.of.length === 0) return g;
  const had = wholes.get(g);
  if (had) return had;
  const out = withFlattened(own, many);
  wholes.set(g, out);
  return out;
}

/** Faces and triangles of all of it, copies counted, none of them made. */
export function sizeOf(g: Geometry): { faces: number; triangles: number; vertices: number } {
  const { mesh: m } = g;
  const own = m
    ? { faces: m.faceCount, triangles: m.cornerCount - 2 * m.faceCount, vertices: m.vertexCount }
    : { faces: 0, triangles: 0, vertices: 0 };
  const many = g.copies && sizeOfCopies(g.copies);
  if (!many) return own;
  return {
    faces: own.faces + many.faces,
    triangles: own.triangles + many.triangles,
    vertices: own.vertices + many.vertices,
  };
}

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
  for (const [, kind, value] of present(g)) {
    const had = out.curvePosition;
    Object.assign(out, kind.display(value, smooth));
    // Points and curves are lines of one sort.
    if (had && out.curvePosition && had !== out.curvePosition)
      out.curvePosition = Float32Array.from([...had, ...out.curvePosition]);
  }
  // Copies count, though their triangles are sent once.
  if (g.copies) Object.assign(out, { faces: sizeOf(g).faces, triangles: sizeOf(g).triangles });
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
