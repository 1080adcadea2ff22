/** Figures of a UV layout: islands, stretch, texel density, coverage, overlap, share outside the unit square. */
import { UnionFind } from '../math/unionfind';
import { EVERY, pulse } from '../math/pulse';
import type { Mesh } from '../mesh/mesh';
import { nextCorner, topologyOf } from '../mesh/topology';
import { triangulate, type Triangles } from '../mesh/triangulate';
import { bitsIn } from './pack/cells/bits';
import { fillTriangle } from './raster';

const { abs, floor, hypot, log2, max, min, sqrt } = Math;

export interface UvFigures {
  islands: number;
  /** Shares of the unit square. */
  coverage: number;
  overlap: number;
  outside: number;
  /**
   * Larger over smaller singular value of the map from surface to sheet; 1 keeps angles. Mean weighted by surface area.
   */
  stretchMean: number;
  stretchMax: number;
  /** Triangles with area that lie on their face: against the most of their island. */
  flips: number;
  /** UV units per metre, of faces. */
  texelDensityMin: number;
  texelDensityMax: number;
  /**
   * The same for all of the surface but the outermost half percent of its area: a speck that scans have many of says
   * nothing of the sheet.
   */
  mostly: { stretch: number; densityMin: number; densityMax: number };
}

/** The numbers that files of figures have: a name each, and no more names than were promised. */
export type PlainFigures = Omit<UvFigures, 'mostly'>;
export const plainFigures = ({ mostly: _, ...figures }: UvFigures): PlainFigures => figures;

/** The outermost share of the area, which says little. */
const TAIL = 0.005;
/** Bins for every doubling, and the doublings that are told apart. */
const FINE = 256;
const DOUBLINGS = 64;

/** Values by their share of an area: what all but some of it keeps within, to a bin, is the value that was seen there. */
class Spread {
  private readonly weight = new Float64Array(FINE * DOUBLINGS);
  private readonly least = new Float64Array(FINE * DOUBLINGS).fill(Infinity);
  private readonly most = new Float64Array(FINE * DOUBLINGS);
  private total = 0;

  add(value: number, weight: number): void {
    if (!(value >= 0) || !Number.isFinite(value)) return;
    const bin = max(0, min(FINE * DOUBLINGS - 1, floor(FINE * (log2(value) + DOUBLINGS / 2))));
    this.weight[bin] += weight;
    this.total += weight;
    if (value < this.least[bin]) this.least[bin] = value;
    if (value > this.most[bin]) this.most[bin] = value;
  }

  /** The largest but for that share of the area; 0 where there is nothing. */
  upper(share: number): number {
    let left = share * this.total;
    for (let i = this.weight.length - 1; i >= 0; i--) {
      left -= this.weight[i];
      if (left < 0) return this.most[i];
    }
    return 0;
  }

  lower(share: number): number {
    let left = share * this.total;
    for (let i = 0; i < this.weight.length; i++) {
      left -= this.weight[i];
      if (left < 0) return this.least[i];
    }
    return 0;
  }
}

export const MEASURE_RESOLUTION = 2048;

/**
 * Figures of one UV set (2 per corner). `resolution` sets the raster for coverage and overlap; `sheets`, how many there
 * are side by side.
 */
export function uvFigures(
  mesh: Mesh,
  uv: Float32Array | Int32Array,
  resolution = MEASURE_RESOLUTION,
  sheets = 1,
): UvFigures {
  const t = triangulate(mesh);
  const each = triangleFigures(mesh, uv, t);
  let area = 0;
  let sum = 0;
  let max = 1;
  let lo = Infinity;
  let hi = 0;
  const stretches = new Spread();
  const densities = new Spread();
  const faceArea = new Float64Array(mesh.faceCount);
  const faceUv = new Float64Array(mesh.faceCount);
  for (let i = 0; i < t.face.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const a = each.area[i];
    faceArea[t.face[i]] += a;
    faceUv[t.face[i]] += each.uvArea[i];
    if (!(a > 1e-14) || !Number.isFinite(each.stretch[i])) continue;
    area += a;
    sum += a * each.stretch[i];
    if (each.stretch[i] > max) max = each.stretch[i];
    stretches.add(each.stretch[i], a);
  }
  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    if (!(faceArea[f] > 1e-14)) continue;
    const d = sqrt(abs(faceUv[f]) / faceArea[f]);
    if (d < lo) lo = d;
    if (d > hi) hi = d;
    densities.add(d, faceArea[f]);
  }
  const cover = coverageOf(uv, t, resolution, sheets);
  const islands = islandsOf(mesh, uv);
  return {
    islands: islands.count,
    ...cover,
    stretchMean: area > 0 ? sum / area : 1,
    stretchMax: max,
    flips: flipsOf(islands.ofFace, t, each),
    texelDensityMin: Number.isFinite(lo) ? lo : 0,
    texelDensityMax: hi,
    mostly: {
      stretch: stretches.upper(TAIL) || 1,
      densityMin: densities.lower(TAIL / 2),
      densityMax: densities.upper(TAIL / 2),
    },
  };
}

