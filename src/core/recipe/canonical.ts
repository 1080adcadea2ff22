import { textHash } from '../math/hash';

const known = new WeakMap<object, string>();

/**
 * A short text that is the same for equal values, whatever the order of their keys. Values that cannot change any more
 * (frozen) are hashed once: in a recipe of 200 moves with long picks only the one that is being dragged is looked at
 * again.
 */
export function canonical(value: unknown): string {
  if (typeof value !== 'object' || value === null) return JSON.stringify(value) ?? 'null';
  const had = known.get(value);
  if (had !== undefined) return had;
  let out: string;
  if (!Array.isArray(value)) {
    const record = value as Record<string, unknown>;
    // Where picked elements were follows from their keys: with it or without, the result is the same.
    const names = Object.keys(record)
      .filter((k) => k !== 'spots')
      .sort();
    out = `{${names.map((k) => `${JSON.stringify(k)}:${canonical(record[k])}`).join()}}`;
  } else if (typeof value[0] === 'number') out = `[${value.join()}]`;
  else out = `[${value.map(canonical).join()}]`;
  const short = out.length > 200 ? `#${textHash(out)}` : out;
  if (Object.isFrozen(value)) known.set(value, short);
  return short;
}
