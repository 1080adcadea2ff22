/**
 * Free cut: a line drawn over a surface becomes edges. Its points lie on vertices, on edges and inside faces; between
 * two that share no face it goes on straight over the faces between, in the plane of the line and of the way the
 * surface looks. New vertices first, all at once; then every face that was crossed is parted, way by way. A way that
 * ends inside a face goes on to nothing: it is left out, and told.
 */
import { edgeKey, key2, key3, keyOf } from '../math/hash';
import { cross, dot, minus, unit, type Vector } from '../math/vector';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { faceNormals } from '../mesh/normals';
import { edgeKeys } from '../mesh/picks';
import { findPlaces, type FoundPlace, type SurfacePlace } from '../mesh/surfaceplace';
import { nextCorner, topologyOf } from '../mesh/topology';

const CUT = keyOf('free cut');
/** Nearer to an end of an edge than this share of it, a crossing is that end. */
const AT_END = 1e-4;
const MOST_STEPS = 20_000;

/** A point of the way: a vertex of the old mesh, a new one on an edge, or one inside a face. */
interface Node {
  on: 'vertex' | 'edge' | 'face';
  index: number;
  t: number;
  at: Vector;
}

export function freeCut(
  mesh: Mesh,
  places: readonly SurfacePlace[],
  closed: boolean,
  id: number,
  tell?: (text: string) => void,
): Mesh {
  const all = findPlaces(mesh, places);
  const found = all.filter((x): x is FoundPlace => x !== undefined && x.on !== 'free');
  if (found.length < all.length)
    tell?.(`${all.length - found.length} of ${all.length} points lost what they lay on; the cut goes on without them.`);
  if (found.length < 2) throw new Error('A cut needs two points on the surface at least.');
  const points = found
    .map((x): Node => onOutline(mesh, { ...x, on: x.on as Node['on'], at: x.at }))
    .filter(
      (x, i, list) =>
        i === 0 ||
        x.on !== list[i - 1].on ||
        x.index !== list[i - 1].index ||
        x.t !== list[i - 1].t ||
        (x.on === 'face' && x.at.some((q, k) => q !== list[i - 1].at[k])),
    );
  if (points.length < 2) throw new Error('A cut needs two points in two places.');
  const { index: own } = points[0];
  if (closed && points.length > 2 && points.every((x) => x.on === 'face' && x.index === own))
    return cutAlong(mesh, [], id, tell, islandIn(mesh, own, points));
  const way = wayOver(mesh, closed ? [...points, points[0]] : points, tell);
  return cutAlong(mesh, way, id, tell);
}

/** What lies inside a face but so near to its outline that it would leave a face without area is on that. */
const AT_OUTLINE = 1e-3;
function onOutline(mesh: Mesh, node: Node): Node {
  if (node.on === 'vertex') return node;
  const t = topologyOf(mesh);
  const { positions: p, cornerVertex: cv, faceStart } = mesh;
  const vertexNode = (v: number): Node => ({
    on: 'vertex',
    index: v,
    t: 0,
    at: [p[3 * v], p[3 * v + 1], p[3 * v + 2]],
  });
  if (node.on === 'edge') {
    const [x, y] = [t.edgeVertex[2 * node.index], t.edgeVertex[2 * node.index + 1]];
    const [lo, hi] = mesh.vertexKey[x] < mesh.vertexKey[y] ? [x, y] : [y, x];
    if (node.t < AT_END) return vertexNode(lo);
    return node.t > 1 - AT_END ? vertexNode(hi) : node;
  }
  const f = node.index;
  let best: { off: number; u: number; a: number; b: number; edge: number } | undefined;
  for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
    const [a, b] = [cv[c], cv[nextCorner(mesh, f, c)]];
    const d: Vector = [p[3 * b] - p[3 * a], p[3 * b + 1] - p[3 * a + 1], p[3 * b + 2] - p[3 * a + 2]];
    const q: Vector = [node.at[0] - p[3 * a], node.at[1] - p[3 * a + 1], node.at[2] - p[3 * a + 2]];
    const long = dot(d, d);
    const u = long > 0 ? Math.max(0, Math.min(1, dot(d, q) / long)) : 0;
    const off = Math.hypot(q[0] - u * d[0], q[1] - u * d[1], q[2] - u * d[2]) / (Math.sqrt(long) || 1);
    if (!best || off < best.off) best = { off, u, a, b, edge: t.cornerEdge[c] };
  }
  if (!best || best.off > AT_OUTLINE) return node;
  if (best.u < AT_OUTLINE) return vertexNode(best.a);
  if (best.u > 1 - AT_OUTLINE) return vertexNode(best.b);
  const { a, b, u } = best;
  const at: Vector = [0, 1, 2].map((k) => p[3 * a + k] + u * (p[3 * b + k] - p[3 * a + k])) as Vector;
  return { on: 'edge', index: best.edge, t: mesh.vertexKey[a] < mesh.vertexKey[b] ? u : 1 - u, at };
}

