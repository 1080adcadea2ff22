/**
 * Whole numbers from 0 to below a bound that look thrown and are the same each time: a linear congruence, read from its
 * upper end (Knuth, The Art of Computer Programming 3.2.1; constants of Numerical Recipes).
 */
export function thrown(first: number): (below: number) => number {
  let seed = first >>> 0;
  return (below) => {
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
    return Math.floor((seed / 4294967296) * below);
  };
}
