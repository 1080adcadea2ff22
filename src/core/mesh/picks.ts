/**
 * Picks: elements named by lasting keys. A pick is resolved against a mesh each time it is used; a key that was split
 * upstream is followed to its parts, and keys that are gone are counted, never removed from the pick.
 */
import { UnionFind } from '../math/unionfind';
import { EVERY, pulse } from '../math/pulse';
import { edgeKey } from '../math/hash';
import { descend, edgeKeys } from './lasting';
import type { Mesh } from './mesh';
import { findSpot, nearestSpot, isSpot, SPOT_SIZE, spotOf, type Spot } from './spots';
import type { Witness } from './witnesses';
import { nextCorner, oppositeCorner, previousCorner, topologyOf } from './topology';
import { elementsBy, type Rule } from '../rules';

export { edgeKeys, SPOT_SIZE };
export type PickKind = 'vertex' | 'edge' | 'face';

export interface ElementPick {
  readonly kind: PickKind;
  readonly keys: readonly number[];
  /**
   * Where each was when it was picked (`packSpots`), in the order of the keys; absent or of another length until it was
   * first followed.
   */
  readonly spots?: string;
  /** Besides the keys: all that fits a rule, found anew each time. */
  readonly rule?: Rule;
}

export interface Resolved {
  /** Element indices, ascending, without repeats. */
  indices: Uint32Array;
  /** Keys that no longer have an element, and of which nothing is where they were. */
  lost: number[];
  /** Keys that no longer have an element, followed to what is where they were. */
  followed: number[];
  /** For lost keys of which it is known where they were: the key of what is nearest to that now, however far. */
  nearest: ReadonlyMap<number, number>;
  /** 3 per entry of `nearest`: where that is, in the mesh's space. */
  at: readonly number[];
}

/** Of so many lost keys what is nearest is looked for: each is a search through the whole mesh. */
const MOST_NEAREST = 64;

const NOTHING: Resolved = { indices: new Uint32Array(0), lost: [], followed: [], nearest: new Map(), at: [] };

/** The key of one element. */
export function keyAt(mesh: Mesh, kind: PickKind, index: number): number {
  if (kind !== 'edge') return keysOf(mesh, kind)[index];
  const { edgeVertex } = topologyOf(mesh);
  return edgeKey(mesh.vertexKey[edgeVertex[2 * index]], mesh.vertexKey[edgeVertex[2 * index + 1]]);
}

export function keysOf(mesh: Mesh, kind: PickKind): Float64Array {
  if (kind === 'edge') return edgeKeys(mesh);
  return kind === 'vertex' ? mesh.vertexKey : mesh.faceKey;
}

/** How many elements of a kind there are. */
export function countOf(mesh: Mesh, kind: PickKind): number {
  if (kind === 'edge') return topologyOf(mesh).edgeCount;
  return kind === 'vertex' ? mesh.vertexCount : mesh.faceCount;
}

/**
 * The elements that a pick means in a mesh. A key that is there is right: it means one place for good. One that was
 * split is followed to its parts; one that is gone is followed by its spot, where there is a witness of that: the
 * pick's own, or what was seen before.
 */
export function resolve(mesh: Mesh, pick: ElementPick, witness?: Witness): Resolved {
  if (witness) return resolved(mesh, pick, witness);
  // Without a witness a pick means the same in a mesh each time: many on the page ask after the same one.
  const had = remembered.get(pick);
  if (had?.mesh === mesh) return had.found;
  const found = resolved(mesh, pick);
  remembered.set(pick, { mesh, found });
  return found;
}

/**
 * Says what a pick means in a mesh, where that is known: its keys were made of these elements (ascending, without
 * repeats).
 */
export const remember = (mesh: Mesh, pick: ElementPick, indices: Uint32Array): void => {
  remembered.set(pick, { mesh, found: { ...NOTHING, indices } });
};

const remembered = new WeakMap<ElementPick, { mesh: Mesh; found: Resolved }>();
/**
 * So few keys are looked for one by one: a search through a flat array for each is quicker than asking a map for every
 * element.
 */
const FEW = 12;
/** Vertices of so few elements are gathered by themselves. */
const SOME = 500;

