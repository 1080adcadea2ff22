/**
 * Islands relaxed round by round for as long as one looks on: angles kept, or lengths, or something of both; borders
 * and whatever is picked held where they are. No face is turned over by it, and no island comes to lie on itself.
 */
import type { Mesh } from '../../mesh/mesh';
import { crossingsOf, flatnessOf, restOf, type Rest } from '../flatten/flatness';
import { conformal } from '../flatten/lscm';
import type { Patch } from '../flatten/patch';
import { Relaxing, tutte } from '../flatten/refine';
import { withoutSlivers } from './relax';
import { laidBack, signedArea } from './shape';
import { EDGE, onSheet, SheetEdit, sheetOf } from './sheet';

const { abs, max, min, sqrt } = Math;

export interface RelaxLiveOptions {
  /** Of the islands that are relaxed. */
  faces: readonly number[];
  /** Corners that stay where they are. */
  held: readonly number[];
  /** Faces that alone may move: what lies at others is held. All, where it is left out. */
  only?: readonly number[];
  /** The border of each island stays as it is. */
  border: boolean;
  /** 1 keeps lengths, 0 angles; between them something of both. */
  lengths: number;
  rounds: number;
  stop: () => boolean;
  /** After rounds: the layout as it is by then, and the mean of the larger stretch over the smaller. */
  better: (uv: Float32Array, mean: number, round: number) => void;
}

export interface RelaxedLive {
  uv: Float32Array;
  /** Of the larger stretch over the smaller. */
  mean: number;
  rounds: number;
  /**
   * Islands that could not be relaxed: they lie on their face or on themselves, and what is held leaves no other way.
   */
  left: number;
}

/** An island on its way. */
interface Own {
  faces: Uint32Array;
  given: Patch;
  /** Without what has no area. */
  patch: Patch;
  rest: Rest;
  /** Where it is, in the scale of the surface and its face up. */
  at: Float64Array;
  /** From there back to the sheet, of the vertices of the island as it is given. */
  back: (at: Float64Array) => Float64Array;
  /** Vertices that are over the edge of the sheet, where nothing was: what is held keeps it from being put back. */
  over: (at: Float64Array) => number[];
  relaxing: Relaxing;
  /** Vertices that stay where they are. */
  held: Uint8Array;
  lengths: number;
  /** It did not lie on itself when it began. */
  clear: boolean;
  /** How often it would have come to lie on itself. */
  met: number;
  /** Without a crossing border, as far as is known; the rim is looked at only now and then. */
  sound: Float64Array;
  /** It has moved since its border was looked at. */
  fresh: boolean;
  done: boolean;
}

/** Rounds after which borders are looked at: each look takes about as long as a round. */
const LOOK = 8;
/** Gained by a round, as a share: less is nothing. */
const LITTLE = 1e-7;

export function relaxedLive(mesh: Mesh, o: RelaxLiveOptions): RelaxedLive {
  const s = new SheetEdit(mesh);
  const held = new Uint8Array(mesh.cornerCount);
  for (const c of o.held) held[c] = 1;
  if (o.only) {
    const may = new Uint8Array(mesh.faceCount);
    for (const f of o.only) may[f] = 1;
    for (const c of s.cornersOf(Array.from(may.keys()).filter((f) => !may[f]))) held[c] = 1;
  }
  let left = 0;
  const all: Own[] = [];
  for (const island of s.islandsWith(o.faces)) {
    const own = begun(s, island, held, o);
    if (own) all.push(own);
    else left++;
  }
  const laid = (): Float32Array => {
    for (const { faces, given, sound, back } of all) s.put(faces, given, back(sound));
    return s.uv.slice();
  };
  const meanOf = (): number => {
    let sum = 0;
    let area = 0;
    for (const { patch, rest, sound } of all) {
      sum += rest.total * flatnessOf(patch, rest, sound, 2).mean;
      area += rest.total;
    }
    return area > 0 ? sum / area : 1;
  };
  let round = 0;
  while (round < o.rounds && all.some((a) => !a.done) && !o.stop()) {
    round++;
    for (const own of all) {
      if (own.done) continue;
      const gained = own.relaxing.round();
      own.fresh ||= gained !== undefined;
      own.done = !((gained ?? 0) > LITTLE);
    }
    if (round % LOOK !== 0 && !all.every((a) => a.done)) continue;
    all.forEach(keepSound);
    o.better(laid(), meanOf(), round);
  }
  all.forEach(keepSound);
  return { uv: laid(), mean: meanOf(), rounds: round, left };
}

/** So often sides that would meet are held one by one, before the whole border is. */
const ONE_BY_ONE = 6;
/** Sides to both hands of those that would meet that are held with them. */
const BESIDE = 2;

