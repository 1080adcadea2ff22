/**
 * A curve as a way to go along: places by length, with axes that turn as little as they can from one to the next (the
 * double reflection of Wang, Jüttler, Zheng and Liu, 2008). Round a closed curve what they are off by at the end is
 * spread over the whole, so that they meet.
 */
import type { Affine, Triple } from '../math/affine';
import { along, apart, between, cross, dot, minus, size, square, unit, type Vector } from '../math/vector';
import { flattenCurves, type Curves } from './curves';

export interface Rail {
  /** Metres. */
  readonly length: number;
  readonly closed: boolean;
  /**
   * The place so far along, and axes there: x and y square to the way, z along it. Beyond an open end it goes straight
   * on.
   */
  at(length: number): Stop;
  /** How far along the place of it is that is nearest to a point. */
  nearest(p: Triple): number;
}

export interface Stop {
  readonly place: Vector;
  readonly x: Vector;
  readonly y: Vector;
  readonly z: Vector;
}

/**
 * The longest of some curves; undefined where none has any length. `fine`: how near its straight parts lie to it, as a
 * share of its size.
 */
export function railOf(curves: Curves | undefined, fine = 1e-4): Rail | undefined {
  if (!curves || curves.closed.length === 0) return undefined;
  let extent = 0;
  for (let i = 0; i < curves.points.length; i++)
    extent = Math.max(extent, Math.abs(curves.points[i] - curves.points[i % 3]));
  if (!(extent > 0)) return undefined;
  let best: Vector[] = [];
  let most = 0;
  let closed = false;
  flattenCurves(curves, extent * fine).forEach((line, i) => {
    const kept = line.filter((p, k) => k === 0 || apart(p, line[k - 1]) > 1e-12 * extent);
    const l = lengthOf(kept);
    if (l <= most) return;
    [best, most, closed] = [kept, l, curves.closed[i] === 1 && apart(kept[0], kept[kept.length - 1]) < 1e-6 * extent];
  });
  return most > 0 ? railThrough(best, closed) : undefined;
}

const lengthOf = (line: readonly Vector[]): number =>
  line.reduce((sum, p, i) => (i === 0 ? 0 : sum + apart(p, line[i - 1])), 0);

/** Along points in order, no two in a row alike; of a closed one the last is the first again. */
export function railThrough(line: readonly Vector[], closed: boolean): Rail {
  const n = line.length;
  const far = new Float64Array(n);
  for (let i = 1; i < n; i++) far[i] = far[i - 1] + apart(line[i], line[i - 1]);
  const length = far[n - 1];
  const way = line.map((_, i): Vector => {
    const first = closed ? n - 2 : 0;
    const last = closed ? 1 : n - 1;
    const before = i > 0 ? i - 1 : first;
    const after = i + 1 < n ? i + 1 : last;
    const t = unit(along(unit(minus(line[after], line[i])), unit(minus(line[i], line[before])), 1));
    return t[0] || t[1] || t[2] ? t : unit(minus(line[after], line[i]));
  });
  const x: Vector[] = [square(way[0])];
  for (let i = 1; i < n; i++) x.push(carried(line[i - 1], line[i], way[i - 1], way[i], x[i - 1]));
  if (closed) {
    const off = Math.atan2(dot(cross(x[n - 1], x[0]), way[0]), dot(x[n - 1], x[0]));
    for (let i = 1; i < n; i++) x[i] = turnedAbout(x[i], way[i], (off * far[i]) / length);
  }
  const at = (l: number): Stop => {
    let s = l;
    if (closed) s = l === length ? l : l - Math.floor(l / length) * length;
    let lo = 0;
    let hi = n - 1;
    while (hi - lo > 1) {
      const middle = (lo + hi) >> 1;
      if (far[middle] <= s) lo = middle;
      else hi = middle;
    }
    const t = (s - far[lo]) / (far[hi] - far[lo]);
    const place = between(line[lo], line[hi], t);
    const within = Math.max(0, Math.min(1, t));
    // Where it turns back on itself there is nothing between the two ways.
    const mixed = between(way[lo], way[hi], within);
    const z = size(mixed) > 1e-6 ? unit(mixed) : way[within < 0.5 ? lo : hi];
    const rough = between(x[lo], x[hi], within);
    const flat = along(rough, z, -dot(rough, z));
    const across = size(flat) > 1e-6 ? unit(flat) : square(z);
    return {
      place:
        t === within ? place : along(line[t < 0 ? lo : hi], way[t < 0 ? lo : hi], (t - within) * (far[hi] - far[lo])),
      x: across,
      y: cross(z, across),
      z,
    };
  };
  const nearest = (p: Triple): number => {
    let best = Infinity;
    let found = 0;
    for (let i = 0; i + 1 < n; i++) {
      const d = minus(line[i + 1], line[i]);
      const t = Math.max(0, Math.min(1, dot(minus(p, line[i]), d) / dot(d, d)));
      const away = apart(p, along(line[i], d, t));
      if (away >= best) continue;
      best = away;
      found = far[i] + t * (far[i + 1] - far[i]);
    }
    return found;
  };
  return { length, closed, at, nearest };
}

/** An axis carried from one place to the next by two reflections. */
function carried(a: Vector, b: Vector, ta: Vector, tb: Vector, r: Vector): Vector {
  const v1 = minus(b, a);
  const c1 = dot(v1, v1);
  const rl = along(r, v1, (-2 / c1) * dot(v1, r));
  const tl = along(ta, v1, (-2 / c1) * dot(v1, ta));
  const v2 = minus(tb, tl);
  const c2 = dot(v2, v2);
  const out = c2 > 1e-20 ? along(rl, v2, (-2 / c2) * dot(v2, rl)) : rl;
  return unit(along(out, tb, -dot(out, tb)));
}

const turnedAbout = (v: Vector, axis: Vector, angle: number): Vector => {
  const c = Math.cos(angle);
  const side = cross(axis, v);
  return along([v[0] * c, v[1] * c, v[2] * c], side, Math.sin(angle));
};

/**
 * The map that carries what stands at one stop to another: its axes go into those, and it is turned and sized on the
 * way.
 */
export function fromTo(a: Stop, b: Stop, turn = 0, size = 1): Affine {
  const x = turnedAbout(b.x, b.z, turn);
  const y = turnedAbout(b.y, b.z, turn);
  const m = (i: number, j: number) => size * (x[i] * a.x[j] + y[i] * a.y[j]) + b.z[i] * a.z[j];
  const row = (i: number): [number, number, number, number] => {
    const [p, q, r] = [m(i, 0), m(i, 1), m(i, 2)];
    return [p, q, r, b.place[i] - p * a.place[0] - q * a.place[1] - r * a.place[2]];
  };
  return [...row(0), ...row(1), ...row(2)] as unknown as Affine;
}
