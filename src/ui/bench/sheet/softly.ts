/**
 * Corners that go along when others are moved: those first, all the way; then what lies within a radius of them on the
 * sheet, less and less, without a step at either end.
 */
export function softly(
  uv: Float32Array,
  all: Iterable<number>,
  moved: ArrayLike<number>,
  radius: number,
): { corners: Uint32Array; share: Float32Array } {
  const corners = Array.from(moved);
  const share = corners.map(() => 1);
  const own = new Set(corners);
  // Corners at one place are one to measure from.
  const from = [...new Map(corners.map((c) => [`${uv[2 * c]} ${uv[2 * c + 1]}`, c])).values()];
  for (const c of all) {
    if (own.has(c)) continue;
    let near = Infinity;
    for (const m of from) near = Math.min(near, Math.hypot(uv[2 * c] - uv[2 * m], uv[2 * c + 1] - uv[2 * m + 1]));
    if (!(near < radius)) continue;
    const t = 1 - near / radius;
    corners.push(c);
    share.push(t * t * (3 - 2 * t));
  }
  return { corners: Uint32Array.from(corners), share: Float32Array.from(share) };
}
