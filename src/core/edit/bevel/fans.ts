/** The faces round a vertex in order, and the sectors that bevelled edges part them into. */
import type { Mesh } from '../../mesh/mesh';
import { nextCorner, previousCorner, topologyOf } from '../../mesh/topology';

/**
 * Corners at one vertex, each joined to the next over the edge that comes in at it: counter-clockwise seen from
 * outside.
 */
export interface Fan {
  readonly vertex: number;
  readonly corners: readonly number[];
  readonly closed: boolean;
}

/** Faces from one bevelled edge (or the border) to the next. */
export interface Sector {
  readonly corners: readonly number[];
  /** Bevelled edge it begins at: that which goes out at its first corner; −1 at a border. */
  readonly from: number;
  /** Bevelled edge it ends at: that which comes in at its last corner; −1 at a border. */
  readonly to: number;
}

/**
 * The corner over the edge that comes in at a corner, at the same vertex; −1 at borders, where more than two faces
 * meet, or where they disagree.
 */
function onward(mesh: Mesh, c: number): number {
  const t = topologyOf(mesh);
  const p = previousCorner(mesh, t.cornerFace[c], c);
  const o = across(mesh, p);
  return o >= 0 && mesh.cornerVertex[o] === mesh.cornerVertex[c] ? o : -1;
}

function backward(mesh: Mesh, c: number): number {
  const t = topologyOf(mesh);
  const o = across(mesh, c);
  if (o < 0) return -1;
  const n = nextCorner(mesh, t.cornerFace[o], o);
  return mesh.cornerVertex[n] === mesh.cornerVertex[c] ? n : -1;
}

function across(mesh: Mesh, c: number): number {
  const t = topologyOf(mesh);
  const e = t.cornerEdge[c];
  const s = t.edgeCornerStart[e];
  if (t.edgeCornerStart[e + 1] - s !== 2) return -1;
  return t.edgeCorner[s] === c ? t.edgeCorner[s + 1] : t.edgeCorner[s];
}

/**
 * The fan that a corner is in. Begins at the border where there is one, else at the corner of the face with the lowest
 * key.
 */
export function fanOf(mesh: Mesh, corner: number): Fan {
  const t = topologyOf(mesh);
  let first = corner;
  for (let c = backward(mesh, corner); c >= 0 && c !== corner; c = backward(mesh, c)) first = c;
  const closed = backward(mesh, first) >= 0;
  const corners: number[] = [];
  for (let c = first; c >= 0; c = onward(mesh, c)) {
    corners.push(c);
    if (onward(mesh, c) === first) break;
  }
  if (!closed) return { vertex: mesh.cornerVertex[corner], corners, closed };
  const key = (c: number) => mesh.faceKey[t.cornerFace[c]];
  const start = corners.reduce((m, c, i) => (key(c) < key(corners[m]) ? i : m), 0);
  return {
    vertex: mesh.cornerVertex[corner],
    corners: [...corners.slice(start), ...corners.slice(0, start)],
    closed,
  };
}

export const edgeIn = (mesh: Mesh, c: number): number => {
  const t = topologyOf(mesh);
  return t.cornerEdge[previousCorner(mesh, t.cornerFace[c], c)];
};
export const edgeOut = (mesh: Mesh, c: number): number => topologyOf(mesh).cornerEdge[c];

/** Sectors in order; of a closed fan the first begins at a bevelled edge. */
export function sectorsOf(mesh: Mesh, fan: Fan, isBevelled: (edge: number) => boolean): Sector[] {
  let { corners } = fan;
  if (fan.closed) {
    const start = corners.findIndex((c) => isBevelled(edgeOut(mesh, c)));
    if (start < 0) return [];
    corners = [...corners.slice(start), ...corners.slice(0, start)];
  }
  const out: Sector[] = [];
  let now: number[] = [];
  let from = isBevelled(edgeOut(mesh, corners[0])) && fan.closed ? edgeOut(mesh, corners[0]) : -1;
  corners.forEach((c, i) => {
    now.push(c);
    const e = edgeIn(mesh, c);
    const last = i + 1 === corners.length;
    if (!isBevelled(e) && !last) return;
    const to = isBevelled(e) ? e : -1;
    out.push({ corners: now, from, to });
    now = [];
    from = to;
  });
  return out;
}
