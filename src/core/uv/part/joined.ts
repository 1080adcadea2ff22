/** Patches put back together with their neighbours, where both lie flat as one. */
import { nameOf } from '../../math/hash';
import { pulse } from '../../math/pulse';
import { Queue } from '../../math/queue';
import { UnionFind } from '../../math/unionfind';
import { layFlat, type Laid } from '../flatten/layflat';
import type { Parting } from '../flatten/patch';
import { attachedTo, LARGER } from './attach';
import { boxOf, FILLED } from './box';
import type { Cells } from './cells';
import type { AutoOptions, Island } from './island';
import { darted } from './darts';
import { normalSpread, ROUND, slit, type FaceFacts } from './part';
import { CORNERED, SCRAP, SMALL } from './plan';

/** Patches larger together are not tried: where so much would lie flat it has mostly been found so. */
const MOST_JOINED = 30_000;

/** What was found out while parting. */
interface Known {
  facts: FaceFacts;
  cells: Cells;
  failed: Set<number>;
}

/** Longer than the sheet is wide: all else would be small for it. What was so before may have become wider. */
type TooLong = (one: Island, x: Island, y: Island) => boolean;

interface Border {
  a: number;
  b: number;
  long: number;
  /** Radians, mean by length. */
  bend: number;
}

/** The sharpest bends last. */
export function joined(parting: Parting, islands: Map<number, Island>, known: Known, o: AutoOptions): void {
  const { mesh, t, label } = parting;
  const { cells } = known;
  const { cornerFace, edgeCount, edgeCorner, edgeCornerStart } = t;
  const areaOf = (i: Island): number => i.laid.rest.total;
  const around = wholes(parting, islands, o);
  let total = 0;
  for (const i of islands.values()) total += areaOf(i);
  const sheet = Math.max(total, o.area ?? 0) / FILLED;
  const long = ({ patch, laid }: Island): number => boxOf(patch, laid).long;
  const isThin = (one: Island): boolean => long(one) ** 2 > THIN * areaOf(one);
  const isNarrow = (one: Island): boolean => areaOf(one) < (o.narrow ?? 0) * long(one);
  const tooLong: TooLong = (one, x, y) => {
    if (o.islands > 0 && islands.size > o.islands) return false;
    const now = long(one);
    return now * now > sheet && now > LONGER * Math.max(long(x), long(y));
  };
  const near = new Map<number, Map<number, Border>>();
  const note = (a: number, b: number, long: number, bend: number): void => {
    for (const [x, y] of [
      [a, b],
      [b, a],
    ]) {
      let list = near.get(x);
      if (!list) near.set(x, (list = new Map()));
      const had = list.get(y);
      if (had) {
        had.bend = (had.bend * had.long + bend * long) / (had.long + long);
        had.long += long;
      } else list.set(y, { a: x, b: y, long, bend });
    }
  };
  const lengthOf = (e: number): number => {
    const [a, b] = [3 * t.edgeVertex[2 * e], 3 * t.edgeVertex[2 * e + 1]];
    const p = mesh.positions;
    return Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
  };
  for (let e = 0; e < edgeCount; e++) {
    if (o.seam[e]) continue;
    const s = edgeCornerStart[e];
    const [f, g] = [cornerFace[edgeCorner[s]], cornerFace[edgeCorner[s + 1]]];
    if (label[f] === label[g]) continue;
    const n = cells.facts.normal;
    const [i, j] = [3 * cells.of[f], 3 * cells.of[g]];
    const dot = n[i] * n[j] + n[i + 1] * n[j + 1] + n[i + 2] * n[j + 2];
    note(label[f], label[g], lengthOf(e) || 1e-30, Math.acos(Math.max(-1, Math.min(1, dot))));
  }
  const queue = new Queue();
  const waiting: Border[] = [];
  const offer = (b: Border): void => {
    const [x, y] = [islands.get(b.a)!, islands.get(b.b)!];
    const least = Math.min(areaOf(x), areaOf(y));
    const whole = around(x.patch.faces[0]);
    const free = (o.islands > 0 && islands.size > o.islands) || whole < SCRAP * total;
    const small = least <= SMALL * whole;
    const thin = isThin(x) && isThin(y);
    const limit = free || (thin && isNarrow(x) && isNarrow(y)) ? Math.PI : o.bend;
    const joinedOver = least <= TINY * whole ? FOLDED : CORNERED;
    if (b.bend > (small || thin ? joinedOver : 1) * limit) return;
    // What was foretold to lie flat as it is, next to another such, was looked at already.
    if (x.planned && y.planned && !small && !thin && !free) return;
    if (x.patch.faces.length + y.patch.faces.length > MOST_JOINED) return;
    // Long borders first, for their size; over sharp bends later; what is small before all.
    const worth = b.long / Math.sqrt(least || 1e-30);
    queue.push(waiting.push(b) - 1, b.bend * 2 - Math.min(4, worth) + (small ? -1 : 0));
  };
  const offerAll = (): void => {
    for (const list of near.values()) for (const b of list.values()) if (b.a < b.b) offer(b);
  };
  const became = (b: Border, one: Island): void => {
    // The larger keeps its label; what was next to the other is next to it now.
    const [keep, gone] = label[one.patch.faces[0]] === b.a ? [b.a, b.b] : [b.b, b.a];
    islands.delete(gone);
    islands.set(keep, one);
    const theirs = near.get(gone)!;
    near.delete(gone);
    near.get(keep)!.delete(gone);
    for (const [other, border] of theirs) {
      near.get(other)?.delete(gone);
      if (other !== keep) note(keep, other, border.long, border.bend);
    }
    for (const [other, border] of near.get(keep)!) {
      const fresh = { ...border, a: Math.min(keep, other), b: Math.max(keep, other) };
      near.get(keep)!.set(other, fresh);
      near.get(other)!.set(keep, fresh);
      offer(fresh);
    }
  };
  /** Goes through what is offered, what is likeliest first, as long as there is work left for it. */
  const goThrough = (
    left: number,
    joining: (x: Island, y: Island) => { one: Island | undefined; work: number },
    done: (share: number) => void,
  ): void => {
    offerAll();
    const total = Math.max(1, queue.size);
    let tried = 0;
    while (queue.size > 0) {
      const b = waiting[queue.pop()[0]];
      const [x, y] = [islands.get(b.a), islands.get(b.b)];
      if (left <= 0 || !x || !y || near.get(b.a)?.get(b.b) !== b) continue;
      if ((++tried & 15) === 0) {
        pulse();
        done(Math.min(1, tried / total));
      }
      const { one, work } = joining(x, y);
      left -= one ? work / 4 : work;
      if (one) became(b, one);
    }
  };
  goThrough(
    o.rough ? 0 : ATTACHING * mesh.faceCount + 6000,
    (x, y) => {
      const [one, other] = [x.patch.faces.length, y.patch.faces.length];
      if (Math.max(one, other) < LARGER * Math.min(one, other)) return { one: undefined, work: 0 };
      return {
        one: attachedAs(parting, x, y, o, tooLong),
        work: Math.min(one, other) + Math.max(one, other) / 10,
      };
    },
    (share) => o.progress?.(0.7 + 0.1 * share),
  );
  // As much work as all that was done before, about.
  goThrough(
    mesh.faceCount + 6000,
    (x, y) => ({ one: tryJoin(parting, [x, y], known, o, tooLong), work: x.patch.faces.length + y.patch.faces.length }),
    (share) => o.progress?.(0.8 + 0.2 * share),
  );
}

