/**
 * Copies: things that stand in many places without being there many times. Each has a key of its own, made of what it
 * stands on, so that the seventh stays itself when the third is gone. Copies of copies are kept as one list.
 */
import { transformCurves, mergeCurves, type Curves } from '../curve/curves';
import { compose, type Affine } from '../math/affine';
import { key2 } from '../math/hash';
import { joinBounds, mappedBounds, type Bounds } from '../mesh/bounds';
import { boundsOfMesh } from '../mesh/moved';
import { boundsOf } from '../mesh/bounds';
import type { Mesh } from '../mesh/mesh';

/** What is copied. */
export interface Copied {
  readonly mesh?: Mesh;
  readonly curves?: Curves;
}

export interface Copies {
  readonly sources: readonly Copied[];
  /** Per copy: which source it shows. */
  readonly of: Uint32Array;
  /** Per copy 12 numbers: the map that puts it there, in rows. */
  readonly place: Float64Array;
  /** One lasting key for each copy. */
  readonly key: Float64Array;
}

/** So many at most, copies of copies counted out. */
export const MOST_COPIES = 200_000;

export const NO_COPIES: Copies = {
  sources: [],
  of: new Uint32Array(0),
  place: new Float64Array(0),
  key: new Float64Array(0),
};

export const placeOfCopy = ({ place }: Copies, i: number): Affine =>
  place.subarray(12 * i, 12 * i + 12) as unknown as Affine;

/** Where something is put: a map and a key for each place. */
export interface Sites {
  readonly place: readonly Affine[];
  readonly key: readonly number[];
}

/** Throws a sentence where there would be more than can be. */
export function affordable(sites: number, each: number, what = 'copies'): void {
  const all = sites * each;
  if (all > MOST_COPIES)
    throw new Error(
      `${all.toLocaleString('en')} ${what} would come of it; ${MOST_COPIES.toLocaleString('en')} are the most. ` +
        'Ask for fewer.',
    );
}

interface Given extends Copied {
  readonly copies?: Copies;
}

const hasOwn = (g: Given): boolean => (g.mesh?.vertexCount ?? 0) > 0 || (g.curves?.closed.length ?? 0) > 0;
const countIn = (g: Given): number => (hasOwn(g) ? 1 : 0) + (g.copies?.of.length ?? 0);

/** Things put in places: `which[i]` is put at the i-th place, by its number. */
export function copiesAt(things: readonly Given[], sites: Sites, which?: ArrayLike<number>): Copies {
  const thing = (i: number) => things[which ? which[i] : 0];
  let total = 0;
  for (let i = 0; i < sites.key.length; i++) total += countIn(thing(i));
  affordable(total, 1);
  const sources: Copied[] = [];
  const numberOf = new Map<Copied, number>();
  const first = things.map((t) => {
    const own = hasOwn(t) ? take({ mesh: t.mesh, curves: t.curves }) : -1;
    const inner = (t.copies?.sources ?? []).map(take);
    return { own, inner };
  });
  function take(s: Copied): number {
    const had = numberOf.get(s);
    if (had !== undefined) return had;
    numberOf.set(s, sources.length);
    return sources.push(known(s)) - 1;
  }
  const out = { of: new Uint32Array(total), place: new Float64Array(12 * total), key: new Float64Array(total) };
  let n = 0;
  for (let i = 0; i < sites.key.length; i++) {
    const t = thing(i);
    const { own, inner } = first[which ? which[i] : 0];
    if (own >= 0) {
      out.of[n] = own;
      out.place.set(sites.place[i], 12 * n);
      out.key[n++] = sites.key[i];
    }
    const { copies } = t;
    if (!copies) continue;
    for (let k = 0; k < copies.of.length; k++) {
      out.of[n] = inner[copies.of[k]];
      out.place.set(compose(sites.place[i], placeOfCopy(copies, k)), 12 * n);
      out.key[n++] = key2(sites.key[i], copies.key[k]);
    }
  }
  return { sources, ...out };
}

