import { hidingCost } from '../uv/hiding';
import type { Mesh } from '../mesh/mesh';
import { shortestWay } from './path';

/**
 * Edges along the cheapest way through some vertices, one stretch after the other: by length, less in creases and where
 * it looks down (`hide`: 0 for by length alone, 1 for as hidden as may be). Empty where nothing leads from one to the
 * next.
 */
export function traceSeam(mesh: Mesh, through: ArrayLike<number>, hide: number): number[] {
  const cost = hidingCost(mesh, hide);
  const out = new Set<number>();
  for (let i = 1; i < through.length; i++)
    for (const e of shortestWay(mesh, through[i - 1], through[i], cost)) out.add(e);
  return [...out];
}
