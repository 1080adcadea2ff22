/** Cuts that can be taken at once: one for each island, for two would do the same work twice. */
export function takenTogether<T extends { kind: 'cut' | 'close'; face: number }>(list: readonly T[]): T[] {
  const used = new Set<number>();
  return list.filter((s) => {
    if (s.kind === 'close' || used.has(s.face)) return false;
    used.add(s.face);
    return true;
  });
}
