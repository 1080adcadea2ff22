/**
 * Catmull–Clark subdivision (Catmull and Clark 1978) of polygons of any size, with open borders and semi-sharp creases
 * (DeRose, Kass and Truong 1998). Corner attributes (UVs) are interpolated within each face, so seams stay where they
 * are.
 *
 * Connectivity of each level is written down from the one before, never searched: every corner gives one quad, every
 * edge two halves, every corner one inner edge. 3,750 quads to 960,000 with two UV sets: 240 to 440 ms (`bench`). Sums
 * are Float64 beside Float32 results.
 */
import { edgeKey, key2, keyOf } from '../math/hash';
import { EVERY, pulse } from '../math/pulse';
import { UnionFind } from '../math/unionfind';
import { ALWAYS, marksAs, marksOf, type Marks } from '../mesh/marks';
import { blank, gatherAttribute } from '../mesh/gather';
import { Mesh, NORMAL, uvSets, type Attribute } from '../mesh/mesh';
import { edgeKeys } from '../mesh/picks';
import { laterRole, Later, type Places } from '../mesh/places';
import { nextCorner, topologyOf, type Topology } from '../mesh/topology';

export interface SubdivideOptions {
  levels: number;
  /** Sharpness by edge key: how many levels the edge stays sharp; Infinity for always. */
  creases?: ReadonlyMap<number, number>;
  /** Faces are only divided: the shape stays. */
  flat?: boolean;
  /** Corners of borders, where one face has both, stay where they are. */
  holdCorners?: boolean;
  /** Vertices are put where they would come to lie after endless levels (Halstead, Kass and DeRose 1993). */
  limit?: boolean;
  /**
   * UVs: divided within each face (where not said), smoothed but for the borders of islands, or smoothed with them
   * (face-varying data as in DeRose, Kass and Truong 1998).
   */
  uv?: 'divided' | 'inside' | 'all';
  /** 0..1; may throw to stop the work. */
  progress?: (share: number) => void;
}

const EDGE_POINT = keyOf('edge point');
const FACE_POINT = keyOf('face point');
const CHILD = keyOf('child face');

/** One level's connectivity. Quads only, once past the first. */
interface Level {
  vertices: number;
  faceStart: Uint32Array;
  cornerVertex: Uint32Array;
  cornerEdge: Uint32Array;
  edgeVertex: Uint32Array;
}

const cage = (mesh: Mesh, t: Topology): Level => ({
  vertices: mesh.vertexCount,
  faceStart: mesh.faceStart,
  cornerVertex: mesh.cornerVertex,
  cornerEdge: t.cornerEdge,
  edgeVertex: t.edgeVertex,
});

export function subdivide(mesh: Mesh, options: SubdivideOptions): Mesh {
  const { levels, creases, flat, limit, uv = 'divided', progress = () => {} } = options;
  const hold = options.holdCorners ? 'corners' : 'none';
  const n = Math.max(0, Math.min(8, Math.round(levels)));
  if (n === 0 || mesh.faceCount === 0) return mesh;
  const t = topologyOf(mesh);
  let level = cage(mesh, t);
  let sharp: Float32Array | undefined = sharpness(mesh, creases);
  let positions = mesh.positions;
  const attributes: Record<string, Attribute> = { ...mesh.attributes };
  delete attributes[NORMAL]; // the surface is another
  const sheets = uv === 'divided' || flat ? [] : uvSets(mesh).map((name) => sheetOf(mesh, t, name));
  for (let i = 0; i < n; i++) {
    if ((i & EVERY) === 0) pulse();
    // Each level is four times the one before.
    const share = 4 ** (i - n);
    progress(share);
    positions = flat ? divided(level, positions) : smooth(level, positions, sharp, hold);
    for (const sheet of sheets) {
      sheet.positions = smooth(sheet.level, sheet.positions, undefined, uv === 'inside' ? 'borders' : 'none');
      sheet.level = refine(sheet.level);
    }
    for (const name of Object.keys(attributes)) {
      if (sheets.some((s) => s.name === name)) continue;
      attributes[name] = refineAttribute(level, attributes[name]);
      progress(share * 2);
    }
    sharp = sharp && refineSharpness(level, sharp);
    level = refine(level);
  }
  for (const sheet of sheets) attributes[sheet.name] = uvOf(sheet);
  if (limit && !flat) positions = toLimit(level, positions, sharp, hold === 'corners');
  let keys: { vertex: Float64Array; face: Float64Array; lineage: Map<number, number[]> } | undefined;
  const ask = () => (keys ??= refineKeys(mesh, n));
  return new Mesh({
    positions,
    faceStart: level.faceStart,
    cornerVertex: level.cornerVertex,
    vertexKey: () => ask().vertex,
    faceKey: () => ask().face,
    attributes,
    slots: mesh.slots,
    groups: mesh.groups,
    textures: mesh.textures,
    marks: mesh.marks && new Later(() => refineMarks(mesh, n, ask().lineage)),
    places: new Later(() => refinePlaces(mesh, n)),
    lineage: [...mesh.lineage, () => ask().lineage],
  });
}

