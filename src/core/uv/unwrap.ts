/**
 * Unwrap: seams → charts → conformal unfolding → even density → packing. What was placed by hand is held in place; only the rest is unfolded and packed anew.
 */
import { EVERY, pulse } from '../math/pulse';
import type { Mesh } from '../mesh/mesh';
import { UV } from '../mesh/mesh';
import { triangulate } from '../mesh/triangulate';
import { charts, chartShapes, facesByChart, linkBorders, partByDirection, seamEdges, type Charts } from './charts';
import { conformal } from './lscm';
import { pack, tooNear, type PackIsland } from './pack';

const { abs, hypot, max, min, sqrt } = Math;

export interface UnwrapOptions {
  cut: ReadonlySet<number>;
  hold: ReadonlySet<number>;
  /** Radians; edges left to the solver are seams where they bend by more. */
  seamAngle: number;
  /** Texels along the side of the sheet. */
  size: number;
  /** Texels between islands. */
  padding: number;
  /** Texels per metre; 0 for the largest that fits. */
  density: number;
  turn: boolean;
  /** Places on the sheet fixed by hand, by corner. */
  pins?: ReadonlyMap<number, readonly [number, number]>;
  /** Islands placed by hand keep their shape, but are packed with the rest, all at one density. */
  repack?: boolean;
  progress?: (share: number) => void;
}

export interface Unwrapped {
  mesh: Mesh;
  islands: number;
  /** Texels per metre reached. */
  density: number;
  /** The wanted density did not fit. */
  tooDense: boolean;
}

export function unwrapMesh(mesh: Mesh, o: UnwrapOptions): Unwrapped {
  const seam = seamEdges(mesh, { cut: o.cut, hold: o.hold, angle: o.seamAngle });
  let ch = charts(mesh, seam);
  // Parting by direction leaves only patches with a border: one pass is enough, a second could not find anything.
  const shapes = chartShapes(mesh, ch);
  const chosen = Uint8Array.from(shapes, (s) => (s.borders === 0 || s.euler < 2 - s.borders ? 1 : 0));
  if (chosen.some((c) => c === 1)) {
    partByDirection(mesh, ch, chosen, o.hold);
    ch = charts(mesh, ch.seam);
  }
  let flat = unfoldAll(mesh, ch, o.pins, o.progress);
  const uneven = flat.filter((f) => f.needsLink);
  if (uneven.length) {
    for (const f of uneven) linkBorders(mesh, ch, f.faces);
    ch = charts(mesh, ch.seam);
    flat = unfoldAll(mesh, ch, o.pins, o.progress);
  }
  if (o.repack)
    for (const f of flat)
      if (f.held && f.scaleOfHeld > 0) {
        f.points = f.points.map((x) => x / f.scaleOfHeld);
        f.held = false;
      }
  const held = flat.filter((f) => f.held);
  const free = flat.filter((f) => !f.held);
  let heldDensity = 0;
  for (const f of held) heldDensity = max(heldDensity, f.scaleOfHeld);
  const wanted = o.density > 0 ? o.density / o.size : 0;
  const packing = { size: o.size, padding: o.padding, turn: o.turn, scale: wanted };
  // With something placed by hand, the others stay where they would lie without it; only if they are in its way are they packed around it.
  let packed = pack(
    held.length ? [...free, ...held.map((f) => ({ points: f.solved, triangles: f.triangles }))] : free,
    packing,
  );
  if (held.length) {
    const there = free.map((f, i) => ({ points: packed.placed[i], triangles: f.triangles }));
    if (tooNear(there, held, o.size, o.padding))
      packed = pack(free, {
        ...packing,
        maxScale: wanted > 0 ? undefined : packed.scale || heldDensity || undefined,
        taken: held,
      });
  }
  free.forEach((f, i) => {
    f.points = packed.placed[i];
  });

  const uv = new Float32Array(2 * mesh.cornerCount);
  const local = localNumbers(mesh, ch, flat);
  for (let c = 0; c < mesh.cornerCount; c++) {
    if ((c & EVERY) === 0) pulse();
    const k = local.chart[ch.cornerUv[c]];
    const v = local.number[ch.cornerUv[c]];
    uv[2 * c] = flat[k].points[2 * v];
    uv[2 * c + 1] = flat[k].points[2 * v + 1];
  }
  return {
    mesh: mesh.withAttribute(UV, { domain: 'corner', width: 2, data: uv }),
    islands: ch.count,
    density: (free.length ? packed.scale : heldDensity) * o.size,
    tooDense: !packed.fits,
  };
}

interface Flat extends PackIsland {
  faces: Uint32Array;
  points: Float64Array;
  uvVertices: Uint32Array;
  /** As the solver would lay it without the hand's places, in metres. */
  solved: Float64Array;
  /** Placed by hand: points are final. */
  held: boolean;
  scaleOfHeld: number;
  /** Lies flat only with very uneven density: a sleeve that wants to be slit. */
  needsLink: boolean;
}

function localNumbers(mesh: Mesh, ch: Charts, flat: Flat[]): { number: Int32Array; chart: Int32Array } {
  const number = new Int32Array(ch.uvCount);
  const chart = new Int32Array(ch.uvCount);
  flat.forEach((f, k) =>
    f.uvVertices.forEach((u, i) => {
      number[u] = i;
      chart[u] = k;
    }),
  );
  return { number, chart };
}