function resolved(mesh: Mesh, pick: ElementPick, witness?: Witness): Resolved {
  if (pick.rule) {
    const byKeys = resolved(mesh, { ...pick, rule: undefined }, witness);
    const found = new Set([...byKeys.indices, ...elementsBy(mesh, pick.kind, pick.rule)]);
    return { ...byKeys, indices: Uint32Array.from(found).sort() };
  }
  if (pick.keys.length === 0) return NOTHING;
  const all = keysOf(mesh, pick.kind);
  const wanted = new Map<number, number>();
  for (const k of pick.keys) wanted.set(k, -1);
  const hits: number[] = [];
  if (wanted.size <= FEW)
    for (const k of wanted.keys()) {
      const i = all.indexOf(k);
      if (i < 0) continue;
      hits.push(i);
      wanted.set(k, i);
    }
  else
    for (let i = 0; i < all.length; i++)
      if (wanted.has(all[i])) {
        hits.push(i);
        wanted.set(all[i], i);
      }
  const gone: number[] = [];
  const there = new Map<number, number>();
  for (const [k, i] of wanted) {
    if (i < 0) gone.push(k);
    else there.set(k, i);
  }
  witness?.note(mesh, pick, there);
  const followed: number[] = [];
  const lost: number[] = [];
  const nearest = new Map<number, number>();
  const at: number[] = [];
  if (gone.length > 0) {
    const parts = mesh.lineage.length > 0 ? partsNow(mesh, all, gone) : undefined;
    const spots = spotsOfPick(pick);
    for (const k of gone) {
      let found = parts?.get(k);
      if (!found) {
        const spot = witness?.get(k) ?? spots?.get(k);
        found = spot && findSpot(mesh, pick.kind, spot, all.length);
        if (found && found.length > 0) followed.push(k);
      }
      if (found && found.length > 0) {
        hits.push(...found);
        continue;
      }
      lost.push(k);
      const spot = lost.length <= MOST_NEAREST && (witness?.get(k) ?? spots?.get(k));
      const near = spot ? nearestSpot(mesh, pick.kind, spot, all.length) : -1;
      if (near < 0) continue;
      nearest.set(k, all[near]);
      at.push(...middleOf(mesh, pick.kind, near));
    }
  }
  return { indices: Uint32Array.from(new Set(hits)).sort(), lost, followed, nearest, at };
}

/** The mean of an element's vertices. */
function middleOf(mesh: Mesh, kind: PickKind, index: number): number[] {
  const vertices = verticesOf(mesh, kind, [index]);
  const out = [0, 0, 0];
  for (const v of vertices) for (let k = 0; k < 3; k++) out[k] += mesh.positions[3 * v + k] / vertices.length;
  return out;
}

/** For each key that was split and has parts in the mesh, their elements. */
function partsNow(mesh: Mesh, all: Float64Array, keys: readonly number[]): Map<number, number[]> {
  const out = new Map<number, number[]>();
  let index: Map<number, number> | undefined;
  for (const k of keys) {
    const parts = descend(mesh.lineage, k);
    if (parts.length === 0) continue;
    if (!index) {
      index = new Map();
      for (let i = 0; i < all.length; i++) index.set(all[i], i);
    }
    const found = parts.map((p) => index!.get(p)).filter((i) => i !== undefined);
    if (found.length > 0) out.set(k, found);
  }
  return out;
}

export function mask(count: number, indices: ArrayLike<number>): Uint8Array {
  const m = new Uint8Array(count);
  for (let i = 0; i < indices.length; i++) m[indices[i]] = 1;
  return m;
}

/** Vertices of picked elements. */
export function verticesOf(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>): Uint32Array {
  if (kind === 'vertex') return Uint32Array.from(indices);
  if (indices.length <= SOME) {
    const few = new Set<number>();
    const { edgeVertex } = kind === 'edge' ? topologyOf(mesh) : { edgeVertex: mesh.cornerVertex };
    for (let i = 0; i < indices.length; i++) {
      const f = indices[i];
      const [from, to] = kind === 'edge' ? [2 * f, 2 * f + 2] : [mesh.faceStart[f], mesh.faceStart[f + 1]];
      for (let c = from; c < to; c++) few.add(edgeVertex[c]);
    }
    return Uint32Array.from(few).sort();
  }
  const seen = new Uint8Array(mesh.vertexCount);
  if (kind === 'edge') {
    const { edgeVertex } = topologyOf(mesh);
    for (let i = 0; i < indices.length; i++) {
      if ((i & EVERY) === 0) pulse();
      seen[edgeVertex[2 * indices[i]]] = 1;
      seen[edgeVertex[2 * indices[i] + 1]] = 1;
    }
  } else {
    for (let i = 0; i < indices.length; i++)
      for (let c = mesh.faceStart[indices[i]]; c < mesh.faceStart[indices[i] + 1]; c++) seen[mesh.cornerVertex[c]] = 1;
  }
  const out: number[] = [];
  for (let v = 0; v < seen.length; v++) if (seen[v]) out.push(v);
  return Uint32Array.from(out);
}

