/**
 * Triangles to pixels, without gaps or double hits: vertices are snapped to 1/8192 pixel, which is what single
 * precision tells on 2048 of them (on coarser steps slivers turned over), and coverage is decided by exact integer edge
 * functions with the top-left rule (Pineda 1988), so triangles that share an edge never share a pixel.
 */

const { ceil, floor, max, min, round } = Math;
const SUB = 8192;
/** Below this, products of two places are wrong by less than the width of a step. */
const MOST_REACH = 2 ** 35;

/**
 * Calls `span(y, x0, x1)` for runs of pixels whose centres lie inside. Coordinates in pixels, either winding. Clipped
 * to width × height.
 */
export function fillTriangle(
  ax: number,
  ay: number,
  bx: number,
  by: number,
  cx: number,
  cy: number,
  width: number,
  height: number,
  span: (y: number, x0: number, x1: number) => void,
): void {
  let x0 = round(ax * SUB);
  let y0 = round(ay * SUB);
  let x1 = round(bx * SUB);
  let y1 = round(by * SUB);
  const x2 = round(cx * SUB);
  const y2 = round(cy * SUB);
  const area = (x1 - x0) * (y2 - y0) - (y1 - y0) * (x2 - x0);
  // Beyond this, whole numbers are not exact any more and steps of one are none: such a triangle covers nothing that
  // could be told.
  const reach = max(x0, x1, x2, y0, y1, y2, -x0, -x1, -x2, -y0, -y1, -y2);
  if (area === 0 || !(reach < MOST_REACH)) return;
  if (area < 0) {
    let q = x0;
    x0 = x1;
    x1 = q;
    q = y0;
    y0 = y1;
    y1 = q;
  }
  const xs = [x0, x1, x2, x0];
  const ys = [y0, y1, y2, y0];
  const minY = max(0, ceil((min(y0, y1, y2) - SUB / 2) / SUB));
  const maxY = min(height - 1, floor((max(y0, y1, y2) - SUB / 2) / SUB));
  for (let y = minY; y <= maxY; y++) {
    const py = y * SUB + SUB / 2;
    let lo = -Infinity;
    let hi = Infinity; // inclusive range of integer x
    // Inside edge (p → q), winding positive: E = (qx−px)(py−y_p) − (qy−py)(px−x_p) ≥ 0, strict unless the edge is top
    // or left.
    for (let k = 0; k < 3; k++) {
      const px = xs[k];
      const qx = xs[k + 1];
      const pY = ys[k];
      const qY = ys[k + 1];
      const dx = qx - px;
      const dy = qY - pY;
      const owns = dy < 0 || (dy === 0 && dx > 0);
      const c = dx * (py - pY) + dy * px; // E(x) = c − dy·x
      if (dy === 0) {
        if (c < 0 || (c === 0 && !owns)) {
          lo = 1;
          hi = 0;
        }
        continue;
      }
      const at = (c / dy - SUB / 2) / SUB;
      if (dy > 0) {
        // x ≤ bound
        let b = floor(at);
        while (edge(c, dy, b + 1, owns)) b++;
        while (!edge(c, dy, b, owns)) b--;
        if (b < hi) hi = b;
      } else {
        let b = ceil(at);
        while (edge(c, dy, b - 1, owns)) b--;
        while (!edge(c, dy, b, owns)) b++;
        if (b > lo) lo = b;
      }
    }
    if (lo < 0) lo = 0;
    if (hi > width - 1) hi = width - 1;
    if (lo <= hi) span(y, lo, hi);
  }
}

/**
 * Calls `hit` for pixels under triangles of two faces: the first that lies there and the other. `at`: two places per
 * corner, in sheets; what is NaN is left out. `pixels` along the side of a sheet, of which `sheets` lie side by side.
 */
export function onOthers(
  { corners, face }: { corners: Uint32Array; face: Uint32Array },
  at: ArrayLike<number>,
  pixels: number,
  sheets: number,
  hit: (first: number, other: number) => void,
): void {
  const wide = pixels * sheets;
  const first = new Int32Array(wide * pixels).fill(-1);
  let own = 0;
  const span = (y: number, x0: number, x1: number): void => {
    for (let p = y * wide + x0; p <= y * wide + x1; p++)
      if (first[p] < 0) first[p] = own;
      else if (first[p] !== own) hit(first[p], own);
  };
  for (let i = 0; i < face.length; i++) {
    own = face[i];
    const a = 2 * corners[3 * i];
    const b = 2 * corners[3 * i + 1];
    const c = 2 * corners[3 * i + 2];
    fillTriangle(
      at[a] * pixels,
      at[a + 1] * pixels,
      at[b] * pixels,
      at[b + 1] * pixels,
      at[c] * pixels,
      at[c + 1] * pixels,
      wide,
      pixels,
      span,
    );
  }
}

function edge(c: number, dy: number, x: number, owns: boolean): boolean {
  const v = c - dy * (x * SUB + SUB / 2);
  return v > 0 || (v === 0 && owns);
}
