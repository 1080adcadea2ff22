/**
 * How elements of grids are named. By `shares`: a line by its share of the whole in lowest terms, so that the middle of
 * four cells is the middle of eight; a cell by its number of how many: what has the same name is at the same place
 * whatever the counts. By `ranks`, as the first versions did it and documents of that time still mean it: by the place
 * from the nearer end.
 */
export type Names = 'shares' | 'ranks';

export interface Naming {
  /** Line i of n cells, 0 … n. */
  line(i: number, n: number): number;
  /** Cell i of n. */
  cell(i: number, n: number): number;
  /** Line i of n cells round a whole turn. */
  spoke(i: number, n: number): number;
  sector(i: number, n: number): number;
}

/** More than any count. */
const MOST = 1 << 20;
const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));
/** i parts of n in lowest terms, as one number. */
export const share = (i: number, n: number): number => {
  const d = gcd(i, n);
  return (i / d) * MOST + n / d;
};
const part = (i: number, n: number): number => i * MOST + n;
/** A grid coordinate's place from the nearer end, so that both ends keep their names when the count changes. */
export const rank = (i: number, n: number): number => (2 * i <= n ? 2 * i : 2 * (n - i) + 1);
const NAMINGS: Readonly<Record<Names, Naming>> = {
  shares: { line: share, cell: part, spoke: share, sector: part },
  ranks: { line: rank, cell: (i, n) => rank(i, n - 1), spoke: (i) => i, sector: (i) => i },
};
export const names = (by: Names = 'shares'): Naming => NAMINGS[by];
