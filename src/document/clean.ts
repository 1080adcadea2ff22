/**
 * What cannot be kept is taken out where it comes in: characters that no database takes (NUL, halves of surrogate
 * pairs, control characters), names that are too long or empty, numbers that are none.
 */
import { cleanName, cleanText, isClean, MOST_NAME } from '../core/formats/words';

export { cleanName, cleanText, isClean };

/**
 * A value as it can be kept, deep: texts clean, names short, numbers finite (0 where not). The very same value where
 * nothing had to be done. Only plain values: what JSON has.
 */
export function cleanValue<T>(value: T, key = ''): T {
  return cleaned(value, key) as T;
}

function cleaned(value: unknown, key: string): unknown {
  if (typeof value === 'string') {
    if (key === 'name') return value.length <= MOST_NAME && isClean(value) ? value : cleanName(value);
    return isClean(value) ? value : cleanText(value);
  }
  if (typeof value === 'number') return Number.isFinite(value) ? value : 0;
  if (typeof value !== 'object' || value === null) return value;
  if (Array.isArray(value)) {
    let out: unknown[] | undefined;
    for (let i = 0; i < value.length; i++) {
      const c = cleaned(value[i], '');
      if (c !== value[i]) (out ??= value.slice())[i] = c;
    }
    return out ?? value;
  }
  let out: Record<string, unknown> | undefined;
  for (const [k, v] of Object.entries(value)) {
    const c = cleaned(v, k);
    if (c !== v) (out ??= { ...value })[k] = c;
  }
  return out ?? value;
}

/** Whether every text in a value can be kept. Iterative: what comes from outside may be nested deep. */
export function allClean(value: unknown): boolean {
  const open: unknown[] = [value];
  while (open.length) {
    const v = open.pop();
    if (typeof v === 'string') {
      if (!isClean(v)) return false;
    } else if (typeof v === 'object' && v !== null)
      for (const [k, x] of Object.entries(v)) {
        if (!isClean(k)) return false;
        if (typeof x === 'string' || typeof x === 'object') open.push(x);
      }
  }
  return true;
}