/**
 * What lies once on the sheet is kept. Where an island came to lie on itself, or over the edge of the sheet, it goes
 * back to where it did not yet, and the sides that would have met, or what would be over it, stay there from now on.
 */
function keepSound(own: Own): void {
  if (!own.fresh) return;
  own.fresh = false;
  const { patch, rest, at, held, lengths } = own;
  const meeting = own.clear ? crossingsOf(patch.rim, at) : [];
  const over = own.over(at);
  if (meeting.length === 0 && over.length === 0) {
    own.sound = at.slice();
    return;
  }
  at.set(own.sound);
  if (++own.met > ONE_BY_ONE) {
    if (own.met > ONE_BY_ONE + 1) {
      own.done = true;
      return;
    }
    for (const v of patch.rim) held[v] = 1;
  } else {
    for (const s of meeting) holdRound(patch, held, s);
    for (const v of over) held[v] = 1;
  }
  own.relaxing = new Relaxing(patch, rest, at, { held, lengths });
  own.done = false;
}

/** Holds both ends of a side of the rim, and what is next to them along it. */
function holdRound({ rim }: Patch, held: Uint8Array, side: number): void {
  let near = new Set([rim[2 * side], rim[2 * side + 1]]);
  for (let k = 0; k <= BESIDE; k++) {
    for (const v of near) held[v] = 1;
    const next = new Set(near);
    for (let i = 0; i < rim.length; i += 2) {
      if (near.has(rim[i])) next.add(rim[i + 1]);
      if (near.has(rim[i + 1])) next.add(rim[i]);
    }
    near = next;
  }
}

/** Undefined for what has no area, and for what lies on its face and cannot be laid otherwise as things are held. */
function begun(s: SheetEdit, island: number, heldCorners: Uint8Array, o: RelaxLiveOptions): Own | undefined {
  const faces = s.facesOf(island);
  const { patch: given, at: asGiven } = s.patchOf(faces);
  const { patch, at: before, of, spread } = withoutSlivers(given, asGiven);
  const rest = restOf(patch);
  if (!(rest.total > 0)) return undefined;
  const held = new Uint8Array(before.length / 2);
  s.cornersOf(faces).forEach((c, k) => {
    const v = of(given.corners[k]);
    held[v] = max(held[v], heldCorners[c]);
  });
  const picked = held.includes(1);
  if (o.border) for (const v of patch.rim) held[v] = 1;
  const free = !picked && !o.border;
  const { triangles } = patch;
  const flips = (at: Float64Array): number => flatnessOf(patch, rest, at, 2).flips;
  // What was mirrored by hand stays so.
  const mirrored = signedArea(before, triangles) < 0;
  const turnedOver = (at: Float64Array): Float64Array =>
    mirrored ? at.map((x, i) => (i % 2 === 0 ? -x : x)) : at.slice();
  let at: Float64Array | undefined = turnedOver(before);
  if (flips(at) > 0) {
    // With nothing held there is always a map without flips; within a border that is held there may be one.
    if (picked) return undefined;
    at = o.border ? tutte(patch, rest, at) : conformal({ points: patch.points, triangles });
    if (free && (!at || flips(at) > 0)) at = tutte(patch, rest);
    if (!at || flips(at) > 0) return undefined;
  }
  // In the scale of the surface lengths mean something.
  const scale = sqrt(rest.total / abs(signedArea(at, triangles)));
  for (let i = 0; i < at.length; i++) at[i] *= scale;
  const back = (now: Float64Array): Float64Array => {
    const over = turnedOver(now);
    return spread(free ? onSheet(laidBack(over, before, triangles), before) : over.map((x) => x / scale));
  };
  const sheet = sheetOf(before);
  const over = (now: Float64Array): number[] => {
    if (free || !sheet) return [];
    return Array.from(held.keys()).filter((v) => {
      const [x, y] = [(mirrored ? -1 : 1) * (now[2 * v] / scale), now[2 * v + 1] / scale];
      return min(x - sheet[0], sheet[0] + 1 - x, y - sheet[1], sheet[1] + 1 - y) < -EDGE / 2;
    });
  };
  const relaxing = new Relaxing(patch, rest, at, { held, lengths: o.lengths });
  const clear = crossingsOf(patch.rim, at, true).length === 0;
  const { lengths } = o;
  return {
    faces,
    given,
    patch,
    rest,
    at,
    back,
    over,
    relaxing,
    held,
    lengths,
    clear,
    met: 0,
    sound: at.slice(),
    fresh: false,
    done: false,
  };
}