function sharpness(mesh: Mesh, creases?: ReadonlyMap<number, number>): Float32Array | undefined {
  const said = marksOf(mesh, 'crease');
  if (!said && (!creases || creases.size === 0)) return undefined;
  const keys = edgeKeys(mesh);
  const out = new Float32Array(keys.length);
  for (let e = 0; e < keys.length; e++) {
    const own = said ? said[e] : 0;
    out[e] = Math.max(creases?.get(keys[e]) ?? 0, own >= ALWAYS ? Infinity : own);
  }
  return out;
}

/** What is said of an edge is said of its parts; a crease is so many levels less sharp. */
function refineMarks(mesh: Mesh, levels: number, lineage: ReadonlyMap<number, readonly number[]>): Marks {
  const keys = edgeKeys(mesh);
  return marksAs(
    mesh,
    (_a, _b, e) => lineage.get(keys[e]) ?? [],
    (name, w) => (name === 'crease' && w < ALWAYS ? Math.max(0, w - levels) : w),
  );
}

function refine(level: Level): Level {
  const { vertices, faceStart, cornerVertex, cornerEdge, edgeVertex } = level;
  const faces = faceStart.length - 1;
  const corners = cornerVertex.length;
  const edges = edgeVertex.length / 2;
  const cv = new Uint32Array(4 * corners);
  const ce = new Uint32Array(4 * corners);
  const ev = new Uint32Array(2 * (2 * edges + corners));
  const start = new Uint32Array(corners + 1);
  for (let c = 0; c <= corners; c++) start[c] = 4 * c;
  for (let e = 0; e < edges; e++) {
    if ((e & EVERY) === 0) pulse();
    // Edge points come after the old vertices, so the lower index is always the old one.
    ev[4 * e] = edgeVertex[2 * e];
    ev[4 * e + 1] = vertices + e;
    ev[4 * e + 2] = edgeVertex[2 * e + 1];
    ev[4 * e + 3] = vertices + e;
  }
  const facePoint = vertices + edges;
  const inner = 2 * edges;
  for (let f = 0; f < faces; f++) {
    if ((f & EVERY) === 0) pulse();
    const s = faceStart[f];
    const end = faceStart[f + 1];
    let before = end - 1;
    for (let c = s; c < end; c++) {
      const v = cornerVertex[c];
      const e = cornerEdge[c];
      const g = cornerEdge[before];
      const q = 4 * c;
      cv[q] = v;
      cv[q + 1] = vertices + e;
      cv[q + 2] = facePoint + f;
      cv[q + 3] = vertices + g;
      ce[q] = 2 * e + (edgeVertex[2 * e] === v ? 0 : 1);
      ce[q + 1] = inner + c;
      ce[q + 2] = inner + before;
      ce[q + 3] = 2 * g + (edgeVertex[2 * g] === v ? 0 : 1);
      ev[2 * (inner + c)] = vertices + e;
      ev[2 * (inner + c) + 1] = facePoint + f;
      before = c;
    }
  }
  return { vertices: vertices + edges + faces, faceStart: start, cornerVertex: cv, cornerEdge: ce, edgeVertex: ev };
}

