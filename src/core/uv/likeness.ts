/** Points of the plane laid on others: moved, turned and sized, and mirrored where that is asked for. */

export type Map2 = (u: number, v: number) => readonly [number, number];

interface Sums {
  from: [number, number];
  to: [number, number];
  /** Of the squares from the middle. */
  size: number;
  /** Of to·conj(from) and of to·from, as complex numbers. */
  straight: [number, number];
  mirrored: [number, number];
}

/** Of points, 2 numbers each; those of which `to` is not finite are left out. */
function sumsOf(from: ArrayLike<number>, to: ArrayLike<number>): Sums {
  let [n, px, py, qx, qy] = [0, 0, 0, 0, 0];
  const known = (i: number): boolean => Number.isFinite(to[i]) && Number.isFinite(to[i + 1]);
  for (let i = 0; i < to.length; i += 2) {
    if (!known(i)) continue;
    n++;
    px += from[i];
    py += from[i + 1];
    qx += to[i];
    qy += to[i + 1];
  }
  const out: Sums = { from: [px / n, py / n], to: [qx / n, qy / n], size: 0, straight: [0, 0], mirrored: [0, 0] };
  const { straight, mirrored } = out;
  for (let i = 0; i < to.length; i += 2) {
    if (!known(i)) continue;
    const [x, y] = [from[i] - out.from[0], from[i + 1] - out.from[1]];
    const [u, v] = [to[i] - out.to[0], to[i + 1] - out.to[1]];
    out.size += x * x + y * y;
    straight[0] += u * x + v * y;
    straight[1] += v * x - u * y;
    mirrored[0] += u * x - v * y;
    mirrored[1] += v * x + u * y;
  }
  return out;
}

function mapBy({ from, to }: Sums, [re, im]: readonly [number, number], sign: number): Map2 {
  return (u, v) => {
    const [x, y] = [u - from[0], sign * (v - from[1])];
    return [to[0] + re * x - im * y, to[1] + im * x + re * y];
  };
}

/**
 * The turn, size and shift that bring points nearest to others (Horn 1987, in the plane); a shift where they are all in
 * one place.
 */
export function similarity(from: ArrayLike<number>, to: ArrayLike<number>): Map2 {
  const sums = sumsOf(from, to);
  const { size, straight } = sums;
  const turns = size > 0 && Math.hypot(...straight) > 0;
  return mapBy(sums, turns ? [straight[0] / size, straight[1] / size] : [1, 0], 1);
}

/**
 * The same, mirrored where they lie nearer so, and how much larger it makes what it lays. Points of which the place is
 * not known are NaN in `to`. Undefined where the others lie all in one place, or should.
 */
export function likeness(from: ArrayLike<number>, to: ArrayLike<number>): { map: Map2; scale: number } | undefined {
  const sums = sumsOf(from, to);
  const { size, straight, mirrored } = sums;
  const over = Math.hypot(...mirrored) > Math.hypot(...straight) * (1 + 1e-9);
  const [re, im] = over ? mirrored : straight;
  const scale = Math.hypot(re, im) / size;
  if (!(scale > 0) || !Number.isFinite(scale)) return undefined;
  return { map: mapBy(sums, [re / size, im / size], over ? -1 : 1), scale };
}