/**
 * The edge loop through an edge: onwards through vertices of four edges, straight across; along borders, from border
 * edge to border edge. Ends where the mesh is not regular.
 */
export function edgeLoop(mesh: Mesh, edge: number): number[] {
  const t = topologyOf(mesh);
  const found = new Set<number>([edge]);
  const border = t.edgeCornerStart[edge + 1] - t.edgeCornerStart[edge] === 1;
  for (const side of [0, 1]) {
    let e = edge;
    let v = t.edgeVertex[2 * edge + side];
    for (;;) {
      const n = border ? nextBorder(mesh, e, v) : straightAcross(mesh, e, v);
      if (n < 0 || found.has(n)) break;
      found.add(n);
      e = n;
      v = t.edgeVertex[2 * n] === v ? t.edgeVertex[2 * n + 1] : t.edgeVertex[2 * n];
    }
  }
  return [...found];
}

function edgesAround(mesh: Mesh, v: number): Set<number> {
  const t = topologyOf(mesh);
  const out = new Set<number>();
  for (let i = t.vertexCornerStart[v]; i < t.vertexCornerStart[v + 1]; i++) {
    const c = t.vertexCorner[i];
    out.add(t.cornerEdge[c]);
    out.add(t.cornerEdge[previousCorner(mesh, t.cornerFace[c], c)]);
  }
  return out;
}

function nextBorder(mesh: Mesh, e: number, v: number): number {
  const t = topologyOf(mesh);
  let next = -1;
  for (const o of edgesAround(mesh, v)) {
    if (o === e || t.edgeCornerStart[o + 1] - t.edgeCornerStart[o] !== 1) continue;
    if (next >= 0) return -1;
    next = o;
  }
  return next;
}

/** The edge that goes straight on from an edge over one of its ends; −1 where four do not meet there. */
export function straightAcross(mesh: Mesh, e: number, v: number): number {
  const t = topologyOf(mesh);
  const around = edgesAround(mesh, v);
  if (around.size !== 4) return -1;
  const neighbours = new Set<number>([e]);
  for (let i = t.vertexCornerStart[v]; i < t.vertexCornerStart[v + 1]; i++) {
    const c = t.vertexCorner[i];
    const a = t.cornerEdge[c];
    const b = t.cornerEdge[previousCorner(mesh, t.cornerFace[c], c)];
    if (a === e) neighbours.add(b);
    if (b === e) neighbours.add(a);
  }
  const rest = [...around].filter((o) => !neighbours.has(o));
  return rest.length === 1 ? rest[0] : -1;
}

export interface Ring {
  /** Corners, one per quad passed: the ring enters each quad over this corner's edge. */
  corners: number[];
  /** Edges crossed, in order; for a closed ring the first is not repeated. */
  edges: number[];
  closed: boolean;
}

/**
 * The ring of edges that face each other across quads, through `edge`. Ends at faces that are not quads and at borders.
 */
