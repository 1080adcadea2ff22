/** From picked elements on to others: along loops and rings, to neighbours, to other kinds of elements. */
import { UnionFind } from '../math/unionfind';
import { EVERY, pulse } from '../math/pulse';
import type { Mesh } from './mesh';
import { countOf, mask, verticesOf, type PickKind } from './picks';
import { nextCorner, oppositeCorner, previousCorner, topologyOf } from './topology';

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
