const { acos, max, min, sqrt } = Math;

/**
 * Radians: the angle at one place between the ways to two others; 0 where one of them has no length. `p`: 3 per place;
 * `o`, `a`, `b`: where in it they begin.
 */
export function angleAt(p: ArrayLike<number>, o: number, a: number, b: number): number {
  const ax = p[a] - p[o];
  const ay = p[a + 1] - p[o + 1];
  const az = p[a + 2] - p[o + 2];
  const bx = p[b] - p[o];
  const by = p[b + 1] - p[o + 1];
  const bz = p[b + 2] - p[o + 2];
  const size = sqrt((ax * ax + ay * ay + az * az) * (bx * bx + by * by + bz * bz));
  return size > 0 ? acos(max(-1, min(1, (ax * bx + ay * by + az * bz) / size))) : 0;
}
