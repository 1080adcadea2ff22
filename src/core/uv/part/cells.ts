/**
 * A surface as a few thousand cells in place of all its faces: what they look like, how they border on each other, and
 * the curvature in them, between two and where more meet.
 */
import type { FaceFacts } from './part';
import type { Parting } from '../flatten/patch';

const { acos, ceil, max, min, sqrt } = Math;

export interface Cells {
  count: number;
  /** Cell of each face. */
  of: Int32Array;
  /** As of faces: normal, area, centre. */
  facts: FaceFacts;
  /** Gaussian curvature within each, radians. */
  bent: Float64Array;
  /** That along each border, as in `to`: it counts where both cells are of one patch. */
  ridge: Float64Array;
  /** Places where three cells or more meet: their curvature, their cells, and those of each cell. */
  joints: { bent: Float64Array; start: Int32Array; cells: Int32Array; ofStart: Int32Array; of: Int32Array };
  /** Borders between cells, both ways: of cell i those from start[i] on. */
  start: Int32Array;
  to: Int32Array;
  /** Length of the border over the distance of the middles: how well scales go over. */
  lead: Float64Array;
  long: Float64Array;
  /** Mean bend over the border, radians. */
  bend: Float64Array;
  /** Share of the border that runs along bends with more than a scrap on both their sides. */
  firm: Float64Array;
  /** To where the surface ends or is cut. */
  rim: Float64Array;
}

/** Not more cells than this for a mesh, whatever its faces. */
const MOST_CELLS = 6000;
const LEAST_FACES = 4;
/**
 * Of a surface of so many, from the one to the other, each is a cell: tubes of few faces are found so, and islands are
 * fewer by one in a hundred. Of a box of fewer the sides come to a better cross as they are.
 */
const FEW = [64, 2500];
/** A cell does not go on over faces that look farther from its first than this (cosine). */
const ALIKE = 0.6;

/** `soft`: edges that no cell goes on over; `firmed`: those of them that are bends of more than scraps. */
export function cellsOf(parting: Parting, facts: FaceFacts, soft: Uint8Array, firmed: Uint8Array): Cells {
  const { mesh, t } = parting;
  const { faceCount, faceStart } = mesh;
  const most = max(faceCount >= FEW[0] && faceCount < FEW[1] ? 1 : LEAST_FACES, ceil(faceCount / MOST_CELLS));
  const of = new Int32Array(faceCount).fill(-1);
  const queue = new Int32Array(faceCount);
  let count = 0;
  // Seeds are taken from the rim of what is done, so that cells lie in rows and few slivers are left.
  const seeds = new Int32Array(2 * faceCount + 1);
  const { normal } = facts;
  for (let from = 0; from < faceCount; from++) {
    if (of[from] >= 0) continue;
    let head = 0;
    let tail = 0;
    seeds[tail++] = from;
    while (head < tail) {
      const seed = seeds[head++];
      if (of[seed] >= 0) continue;
      let read = 0;
      let write = 0;
      queue[write++] = seed;
      of[seed] = count;
      while (read < write) {
        const f = queue[read++];
        for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
          const o = parting.across(c);
          if (o < 0) continue;
          const g = t.cornerFace[o];
          if (of[g] >= 0) continue;
          if (soft[t.cornerEdge[c]]) {
            if (tail < seeds.length) seeds[tail++] = g;
            continue;
          }
          const like =
            normal[3 * seed] * normal[3 * g] +
            normal[3 * seed + 1] * normal[3 * g + 1] +
            normal[3 * seed + 2] * normal[3 * g + 2];
          if (write < most && like > ALIKE) {
            of[g] = count;
            queue[write++] = g;
          } else if (tail < seeds.length) seeds[tail++] = g;
        }
      }
      count++;
    }
  }
  return measured(parting, facts, firmed, of, count);
}

/** The faces of some cells, in order. */
export function facesOfCells({ of, count }: Cells): (list: readonly number[]) => Uint32Array {
  const start = new Int32Array(count + 1);
  for (const c of of) start[c + 1]++;
  for (let c = 0; c < count; c++) start[c + 1] += start[c];
  const next = start.slice(0, count);
  const faces = new Uint32Array(of.length);
  of.forEach((c, f) => {
    faces[next[c]++] = f;
  });
  return (list) => {
    const out = new Uint32Array(list.reduce((sum, c) => sum + start[c + 1] - start[c], 0));
    let at = 0;
    for (const c of list) {
      out.set(faces.subarray(start[c], start[c + 1]), at);
      at += start[c + 1] - start[c];
    }
    return out.sort();
  };
}