function unfoldAll(mesh: Mesh, ch: Charts, pins: UnwrapOptions['pins'], progress?: (share: number) => void): Flat[] {
  const t = triangulate(mesh);
  const triStart = new Uint32Array(mesh.faceCount + 1);
  for (const f of t.face) triStart[f + 1]++;
  for (let f = 0; f < mesh.faceCount; f++) triStart[f + 1] += triStart[f];
  const byChart = facesByChart(ch);
  const shapes = chartShapes(mesh, ch);
  const number = new Int32Array(ch.uvCount).fill(-1);
  const out: Flat[] = [];
  for (let k = 0; k < ch.count; k++) {
    if ((k & EVERY) === 0) pulse();
    const faces = byChart.face.slice(byChart.start[k], byChart.start[k + 1]);
    let triangles = 0;
    for (const f of faces) triangles += triStart[f + 1] - triStart[f];
    const tri = new Uint32Array(3 * triangles);
    const uvs: number[] = [];
    const vertex: number[] = [];
    const pinAt = new Map<number, readonly [number, number]>();
    let n = 0;
    let corners = 0;
    let pinned = 0;
    for (const f of faces) {
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const u = ch.cornerUv[c];
        if (number[u] < 0) {
          number[u] = uvs.length;
          uvs.push(u);
          vertex.push(mesh.cornerVertex[c]);
        }
        corners++;
        const at = pins?.get(c);
        if (at) {
          pinned++;
          pinAt.set(number[u], at);
        }
      }
      for (let i = triStart[f]; i < triStart[f + 1]; i++)
        for (let q = 0; q < 3; q++) tri[n++] = number[ch.cornerUv[t.corners[3 * i + q]]];
    }
    const p3 = new Float64Array(3 * vertex.length);
    for (let i = 0; i < vertex.length; i++)
      for (let q = 0; q < 3; q++) p3[3 * i + q] = mesh.positions[3 * vertex[i] + q];
    // An island counts as placed by hand while at least half of its corners are.
    const held = pinned > 0 && 2 * pinned >= corners;
    const scaled = (p: Float64Array) => {
      const a = areas(p3, p, tri);
      if (a.uv > 0) {
        const k = sqrt(a.surface / a.uv);
        for (let i = 0; i < p.length; i++) p[i] *= k;
      }
      return p;
    };
    const solved = held ? scaled(conformal({ points: p3, triangles: tri }) ?? projected(p3)) : new Float64Array(0);
    const points =
      (held && pinAt.size === uvs.length
        ? fromPins(pinAt)
        : conformal({ points: p3, triangles: tri, pins: held ? pinAt : undefined })) ?? projected(p3);
    const sums = areas(p3, points, tri);
    if (!held && sums.uv > 0) {
      const s = sqrt(sums.surface / sums.uv);
      for (let i = 0; i < points.length; i++) points[i] *= s;
    }
    out.push({
      faces,
      points,
      solved,
      triangles: tri,
      uvVertices: Uint32Array.from(uvs),
      held,
      scaleOfHeld: held && sums.surface > 0 ? sqrt(sums.uv / sums.surface) : 0,
      needsLink: !held && shapes[k].borders > 1 && sums.spread > 2,
    });
    progress?.((k + 1) / ch.count);
  }
  return out;
}

function fromPins(pins: ReadonlyMap<number, readonly [number, number]>): Float64Array {
  const out = new Float64Array(2 * pins.size);
  for (const [i, [u, v]] of pins) {
    out[2 * i] = u;
    out[2 * i + 1] = v;
  }
  return out;
}

/** Where the solver finds nothing (a chart without area): the plane of the two widest axes, so that nothing is lost. */
function projected(p: Float64Array): Float64Array {
  const size = [0, 1, 2].map((k) => {
    let lo = Infinity;
    let hi = -Infinity;
    for (let i = k; i < p.length; i += 3) {
      lo = min(lo, p[i]);
      hi = max(hi, p[i]);
    }
    return hi - lo;
  });
  const drop = size.indexOf(min(...size));
  const a = (drop + 1) % 3;
  const b = (drop + 2) % 3;
  const out = new Float64Array((p.length / 3) * 2);
  for (let i = 0; i < p.length / 3; i++) {
    if ((i & EVERY) === 0) pulse();
    out[2 * i] = p[3 * i + a];
    out[2 * i + 1] = p[3 * i + b];
  }
  return out;
}

function areas(p: Float64Array, uv: Float64Array, tri: Uint32Array): { surface: number; uv: number; spread: number } {
  let surface = 0;
  let flat = 0;
  let lo = Infinity;
  let hi = 0;
  for (let t = 0; t < tri.length; t += 3) {
    const a = tri[t];
    const b = tri[t + 1];
    const c = tri[t + 2];
    const ux = p[3 * b] - p[3 * a];
    const uy = p[3 * b + 1] - p[3 * a + 1];
    const uz = p[3 * b + 2] - p[3 * a + 2];
    const vx = p[3 * c] - p[3 * a];
    const vy = p[3 * c + 1] - p[3 * a + 1];
    const vz = p[3 * c + 2] - p[3 * a + 2];
    const s = hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
    const f =
      abs(
        (uv[2 * b] - uv[2 * a]) * (uv[2 * c + 1] - uv[2 * a + 1]) -
          (uv[2 * b + 1] - uv[2 * a + 1]) * (uv[2 * c] - uv[2 * a]),
      ) / 2;
    surface += s;
    flat += f;
    if (s > 0) {
      const r = sqrt(f / s);
      lo = min(lo, r);
      hi = max(hi, r);
    }
  }
  return { surface, uv: flat, spread: lo > 0 ? hi / lo : Infinity };
}