function refineSharpness(level: Level, sharp: Float32Array): Float32Array | undefined {
  const out = new Float32Array(2 * sharp.length + level.cornerVertex.length);
  let any = false;
  for (let e = 0; e < sharp.length; e++) {
    if ((e & EVERY) === 0) pulse();
    const s = Math.max(0, sharp[e] - 1);
    out[2 * e] = out[2 * e + 1] = s;
    if (s > 0) any = true;
  }
  return any ? out : undefined;
}

/** What stays where it is: nothing, corners of borders where one face has both edges, or all vertices of borders. */
type Hold = 'none' | 'corners' | 'borders';

/** A UV set as a surface of its own: its vertices are corners that lie on one another over an edge. */
interface Sheet {
  name: string;
  level: Level;
  /** 3 per vertex, the third 0. */
  positions: Float32Array;
}

function sheetOf(mesh: Mesh, t: Topology, name: string): Sheet {
  const uv = mesh.attributes[name].data;
  const { faceStart, cornerVertex, cornerCount } = mesh;
  const next = (c: number) => nextCorner(mesh, t.cornerFace[c], c);
  const joined = new UnionFind(cornerCount);
  const alike = (c: number, d: number) => uv[2 * c] === uv[2 * d] && uv[2 * c + 1] === uv[2 * d + 1];
  /** The two corners of each end of an edge between two faces. */
  const ends = (e: number): [number, number, number, number] | undefined => {
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) return undefined;
    const [c, d] = [t.edgeCorner[s], t.edgeCorner[s + 1]];
    return cornerVertex[c] === cornerVertex[d] ? [c, d, next(c), next(d)] : [c, next(d), next(c), d];
  };
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    const at = ends(e);
    if (at && alike(at[0], at[1])) joined.join(at[0], at[1]);
    if (at && alike(at[2], at[3])) joined.join(at[2], at[3]);
  }
  const { of, count } = joined.parts();
  const positions = new Float32Array(3 * count);
  for (let c = 0; c < cornerCount; c++) {
    positions[3 * of[c]] = uv[2 * c];
    positions[3 * of[c] + 1] = uv[2 * c + 1];
  }
  const cornerEdge = new Uint32Array(cornerCount);
  const edgeVertex = new Uint32Array(2 * cornerCount);
  let edges = 0;
  const edge = (c: number): number => {
    edgeVertex[2 * edges] = Math.min(of[c], of[next(c)]);
    edgeVertex[2 * edges + 1] = Math.max(of[c], of[next(c)]);
    return edges++;
  };
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    const at = ends(e);
    const whole = at !== undefined && of[at[0]] === of[at[1]] && of[at[2]] === of[at[3]];
    const first = edges;
    for (let i = t.edgeCornerStart[e]; i < t.edgeCornerStart[e + 1]; i++)
      cornerEdge[t.edgeCorner[i]] = whole && i > t.edgeCornerStart[e] ? first : edge(t.edgeCorner[i]);
  }
  const level = {
    vertices: count,
    faceStart,
    cornerVertex: Uint32Array.from(of),
    cornerEdge,
    edgeVertex: edgeVertex.slice(0, 2 * edges),
  };
  return { name, level, positions };
}

function uvOf({ level, positions }: Sheet): Attribute {
  const { cornerVertex } = level;
  const data = new Float32Array(2 * cornerVertex.length);
  for (let c = 0; c < cornerVertex.length; c++) {
    data[2 * c] = positions[3 * cornerVertex[c]];
    data[2 * c + 1] = positions[3 * cornerVertex[c] + 1];
  }
  return { domain: 'corner', width: 2, data };
}