/**
 * A shape drawn wholly inside a face: two edges tie it to the outline, at the places where it is nearest, so no face
 * has a hole. The first way comes from the outline along one half of the shape and goes back to the outline; the second
 * closes the other half.
 */
function islandIn(mesh: Mesh, face: number, points: readonly Node[]): ReadonlyMap<number, Node[][]> {
  const { positions: p, cornerVertex: cv, faceStart } = mesh;
  const corners = Array.from(cv.subarray(faceStart[face], faceStart[face + 1]));
  const apart = (v: number, x: Node) => Math.hypot(p[3 * v] - x.at[0], p[3 * v + 1] - x.at[1], p[3 * v + 2] - x.at[2]);
  const nearestTo = (x: Node, among: readonly number[]) => among.reduce((a, b) => (apart(b, x) < apart(a, x) ? b : a));
  let start = 0;
  points.forEach((x, i) => {
    const best = points[start];
    if (apart(nearestTo(x, corners), x) < apart(nearestTo(best, corners), best)) start = i;
  });
  const ring = [...points.slice(start), ...points.slice(0, start)];
  const half = Math.floor(ring.length / 2);
  const a = nearestTo(ring[0], corners);
  const b = nearestTo(
    ring[half],
    corners.filter((v) => v !== a),
  );
  const corner = (v: number): Node => ({ on: 'vertex', index: v, t: 0, at: [p[3 * v], p[3 * v + 1], p[3 * v + 2]] });
  return new Map([
    [
      face,
      [
        [corner(a), ...ring.slice(0, half + 1), corner(b)],
        [...ring.slice(half), ring[0]],
      ],
    ],
  ]);
}

/** Faces that a node lies on. */
function facesAt(mesh: Mesh, { on, index }: Node): number[] {
  const t = topologyOf(mesh);
  if (on === 'face') return [index];
  const out: number[] = [];
  if (on === 'edge')
    for (let i = t.edgeCornerStart[index]; i < t.edgeCornerStart[index + 1]; i++)
      out.push(t.cornerFace[t.edgeCorner[i]]);
  else
    for (let i = t.vertexCornerStart[index]; i < t.vertexCornerStart[index + 1]; i++)
      out.push(t.cornerFace[t.vertexCorner[i]]);
  return out;
}

/**
 * The points with the crossings of all edges between them. Parts between which there is no way are told, and parted.
 */
function wayOver(mesh: Mesh, points: readonly Node[], tell?: (text: string) => void): Node[][] {
  const out: Node[][] = [[points[0]]];
  let missing = 0;
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1], points[i]];
    const between = across(mesh, a, b);
    if (between) out[out.length - 1].push(...between, b);
    else {
      missing++;
      out.push([b]);
    }
  }
  if (missing > 0)
    tell?.(
      `${missing === 1 ? 'One part of the line finds' : `${missing} parts of the line find`} no way over the surface.`,
    );
  return out;
}

