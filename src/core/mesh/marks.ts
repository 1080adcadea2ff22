/**
 * What is said of edges for good: how sharp a subdivision keeps them, and whether shading breaks there. Kept by lasting
 * keys, so it costs nothing where nothing is said, and follows edges through what is made of their corners: halves of a
 * split edge, copies, walls drawn out of it.
 */
import { edgeKey } from '../math/hash';
import { EVERY, pulse } from '../math/pulse';
import { descend, edgeKeys } from './lasting';
import type { Mesh } from './mesh';
import { Later } from './places';
import { topologyOf } from './topology';

/**
 * `crease`: levels of subdivision, `ALWAYS` and more for good. `hard`: 1 where shading breaks, −1 where it never does.
 */
export type MarkName = 'crease' | 'hard';
export type Marks = Readonly<Partial<Record<MarkName, ReadonlyMap<number, number>>>>;

/** A crease of this many levels stays sharp however often it is subdivided. */
export const ALWAYS = 10;
const NAMES: readonly MarkName[] = ['crease', 'hard'];

const known = new WeakMap<Mesh, Partial<Record<MarkName, Float32Array | null>>>();

/** The mark of every edge, 0 where nothing is said; undefined where nothing is said of any. */
export function marksOf(mesh: Mesh, name: MarkName): Float32Array | undefined {
  const marks = mesh.marks?.get()[name];
  if (!marks || marks.size === 0) return undefined;
  let had = known.get(mesh);
  if (!had) known.set(mesh, (had = {}));
  if (had[name] === undefined) had[name] = byEdge(mesh, marks);
  return had[name] ?? undefined;
}

function byEdge(mesh: Mesh, marks: ReadonlyMap<number, number>): Float32Array | null {
  const keys = edgeKeys(mesh);
  const out = new Float32Array(keys.length);
  let found = 0;
  for (let e = 0; e < keys.length; e++) {
    const w = marks.get(keys[e]);
    if (w === undefined) continue;
    out[e] = w;
    found++;
  }
  if (found < marks.size && mesh.lineage.length > 0) {
    const there = new Map<number, number>();
    for (let e = 0; e < keys.length; e++) there.set(keys[e], e);
    for (const [key, w] of marks) {
      if (there.has(key)) continue;
      for (const part of descend(mesh.lineage, key)) {
        const e = there.get(part);
        if (e === undefined || marks.has(part)) continue;
        out[e] = w;
        found++;
      }
    }
  }
  return found > 0 ? out : null;
}

/** A mesh whose edges of these indices are marked so; 0 takes the mark away. */
export function marked(mesh: Mesh, name: MarkName, edges: ArrayLike<number>, value: number): Mesh {
  const keys = edgeKeys(mesh);
  const now = marksOf(mesh, name);
  const next = new Map<number, number>();
  if (now) for (let e = 0; e < now.length; e++) if (now[e] !== 0) next.set(keys[e], now[e]);
  for (let i = 0; i < edges.length; i++) {
    // Said with 0 too: an edge that a mark comes down to by its origin would have it again otherwise.
    next.set(keys[edges[i]], value);
  }
  const marks = { ...mesh.marks?.get(), [name]: next };
  return mesh.with({ marks: new Later(() => marks) });
}

/** Marks said anew by keys that a function gives for an edge of a mesh, any number of them. */
export function marksAs(
  mesh: Mesh,
  named: (a: number, b: number, edge: number) => readonly number[],
  weight: (name: MarkName, w: number) => number = (_, w) => w,
): Marks {
  const out: Partial<Record<MarkName, Map<number, number>>> = {};
  const { edgeVertex } = topologyOf(mesh);
  for (const name of NAMES) {
    const now = marksOf(mesh, name);
    if (!now) continue;
    const map = new Map<number, number>();
    for (let e = 0; e < now.length; e++) {
      const w = now[e] === 0 ? 0 : weight(name, now[e]);
      if (w !== 0) for (const key of named(edgeVertex[2 * e], edgeVertex[2 * e + 1], e)) map.set(key, w);
    }
    out[name] = map;
  }
  return out;
}

/**
 * Marks of a mesh made from another corner by corner: an edge takes over what is said of the old edge it lies along.
 * `from`: for each corner the two old ones it lies between, the same twice for one; −1 for none.
 */
export function marksAlong(
  mesh: Mesh,
  faceStart: Uint32Array,
  cornerVertex: Uint32Array,
  vertexKey: Float64Array,
  from: (corner: number) => readonly [number, number],
): Marks {
  const out: Partial<Record<MarkName, Map<number, number>>> = {};
  const t = topologyOf(mesh);
  const { faceStart: oldStart } = mesh;
  const next = (c: number) => (c + 1 < oldStart[t.cornerFace[c] + 1] ? c + 1 : oldStart[t.cornerFace[c]]);
  /** The old edge from one old corner to another beside it in its face; −1 where they are not neighbours. */
  const between = (c: number, d: number): number => {
    if (c < 0 || d < 0 || c === d || t.cornerFace[c] !== t.cornerFace[d]) return -1;
    if (next(c) === d) return t.cornerEdge[c];
    return next(d) === c ? t.cornerEdge[d] : -1;
  };
  /** Whether what lies between these corners lies on an edge: at one of its ends, or between them. */
  const lies = (e: number, c: number, d: number): boolean => {
    if (c !== d) return between(c, d) === e;
    if (c < 0) return false;
    const s = oldStart[t.cornerFace[c]];
    return t.cornerEdge[c] === e || t.cornerEdge[c > s ? c - 1 : oldStart[t.cornerFace[c] + 1] - 1] === e;
  };
  for (const name of NAMES) {
    const said = mesh.marks?.get()[name];
    const now = marksOf(mesh, name);
    if (!said || !now) continue;
    const map = new Map(said);
    for (let f = 0; f + 1 < faceStart.length; f++)
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
        if ((c & EVERY) === 0) pulse();
        const d = c + 1 < faceStart[f + 1] ? c + 1 : faceStart[f];
        const [a0, a1] = from(c);
        const [b0, b1] = from(d);
        let e = between(a0, b0);
        if (a0 !== a1) e = between(a0, a1);
        else if (b0 !== b1) e = between(b0, b1);
        if (e < 0 || now[e] === 0 || !lies(e, a0, a1) || !lies(e, b0, b1)) continue;
        const key = edgeKey(vertexKey[cornerVertex[c]], vertexKey[cornerVertex[d]]);
        if (!map.has(key)) map.set(key, now[e]);
      }
    out[name] = map;
  }
  return out;
}

/** Marks by the keys of the edges as they are now, so that they mean the same without what became of former keys. */
export function marksNow(mesh: Mesh): Marks {
  const keys = edgeKeys(mesh);
  return marksAs(mesh, (_a, _b, e) => [keys[e]]);
}
