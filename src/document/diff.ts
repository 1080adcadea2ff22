/**
 * What changed between two versions of a document, found by identity: versions share all that did not change, so the
 * work is in proportion to the change. The bench worker is kept up to date by this, and its copy shares what did not
 * change too, so that what is known of a value (its hash, above all) stays known.
 */
import { freeze } from 'immer';

export type Difference =
  | { path: (string | number)[]; value: unknown }
  | { path: (string | number)[]; gone: true }
  /** In the list at the path: from `at`, `removed` go and the items come. */
  | { path: (string | number)[]; at: number; removed: number; items: unknown[] };

const isObject = (x: unknown): x is Record<string, unknown> => typeof x === 'object' && x !== null;

export function differences(a: unknown, b: unknown): Difference[] {
  const out: Difference[] = [];
  compare(a, b, [], out);
  return out;
}

function compare(a: unknown, b: unknown, path: (string | number)[], out: Difference[]): void {
  if (Object.is(a, b)) return;
  if (Array.isArray(a) && Array.isArray(b)) compareLists(a, b, path, out);
  else if (isObject(a) && isObject(b) && !Array.isArray(a) && !Array.isArray(b)) {
    for (const k of Object.keys(a)) if (!(k in b)) out.push({ path: [...path, k], gone: true });
    for (const k of Object.keys(b))
      if (k in a) compare(a[k], b[k], [...path, k], out);
      else out.push({ path: [...path, k], value: b[k] });
  } else out.push({ path, value: b });
}

function compareLists(
  a: readonly unknown[],
  b: readonly unknown[],
  path: (string | number)[],
  out: Difference[],
): void {
  // Long lists of keys are sent whole: number by number they would be longer.
  if (!isObject(b[0]) || !isObject(a[0])) {
    out.push({ path, value: b });
    return;
  }
  let start = 0;
  while (start < a.length && start < b.length && a[start] === b[start]) start++;
  let end = 0;
  while (end < a.length - start && end < b.length - start && a[a.length - 1 - end] === b[b.length - 1 - end]) end++;
  if (a.length === b.length) for (let i = start; i < b.length - end; i++) compare(a[i], b[i], [...path, i], out);
  else out.push({ path, at: start, removed: a.length - start - end, items: b.slice(start, b.length - end) });
}

/** The later version, sharing with the earlier one whatever no difference touches; what is new is frozen. */
export function applyDifferences<T>(base: T, list: readonly Difference[]): T {
  return list.reduce((now, d) => applyOne(now, d, 0), base as unknown) as T;
}

function applyOne(now: unknown, d: Difference, depth: number): unknown {
  if (depth === d.path.length) {
    if ('items' in d) {
      const list = [...(now as unknown[])];
      list.splice(d.at, d.removed, ...d.items);
      return freeze(list, true);
    }
    return 'value' in d ? freeze(d.value, true) : undefined;
  }
  const key = d.path[depth];
  if (Array.isArray(now)) {
    const list = [...now];
    list[key as number] = applyOne(now[key as number], d, depth + 1);
    return freeze(list);
  }
  const record = { ...(now as Record<string, unknown>) };
  if ('gone' in d && depth === d.path.length - 1) delete record[key];
  else record[key] = applyOne(record[key], d, depth + 1);
  return freeze(record);
}