/** New positions: old vertices moved, then edge points, then face points. */
function smooth(level: Level, p: Float32Array, sharp: Float32Array | undefined, hold: Hold): Float32Array {
  const { vertices, faceStart, cornerVertex, cornerEdge, edgeVertex } = level;
  const faces = faceStart.length - 1;
  const edges = edgeVertex.length / 2;
  const out = new Float32Array(3 * (vertices + edges + faces));
  const sumF = new Float64Array(3 * vertices);
  const sumE = new Float64Array(3 * vertices);
  const nf = new Uint16Array(vertices);
  const ne = new Uint16Array(vertices);
  const edgeSum = new Float64Array(3 * edges);
  const edgeFaces = new Uint8Array(edges);

  for (let f = 0; f < faces; f++) {
    if ((f & EVERY) === 0) pulse();
    const s = faceStart[f];
    const end = faceStart[f + 1];
    let x = 0;
    let y = 0;
    let z = 0;
    for (let c = s; c < end; c++) {
      const v = 3 * cornerVertex[c];
      x += p[v];
      y += p[v + 1];
      z += p[v + 2];
    }
    const k = 1 / (end - s);
    x *= k;
    y *= k;
    z *= k;
    const o = 3 * (vertices + edges + f);
    out[o] = x;
    out[o + 1] = y;
    out[o + 2] = z;
    for (let c = s; c < end; c++) {
      const v = cornerVertex[c];
      const e = cornerEdge[c];
      sumF[3 * v] += x;
      sumF[3 * v + 1] += y;
      sumF[3 * v + 2] += z;
      nf[v]++;
      edgeSum[3 * e] += x;
      edgeSum[3 * e + 1] += y;
      edgeSum[3 * e + 2] += z;
      if (edgeFaces[e] < 255) edgeFaces[e]++;
    }
  }

  // Vertices on sharp edges (borders among them) follow the crease rule; these lists stay short.
  const sharpCount = new Uint8Array(vertices);
  const sharpSum = new Map<number, { x: number; y: number; z: number; s: number }>();
  for (let e = 0; e < edges; e++) {
    if ((e & EVERY) === 0) pulse();
    const a = edgeVertex[2 * e];
    const b = edgeVertex[2 * e + 1];
    const mx = (p[3 * a] + p[3 * b]) / 2;
    const my = (p[3 * a + 1] + p[3 * b + 1]) / 2;
    const mz = (p[3 * a + 2] + p[3 * b + 2]) / 2;
    sumE[3 * a] += mx;
    sumE[3 * a + 1] += my;
    sumE[3 * a + 2] += mz;
    ne[a]++;
    sumE[3 * b] += mx;
    sumE[3 * b + 1] += my;
    sumE[3 * b + 2] += mz;
    ne[b]++;
    const crease = sharp ? sharp[e] : 0;
    const s = edgeFaces[e] === 2 ? crease : Infinity;
    const o = 3 * (vertices + e);
    const w = s >= 1 ? 1 : s;
    if (w < 1) {
      const sx = (2 * mx + edgeSum[3 * e]) / 4;
      const sy = (2 * my + edgeSum[3 * e + 1]) / 4;
      const sz = (2 * mz + edgeSum[3 * e + 2]) / 4;
      out[o] = sx + (mx - sx) * w;
      out[o + 1] = sy + (my - sy) * w;
      out[o + 2] = sz + (mz - sz) * w;
    } else {
      out[o] = mx;
      out[o + 1] = my;
      out[o + 2] = mz;
    }
    if (s > 0)
      for (const [v, q] of [
        [a, b],
        [b, a],
      ]) {
        if (sharpCount[v] < 255) sharpCount[v]++;
        const at = sharpSum.get(v) ?? { x: 0, y: 0, z: 0, s: 0 };
        at.x += p[3 * q];
        at.y += p[3 * q + 1];
        at.z += p[3 * q + 2];
        at.s += Math.min(s, 8);
        sharpSum.set(v, at);
      }
  }

  for (let v = 0; v < vertices; v++) {
    if ((v & EVERY) === 0) pulse();
    const o = 3 * v;
    const n = nf[v];
    if (n === 0) {
      out[o] = p[o];
      out[o + 1] = p[o + 1];
      out[o + 2] = p[o + 2];
      continue;
    }
    const m = ne[v];
    let x = (sumF[o] / n + (2 * sumE[o]) / m + (m - 3) * p[o]) / m;
    let y = (sumF[o + 1] / n + (2 * sumE[o + 1]) / m + (m - 3) * p[o + 1]) / m;
    let z = (sumF[o + 2] / n + (2 * sumE[o + 2]) / m + (m - 3) * p[o + 2]) / m;
    const k = sharpCount[v];
    if (k >= 2) {
      const at = sharpSum.get(v)!;
      const w = Math.min(1, at.s / k); // mean sharpness: below 1 the rules blend
      const held = hold === 'borders' || (hold === 'corners' && n === 1);
      const curved = k === 2 && !held;
      const hx = curved ? 0.75 * p[o] + at.x / 8 : p[o];
      const hy = curved ? 0.75 * p[o + 1] + at.y / 8 : p[o + 1];
      const hz = curved ? 0.75 * p[o + 2] + at.z / 8 : p[o + 2];
      x += (hx - x) * w;
      y += (hy - y) * w;
      z += (hz - z) * w;
    }
    out[o] = x;
    out[o + 1] = y;
    out[o + 2] = z;
  }
  return out;
}

