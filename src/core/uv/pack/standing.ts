/**
 * Places turned so that what is higher on the surface is higher on the sheet: the way in which height grows on the
 * sheet, on the mean, points up. What lies level keeps its turn.
 */
export function standing(surface: Float64Array, triangles: Uint32Array, uv: Float64Array): Float64Array {
  let [x, y] = [0, 0];
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t], triangles[t + 1], triangles[t + 2]];
    const [u1, v1] = [uv[2 * b] - uv[2 * a], uv[2 * b + 1] - uv[2 * a + 1]];
    const [u2, v2] = [uv[2 * c] - uv[2 * a], uv[2 * c + 1] - uv[2 * a + 1]];
    const [h1, h2] = [surface[3 * b + 1] - surface[3 * a + 1], surface[3 * c + 1] - surface[3 * a + 1]];
    // The slope of the height over the sheet, times twice the area there.
    const side = u1 * v2 - v1 * u2 < 0 ? -1 : 1;
    x += side * (h1 * v2 - h2 * v1);
    y += side * (h2 * u1 - h1 * u2);
  }
  const long = Math.hypot(x, y);
  let area = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [2 * triangles[t], 2 * triangles[t + 1], 2 * triangles[t + 2]];
    area += Math.abs((uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[b + 1] - uv[a + 1]) * (uv[c] - uv[a]));
  }
  if (!(long > 1e-3 * area)) return uv;
  // (x, y) goes to (0, 1).
  const [c, s] = [y / long, x / long];
  const out = new Float64Array(uv.length);
  for (let i = 0; i < uv.length; i += 2) {
    out[i] = c * uv[i] - s * uv[i + 1];
    out[i + 1] = s * uv[i] + c * uv[i + 1];
  }
  return out;
}