function measured(parting: Parting, facts: FaceFacts, firmed: Uint8Array, of: Int32Array, count: number): Cells {
  const { mesh, t } = parting;
  const { positions: p, faceStart, cornerVertex, faceCount } = mesh;
  const area = new Float64Array(count);
  const normal = new Float64Array(3 * count);
  const centre = new Float64Array(3 * count);
  const faces = new Int32Array(count);
  for (let f = 0; f < faceCount; f++) {
    const i = of[f];
    const a = facts.area[f];
    area[i] += a;
    faces[i]++;
    for (let k = 0; k < 3; k++) {
      normal[3 * i + k] += (a + 1e-30) * facts.normal[3 * f + k];
      centre[3 * i + k] += (a + 1e-30) * facts.centre[3 * f + k];
    }
  }
  for (let i = 0; i < count; i++) {
    const l = sqrt(normal[3 * i] ** 2 + normal[3 * i + 1] ** 2 + normal[3 * i + 2] ** 2) || 1;
    for (let k = 0; k < 3; k++) {
      normal[3 * i + k] /= l;
      centre[3 * i + k] /= area[i] + 1e-30 * faces[i];
    }
  }
  const { inner: bent, ridge: between, joints } = curvatureOf(parting, of, count);
  const rim = new Float64Array(count);
  const holes = smallHoles(parting);
  holes.at.forEach((c, i) => {
    bent[of[t.cornerFace[c]]] += holes.bent[i];
  });
  const pairs = new Map<number, [number, number, number]>();
  const away = (i: number, x: number, y: number, z: number): number =>
    sqrt((centre[3 * i] - x) ** 2 + (centre[3 * i + 1] - y) ** 2 + (centre[3 * i + 2] - z) ** 2);
  for (let f = 0; f < faceCount; f++)
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const o = parting.across(c);
      if (o >= 0 && (o < c || of[t.cornerFace[o]] === of[f])) continue;
      const a = 3 * cornerVertex[c];
      const b = 3 * cornerVertex[parting.next(c)];
      const long = sqrt((p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2);
      if (o < 0 && holes.small[c]) continue;
      if (o < 0) {
        const off = away(of[f], (p[a] + p[b]) / 2, (p[a + 1] + p[b + 1]) / 2, (p[a + 2] + p[b + 2]) / 2);
        rim[of[f]] += long / (off || long || 1);
        continue;
      }
      const g = t.cornerFace[o];
      // Of the cells, not of the two faces: what is rough is not bent.
      const n = normal;
      const [i, j] = [of[f], of[g]];
      const dot = n[3 * i] * n[3 * j] + n[3 * i + 1] * n[3 * j + 1] + n[3 * i + 2] * n[3 * j + 2];
      const name = min(of[f], of[g]) * count + max(of[f], of[g]);
      const had = pairs.get(name);
      const bend = acos(max(-1, min(1, dot))) * long;
      if (had) {
        had[0] += long;
        had[1] += bend;
        had[2] += firmed[t.cornerEdge[c]] ? long : 0;
      } else pairs.set(name, [long, bend, firmed[t.cornerEdge[c]] ? long : 0]);
    }
  const start = new Int32Array(count + 1);
  for (const name of pairs.keys()) {
    start[Math.floor(name / count) + 1]++;
    start[(name % count) + 1]++;
  }
  for (let i = 0; i < count; i++) start[i + 1] += start[i];
  const fill = start.slice(0, count);
  const to = new Int32Array(start[count]);
  const lead = new Float64Array(start[count]);
  const longs = new Float64Array(start[count]);
  const bends = new Float64Array(start[count]);
  const ridge = new Float64Array(start[count]);
  const firm = new Float64Array(start[count]);
  for (const [name, [long, bend, shut]] of pairs) {
    const i = Math.floor(name / count);
    const j = name % count;
    const apart = away(i, centre[3 * j], centre[3 * j + 1], centre[3 * j + 2]);
    for (const [a, b] of [
      [i, j],
      [j, i],
    ]) {
      const at = fill[a]++;
      to[at] = b;
      lead[at] = long / (apart || long || 1);
      longs[at] = long;
      bends[at] = long > 0 ? bend / long : 0;
      firm[at] = long > 0 ? shut / long : 0;
      ridge[at] = (between.get(name) ?? 0) / 2;
    }
  }
  return {
    count,
    of,
    facts: { normal, area, centre },
    bent,
    ridge,
    joints,
    start,
    to,
    lead,
    long: longs,
    bend: bends,
    firm,
    rim,
  };
}

