/** Picks and values of tools as they are typed on the command line. */
import type { PickKind } from '../core/mesh/picks';
import { parseQuantity, type QuantityKind } from '../core/recipe/quantity';
import type { ValueDef } from '../core/recipe/values';
import type { Picked } from '../core/tools';
import { elementsBy, ruleDef, ruleDefs } from '../core/rules';
import type { Mesh } from '../core/mesh';
import { Usage } from './usage';

const WAYS: Record<string, readonly [axis: number, way: 1 | -1]> = {
  right: [0, 1],
  left: [0, -1],
  up: [1, 1],
  down: [1, -1],
  front: [2, 1],
  back: [2, -1],
};

/** A value as a person types it, by what its declaration says it is. */
export function readOption(name: string, def: ValueDef<unknown>, text: string): unknown {
  try {
    if (def.kind === 'toggle' && !/^(true|false)$/.test(text)) throw new Error('it is true or false');
    if (def.kind === 'toggle') return text === 'true';
    const number = ['length', 'angle', 'number', 'count'].includes(def.kind);
    const value = number ? parseQuantity(text, def.kind as QuantityKind) : text;
    return def.schema.validateSync(value, { strict: true });
  } catch (e) {
    throw new Usage(`--${name}: ${(e as Error).message}`);
  }
}

/** The elements that words name. Throws `Usage` where they name none. */
export function readPick(
  words: string,
  kind: PickKind,
  count: number,
  looking: (axis: number, way: number) => number[],
): Picked {
  let found: number[] = [];
  if (words === 'all') found = Array.from({ length: count }, (_, i) => i);
  else if (Object.hasOwn(WAYS, words)) {
    if (kind !== 'face') throw new Usage(`--pick ${words} is for faces.`);
    found = looking(...WAYS[words]);
  } else
    for (const part of words.split(',')) {
      const m = /^(\d{1,9})(?:-(\d{1,9}))?$/.exec(part.trim());
      if (!m)
        throw new Usage(`--pick: “${part.slice(0, 40)}” is neither a number nor all, ${Object.keys(WAYS).join(', ')}.`);
      for (let i = Number(m[1]); i <= Math.min(count - 1, Number(m[2] ?? m[1])); i++) found.push(i);
    }
  const indices = Uint32Array.from(new Set(found.filter((i) => i < count))).sort();
  if (indices.length === 0)
    throw new Usage(`--pick ${words.slice(0, 40)} names nothing: there are ${count} of that kind.`);
  return { kind, indices };
}

/**
 * Elements that fit a rule as it is typed: `rule:sharp,angle=40deg`. Throws `Usage` where there is no such rule, or
 * nothing fits.
 */
export function readRule(words: string, kind: PickKind, mesh: Mesh): Picked {
  const [id, ...values] = words.replace(/^rule:/, '').split(',');
  const def = ruleDef(id);
  const known = ruleDefs().map((r) => r.id);
  if (!def) throw new Usage(`--pick: there is no rule “${id.slice(0, 40)}”. There are: ${known.join(', ')}.`);
  if (!def.picks.includes(kind)) throw new Usage(`--pick ${id} is for ${def.picks.join(', ')}.`);
  const given: Record<string, unknown> = {};
  for (const part of values) {
    const [name, ...rest] = part.split('=');
    if (!Object.hasOwn(def.values, name))
      throw new Usage(
        `--pick ${id} takes ${Object.keys(def.values).join(', ') || 'no values'}; not “${name.slice(0, 40)}”.`,
      );
    given[name] = readOption(`pick ${id} ${name}`, def.values[name], rest.join('='));
  }
  const found = elementsBy(mesh, kind, { id, values: given });
  if (found.length === 0) throw new Usage(`--pick ${words.slice(0, 60)}: nothing fits.`);
  return { kind, indices: Uint32Array.from(found) };
}
