/**
 * Which way faces look, for cutting: slivers whose own normal is next to nothing but rounding look as the face over
 * their longest edge does, so that they make no bend where there is none.
 */
import { EVERY, pulse } from '../../math/pulse';
import type { Mesh } from '../../mesh/mesh';
import { faceNormals } from '../../mesh/normals';
import { nextCorner, topologyOf } from '../../mesh/topology';

const { abs, max, sqrt } = Math;

/** Thinner than this, for how far the mesh reaches, a face is: places in single precision are that far off. */
const THIN = 1e-6;
/** Slivers beside slivers: as many rows of them. */
const ROWS = 8;

const known = new WeakMap<Mesh, Float32Array>();

/** 3 per face, 1 long; 0 for slivers among themselves. */
export function facingOf(mesh: Mesh): Float32Array {
  const had = known.get(mesh);
  if (had) return had;
  const out = faceNormals(mesh).slice();
  let thin = thinFaces(mesh);
  for (const f of thin) out.fill(0, 3 * f, 3 * f + 3);
  const t = topologyOf(mesh);
  for (let row = 0; row < ROWS && thin.length > 0; row++) {
    const found: [number, number][] = [];
    const left: number[] = [];
    for (const f of thin) {
      const g = beside(mesh, f, (c) => {
        const e = t.cornerEdge[c];
        const s = t.edgeCornerStart[e];
        if (t.edgeCornerStart[e + 1] - s !== 2) return -1;
        const other = t.cornerFace[t.edgeCorner[s] === c ? t.edgeCorner[s + 1] : t.edgeCorner[s]];
        return out[3 * other] === 0 && out[3 * other + 1] === 0 && out[3 * other + 2] === 0 ? -1 : other;
      });
      if (g < 0) left.push(f);
      else found.push([f, g]);
    }
    if (found.length === 0) break;
    for (const [f, g] of found) out.copyWithin(3 * f, 3 * g, 3 * g + 3);
    thin = left;
  }
  known.set(mesh, out);
  return out;
}

/** Faces that are thinner than rounding. */
function thinFaces(mesh: Mesh): number[] {
  const { positions: p, faceStart, cornerVertex } = mesh;
  let reach = 0;
  for (let i = 0; i < p.length; i++) reach = max(reach, abs(p[i]));
  const least = THIN * reach;
  const out: number[] = [];
  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    let [x, y, z, long] = [0, 0, 0, 0];
    const o = 3 * cornerVertex[faceStart[f]];
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const a = 3 * cornerVertex[c];
      const b = 3 * cornerVertex[nextCorner(mesh, f, c)];
      const [ux, uy, uz] = [p[a] - p[o], p[a + 1] - p[o + 1], p[a + 2] - p[o + 2]];
      const [wx, wy, wz] = [p[b] - p[o], p[b + 1] - p[o + 1], p[b + 2] - p[o + 2]];
      x += uy * wz - uz * wy;
      y += uz * wx - ux * wz;
      z += ux * wy - uy * wx;
      long = max(long, (p[b] - p[a]) ** 2 + (p[b + 1] - p[a + 1]) ** 2 + (p[b + 2] - p[a + 2]) ** 2);
    }
    // Twice the area over the longest edge: about how high it is.
    if (!(sqrt(x * x + y * y + z * z) > least * sqrt(long))) out.push(f);
  }
  return out;
}

/** Of the neighbours that `across` a corner's edge answers, the one over the longest edge; −1 for none. */
function beside(mesh: Mesh, f: number, across: (corner: number) => number): number {
  const { positions: p, faceStart, cornerVertex } = mesh;
  let best = -1;
  let most = -1;
  for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
    const a = 3 * cornerVertex[c];
    const b = 3 * cornerVertex[nextCorner(mesh, f, c)];
    const long = (p[b] - p[a]) ** 2 + (p[b + 1] - p[a + 1]) ** 2 + (p[b + 2] - p[a + 2]) ** 2;
    if (long <= most) continue;
    const g = across(c);
    if (g < 0) continue;
    best = g;
    most = long;
  }
  return best;
}