export function edgeRing(mesh: Mesh, edge: number): Ring {
  const t = topologyOf(mesh);
  const quad = (c: number) => mesh.faceStart[t.cornerFace[c] + 1] - mesh.faceStart[t.cornerFace[c]] === 4;
  const across = (c: number) => nextCorner(mesh, t.cornerFace[c], nextCorner(mesh, t.cornerFace[c], c));
  const walk = (start: number) => {
    const corners: number[] = [];
    const edges: number[] = [];
    const faces = new Set<number>();
    let c = start;
    while (c >= 0 && quad(c) && !faces.has(t.cornerFace[c])) {
      faces.add(t.cornerFace[c]);
      corners.push(c);
      const out = across(c);
      edges.push(t.cornerEdge[out]);
      if (t.cornerEdge[out] === edge) return { corners, edges, closed: true };
      c = oppositeCorner(t, out);
    }
    return { corners, edges, closed: false };
  };
  const s = t.edgeCornerStart[edge];
  const n = t.edgeCornerStart[edge + 1] - s;
  const ahead = walk(t.edgeCorner[s]);
  if (ahead.closed) return { corners: ahead.corners, edges: [edge, ...ahead.edges.slice(0, -1)], closed: true };
  if (n !== 2) return { corners: ahead.corners, edges: [edge, ...ahead.edges], closed: false };
  const back = walk(t.edgeCorner[s + 1]);
  // The way back is turned round: its quads are entered from their far side.
  const corners = back.corners.map(across).reverse();
  const seen = new Set(corners.map((c) => t.cornerFace[c]));
  const rest = ahead.corners.filter((c) => !seen.has(t.cornerFace[c]));
  return {
    corners: [...corners, ...rest],
    edges: [...back.edges.slice().reverse(), edge, ...ahead.edges.slice(0, rest.length)],
    closed: false,
  };
}

/** Faces joined to `face` across edges that bend less than `angle` radians. */
export function flatRegion(mesh: Mesh, face: number, normals: Float32Array, angle = 0.02): number[] {
  const t = topologyOf(mesh);
  const limit = Math.cos(angle);
  const found = new Set<number>([face]);
  const queue = [face];
  for (let i = 0; i < queue.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const f = queue[i];
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const o = oppositeCorner(t, c);
      if (o < 0) continue;
      const g = t.cornerFace[o];
      if (found.has(g)) continue;
      if (
        normals[3 * f] * normals[3 * g] +
          normals[3 * f + 1] * normals[3 * g + 1] +
          normals[3 * f + 2] * normals[3 * g + 2] <
        limit
      )
        continue;
      found.add(g);
      queue.push(g);
    }
  }
  return [...found];
}

/** One ring of neighbours more. */
export function grow(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>): Uint32Array {
  const inside = mask(mesh.vertexCount, verticesOf(mesh, kind, indices));
  const t = topologyOf(mesh);
  const out: number[] = [];
  if (kind === 'face') {
    for (let f = 0; f < mesh.faceCount; f++)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
        if (inside[mesh.cornerVertex[c]]) {
          out.push(f);
          break;
        }
  } else if (kind === 'edge') {
    for (let e = 0; e < t.edgeCount; e++)
      if (inside[t.edgeVertex[2 * e]] || inside[t.edgeVertex[2 * e + 1]]) out.push(e);
  } else {
    const next = inside.slice();
    for (let e = 0; e < t.edgeCount; e++) {
      if ((e & EVERY) === 0) pulse();
      const a = t.edgeVertex[2 * e];
      const b = t.edgeVertex[2 * e + 1];
      if (inside[a]) next[b] = 1;
      if (inside[b]) next[a] = 1;
    }
    for (let v = 0; v < next.length; v++) if (next[v]) out.push(v);
  }
  return Uint32Array.from(out);
}

/** One ring of neighbours less: what remains when the rest has grown. */
export function shrink(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>): Uint32Array {
  const count = countOf(mesh, kind);
  const inside = mask(count, indices);
  const rest: number[] = [];
  for (let i = 0; i < count; i++) if (!inside[i]) rest.push(i);
  const grown = mask(count, grow(mesh, kind, rest));
  return Uint32Array.from(indices).filter((i) => !grown[i]);
}

/**
 * The same place picked as another kind: faces to their edges, vertices to the faces they wholly surround, and so on.
 */
export function convert(mesh: Mesh, from: PickKind, indices: ArrayLike<number>, to: PickKind): Uint32Array {
  if (from === to) return Uint32Array.from(indices);
  const v = verticesOf(mesh, from, indices);
  if (to === 'vertex') return v;
  const inside = mask(mesh.vertexCount, v);
  const out: number[] = [];
  if (to === 'edge') {
    const t = topologyOf(mesh);
    if (from === 'face') {
      const edges = new Set<number>();
      for (let i = 0; i < indices.length; i++)
        for (let c = mesh.faceStart[indices[i]]; c < mesh.faceStart[indices[i] + 1]; c++) edges.add(t.cornerEdge[c]);
      return Uint32Array.from(edges).sort();
    }
    for (let e = 0; e < t.edgeCount; e++)
      if (inside[t.edgeVertex[2 * e]] && inside[t.edgeVertex[2 * e + 1]]) out.push(e);
  } else {
    for (let f = 0; f < mesh.faceCount; f++) {
      if ((f & EVERY) === 0) pulse();
      let all = true;
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1] && all; c++) all = inside[mesh.cornerVertex[c]] === 1;
      if (all) out.push(f);
    }
  }
  return Uint32Array.from(out);
}

