/**
 * Pieces of a surface that are the same, wherever they are and however they are turned: links of a chain, planks,
 * rivets. One of each kind is parted, and the others as it is: an artist finds the same seams on all of them, and it
 * takes the time of one. Only what was made the same way is found: with faces and corners in one order.
 */
import { pulse } from '../../math/pulse';
import { components } from '../../mesh/measure';
import type { Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';
import { restOf } from '../flatten/flatness';
import { Parting } from '../flatten/patch';
import type { Island } from './island';

const { abs, hypot, imul, max } = Math;

/** Sides and diagonals differ by no more than this, of their length; and of the size of all, for roundness of numbers. */
const ALIKE = 2e-4;
const ROUND = 4e-7;
/** Of all faces: where those that are left are more, it is not worth it. */
const WORTH = 0.9;
/** Kinds that are told apart by their sizes alone. */
const MOST_KINDS = 64;

export interface Same {
  /** Faces of one of each kind, in order. */
  faces: Uint32Array;
  /** How many pieces there are of how many kinds. */
  pieces: number;
  kinds: number;
  /** Of faces of one such piece, in order, those of each of the others that are like it. */
  others(list: Uint32Array): Uint32Array[];
}

/** `marks`: of each edge, whatever tells it from others. Undefined where hardly anything is the same. */
export function samePieces(mesh: Mesh, marks: Uint8Array): Same | undefined {
  const { faceStart, cornerVertex, faceCount } = mesh;
  const { of: pieceOfVertex, count } = components(mesh);
  if (count < 2) return undefined;
  const start = new Uint32Array(count + 1);
  const pieceOf = (f: number): number => pieceOfVertex[cornerVertex[faceStart[f]]];
  for (let f = 0; f < faceCount; f++) start[pieceOf(f) + 1]++;
  for (let k = 0; k < count; k++) start[k + 1] += start[k];
  const next = start.slice(0, count);
  const order = new Uint32Array(faceCount);
  for (let f = 0; f < faceCount; f++) order[next[pieceOf(f)]++] = f;
  const facesOf = (k: number): Uint32Array => order.subarray(start[k], start[k + 1]);
  const nameOf = naming(mesh, marks);
  const isSame = comparing(mesh, marks);
  const byName = new Map<number, number[]>();
  const like = new Map<number, number[]>();
  let [pieces, left] = [0, 0];
  for (let k = 0; k < count; k++) {
    const own = facesOf(k);
    if (own.length === 0) continue;
    pulse();
    pieces++;
    const name = nameOf(own);
    const kinds = byName.get(name);
    const first = kinds?.find((other) => isSame(facesOf(other), own));
    if (first !== undefined) {
      like.get(first)!.push(k);
      continue;
    }
    like.set(k, []);
    left += own.length;
    if (!kinds) byName.set(name, [k]);
    else if (kinds.length < MOST_KINDS) kinds.push(k);
  }
  if (!(left < WORTH * faceCount)) return undefined;
  const faces = new Uint32Array(left);
  let at = 0;
  for (const k of like.keys()) {
    faces.set(facesOf(k), at);
    at += start[k + 1] - start[k];
  }
  faces.sort();
  const others = (list: Uint32Array): Uint32Array[] => {
    const k = pieceOf(list[0]);
    const own = facesOf(k);
    const places = new Uint32Array(list.length);
    for (let i = 0, j = 0; i < list.length; i++) {
      while (own[j] < list[i]) j++;
      places[i] = j;
    }
    return like.get(k)!.map((other) => places.map((j) => order[start[other] + j]));
  };
  return { faces, pieces, kinds: like.size, others };
}

interface Found {
  islands: Island[];
  seam: Uint8Array;
}

/**
 * What was found of one of each kind, for all of them: the others are cut as it is and lie as it does. `edge`: by edges
 * of those, the same of all. Undefined where a face would be another one when it is cut into triangles.
 */
export function spreadOut(
  mesh: Mesh,
  same: Same,
  { hard, edge }: { hard: Uint8Array; edge: Int32Array },
  one: Found,
): Found | undefined {
  const { faceStart } = mesh;
  const { cornerEdge } = topologyOf(mesh);
  const seam = hard.slice();
  one.seam.forEach((x, e) => {
    if (x) seam[edge[e]] = 1;
  });
  const all: { faces: Uint32Array; of: Island }[] = [];
  for (const island of one.islands) {
    const list = island.patch.faces.map((f) => same.faces[f]);
    const others = same.others(list);
    all.push(...[list, ...others].map((faces) => ({ faces, of: island })));
    for (const twins of others)
      list.forEach((f, i) => {
        const to = faceStart[twins[i]] - faceStart[f];
        for (let c = faceStart[f]; c < faceStart[f + 1]; c++) if (seam[cornerEdge[c]]) seam[cornerEdge[c + to]] = 1;
      });
  }
  // Where a patch ends is known only when all have their labels.
  const parting = new Parting(mesh, seam);
  all.forEach(({ faces }, k) => {
    for (const f of faces) parting.label[f] = k;
  });
  const islands: Island[] = [];
  for (const { faces, of } of all) {
    pulse();
    const patch = parting.patch(faces);
    if (!isOne(patch.corners, of.patch.corners) || !isOne(patch.triangles, of.patch.triangles)) return undefined;
    islands.push({ patch, laid: { ...of.laid, uv: of.laid.uv.slice(), rest: restOf(patch) } });
  }
  return { islands, seam };
}

const isOne = (a: Uint32Array, b: Uint32Array): boolean => a.length === b.length && a.every((x, i) => x === b[i]);

/** A number for how the faces of a piece hang together and are marked. */
function naming(mesh: Mesh, marks: Uint8Array): (faces: Uint32Array) => number {
  const { faceStart, cornerVertex } = mesh;
  const { cornerEdge } = topologyOf(mesh);
  const local = new Int32Array(mesh.vertexCount).fill(-1);
  return (faces) => {
    let [h, n] = [faces.length, 0];
    for (const f of faces) {
      h = imul(h ^ (faceStart[f + 1] - faceStart[f]), 0x9e3779b1);
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
        const v = cornerVertex[c];
        if (local[v] < 0) local[v] = n++;
        h = imul(h ^ (8 * local[v] + marks[cornerEdge[c]]), 0x85ebca6b);
        h ^= h >>> 15;
      }
    }
    return h;
  };
}