function across(mesh: Mesh, a: Node, b: Node): Node[] | undefined {
  const goal = new Set(facesAt(mesh, b));
  if (facesAt(mesh, a).some((f) => goal.has(f))) return [];
  const t = topologyOf(mesh);
  const { positions: p, cornerVertex: cv, faceStart } = mesh;
  const normals = faceNormals(mesh);
  const look: Vector = [0, 0, 0];
  for (const x of [a, b]) for (const f of facesAt(mesh, x)) for (let k = 0; k < 3; k++) look[k] += normals[3 * f + k];
  const along = minus(b.at, a.at);
  const plane = unit(cross(along, look));
  if (dot(plane, plane) === 0) return undefined;
  const side = (v: number) =>
    (p[3 * v] - a.at[0]) * plane[0] + (p[3 * v + 1] - a.at[1]) * plane[1] + (p[3 * v + 2] - a.at[2]) * plane[2];
  const ahead = (q: Vector) => dot(minus(q, a.at), along);
  const out: Node[] = [];
  const been = new Set<number>();
  let at: Node = a;
  for (let step = 0; step < MOST_STEPS; step++) {
    let best: Node | undefined;
    let most = -Infinity;
    for (const f of facesAt(mesh, at)) {
      if (been.has(f)) continue;
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
        const [v, w] = [cv[c], cv[nextCorner(mesh, f, c)]];
        const [x, y] = [side(v), side(w)];
        if (x === y || x * y > 0) continue;
        const u = x / (x - y);
        const q: Vector = [0, 1, 2].map((k) => p[3 * v + k] + u * (p[3 * w + k] - p[3 * v + k])) as Vector;
        let node: Node = {
          on: 'edge',
          index: t.cornerEdge[c],
          t: mesh.vertexKey[v] < mesh.vertexKey[w] ? u : 1 - u,
          at: q,
        };
        if (u < AT_END) node = { on: 'vertex', index: v, t: 0, at: [p[3 * v], p[3 * v + 1], p[3 * v + 2]] };
        if (u > 1 - AT_END) node = { on: 'vertex', index: w, t: 0, at: [p[3 * w], p[3 * w + 1], p[3 * w + 2]] };
        if (node.on === at.on && node.index === at.index) continue;
        if (ahead(node.at) > most) {
          most = ahead(node.at);
          best = node;
        }
      }
    }
    if (!best || most <= ahead(at.at)) return undefined;
    for (const f of facesAt(mesh, at)) if (facesAt(mesh, best).includes(f)) been.add(f);
    out.push(best);
    at = best;
    if (facesAt(mesh, at).some((f) => goal.has(f))) return out;
  }
  return undefined;
}

