/**
 * Islands that are flat put together over whatever bends, as long as they lie just as flat as one: a box becomes a
 * cross, a beam a strip. Over the longest seams first, one run after the other.
 */
import { cos, sin } from '../math/exact';
import { pulse } from '../math/pulse';
import type { Mesh } from '../mesh/mesh';
import type { Island } from './auto';
import { Parting, type Patch } from './patch';
import { levelling } from './pixels';
import { closeRun, runsOf } from './runs';

const { max, min } = Math;

/** As good as not stretched at all; scales are told apart by a hundredth and a half. */
const FLAT = 1.002;
const EVEN = 1.04;
/** Of more faces than this no island is a side of a box. */
const MOST = 2000;

/** What fills less of its box than this sprawls, and would lie between everything else: a cross of six fills half. */
const SPRAWLING = 0.49;

/** Share of its box that a patch fills, level as it will lie on texels. */
function boxFill({ rim }: Patch, { uv, rest, figures }: Island['laid']): number {
  const turn = levelling(uv, rim);
  const [c, s] = [cos(turn), sin(turn)];
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < uv.length; i += 2) {
    const [x, y] = [c * uv[i] - s * uv[i + 1], s * uv[i] + c * uv[i + 1]];
    x0 = min(x0, x);
    x1 = max(x1, x);
    y0 = min(y0, y);
    y1 = max(y1, y);
  }
  return (rest.total * figures.scale ** 2) / ((x1 - x0) * (y1 - y0) || Infinity);
}

export function crosses(
  mesh: Mesh,
  islands: readonly Island[],
  seam: Uint8Array,
  hard: Uint8Array,
): { islands: Island[]; seam: Uint8Array } {
  const parting = new Parting(mesh, seam.slice());
  const now = new Map<number, Island>();
  islands.forEach((island, k) => {
    for (const f of island.patch.faces) parting.label[f] = k;
    now.set(k, island);
  });
  const is = new Int32Array(islands.length).map((_, k) => k);
  const found = (k: number): number => {
    let at = k;
    while (is[at] !== at) at = is[at];
    return at;
  };
  const flat = (i: Island): boolean =>
    i.patch.faces.length <= MOST && i.laid.sound && i.laid.figures.spread < EVEN && i.laid.figures.mean < FLAT;
  for (const run of runsOf(parting)) {
    pulse();
    if (run.edges.some((e) => hard[e])) continue;
    const [a, b] = [found(run.a), found(run.b)];
    const [x, y] = [now.get(a)!, now.get(b)!];
    // Of a slit that is closed nothing is gained.
    if (a === b || !flat(x) || !flat(y)) continue;
    const keep = (laid: Island['laid'], patch: Patch): boolean =>
      laid.good && laid.figures.spread < EVEN && laid.figures.mean < FLAT && boxFill(patch, laid) > SPRAWLING;
    const one = closeRun(parting, x.patch.faces, y.patch.faces, run.edges, EVEN, keep);
    if (!one || !keep(one.laid, one.patch)) continue;
    is[b] = a;
    now.delete(b);
    now.set(a, one);
  }
  return { islands: [...now.values()], seam: parting.seam };
}