/** Old vertices where they are, middles of edges, middles of faces. */
function divided({ vertices, faceStart, cornerVertex, edgeVertex }: Level, p: Float32Array): Float32Array {
  const faces = faceStart.length - 1;
  const edges = edgeVertex.length / 2;
  const out = new Float32Array(3 * (vertices + edges + faces));
  out.set(p);
  for (let e = 0; e < edges; e++)
    for (let k = 0; k < 3; k++)
      out[3 * (vertices + e) + k] = (p[3 * edgeVertex[2 * e] + k] + p[3 * edgeVertex[2 * e + 1] + k]) / 2;
  for (let f = 0; f < faces; f++) {
    if ((f & EVERY) === 0) pulse();
    for (let k = 0; k < 3; k++) {
      let sum = 0;
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) sum += p[3 * cornerVertex[c] + k];
      out[3 * (vertices + edges + f) + k] = sum / (faceStart[f + 1] - faceStart[f]);
    }
  }
  return out;
}

/**
 * All vertices of a level of quads at their limit; along borders and what is still sharp at that of the curve there.
 */
function toLimit(
  { vertices, faceStart, cornerVertex, cornerEdge, edgeVertex }: Level,
  p: Float32Array,
  sharp: Float32Array | undefined,
  holdCorners: boolean,
): Float32Array {
  const sum = new Float64Array(3 * vertices);
  const faces = new Uint32Array(vertices);
  const onEdge = new Uint32Array(edgeVertex.length / 2);
  for (let f = 0; f + 1 < faceStart.length; f++) {
    if ((f & EVERY) === 0) pulse();
    for (let c = 4 * f; c < 4 * f + 4; c++) {
      const v = cornerVertex[c];
      const next = 3 * cornerVertex[4 * f + ((c + 1) & 3)];
      const across = 3 * cornerVertex[4 * f + ((c + 2) & 3)];
      faces[v]++;
      onEdge[cornerEdge[c]]++;
      for (let k = 0; k < 3; k++) sum[3 * v + k] += 4 * p[next + k] + p[across + k];
    }
  }
  const along = new Float64Array(3 * vertices);
  const lines = new Uint8Array(vertices);
  for (let e = 0; e < onEdge.length; e++) {
    if (onEdge[e] === 2 && !(sharp && sharp[e] > 0)) continue;
    const [a, b] = [edgeVertex[2 * e], edgeVertex[2 * e + 1]];
    if (lines[a] < 255) lines[a]++;
    if (lines[b] < 255) lines[b]++;
    for (let k = 0; k < 3; k++) {
      along[3 * a + k] += p[3 * b + k];
      along[3 * b + k] += p[3 * a + k];
    }
  }
  const out = p.slice();
  for (let v = 0; v < vertices; v++) {
    const n = faces[v];
    if (n === 0 || lines[v] === 1) continue;
    for (let k = 0; k < 3; k++) {
      if (lines[v] === 0) out[3 * v + k] = (n * n * p[3 * v + k] + sum[3 * v + k]) / (n * (n + 5));
      else if (lines[v] === 2 && !(holdCorners && n === 1)) out[3 * v + k] = (4 * p[3 * v + k] + along[3 * v + k]) / 6;
    }
  }
  return out;
}