/** A hole of no more sides than this is as good as filled. */
const HOLE_SIDES = 16;

/**
 * Sides of small holes, by corner; for each hole a corner at it, and what curvature it would have if it were filled.
 */
function smallHoles(parting: Parting): { small: Uint8Array; at: number[]; bent: number[] } {
  const { mesh } = parting;
  const small = new Uint8Array(mesh.cornerCount);
  const done = new Uint8Array(mesh.cornerCount);
  const at: number[] = [];
  const bent: number[] = [];
  for (let first = 0; first < mesh.cornerCount; first++) {
    if (done[first] || parting.across(first) >= 0) continue;
    const ring: number[] = [];
    let turns = 2 * Math.PI;
    for (let c = first; !done[c];) {
      done[c] = 1;
      ring.push(c);
      // Round the end of the side until the next one that has nothing across.
      let n = parting.next(c);
      let inside = parting.angleAt(n);
      for (let o = parting.across(n), k = 0; o >= 0 && k < 1000; o = parting.across(n), k++) {
        n = parting.next(o);
        inside += parting.angleAt(n);
      }
      turns += Math.PI - inside;
      c = n;
    }
    // A face by itself, or few that hang together by nothing, are no hole.
    if (ring.length > HOLE_SIDES || turns > 3.5) continue;
    for (const c of ring) small[c] = 1;
    at.push(first);
    bent.push(turns);
  }
  return { small, at, bent };
}

interface Curvature {
  inner: Float64Array;
  /** By pair of cells, as `i * count + j` with i < j. */
  ridge: Map<number, number>;
  joints: Cells['joints'];
}

/** What is lacking of a full turn round each inner vertex: within a cell, between two, or where more meet. */
function curvatureOf(parting: Parting, of: Int32Array, count: number): Curvature {
  const { mesh, t } = parting;
  const { vertexCount } = mesh;
  const inner = new Float64Array(count);
  const ridge = new Map<number, number>();
  const bent: number[] = [];
  const members: number[] = [];
  const begins = [0];
  const own: number[] = [];
  for (let v = 0; v < vertexCount; v++) {
    const s = t.vertexCornerStart[v];
    const e = t.vertexCornerStart[v + 1];
    let sum = 0;
    let whole = e > s;
    own.length = 0;
    for (let i = s; i < e && whole; i++) {
      const c = t.vertexCorner[i];
      if (parting.across(c) < 0 || parting.across(parting.before(c)) < 0) whole = false;
      sum += parting.angleAt(c);
      const cell = of[t.cornerFace[c]];
      if (!own.includes(cell)) own.push(cell);
    }
    if (!whole || !(sum > 0)) continue;
    const lacks = 2 * Math.PI - sum;
    if (own.length === 1) inner[own[0]] += lacks;
    else if (own.length === 2) {
      const name = min(own[0], own[1]) * count + max(own[0], own[1]);
      ridge.set(name, (ridge.get(name) ?? 0) + lacks);
    } else {
      bent.push(lacks);
      for (const c of own) members.push(c);
      begins.push(members.length);
    }
  }
  const ofStart = new Int32Array(count + 1);
  for (const c of members) ofStart[c + 1]++;
  for (let i = 0; i < count; i++) ofStart[i + 1] += ofStart[i];
  const fill = ofStart.slice(0, count);
  const list = new Int32Array(members.length);
  for (let q = 0; q < bent.length; q++) for (let k = begins[q]; k < begins[q + 1]; k++) list[fill[members[k]]++] = q;
  return {
    inner,
    ridge,
    joints: {
      bent: Float64Array.from(bent),
      start: Int32Array.from(begins),
      cells: Int32Array.from(members),
      ofStart,
      of: list,
    },
  };
}