function cutAlong(
  mesh: Mesh,
  ways: readonly Node[][],
  id: number,
  tell?: (text: string) => void,
  inside: ReadonlyMap<number, Node[][]> = new Map(),
): Mesh {
  const seed = key2(id, CUT);
  const t = topologyOf(mesh);
  const { cornerVertex: cv, vertexKey: vk, faceKey: fk, faceStart } = mesh;
  const keys = edgeKeys(mesh);
  const draft = new MeshDraft(mesh);
  const madeKeys = new Map<number, number>();
  const onEdge = new Map<number, { t: number; vertex: number }[]>();
  const nameOf = (v: number): number => madeKeys.get(v) ?? vk[v];
  const vertexAt = new Map<Node, number>();
  /** Made only where its way parts a face: nothing is left that hangs from nothing. */
  const insideVertex = (node: Node): number => {
    const had = vertexAt.get(node);
    if (had !== undefined) return had;
    const key = key3(seed, fk[node.index], 1_000_000 + madeKeys.size);
    const ring = cv.subarray(faceStart[node.index], faceStart[node.index + 1]);
    const v = draft.vertex(key, node.at[0], node.at[1], node.at[2], draft.blend(ring, nearness(mesh, ring, node.at)));
    madeKeys.set(v, key);
    vertexAt.set(node, v);
    return v;
  };
  for (const way of ways)
    for (const node of way) {
      if (vertexAt.has(node)) continue;
      if (node.on === 'vertex') {
        vertexAt.set(node, node.index);
        continue;
      }
      if (node.on === 'edge') {
        const list = onEdge.get(node.index) ?? [];
        onEdge.set(node.index, list);
        const had = list.find((x) => Math.abs(x.t - node.t) < AT_END);
        const [x, y] = [t.edgeVertex[2 * node.index], t.edgeVertex[2 * node.index + 1]];
        const [lo, hi] = vk[x] < vk[y] ? [x, y] : [y, x];
        if (node.t < AT_END || node.t > 1 - AT_END) vertexAt.set(node, node.t < 0.5 ? lo : hi);
        else if (had) vertexAt.set(node, had.vertex);
        else {
          const key = key3(seed, keys[node.index], list.length);
          const v = draft.vertex(key, node.at[0], node.at[1], node.at[2], lo, hi, node.t);
          madeKeys.set(v, key);
          list.push({ t: node.t, vertex: v });
          vertexAt.set(node, v);
        }
      }
    }

  // Ways within one face, from outline to outline.
  const chains = new Map<number, Node[][]>(inside);
  for (const list of inside.values())
    for (const way of list) for (const x of way) if (x.on === 'vertex') vertexAt.set(x, x.index);
  let loose = 0;
  const keep = (chain: Node[]) => {
    if (chain.length < 2) return;
    const ends = [chain[0], chain[chain.length - 1]];
    if (ends.some((x) => x.on === 'face')) {
      loose++;
      return;
    }
    const inside = chain.find((x) => x.on === 'face');
    const common = facesAt(mesh, ends[0]).filter((f) => facesAt(mesh, ends[1]).includes(f));
    const f = inside ? inside.index : common[0];
    if (f === undefined || !common.includes(f)) {
      loose++;
      return;
    }
    chains.set(f, [...(chains.get(f) ?? []), chain]);
  };
  for (const way of ways) {
    let chain: Node[] = [];
    for (const node of way) {
      chain.push(node);
      if (node.on === 'face') continue;
      keep(chain);
      chain = [node];
    }
    if (chain.length > 1) loose++;
  }

  const cutFaces = new Set<number>(chains.keys());
  for (const e of onEdge.keys())
    for (let i = t.edgeCornerStart[e]; i < t.edgeCornerStart[e + 1]; i++) cutFaces.add(t.cornerFace[t.edgeCorner[i]]);
  for (const [e, list] of onEdge) {
    list.sort((a, b) => a.t - b.t);
    if (list.length === 0) continue;
    const [x, y] = [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]];
    const [lo, hi] = vk[x] < vk[y] ? [x, y] : [y, x];
    const names = [vk[lo], ...list.map((q) => nameOf(q.vertex)), vk[hi]];
    draft.split(
      keys[e],
      names.slice(1).map((k, i) => edgeKey(names[i], k)),
    );
  }
  for (const f of [...cutFaces].sort((a, b) => a - b)) {
    const outline: Corner[] = [];
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const n = nextCorner(mesh, f, c);
      outline.push({ vertex: cv[c], c0: c, c1: c, t: 0 });
      const list = onEdge.get(t.cornerEdge[c]) ?? [];
      const forward = vk[cv[c]] < vk[cv[n]];
      for (const x of forward ? list : [...list].reverse())
        outline.push({ vertex: x.vertex, c0: c, c1: n, t: forward ? x.t : 1 - x.t });
    }
    const rings = parted(mesh, draft, f, outline, chains.get(f) ?? [], { vertexAt, insideVertex }, () => loose++);
    if (rings.length === 1 && rings[0].length === faceStart[f + 1] - faceStart[f]) continue;
    draft.drop(f);
    const parts: number[] = [];
    for (const ring of rings) {
      const low = ring.reduce((m, x) => Math.min(m, nameOf(x.vertex)), Infinity);
      const high = ring.reduce((m, x) => Math.max(m, nameOf(x.vertex)), 0);
      let key = rings.length === 1 ? fk[f] : key3(key2(seed, fk[f]), low, high);
      for (let again = 0; parts.includes(key); again++) key = key2(key, again);
      parts.push(key);
      draft.begin(key, f);
      for (const x of ring) draft.at(x.vertex, x.c0, x.c1, x.t);
      draft.end();
    }
    if (parts.length > 1) draft.split(fk[f], parts);
  }
  if (loose > 0)
    tell?.(
      `${loose === 1 ? 'One part of the line parts' : `${loose} parts of the line part`} no face, and was left out.`,
    );
  return draft.finish();
}