function refineAttribute(level: Level, a: Attribute): Attribute {
  const { faceStart, cornerVertex, edgeVertex, vertices } = level;
  const faces = faceStart.length - 1;
  const corners = cornerVertex.length;
  const edges = edgeVertex.length / 2;
  const w = a.width;
  const from = a.data;
  if (a.domain === 'face') {
    const parent = new Uint32Array(corners);
    for (let f = 0; f < faces; f++) parent.fill(f, faceStart[f], faceStart[f + 1]);
    return gatherAttribute(a, parent);
  }
  if (a.domain === 'vertex') {
    const data = blank(from, (vertices + edges + faces) * w);
    data.set(from);
    for (let e = 0; e < edges; e++)
      for (let k = 0; k < w; k++)
        data[(vertices + e) * w + k] = (from[edgeVertex[2 * e] * w + k] + from[edgeVertex[2 * e + 1] * w + k]) / 2;
    for (let f = 0; f < faces; f++)
      for (let k = 0; k < w; k++) {
        let sum = 0;
        for (let c = faceStart[f]; c < faceStart[f + 1]; c++) sum += from[cornerVertex[c] * w + k];
        data[(vertices + edges + f) * w + k] = sum / (faceStart[f + 1] - faceStart[f]);
      }
    return { ...a, data };
  }
  const data = blank(from, 4 * corners * w);
  for (let f = 0; f < faces; f++) {
    if ((f & EVERY) === 0) pulse();
    const s = faceStart[f];
    const end = faceStart[f + 1];
    for (let k = 0; k < w; k++) {
      let sum = 0;
      for (let c = s; c < end; c++) sum += from[c * w + k];
      const middle = sum / (end - s);
      let before = from[(end - 1) * w + k];
      for (let c = s; c < end; c++) {
        const here = from[c * w + k];
        const after = from[(c + 1 < end ? c + 1 : s) * w + k];
        const q = 4 * c * w + k;
        data[q] = here;
        data[q + w] = (here + after) / 2;
        data[q + 2 * w] = middle;
        data[q + 3 * w] = (before + here) / 2;
        before = here;
      }
    }
  }
  return { ...a, data };
}

