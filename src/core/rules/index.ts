/** Rules by id, and the elements that fit one. */
import { EVERY, pulse } from '../math/pulse';
import type { Mesh } from '../mesh/mesh';
import type { PickKind } from '../mesh/picks';
import { topologyOf } from '../mesh/topology';
import { complete } from '../recipe/values';
import { ALL } from './all';
import type { Rule, RuleDef } from './define';

export type { Rule, RuleDef } from './define';

const all = ALL as unknown as readonly RuleDef[];
const byId = new Map(all.map((r) => [r.id, r]));
export const ruleDefs = (): readonly RuleDef[] => all;
export const ruleDef = (id: string): RuleDef | undefined => byId.get(id);

/** Elements of a kind that fit a rule, ascending; none where the rule is not known or is not of that kind. */
export function elementsBy(mesh: Mesh, kind: PickKind, rule: Rule): number[] {
  const def = byId.get(rule.id);
  if (!def?.picks.includes(kind)) return [];
  const fits = def.fits(mesh, kind, complete(def.values, rule.values ?? {}) as never);
  const out: number[] = [];
  let count = mesh.faceCount;
  if (kind === 'edge') count = topologyOf(mesh).edgeCount;
  else if (kind === 'vertex') count = mesh.vertexCount;
  for (let i = 0; i < count; i++) {
    if ((i & EVERY) === 0) pulse();
    if (fits(i)) out.push(i);
  }
  return out;
}