/** The vertices of a pick, one list for each part of it that hangs together. */
export function partsOf(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>): Uint32Array[] {
  const all = verticesOf(mesh, kind, indices);
  const place = new Map(Array.from(all, (v, i) => [v, i]));
  const joined = new UnionFind(all.length);
  const join = (a: number, b: number) => {
    const i = place.get(a);
    const j = place.get(b);
    if (i !== undefined && j !== undefined) joined.join(i, j);
  };
  if (kind === 'face') {
    for (let i = 0; i < indices.length; i++)
      for (let c = mesh.faceStart[indices[i]] + 1; c < mesh.faceStart[indices[i] + 1]; c++)
        join(mesh.cornerVertex[c - 1], mesh.cornerVertex[c]);
  } else {
    const { edgeVertex, edgeCount } = topologyOf(mesh);
    if (kind === 'edge')
      for (let i = 0; i < indices.length; i++) join(edgeVertex[2 * indices[i]], edgeVertex[2 * indices[i] + 1]);
    else for (let e = 0; e < edgeCount; e++) join(edgeVertex[2 * e], edgeVertex[2 * e + 1]);
  }
  const { of, count } = joined.parts();
  const out: number[][] = Array.from({ length: count }, () => []);
  all.forEach((v, i) => out[of[i]].push(v));
  return out.map((list) => Uint32Array.from(list));
}

/** A pick of elements by index, with both its witnesses: their keys, and where they are. */
export function pickOf(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>): ElementPick {
  const all = keysOf(mesh, kind);
  const list = Array.from(indices);
  return { kind, keys: list.map((i) => all[i]), spots: packSpots(list.map((i) => spotOf(mesh, kind, i))) };
}

/** Spots as text: 32-bit floats, the role as a whole number, in base 64. */
export function packSpots(spots: readonly Spot[]): string {
  const size = spots[0]?.length ?? 0;
  const view = new DataView(new ArrayBuffer(4 * size * spots.length));
  spots.forEach((s, i) => {
    for (let k = 0; k < size - 1; k++) view.setFloat32(4 * (size * i + k), s[k], true);
    view.setUint32(4 * (size * i + size - 1), s[size - 1], true);
  });
  let text = '';
  for (let i = 0; i < view.byteLength; i++) text += String.fromCharCode(view.getUint8(i));
  return btoa(text);
}

const unpacked = new WeakMap<ElementPick, Map<number, Spot> | null>();

/** A pick's own spots by key; undefined where it has none, or they are not one for each key. */
function spotsOfPick(pick: ElementPick): Map<number, Spot> | undefined {
  if (!pick.spots) return undefined;
  let map = unpacked.get(pick);
  if (map === undefined) {
    map = unpack(pick, pick.spots);
    unpacked.set(pick, map);
  }
  return map ?? undefined;
}

function unpack(pick: ElementPick, packed: string): Map<number, Spot> | null {
  const out = unpackSpots(pick.keys, SPOT_SIZE[pick.kind], packed);
  if (out) for (const [key, spot] of out) if (!isSpot(pick.kind, spot)) out.delete(key);
  return out;
}

/** Spots by the keys or names they were packed in the order of; null where the text is not of so many. */
export function unpackSpots(names: readonly number[], size: number, packed: string): Map<number, Spot> | null {
  let text: string;
  try {
    text = atob(packed);
  } catch {
    return null;
  }
  if (text.length !== 4 * size * names.length) return null;
  const view = new DataView(Uint8Array.from(text, (c) => c.charCodeAt(0)).buffer);
  const out = new Map<number, Spot>();
  names.forEach((name, i) => {
    const spot = new Float64Array(size);
    for (let k = 0; k < size - 1; k++) spot[k] = view.getFloat32(4 * (size * i + k), true);
    spot[size - 1] = view.getUint32(4 * (size * i + size - 1), true);
    if (spot.every(Number.isFinite)) out.set(name, spot);
  });
  return out;
}