/** Where vertices of the last level belong: halfway along edges, in the middle of faces, never smoothed. */
function refinePlaces(mesh: Mesh, levels: number): Places {
  let level = cage(mesh, topologyOf(mesh));
  let { at, role } = mesh.places;
  for (let i = 0; i < levels; i++) {
    const { vertices, faceStart, cornerVertex, edgeVertex } = level;
    const edges = edgeVertex.length / 2;
    const faces = faceStart.length - 1;
    const from = { at, role };
    at = new Float32Array(4 * (vertices + edges + faces));
    role = new Uint32Array(vertices + edges + faces);
    at.set(from.at);
    role.set(from.role);
    for (let e = 0; e < edges; e++) {
      const a = edgeVertex[2 * e];
      const b = edgeVertex[2 * e + 1];
      for (let k = 0; k < 4; k++) at[4 * (vertices + e) + k] = (at[4 * a + k] + at[4 * b + k]) / 2;
      role[vertices + e] = laterRole(at[4 * a + 3], role[a], at[4 * b + 3], role[b]);
    }
    for (let f = 0; f < faces; f++) {
      if ((f & EVERY) === 0) pulse();
      const v = vertices + edges + f;
      const n = faceStart[f + 1] - faceStart[f];
      let best = cornerVertex[faceStart[f]];
      role[v] = role[best];
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
        const w = cornerVertex[c];
        for (let k = 0; k < 4; k++) at[4 * v + k] += at[4 * w + k] / n;
        const later = laterRole(at[4 * best + 3], role[v], at[4 * w + 3], role[w]);
        if (Math.abs(at[4 * w + 3]) > Math.abs(at[4 * best + 3])) best = w;
        role[v] = later;
      }
    }
    level = refine(level);
  }
  return { at, role };
}

/** Keys of the last level, and what became of each edge and face on the way. */
function refineKeys(
  mesh: Mesh,
  levels: number,
): { vertex: Float64Array; face: Float64Array; lineage: Map<number, number[]> } {
  const t = topologyOf(mesh);
  let level = cage(mesh, t);
  let vertex = mesh.vertexKey;
  let face = mesh.faceKey;
  // An edge may lie anew between vertices whose former edge was halved before: its middle is another than the one that
  // is there.
  const taken = new Set(mesh.vertexKey);
  // Follow only the cage's own edges and faces: their parts at the last level are what picks can mean.
  let edgeParts = Array.from({ length: t.edgeCount }, (_, e) => [e]);
  let faceParts = Array.from({ length: mesh.faceCount }, (_, f) => [f]);
  for (let i = 0; i < levels; i++) {
    const { vertices, faceStart, cornerVertex, edgeVertex } = level;
    const edges = edgeVertex.length / 2;
    const faces = faceStart.length - 1;
    const vk = new Float64Array(vertices + edges + faces);
    const fk = new Float64Array(cornerVertex.length);
    vk.set(vertex);
    for (let e = 0; e < edges; e++) {
      let key = key2(EDGE_POINT, edgeKey(vertex[edgeVertex[2 * e]], vertex[edgeVertex[2 * e + 1]]));
      while (taken.has(key)) key = key2(EDGE_POINT, key);
      vk[vertices + e] = key;
    }
    for (let f = 0; f < faces; f++) {
      if ((f & EVERY) === 0) pulse();
      vk[vertices + edges + f] = key2(FACE_POINT, face[f]);
      const seed = key2(CHILD, face[f]);
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) fk[c] = key2(seed, vertex[cornerVertex[c]]);
    }
    edgeParts = edgeParts.map((list) => list.flatMap((e) => [2 * e, 2 * e + 1]));
    faceParts = faceParts.map((list) =>
      list.flatMap((f) => Array.from({ length: faceStart[f + 1] - faceStart[f] }, (_, k) => faceStart[f] + k)),
    );
    level = refine(level);
    vertex = vk;
    face = fk;
  }
  const lineage = new Map<number, number[]>();
  const cageEdges = edgeKeys(mesh);
  edgeParts.forEach((list, e) =>
    lineage.set(
      cageEdges[e],
      list.map((x) => edgeKey(vertex[level.edgeVertex[2 * x]], vertex[level.edgeVertex[2 * x + 1]])),
    ),
  );
  faceParts.forEach((list, f) =>
    lineage.set(
      mesh.faceKey[f],
      list.map((x) => face[x]),
    ),
  );
  return { vertex, face, lineage };
}