/** The same thing copied by two steps is one source, so that views and files have it once. */
const sourceOf = new WeakMap<object, Copied>();
function known(s: Copied): Copied {
  const by = s.mesh ?? s.curves;
  const had = by && sourceOf.get(by);
  if (had && had.mesh === s.mesh && had.curves === s.curves) return had;
  if (by) sourceOf.set(by, s);
  return s;
}

export function transformCopies(c: Copies, m: Affine): Copies {
  const place = new Float64Array(c.place.length);
  for (let i = 0; i < c.of.length; i++) place.set(compose(m, placeOfCopy(c, i)), 12 * i);
  return { ...c, place };
}

/** Several as one. Keys are made anew under a seed; without one they stay. */
export function mergeCopies(parts: readonly { copies: Copies; seed?: number }[]): Copies {
  const total = parts.reduce((n, p) => n + p.copies.of.length, 0);
  affordable(total, 1);
  const out = { of: new Uint32Array(total), place: new Float64Array(12 * total), key: new Float64Array(total) };
  const sources: Copied[] = [];
  let n = 0;
  for (const { copies: c, seed } of parts) {
    const to = c.sources.map((s) => {
      const at = sources.indexOf(s);
      return at >= 0 ? at : sources.push(s) - 1;
    });
    out.place.set(c.place, 12 * n);
    for (let i = 0; i < c.of.length; i++) {
      out.of[n] = to[c.of[i]];
      out.key[n++] = seed === undefined ? c.key[i] : key2(seed, c.key[i]);
    }
  }
  return { sources, ...out };
}

function boundsOfSource(s: Copied): Bounds | null {
  const mesh = s.mesh?.vertexCount ? boundsOfMesh(s.mesh) : null;
  return joinBounds(mesh, s.curves?.points.length ? boundsOf(s.curves.points) : null);
}

/** Of all of them: exact where they are only moved along and sized, the box round their boxes where they are turned. */
export function boundsOfCopies(c: Copies): Bounds | null {
  const own = c.sources.map(boundsOfSource);
  let out: Bounds | null = null;
  for (let i = 0; i < c.of.length; i++) {
    const b = own[c.of[i]];
    if (b) out = joinBounds(out, mappedBounds(b, placeOfCopy(c, i)));
  }
  return out;
}

/**
 * How far all of it truly reaches along an axis, point by point: boxes round turned boxes would leave gaps in a stack.
 */
export function reachOf(g: Given, axis: 0 | 1 | 2, map?: Affine): [number, number] | null {
  let lo = Infinity;
  let hi = -Infinity;
  const see = (p: Float32Array, m?: Affine) => {
    const [a, b, c, d] = m ? [m[4 * axis], m[4 * axis + 1], m[4 * axis + 2], m[4 * axis + 3]] : [0, 0, 0, 0];
    for (let i = 0; i < p.length; i += 3) {
      const x = m ? a * p[i] + b * p[i + 1] + c * p[i + 2] + d : p[i + axis];
      if (x < lo) lo = x;
      if (x > hi) hi = x;
    }
  };
  const own = (s: Copied, m?: Affine) => {
    if (s.mesh) see(s.mesh.positions, m);
    if (s.curves) see(s.curves.points, m);
  };
  own(g, map);
  const { copies } = g;
  for (let i = 0; copies && i < copies.of.length; i++) {
    const at = placeOfCopy(copies, i);
    own(copies.sources[copies.of[i]], map ? compose(map, at) : at);
  }
  return lo <= hi ? [lo, hi] : null;
}

/** Curves of all copies, where they are. */
export function curvesOfCopies(c: Copies): Curves | undefined {
  const parts = Array.from(c.of, (s, i) => ({ s: c.sources[s].curves, i })).flatMap(({ s, i }) =>
    s && s.closed.length > 0
      ? [{ curves: transformCurves(s, placeOfCopy(c, i)), seed: c.key[i] < 0 ? undefined : c.key[i] }]
      : [],
  );
  return parts.length > 0 ? mergeCurves(parts) : undefined;
}
