/**
 * Faces that lie doubled, vertex on vertex: a leaf or a cloth made of both its sides, or what came in twice. At each of
 * their edges four faces meet or more, and none could be told to go on in which; every face would be an island of its
 * own. Here the layers are told apart, and get vertices of their own.
 */
import { key2 } from '../math/hash';
import { EVERY, pulse } from '../math/pulse';
import { UnionFind } from '../math/unionfind';
import { gatherAttributes } from '../mesh/gather';
import { firstAlike } from '../mesh/measure';
import { Mesh } from '../mesh/mesh';
import { edgeValence, nextCorner, topologyOf } from '../mesh/topology';

export interface Layers {
  /** The same faces and corners in the same order, each layer on vertices of its own. */
  mesh: Mesh;
  /** Edges of what was given, as those of this. */
  edges(of: ReadonlySet<number>): Set<number>;
}

const known = new WeakMap<Mesh, Layers | null>();

/** Undefined where nothing lies doubled. */
export function layersApart(mesh: Mesh): Layers | undefined {
  let had = known.get(mesh);
  if (had === undefined) known.set(mesh, (had = found(mesh) ?? null));
  return had ?? undefined;
}

function found(mesh: Mesh): Layers | undefined {
  const t = topologyOf(mesh);
  let crowded = false;
  for (let e = 0; e < t.edgeCount && !crowded; e++) crowded = edgeValence(t, e) > 2;
  if (!crowded) return undefined;
  const first = firstAlike(mesh, t);
  /** How many lie under each. */
  const depth = new Uint32Array(mesh.faceCount);
  const count = new Map<number, number>();
  for (let f = 0; f < mesh.faceCount; f++) {
    if (first[f] === f) continue;
    const n = (count.get(first[f]) ?? 0) + 1;
    count.set(first[f], n);
    depth[f] = n;
  }
  if (count.size === 0) return undefined;
  const joined = new UnionFind(mesh.cornerCount);
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    const corners = Array.from(t.edgeCorner.subarray(t.edgeCornerStart[e], t.edgeCornerStart[e + 1]));
    for (const [a, b] of pairsOf(mesh, corners, first, depth)) {
      const [p, q] = [nextCorner(mesh, t.cornerFace[a], a), nextCorner(mesh, t.cornerFace[b], b)];
      const turned = mesh.cornerVertex[a] !== mesh.cornerVertex[b];
      joined.join(a, turned ? q : b);
      joined.join(p, turned ? b : q);
    }
  }
  const apart = onVertices(mesh, joined.parts(), depth);
  const own = topologyOf(apart);
  return {
    mesh: apart,
    edges: (of) => {
      const out = new Set<number>();
      for (let c = 0; c < mesh.cornerCount && of.size > 0; c++) if (of.has(t.cornerEdge[c])) out.add(own.cornerEdge[c]);
      return out;
    },
  };
}

/** Corners at which faces go on into each other over an edge. */
function pairsOf(mesh: Mesh, corners: readonly number[], first: Int32Array, depth: Uint32Array): [number, number][] {
  const { cornerFace } = topologyOf(mesh);
  const sheets = new Set(corners.map((c) => first[cornerFace[c]]));
  if (sheets.size < 2) return [];
  const out: [number, number][] = [];
  const used = new Set<number>();
  const take = (good: (a: number, b: number) => boolean): void => {
    for (const a of corners)
      for (const b of corners) {
        if (used.has(a) || used.has(b) || first[cornerFace[a]] === first[cornerFace[b]] || !good(a, b)) continue;
        used.add(a).add(b);
        out.push([a, b]);
      }
  };
  const level = (a: number, b: number): boolean => depth[cornerFace[a]] === depth[cornerFace[b]];
  const onwards = (a: number, b: number): boolean => mesh.cornerVertex[a] !== mesh.cornerVertex[b];
  if (sheets.size === 2 && corners.length > 2) {
    take((a, b) => onwards(a, b) && level(a, b));
    take(onwards);
    return out;
  }
  // Where three surfaces meet nothing goes on, and they stay at the same vertices, layer by layer.
  for (let i = 1; i < corners.length; i++)
    for (let j = 0; j < i; j++) if (level(corners[i], corners[j])) out.push([corners[i], corners[j]]);
  return out;
}

function onVertices(mesh: Mesh, { of, count }: { of: Uint32Array; count: number }, depth: Uint32Array): Mesh {
  const { cornerFace } = topologyOf(mesh);
  const from = new Uint32Array(count);
  const layer = new Uint32Array(count);
  for (let c = 0; c < mesh.cornerCount; c++) {
    from[of[c]] = mesh.cornerVertex[c];
    layer[of[c]] = depth[cornerFace[c]];
  }
  const positions = new Float32Array(3 * count);
  for (let v = 0; v < count; v++) positions.set(mesh.positions.subarray(3 * from[v], 3 * from[v] + 3), 3 * v);
  return new Mesh({
    positions,
    faceStart: mesh.faceStart,
    cornerVertex: of,
    vertexKey: () =>
      Float64Array.from(from, (v, i) => (layer[i] > 0 ? key2(mesh.vertexKey[v], layer[i]) : mesh.vertexKey[v])),
    faceKey: () => mesh.faceKey,
    attributes: gatherAttributes(mesh.attributes, { vertex: from }),
    slots: mesh.slots,
    groups: mesh.groups,
  });
}
