/**
 * Where a function of one number takes a wanted value: a bracket is looked for over the whole range first, then
 * narrowed by Brent's method (R. P. Brent, Algorithms for Minimization without Derivatives, 1973, chapter 4). Whole
 * numbers are halved instead.
 */

export interface Solved {
  /** Where it was found, or the nearest that can be had. */
  x: number;
  value: number;
  found: boolean;
  /** Every place that was asked, in rising order. */
  asked: readonly (readonly [number, number])[];
}

export interface SolveOptions {
  lo: number;
  hi: number;
  wanted: number;
  /** So near to the wanted value is near enough. */
  tolerance: number;
  whole?: boolean;
  /** Where to look first: where it stands now. */
  near?: number;
  /** Times that it may be asked. */
  most?: number;
  progress?(share: number): void;
}

/** Places over the range at which a bracket is looked for. */
const SAMPLES = 9;

export async function solve(f: (x: number) => Promise<number>, o: SolveOptions): Promise<Solved> {
  const known = new Map<number, number>();
  const most = o.most ?? 60;
  const at = (x: number) => (o.whole ? Math.round(x) : x);
  const ask = async (given: number): Promise<number> => {
    const x = at(given);
    const had = known.get(x);
    if (had !== undefined) return had;
    o.progress?.(Math.min(1, known.size / most));
    const y = (await f(x)) - o.wanted;
    known.set(x, y);
    return y;
  };
  const answer = (): Solved => {
    let [x, off] = [at(o.lo), Infinity];
    // Of those that are near enough the one nearest to where it stands; else the nearest there is.
    const middle = o.near ?? (o.lo + o.hi) / 2;
    const rank = (p: number, y: number) => (Math.abs(y) <= o.tolerance ? -1 / (1 + Math.abs(p - middle)) : Math.abs(y));
    for (const [p, y] of known)
      if (Number.isFinite(y) && (off === Infinity || rank(p, y) < rank(x, off))) [x, off] = [p, y];
    const asked = [...known].sort((a, b) => a[0] - b[0]).map(([p, y]) => [p, y + o.wanted] as const);
    return { x, value: off + o.wanted, found: Math.abs(off) <= o.tolerance, asked };
  };
  const places = Array.from({ length: SAMPLES }, (_, i) => o.lo + ((o.hi - o.lo) * i) / (SAMPLES - 1));
  if (o.near !== undefined && o.near >= o.lo && o.near <= o.hi) places.unshift(o.near);
  for (const [i, x] of places.entries()) if (Math.abs(await ask(x)) <= o.tolerance && i === 0) return answer();
  const rising = () => [...known].sort((a, b) => a[0] - b[0]);
  // Of several the bracket nearest to where it stands.
  const brackets = rising().flatMap(([x, y], i, all) =>
    i > 0 && Number.isFinite(y) && Number.isFinite(all[i - 1][1]) && y > 0 !== all[i - 1][1] > 0
      ? [[all[i - 1][0], x]]
      : [],
  );
  const middle = o.near ?? (o.lo + o.hi) / 2;
  const away = ([a, b]: number[]) => (middle < a ? a - middle : Math.max(0, middle - b));
  brackets.sort((p, q) => away(p) - away(q));
  const hit = answer();
  for (const [a, b] of brackets) {
    // What was met on the way may be nearer than any bracket.
    if (hit.found && Math.abs(hit.x - middle) <= away([a, b])) return hit;
    if (o.whole) await halve(ask, a, b);
    else await brent(ask, a, b, o.tolerance, most - known.size);
    if (answer().found) return answer();
  }
  // Nothing crosses it: closer to where it came nearest, by golden sections.
  if (answer().found) return answer();
  if (brackets.length === 0 && !o.whole) {
    const list = rising();
    const best = list.reduce((n, [, y], i) => (Math.abs(y) < Math.abs(list[n][1]) ? i : n), 0);
    await narrow(ask, list[Math.max(0, best - 1)][0], list[Math.min(list.length - 1, best + 1)][0], o.tolerance);
  } else if (brackets.length === 0) {
    const { x } = answer();
    for (let k = -3; k <= 3; k++) if (x + k >= o.lo && x + k <= o.hi) await ask(x + k);
  }
  return answer();
}

async function halve(ask: (x: number) => Promise<number>, from: number, to: number): Promise<void> {
  let [a, b] = [from, to];
  const ya = await ask(a);
  while (b - a > 1) {
    const m = Math.floor((a + b) / 2);
    if ((await ask(m)) > 0 === ya > 0) a = m;
    else b = m;
  }
}

async function brent(
  ask: (x: number) => Promise<number>,
  from: number,
  to: number,
  tolerance: number,
  most: number,
): Promise<void> {
  let [a, b] = [from, to];
  let [fa, fb] = [await ask(a), await ask(b)];
  let [c, fc] = [a, fa];
  let d = b - a;
  let e = d;
  for (let i = 0; i < most; i++) {
    if (fb > 0 === fc > 0) {
      [c, fc] = [a, fa];
      d = b - a;
      e = d;
    }
    if (Math.abs(fc) < Math.abs(fb)) {
      [a, b, c] = [b, c, b];
      [fa, fb, fc] = [fb, fc, fb];
    }
    const least = 2 * Number.EPSILON * Math.abs(b);
    const half = (c - b) / 2;
    if (Math.abs(fb) <= tolerance || Math.abs(half) <= least) return;
    if (Math.abs(e) >= least && Math.abs(fa) > Math.abs(fb)) {
      let p: number;
      let q: number;
      const s = fb / fa;
      if (a === c) {
        p = 2 * half * s;
        q = 1 - s;
      } else {
        const r = fb / fc;
        const t = fa / fc;
        p = s * (2 * half * t * (t - r) - (b - a) * (r - 1));
        q = (t - 1) * (r - 1) * (s - 1);
      }
      if (p > 0) q = -q;
      p = Math.abs(p);
      if (2 * p < Math.min(3 * half * q - Math.abs(least * q), Math.abs(e * q))) {
        e = d;
        d = p / q;
      } else {
        d = half;
        e = half;
      }
    } else {
      d = half;
      e = half;
    }
    [a, fa] = [b, fb];
    b += Math.abs(d) > least ? d : Math.sign(half) * least;
    fb = await ask(b);
  }
}

const GOLD = (Math.sqrt(5) - 1) / 2;
/** Golden sections towards where |f| is least. */
async function narrow(ask: (x: number) => Promise<number>, from: number, to: number, tolerance: number): Promise<void> {
  let [a, b] = [from, to];
  const y = async (x: number) => Math.abs(await ask(x));
  for (let i = 0; i < 24 && b - a > 1e-9 * (Math.abs(a) + Math.abs(b) + 1e-9); i++) {
    const c = b - GOLD * (b - a);
    const d = a + GOLD * (b - a);
    const [yc, yd] = [await y(c), await y(d)];
    if (Math.min(yc, yd) <= tolerance) return;
    if (yc < yd) b = d;
    else a = c;
  }
}