/** An island may be mirrored as a whole; what lies the other way round than most of it is flipped. */
function flipsOf(
  ofFace: Uint32Array,
  t: Triangles,
  { area, uvArea }: { area: Float64Array; uvArea: Float64Array },
): number {
  const sides = new Map<number, [number, number]>();
  for (let i = 0; i < t.face.length; i++) {
    if (!(area[i] > 1e-14) || uvArea[i] === 0) continue;
    const k = ofFace[t.face[i]];
    let count = sides.get(k);
    if (!count) sides.set(k, (count = [0, 0]));
    count[uvArea[i] > 0 ? 0 : 1]++;
  }
  let flips = 0;
  for (const [up, down] of sides.values()) flips += min(up, down);
  return flips;
}

/** Stretched by no more than this above a bound, it keeps within it. */
const BARELY = 1e-4;

/** Share of the surface's area that a layout stretches beyond a bound. */
export function shareBeyond(mesh: Mesh, uv: Float32Array | Int32Array, bound: number): number {
  const { area, stretch } = triangleFigures(mesh, uv, triangulate(mesh));
  let [all, off] = [0, 0];
  for (let i = 0; i < area.length; i++) {
    all += area[i];
    if (stretch[i] > bound * (1 + BARELY)) off += area[i];
  }
  return all > 0 ? off / all : 0;
}

/**
 * Surface area (m²), signed UV area and stretch of each triangle. Stretch is Infinity where the sheet has no area but
 * the surface has.
 */
export function triangleFigures(
  mesh: Mesh,
  uv: Float32Array | Int32Array,
  t: Triangles,
): { area: Float64Array; uvArea: Float64Array; stretch: Float64Array } {
  const n = t.face.length;
  const p = mesh.positions;
  const area = new Float64Array(n);
  const uvArea = new Float64Array(n);
  const stretch = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    if ((i & EVERY) === 0) pulse();
    const ca = t.corners[3 * i];
    const cb = t.corners[3 * i + 1];
    const cc = t.corners[3 * i + 2];
    const a = 3 * mesh.cornerVertex[ca];
    const b = 3 * mesh.cornerVertex[cb];
    const c = 3 * mesh.cornerVertex[cc];
    const ex = p[b] - p[a];
    const ey = p[b + 1] - p[a + 1];
    const ez = p[b + 2] - p[a + 2];
    const fx = p[c] - p[a];
    const fy = p[c + 1] - p[a + 1];
    const fz = p[c + 2] - p[a + 2];
    const cross = hypot(ey * fz - ez * fy, ez * fx - ex * fz, ex * fy - ey * fx);
    area[i] = cross / 2;
    const l = hypot(ex, ey, ez);
    const u1 = uv[2 * cb] - uv[2 * ca];
    const v1 = uv[2 * cb + 1] - uv[2 * ca + 1];
    const u2 = uv[2 * cc] - uv[2 * ca];
    const v2 = uv[2 * cc + 1] - uv[2 * ca + 1];
    uvArea[i] = (u1 * v2 - v1 * u2) / 2;
    if (!(cross > 0) || !(l > 0)) {
      stretch[i] = 1;
      continue;
    }
    // The triangle's own frame: e along x, f = (g, h). The map's columns in that frame, then its singular values.
    const g = (ex * fx + ey * fy + ez * fz) / l;
    const h = cross / l;
    const m00 = u1 / l;
    const m10 = v1 / l;
    const m01 = (u2 - m00 * g) / h;
    const m11 = (v2 - m10 * g) / h;
    const q = (m00 * m00 + m10 * m10 + m01 * m01 + m11 * m11) / 2;
    const det = abs(m00 * m11 - m01 * m10);
    const r = sqrt(max(0, q * q - det * det));
    const small = q - r > 1e-12 * q ? sqrt(q - r) : det / sqrt(q + r || 1);
    stretch[i] = small > 0 ? sqrt(q + r) / small : Infinity;
  }
  return { area, uvArea, stretch };
}

/** Islands of a layout: faces joined where both corners of their shared edge agree on the sheet. */
export function islandsOf(mesh: Mesh, uv: Float32Array | Int32Array): { ofFace: Uint32Array; count: number } {
  const t = topologyOf(mesh);
  const joined = new UnionFind(mesh.faceCount);
  const same = (a: number, b: number) => abs(uv[2 * a] - uv[2 * b]) < 1e-6 && abs(uv[2 * a + 1] - uv[2 * b + 1]) < 1e-6;
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    const s = t.edgeCornerStart[e];
    const end = t.edgeCornerStart[e + 1];
    for (let i = s + 1; i < end; i++)
      for (let j = s; j < i; j++) {
        const a = t.edgeCorner[j];
        const b = t.edgeCorner[i];
        const fa = t.cornerFace[a];
        const fb = t.cornerFace[b];
        const an = nextCorner(mesh, fa, a);
        const bn = nextCorner(mesh, fb, b);
        const turned = mesh.cornerVertex[a] !== mesh.cornerVertex[b];
        if (turned ? same(a, bn) && same(an, b) : same(a, b) && same(an, bn)) joined.join(fa, fb);
      }
  }
  const { of, count } = joined.parts();
  return { ofFace: of, count };
}