/** So many times as long as wide: side by side such strips lie better as one, though they bend there. */
const THIN = 10;

/** By less than that nothing has become longer. */
const LONGER = 1.02;

/** What is still smaller is joined over next to everything: it is not worth an island. */
const TINY = 0.002;
const FOLDED = 2;

/** So many faces are laid beside others, for each there is. */
const ATTACHING = 2;

/** Both as one, the larger as it lies; labels are as before where that cannot be. */
function attachedAs(parting: Parting, x: Island, y: Island, o: AutoOptions, tooLong: TooLong): Island | undefined {
  const { label } = parting;
  const [big, small] = x.patch.faces.length >= y.patch.faces.length ? [x, y] : [y, x];
  const faces = together(big, small);
  const [keep, gone] = [label[big.patch.faces[0]], label[small.patch.faces[0]]];
  for (const f of small.patch.faces) label[f] = keep;
  const one = attachedTo(parting, big, faces, o);
  if (one && !tooLong(one, x, y)) return one;
  for (const f of small.patch.faces) label[f] = gone;
  return undefined;
}

/** The faces of two islands, in order. */
function together(x: Island, y: Island): Uint32Array {
  const faces = new Uint32Array(x.patch.faces.length + y.patch.faces.length);
  faces.set(x.patch.faces);
  faces.set(y.patch.faces, x.patch.faces.length);
  return faces.sort();
}

