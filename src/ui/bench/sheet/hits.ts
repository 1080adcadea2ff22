/** What lies under the pointer on the sheet. */
import type { Mesh } from '../../../core/mesh/mesh';
import { nextCorner, topologyOf } from '../../../core/mesh/topology';

/** Pixels within which a corner is met, and an edge. */
const CORNER_NEAR = 10;
const EDGE_NEAR = 8;

/** By a layout and where it is shown. Answers −1 where nothing lies. */
export class Hits {
  constructor(
    private readonly mesh: Mesh,
    private readonly uv: Float32Array,
    private readonly toScreen: (u: number, v: number) => [number, number],
  ) {}

  faceAt(u: number, v: number): number {
    const { mesh, uv } = this;
    for (let f = 0; f < mesh.faceCount; f++) {
      let inside = false;
      const a = mesh.faceStart[f];
      const b = mesh.faceStart[f + 1];
      for (let i = a, j = b - 1; i < b; j = i++)
        if (
          uv[2 * i + 1] > v !== uv[2 * j + 1] > v &&
          u < ((uv[2 * j] - uv[2 * i]) * (v - uv[2 * i + 1])) / (uv[2 * j + 1] - uv[2 * i + 1]) + uv[2 * i]
        )
          inside = !inside;
      if (inside) return f;
    }
    return -1;
  }

  cornerAt(x: number, y: number): number {
    let best = -1;
    let near = CORNER_NEAR;
    for (let k = 0; k < this.mesh.cornerCount; k++) {
      const [a, b] = this.toScreen(this.uv[2 * k], this.uv[2 * k + 1]);
      const d = Math.hypot(a - x, b - y);
      if (d >= near) continue;
      near = d;
      best = k;
    }
    return best;
  }

  edgeAt(x: number, y: number): number {
    const { mesh, uv } = this;
    const t = topologyOf(mesh);
    let best = -1;
    let near = EDGE_NEAR;
    for (let f = 0; f < mesh.faceCount; f++)
      for (let k = mesh.faceStart[f]; k < mesh.faceStart[f + 1]; k++) {
        const n = nextCorner(mesh, f, k);
        const [ax, ay] = this.toScreen(uv[2 * k], uv[2 * k + 1]);
        const [bx, by] = this.toScreen(uv[2 * n], uv[2 * n + 1]);
        const dx = bx - ax;
        const dy = by - ay;
        const l = dx * dx + dy * dy;
        const w = l > 0 ? Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / l)) : 0;
        const d = Math.hypot(ax + dx * w - x, ay + dy * w - y);
        if (d >= near) continue;
        near = d;
        best = t.cornerEdge[k];
      }
    return best;
  }
}
