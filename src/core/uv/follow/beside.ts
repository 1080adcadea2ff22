/**
 * What the hand's places say of seams: what lies together on the sheet is together, and what was not placed is cut from
 * what was where the two cannot lie as one.
 */
import type { Mesh } from '../../mesh/mesh';
import { nextCorner, topologyOf } from '../../mesh/topology';
import { charts, facesByChart, type Charts } from '../part/charts';

const { abs } = Math;

type Places = ReadonlyMap<number, readonly [number, number]>;

const SAME = 1e-6;

/** Faces of which every corner has its place. */
function wholeFaces(mesh: Mesh, pins: Places): Uint8Array {
  const { cornerFace } = topologyOf(mesh);
  const whole = new Uint8Array(mesh.faceCount).fill(1);
  for (let c = 0; c < mesh.cornerCount; c++) if (!pins.has(c)) whole[cornerFace[c]] = 0;
  return whole;
}

/**
 * Faces whose corners were all placed by hand are cut from each other where the hand's places say so, and nowhere else.
 */
export function seamsByPlaces(mesh: Mesh, seam: Uint8Array, marked: Uint8Array, pins: Places, kept: boolean): void {
  const t = topologyOf(mesh);
  const whole = wholeFaces(mesh, pins);
  const same = (a: number, b: number): boolean => {
    const [p, q] = [pins.get(a)!, pins.get(b)!];
    return abs(p[0] - q[0]) < SAME && abs(p[1] - q[1]) < SAME;
  };
  for (let e = 0; e < t.edgeCount; e++) {
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) continue;
    const [a, b] = [t.edgeCorner[s], t.edgeCorner[s + 1]];
    const [f, g] = [t.cornerFace[a], t.cornerFace[b]];
    // What has no place yet is laid flat by itself: between islands that have theirs it would fold.
    if (kept && whole[f] !== whole[g]) seam[e] = 1;
    if (!whole[f] || !whole[g] || mesh.cornerVertex[a] === mesh.cornerVertex[b]) continue;
    const joined = same(a, nextCorner(mesh, g, b)) && same(nextCorner(mesh, f, a), b);
    if (!joined) seam[e] = 1;
    else if (!marked[e]) seam[e] = 0;
  }
}

/** An island counts as placed by hand while at least half of its corners are. */
export const isHeld = (pinned: number, corners: number): boolean => pinned > 0 && 2 * pinned >= corners;

/** Each cut can make an island of which less is placed than is not. */
const ROUNDS = 8;

/** Islands as they are with what was not placed cut from what was, where both cannot lie as one. */
export function apartFromPlaced(mesh: Mesh, given: Charts, pins: Places): Charts {
  const whole = wholeFaces(mesh, pins);
  let ch = given;
  for (let round = 0; round < ROUNDS; round++) {
    const heavier = outweighed(mesh, ch, pins, whole);
    if (!contradicted(mesh, ch, pins, whole) && !heavier) break;
    ch = charts(mesh, ch.seam);
  }
  return ch;
}

/**
 * Faces placed by hand that came to lie in one island with more that is not, by a change, are cut from that: otherwise
 * they would go with it, and nobody would know. Tells whether any were.
 */
function outweighed(mesh: Mesh, ch: Charts, pins: Places, whole: Uint8Array): boolean {
  const { cornerFace, edgeCount, edgeCorner, edgeCornerStart } = topologyOf(mesh);
  const [pinned, corners] = [0, 1].map(() => new Uint32Array(ch.count));
  const { start, face } = facesByChart(ch);
  for (let k = 0; k < ch.count; k++)
    for (let i = start[k]; i < start[k + 1]; i++)
      for (let c = mesh.faceStart[face[i]]; c < mesh.faceStart[face[i] + 1]; c++) {
        corners[k]++;
        if (pins.has(c)) pinned[k]++;
      }
  let any = false;
  for (let e = 0; e < edgeCount; e++) {
    const s = edgeCornerStart[e];
    if (ch.seam[e] || edgeCornerStart[e + 1] - s !== 2) continue;
    const [f, g] = [cornerFace[edgeCorner[s]], cornerFace[edgeCorner[s + 1]]];
    const k = ch.ofFace[f];
    if (whole[f] === whole[g] || isHeld(pinned[k], corners[k])) continue;
    ch.seam[e] = 1;
    any = true;
  }
  return any;
}

/**
 * Where corners that have different places came to be one, since what lies between them has none and is cut from
 * neither: that is cut off, with all that hangs on it, from what was placed. Only one of the places would be kept.
 * Tells whether any was.
 */
function contradicted(mesh: Mesh, ch: Charts, pins: Places, whole: Uint8Array): boolean {
  const { cornerEdge, cornerFace, edgeCorner, edgeCornerStart } = topologyOf(mesh);
  const first = new Int32Array(ch.uvCount).fill(-1);
  const torn = new Uint8Array(ch.uvCount);
  let any = false;
  for (const [c, [u, v]] of pins) {
    const k = ch.cornerUv[c];
    if (first[k] < 0) first[k] = c;
    const [x, y] = pins.get(first[k])!;
    if (abs(x - u) < SAME && abs(y - v) < SAME) continue;
    torn[k] = 1;
    any = true;
  }
  if (!any) return false;
  const seen = new Uint8Array(mesh.faceCount);
  const next: number[] = [];
  for (let f = 0; f < mesh.faceCount; f++) {
    if (whole[f]) continue;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1] && !seen[f]; c++)
      if (torn[ch.cornerUv[c]]) {
        seen[f] = 1;
        next.push(f);
      }
  }
  let cut = false;
  for (let f = next.pop(); f !== undefined; f = next.pop())
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const e = cornerEdge[c];
      const s = edgeCornerStart[e];
      if (ch.seam[e] || edgeCornerStart[e + 1] - s !== 2) continue;
      const g = cornerFace[edgeCorner[s] === c ? edgeCorner[s + 1] : edgeCorner[s]];
      if (whole[g]) {
        ch.seam[e] = 1;
        cut = true;
      } else if (!seen[g]) {
        seen[g] = 1;
        next.push(g);
      }
    }
  return cut;
}
