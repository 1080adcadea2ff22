/**
 * Picks: elements named by lasting keys. A pick is resolved against a mesh each time it is used; a key that was split
 * upstream is followed to its parts, and keys that are gone are counted, never removed from the pick.
 */
import { EVERY, pulse } from '../math/pulse';
import { edgeKey } from '../math/hash';
import { descend, edgeKeys } from './lasting';
import type { Mesh } from './mesh';
import { findSpot, nearestSpot, isSpot, SPOT_SIZE, spotOf, type Spot } from './spots';
import { packSpots, unpackSpots } from './packedspots';
import type { Witness } from './witnesses';
import { topologyOf } from './topology';
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

/** A pick of elements by index, with both its witnesses: their keys, and where they are. */
export function pickOf(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>): ElementPick {
  const all = keysOf(mesh, kind);
  const list = Array.from(indices);
  return { kind, keys: list.map((i) => all[i]), spots: packSpots(list.map((i) => spotOf(mesh, kind, i))) };
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