/** Area of the part of the surface that hangs together round a face, over whatever may be joined. */
function wholes(parting: Parting, islands: Map<number, Island>, o: AutoOptions): (face: number) => number {
  const { mesh, t } = parting;
  const joinedFaces = new UnionFind(mesh.faceCount);
  for (let e = 0; e < t.edgeCount; e++) {
    if (o.seam[e]) continue;
    const s = t.edgeCornerStart[e];
    joinedFaces.join(t.cornerFace[t.edgeCorner[s]], t.cornerFace[t.edgeCorner[s + 1]]);
  }
  const sums = new Map<number, number>();
  for (const { patch, laid } of islands.values()) {
    const root = joinedFaces.find(patch.faces[0]);
    sums.set(root, (sums.get(root) ?? 0) + laid.rest.total);
  }
  return (face) => sums.get(joinedFaces.find(face)) ?? 0;
}

function tryJoin(
  parting: Parting,
  [x, y]: readonly [Island, Island],
  { facts, failed }: Known,
  o: AutoOptions,
  tooLong: TooLong,
): Island | undefined {
  const { label, seam, mesh, t } = parting;
  const [big, small] = x.patch.faces.length >= y.patch.faces.length ? [x, y] : [y, x];
  const faces = together(big, small);
  const name = nameOf(faces);
  if (failed.has(name)) return undefined;
  if (faces.length > 200 && normalSpread(faces, facts).least > ROUND) return undefined;
  const keep = label[big.patch.faces[0]];
  const gone = label[small.patch.faces[0]];
  for (const f of small.patch.faces) label[f] = keep;
  // What was cut between or within them for want of flatness is whole again, until it is asked for anew.
  const healed: number[] = [];
  for (const f of faces)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const e = t.cornerEdge[c];
      if (!seam[e] || o.seam[e]) continue;
      const s = t.edgeCornerStart[e];
      if (label[t.cornerFace[t.edgeCorner[s]]] !== keep || label[t.cornerFace[t.edgeCorner[s + 1]]] !== keep) continue;
      seam[e] = 0;
      healed.push(e);
    }
  let patch = parting.patch(faces);
  let laid: Laid | undefined;
  const cut = patch.borders > 1 && patch.euler === 2 - patch.borders;
  if (patch.borders > 0 && patch.euler === 2 - patch.borders) {
    if (cut && slit(parting, patch, o.weigh).length > 0) patch = parting.patch(faces);
    laid = layFlat(patch, o.bound, { mean: o.mean });
  }
  let one = laid?.good ? { patch, laid } : undefined;
  if (laid && !one && !o.rough) one = darted(parting, patch, laid, o);
  if (one && !tooLong(one, x, y)) return one;
  failed.add(name);
  for (const f of faces)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      if (!o.seam[t.cornerEdge[c]] && label[f] === keep) {
        const e = t.cornerEdge[c];
        const s = t.edgeCornerStart[e];
        if (label[t.cornerFace[t.edgeCorner[s]]] === keep && label[t.cornerFace[t.edgeCorner[s + 1]]] === keep)
          seam[e] = 0;
      }
  for (const e of healed) seam[e] = 1;
  for (const f of small.patch.faces) label[f] = gone;
  return undefined;
}