interface Corner {
  vertex: number;
  c0: number;
  c1: number;
  t: number;
}

/** The rings into which ways part an outline, each way from one of its vertices to another. */
function parted(
  mesh: Mesh,
  draft: MeshDraft,
  f: number,
  outline: Corner[],
  ways: readonly Node[][],
  { vertexAt, insideVertex }: { vertexAt: ReadonlyMap<Node, number>; insideVertex: (node: Node) => number },
  left: () => void,
): Corner[][] {
  let rings = [outline];
  const all = Array.from({ length: mesh.faceStart[f + 1] - mesh.faceStart[f] }, (_, k) => mesh.faceStart[f] + k);
  const corners = all.map((c) => mesh.cornerVertex[c]);
  for (const way of ways) {
    const [first, last] = [vertexAt.get(way[0])!, vertexAt.get(way[way.length - 1])!];
    const within = way.slice(1, -1);
    if (first === last) {
      left();
      continue;
    }
    const at = rings.findIndex((r) => {
      const [i, j] = [r.findIndex((x) => x.vertex === first), r.findIndex((x) => x.vertex === last)];
      if (i < 0 || j < 0) return false;
      const gap = (j - i + r.length) % r.length;
      return within.length > 0 || (gap > 1 && gap < r.length - 1);
    });
    if (at < 0) {
      // An edge that is there already is no loss.
      const side = rings.some((r) =>
        r.some((x, i) => x.vertex === first && [1, r.length - 1].some((d) => r[(i + d) % r.length].vertex === last)),
      );
      if (!side) left();
      continue;
    }
    const inside = within.map((x): Corner => {
      const blend = draft.blend(all, nearness(mesh, corners, x.at));
      return { vertex: insideVertex(x), c0: blend, c1: blend, t: 0 };
    });
    const ring = rings[at];
    const i = ring.findIndex((x) => x.vertex === first);
    const turned = [...ring.slice(i), ...ring.slice(0, i)];
    const j = turned.findIndex((x) => x.vertex === last);
    const one = [...turned.slice(0, j + 1), ...[...inside].reverse()];
    const two = [turned[0], ...inside, ...turned.slice(j)];
    rings = [...rings.slice(0, at), one, two, ...rings.slice(at + 1)];
  }
  return rings;
}

/**
 * Weights of corners for a place between them: the nearer the more (inverse square of the distance), which sum to 1.
 */
function nearness(mesh: Mesh, ring: ArrayLike<number>, at: Vector): number[] {
  const { positions: p } = mesh;
  const w = Array.from(ring, (v) => {
    const d = (p[3 * v] - at[0]) ** 2 + (p[3 * v + 1] - at[1]) ** 2 + (p[3 * v + 2] - at[2]) ** 2;
    return 1 / Math.max(d, 1e-30);
  });
  const sum = w.reduce((a, b) => a + b, 0);
  return w.map((x) => x / sum);
}