function comparing(mesh: Mesh, marks: Uint8Array): (a: Uint32Array, b: Uint32Array) => boolean {
  const { faceStart, cornerVertex, positions: p } = mesh;
  const { cornerEdge } = topologyOf(mesh);
  let far = 0;
  for (let i = 0; i < p.length; i++) far = max(far, abs(p[i]));
  const round = ROUND * far;
  const between = (v: number, w: number): number =>
    hypot(p[3 * v] - p[3 * w], p[3 * v + 1] - p[3 * w + 1], p[3 * v + 2] - p[3 * w + 2]);
  const twin = new Int32Array(mesh.vertexCount).fill(-1);
  return (a, b) => {
    if (a.length !== b.length) return false;
    for (let i = 0; i < a.length; i++) {
      const [s, t] = [faceStart[a[i]], faceStart[b[i]]];
      const n = faceStart[a[i] + 1] - s;
      if (faceStart[b[i] + 1] - t !== n) return false;
      for (let k = 0; k < n; k++) {
        const [v, w] = [cornerVertex[s + k], cornerVertex[t + k]];
        if (marks[cornerEdge[s + k]] !== marks[cornerEdge[t + k]]) return false;
        for (const step of [1, 2]) {
          const x = between(v, cornerVertex[s + ((k + step) % n)]);
          const y = between(w, cornerVertex[t + ((k + step) % n)]);
          if (!(abs(x - y) <= ALIKE * x + round)) return false;
        }
      }
    }
    return hangsAlike(a, b);
  };

  /** One vertex for each of the other, wherever faces meet. */
  function hangsAlike(a: Uint32Array, b: Uint32Array): boolean {
    for (const f of b) for (let c = faceStart[f]; c < faceStart[f + 1]; c++) twin[cornerVertex[c]] = -1;
    const back = new Map<number, number>();
    for (let i = 0; i < a.length; i++)
      for (let k = 0; k < faceStart[a[i] + 1] - faceStart[a[i]]; k++) {
        const [v, w] = [cornerVertex[faceStart[a[i]] + k], cornerVertex[faceStart[b[i]] + k]];
        if (twin[w] < 0) twin[w] = v;
        if (!back.has(v)) back.set(v, w);
        if (twin[w] !== v || back.get(v) !== w) return false;
      }
    return true;
  }
}
