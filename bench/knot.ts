/** A tube along a knot, for unfolding by given seams. */
import { meshFrom, type Mesh, topologyOf } from '../src/core/mesh';

/** A tube of quads along a knot that winds 2 and 3 times round a ring; seams run lengthwise at two of its sides. */
export function knot(rings: number, sides: number): { mesh: Mesh; seams: Set<number> } {
  const positions = new Float32Array(3 * rings * sides);
  const faces: number[][] = [];
  const at = (t: number): [number, number, number] => {
    const r = 1 + 0.4 * Math.cos(3 * t);
    return [r * Math.cos(2 * t), 0.4 * Math.sin(3 * t), r * Math.sin(2 * t)];
  };
  for (let i = 0; i < rings; i++) {
    const t = (2 * Math.PI * i) / rings;
    const [x, y, z] = at(t);
    const [a, b, c] = at(t + 1e-4);
    let [ux, uy, uz] = [a - x, b - y, c - z];
    const l = Math.hypot(ux, uy, uz);
    ux /= l;
    uy /= l;
    uz /= l;
    // A frame from the direction away from the ring's axis: it closes after one turn.
    const nx0 = x;
    const nz0 = z;
    const d = nx0 * ux + nz0 * uz;
    let [nx, ny, nz] = [nx0 - d * ux, -d * uy, nz0 - d * uz];
    const m = Math.hypot(nx, ny, nz);
    nx /= m;
    ny /= m;
    nz /= m;
    const [bx, by, bz] = [uy * nz - uz * ny, uz * nx - ux * nz, ux * ny - uy * nx];
    for (let k = 0; k < sides; k++) {
      const w = (2 * Math.PI * k) / sides;
      const c1 = 0.14 * Math.cos(w);
      const s1 = 0.14 * Math.sin(w);
      positions.set([x + c1 * nx + s1 * bx, y + c1 * ny + s1 * by, z + c1 * nz + s1 * bz], 3 * (i * sides + k));
    }
  }
  for (let i = 0; i < rings; i++)
    for (let k = 0; k < sides; k++)
      faces.push([
        i * sides + k,
        ((i + 1) % rings) * sides + k,
        ((i + 1) % rings) * sides + ((k + 1) % sides),
        i * sides + ((k + 1) % sides),
      ]);
  const mesh = meshFrom(positions, faces);
  const t = topologyOf(mesh);
  const seams = new Set<number>();
  for (let e = 0; e < t.edgeCount; e++) {
    const a = t.edgeVertex[2 * e];
    const b = t.edgeVertex[2 * e + 1];
    const ka = a % sides;
    const kb = b % sides;
    if (ka === kb && (ka === 0 || ka === sides / 2)) seams.add(e); // two seam edges in every ring of faces
    if (
      ka !== kb &&
      Math.floor(a / sides) === Math.floor(b / sides) &&
      Math.floor(a / sides) % Math.floor(rings / 4) === 0
    )
      seams.add(e); // and the tube cut across in four places
  }
  return { mesh, seams };
}
