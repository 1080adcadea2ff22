/**
 * Picks that follow from others: what is joined to them, what lies around, what is left. A mesh and element numbers in,
 * element numbers out.
 */
import { EVERY, pulse } from '../math/pulse';
import type { Mesh } from '../mesh/mesh';
import { components } from '../mesh/measure';
import { faceNormals } from '../mesh/normals';
import { countOf, mask, verticesOf, type PickKind } from '../mesh/picks';
import { edgeLoop, edgeRing, flatRegion } from '../mesh/walks';
import { topologyOf } from '../mesh/topology';

const listed = (of: Uint8Array): Uint32Array => {
  const out: number[] = [];
  for (let i = 0; i < of.length; i++) if (of[i]) out.push(i);
  return Uint32Array.from(out);
};

/** Everything that is not picked. */
export function invert(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>): Uint32Array {
  const m = mask(countOf(mesh, kind), indices);
  return listed(m.map((x) => 1 - x));
}

/** All that hangs together with what is picked. */
export function joined(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>): Uint32Array {
  const { of, count } = components(mesh);
  const wanted = mask(
    count,
    Array.from(verticesOf(mesh, kind, indices), (v) => of[v]),
  );
  const out = new Uint8Array(countOf(mesh, kind));
  const { edgeVertex } = topologyOf(mesh);
  for (let i = 0; i < out.length; i++) {
    if ((i & EVERY) === 0) pulse();
    let v = i;
    if (kind === 'edge') v = edgeVertex[2 * i];
    else if (kind === 'face') v = mesh.cornerVertex[mesh.faceStart[i]];
    out[i] = wanted[of[v]];
  }
  return listed(out);
}

/**
 * Edges of faces: those with a picked face on one side only. Of vertices and edges those that have an unpicked
 * neighbour.
 */
export function border(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>): Uint32Array {
  const t = topologyOf(mesh);
  const picked = mask(countOf(mesh, kind), indices);
  const out = new Uint8Array(kind === 'face' ? t.edgeCount : picked.length);
  if (kind === 'face') {
    for (let e = 0; e < t.edgeCount; e++) {
      let inside = 0;
      for (let i = t.edgeCornerStart[e]; i < t.edgeCornerStart[e + 1]; i++)
        inside += picked[t.cornerFace[t.edgeCorner[i]]];
      if (inside > 0 && (inside < t.edgeCornerStart[e + 1] - t.edgeCornerStart[e] || inside === 1)) out[e] = 1;
    }
    return listed(out);
  }
  const held = mask(mesh.vertexCount, verticesOf(mesh, kind, indices));
  if (kind === 'vertex') {
    for (let e = 0; e < t.edgeCount; e++) {
      const [a, b] = [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]];
      const open = t.edgeCornerStart[e + 1] - t.edgeCornerStart[e] === 1;
      if (held[a] && (!held[b] || open)) out[a] = 1;
      if (held[b] && (!held[a] || open)) out[b] = 1;
    }
    return listed(out);
  }
  // An edge that has an end from which an unpicked edge goes on.
  const loose = new Uint8Array(mesh.vertexCount);
  for (let e = 0; e < t.edgeCount; e++) if (!picked[e]) loose[t.edgeVertex[2 * e]] = loose[t.edgeVertex[2 * e + 1]] = 1;
  for (let i = 0; i < indices.length; i++) {
    const e = indices[i];
    if (loose[t.edgeVertex[2 * e]] || loose[t.edgeVertex[2 * e + 1]]) out[e] = 1;
  }
  return listed(out);
}

/** Edge loops through the picked edges; of each every nth, counted both ways from the picked one. */
export function loops(mesh: Mesh, edges: ArrayLike<number>, nth = 1): Uint32Array {
  return chained(mesh, edges, nth, loopInOrder);
}

/** Rings of the picked edges: those that face them across quads; of each every nth. */
export function rings(mesh: Mesh, edges: ArrayLike<number>, nth = 1): Uint32Array {
  return chained(mesh, edges, nth, (m, e) => edgeRing(m, e));
}

function chained(
  mesh: Mesh,
  edges: ArrayLike<number>,
  nth: number,
  chain: (mesh: Mesh, edge: number) => { edges: number[]; closed: boolean },
): Uint32Array {
  const out = new Uint8Array(topologyOf(mesh).edgeCount);
  const done = new Set<number>();
  for (let i = 0; i < edges.length; i++) {
    const e = edges[i];
    if (done.has(e) && nth === 1) continue;
    const { edges: list, closed } = chain(mesh, e);
    const at = list.indexOf(e);
    list.forEach((x, k) => {
      done.add(x);
      const away = Math.abs(k - at);
      const steps = closed ? Math.min(away, list.length - away) : away;
      if (steps % nth === 0) out[x] = 1;
    });
  }
  return listed(out);
}

/** The loop through an edge with its edges one after another. */
function loopInOrder(mesh: Mesh, edge: number): { edges: number[]; closed: boolean } {
  const { edgeVertex: ev } = topologyOf(mesh);
  const all = edgeLoop(mesh, edge);
  // `edgeLoop` goes first one way and then the other, both outwards from the edge.
  const touches = (a: number, b: number) =>
    ev[2 * a] === ev[2 * b] ||
    ev[2 * a] === ev[2 * b + 1] ||
    ev[2 * a + 1] === ev[2 * b] ||
    ev[2 * a + 1] === ev[2 * b + 1];
  let turn = all.length;
  for (let i = 2; i < all.length; i++)
    if (!touches(all[i], all[i - 1])) {
      turn = i;
      break;
    }
  const ahead = all.slice(1, turn);
  const back = all.slice(turn).reverse();
  const closed = all.length > 2 && back.length === 0 && touches(all[all.length - 1], edge);
  return { edges: [...back, edge, ...ahead], closed };
}

/** Flat regions around the picked faces, up to a bend of `angle` radians. */
export function flat(mesh: Mesh, faces: ArrayLike<number>, angle: number): Uint32Array {
  const normals = faceNormals(mesh);
  const out = new Uint8Array(mesh.faceCount);
  for (let i = 0; i < faces.length; i++) {
    if (out[faces[i]]) continue;
    for (const f of flatRegion(mesh, faces[i], normals, angle)) out[f] = 1;
  }
  return listed(out);
}
