type List = ArrayLike<number> | undefined;

/**
 * Where two lists begin to differ, −1 where they are the same to the bit. As a plain loop: what compares arrays in
 * general takes seconds over meshes.
 */
export function firstDifference(a: List, b: List): number {
  if (!a || !b) return a === b ? -1 : 0;
  const n = Math.min(a.length, b.length);
  for (let i = 0; i < n; i++) if (!Object.is(a[i], b[i])) return i;
  return a.length === b.length ? -1 : n;
}
