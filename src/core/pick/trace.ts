import { seamEdges } from '../uv/part/charts';
import { hidingCost } from '../uv/part/hiding';
import { Parting } from '../uv/flatten/patch';
import { STRAIGHTEST, StraightBorders, WIDE } from '../uv/part/straight';
import type { Mesh } from '../mesh/mesh';
import { shortestWay } from './path';

/** As borders of islands are where nothing is said of them. */
const STRAIGHT = 0.5;
/** Shorter ways are as they are. */
const SHORT = 3;

/**
 * Edges along the cheapest way through some vertices, one stretch after the other: by length, less in creases and where
 * it is not seen (`hide`: 0 for by length alone, 1 for as hidden as may be); of those about as cheap the straightest,
 * along loops where there are some. Empty where nothing leads from one to the next.
 */
export function traceSeam(mesh: Mesh, through: ArrayLike<number>, hide: number): number[] {
  const cost = hidingCost(mesh, hide);
  const out = new Set<number>();
  let drawing: StraightBorders | undefined;
  for (let i = 1; i < through.length; i++) {
    const way = shortestWay(mesh, through[i - 1], through[i], cost);
    if (way.length >= SHORT) drawing ??= drawingOn(mesh, cost);
    for (const e of drawing?.way(way) ?? way) out.add(e);
  }
  return [...out];
}

function drawingOn(mesh: Mesh, cost: (edge: number) => number): StraightBorders {
  const open = seamEdges(mesh, { cut: new Set(), hold: new Set(), angle: Infinity });
  const parting = new Parting(mesh, open);
  parting.label.fill(0);
  const firm = new Uint8Array(open.length);
  const weigh = (e: number): number => cost(e) + 1e-12;
  return new StraightBorders(parting, { weigh, firm, hold: new Set(), straight: STRAIGHTEST * STRAIGHT, wide: WIDE });
}