/** Of its length a triangle is no wider than this, in places of single precision. */
const THIN = 2e-7;

/**
 * Coverage and overlap by raster, the share outside by exact clipping. `sheets`: unit squares side by side, of which a
 * triangle belongs to the one that its middle is in.
 *
 * By 32 cells at a time, a bit for what is taken and one for what is taken twice: 2,000 faces take 6 ms for 31 cell by
 * cell, 23,000 take 18 for 42.
 */
export function coverageOf(
  uv: Float32Array | Int32Array,
  t: Triangles,
  resolution: number,
  sheets = 1,
): { coverage: number; overlap: number; outside: number } {
  const words = (resolution + 31) >> 5;
  const once = new Int32Array(words * resolution * sheets);
  const twice = new Int32Array(once.length);
  let total = 0;
  let inside = 0;
  let base = 0;
  const put = (w: number, cells: number): void => {
    twice[w] |= once[w] & cells;
    once[w] |= cells;
  };
  const span = (y: number, x0: number, x1: number) => {
    if (x1 < x0) return;
    const first = base + y * words + (x0 >> 5);
    const last = base + y * words + (x1 >> 5);
    const left = -1 << (x0 & 31);
    const right = -1 >>> (31 - (x1 & 31));
    if (first === last) put(first, left & right);
    else {
      put(first, left);
      for (let w = first + 1; w < last; w++) put(w, -1);
      put(last, right);
    }
  };
  for (let i = 0; i < t.corners.length; i += 3) {
    const [a, b, c] = [2 * t.corners[i], 2 * t.corners[i + 1], 2 * t.corners[i + 2]];
    const sheet = sheets > 1 ? min(sheets - 1, max(0, Math.floor((uv[a] + uv[b] + uv[c]) / 3))) : 0;
    const [ax, ay, bx, by] = [uv[a] - sheet, uv[a + 1], uv[b] - sheet, uv[b + 1]];
    const [cx, cy] = [uv[c] - sheet, uv[c + 1]];
    const area = abs((bx - ax) * (cy - ay) - (by - ay) * (cx - ax)) / 2;
    if (!Number.isFinite(area)) continue;
    total += area;
    const within = min(ax, ay, bx, by, cx, cy) >= 0 && max(ax, ay, bx, by, cx, cy) <= 1;
    inside += within ? area : clippedArea([ax, ay, bx, by, cx, cy]);
    // Thinner than places are exact: on steps of a pixel such a line would seem to cover some.
    const long =
      max(abs(bx - ax), abs(cx - bx), abs(ax - cx)) ** 2 + max(abs(by - ay), abs(cy - by), abs(ay - cy)) ** 2;
    if (area < THIN * long) continue;
    base = sheet * resolution * words;
    const r = resolution;
    fillTriangle(ax * r, ay * r, bx * r, by * r, cx * r, cy * r, r, r, span);
  }
  const n = sheets * resolution ** 2;
  return { coverage: bitsIn(once) / n, overlap: bitsIn(twice) / n, outside: max(0, total - inside) };
}

/** Area of a polygon (x, y, x, y …) within the unit square (Sutherland and Hodgman 1974). */
function clippedArea(polygon: number[]): number {
  let now = polygon;
  for (let side = 0; side < 4 && now.length; side++) {
    const k = side & 1;
    const high = side > 1;
    const out: number[] = [];
    const d = (i: number) => (high ? 1 - now[2 * i + k] : now[2 * i + k]);
    for (let i = 0, n = now.length / 2; i < n; i++) {
      const j = (i + 1) % n;
      const a = d(i);
      const b = d(j);
      if (a >= 0) out.push(now[2 * i], now[2 * i + 1]);
      if (a * b < 0) {
        const s = a / (a - b);
        out.push(now[2 * i] + (now[2 * j] - now[2 * i]) * s, now[2 * i + 1] + (now[2 * j + 1] - now[2 * i + 1]) * s);
      }
    }
    now = out;
  }
  let sum = 0;
  for (let i = 0, n = now.length / 2; i < n; i++) {
    if ((i & EVERY) === 0) pulse();
    const j = (i + 1) % n;
    sum += now[2 * i] * now[2 * j + 1] - now[2 * j] * now[2 * i + 1];
  }
  return abs(sum) / 2;
}
