import { textHash } from '../math/hash';

/** JSON with keys in order, so that equal values hash equally. Immutable lists are remembered by identity: long picks are hashed once. */
const known = new WeakMap<object, string>();
export function canonical(value: unknown): string {
  if (typeof value !== 'object' || value === null) return JSON.stringify(value) ?? 'null';
  const had = known.get(value);
  if (had !== undefined) return had;
  const out = Array.isArray(value)
    ? value.length > 0 && typeof value[0] === 'number'
      ? `[${value.join()}]`
      : `[${value.map(canonical).join()}]`
    : `{${Object.keys(value)
        .sort()
        .map((k) => `${JSON.stringify(k)}:${canonical((value as Record<string, unknown>)[k])}`)
        .join()}}`;
  const short = out.length > 2000 ? `#${textHash(out)}` : out;
  if (Object.isFrozen(value)) known.set(value, short);
  return short;
}
