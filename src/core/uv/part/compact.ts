/**
 * Islands that sprawl are cut in two where that costs little: what fills little of its box leaves most of the sheet
 * empty, however it is turned. Both halves lie as the whole did. Where islands are few more is cut, as long as what they
 * come to when they are packed is worth it.
 *
 * Fill and islands without any of it, and at 0.5: a lumpy ball of 5,740 faces 55 % in 3, 76 % in 7, one of 14,716 73 %
 * in 6, 77 % in 8, an animal 74 % in 18, 75 % in 21, rings 63 % in 20, 75 % in 33. Islands are as large here as they are
 * laid: by the middle of their scales the boxes of what is rounded looked a tenth too large, and 28 shapes came to 473
 * islands, 20 of them 72 % full or fuller; it is 490 and 25.
 */
import { pulse } from '../../math/pulse';
import type { Mesh } from '../../mesh/mesh';
import type { Island } from './island';
import { leastBox } from '../pack/cells/boxes';
import { leastSquareOf } from '../pack/cells/strip';
import { flatnessOf, restOf } from '../flatten/flatness';
import { bestCut, rimPointsOf, type Cutting } from './cutline';
import { Parting } from '../flatten/patch';
import { StraightBorders, type Straightening } from './straight';

const { max, min, sqrt } = Math;

export interface Compacting extends Straightening {
  /** Islands that may be had more. */
  most: number;
  /** Of all that goes on the sheet, where that is more than these islands: what is long is so against it. */
  area?: number;
  /** 0 to 1: how much is cut for a fuller sheet; at 0 only what is longer than it. 0.5. */
  fill?: number;
  /** Strips narrower than this are cut only where they are longer than the sheet: as two they would take more; metres. */
  narrow?: number;
  /** Share of the sheet that islands cover when they are packed; where it can be told, more is cut as long as it pays. */
  fullness?: (islands: readonly Island[]) => number;
}

/** So much of a sheet is filled well enough. */
const SHEET = 0.66;
/** What is longer than so many areas of all, squared, leaves what it is longer by empty. */
const TOO_LONG = 1.75;

/** Of no more islands than that each matters by itself; of twice as many little does. */
const FEW = 20;

/** A sheet as full as that is full enough. */
const FULL = 0.76;
/** By so much more than in haste it gets full with care, at most; of a few islands by so much for each. */
const MORE = 0.052;
const MORE_EACH = 0.005;
/** So much more of the sheet an island more is to bring, at 0.5. */
const PRICE = 0.0015;
/** Between what is worth most and fewer cuts so many more are tried. */
const CLOSER = 1;
/** From so little on it is looked for at all. */
const LITTLE = 0.25;
/** More islands than this are not cut on, and none come to more than that by it. */
const MANY = 40;
const MOST = 60;

/** At 1 no island takes more than this of everything, unless it fills its box as well as that. */
const LARGEST = 0.3;
const BOXY = 0.85;

/** At 0.5 what costs hardly an island; at 1 whatever leaves smaller boxes. */
function cuttingFor(fill: number, islands: number): Cutting {
  const more = max(0, 2 * fill - 1);
  const between = (a: number, b: number): number => a + more * (b - a);
  // Where there are many, small ones lie in the gaps of the large: the lamp came to 51 for 47 and was no fuller.
  const many = max(0, min(1, (islands - FEW) / FEW));
  return {
    filled: between(0.78 - 0.12 * many, 0.9),
    empty: min(1, 2 * fill),
    worth: between(0.03 + 0.03 * many, 0.01),
    saved: between(0.82, 0.95),
    least: between(0.12, 0.03),
    cut: 0.12,
    largest: between(1, LARGEST),
  };
}

/** `seam` is changed: what is cut is a seam. */
export function compacted(mesh: Mesh, islands: readonly Island[], seam: Uint8Array, o: Compacting): Island[] {
  const parting = new Parting(mesh, seam);
  let total = 0;
  islands.forEach(({ patch, laid }, k) => {
    for (const f of patch.faces) parting.label[f] = k;
    total += laid.rest.total;
  });
  const out = new Cut(parting, islands, total, o);
  const fill = o.fill ?? 0.5;
  out.by(cuttingFor(fill, islands.length));
  const few = out.islands.length;
  if (o.fullness && few <= MANY && fill >= LITTLE && fill < 1) {
    const steps: Step[] = [];
    out.by(cuttingFor(1, few), MOST, (step) => steps.push(step));
    out.back(worthiest(steps, o.fullness, PRICE * (1 / fill - 1)));
  }
  const { t, label } = parting;
  for (let e = 0; e < t.edgeCount; e++) {
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) continue;
    if (label[t.cornerFace[t.edgeCorner[s]]] !== label[t.cornerFace[t.edgeCorner[s + 1]]]) seam[e] = 1;
  }
  return out.islands;
}

/** What there is after a cut, and how full the boxes of all are. */
interface Step {
  islands: readonly Island[];
  filled: number;
}

/** Islands, and what they are cut into one after the other. */
class Cut {
  islands: Island[];
  private readonly total: number;
  private straight: StraightBorders | undefined;
  private left: number;

  constructor(
    private readonly parting: Parting,
    given: readonly Island[],
    /** How well boxes are filled is told by these islands alone: half a model against all of it looks filled at once. */
    private readonly own: number,
    private readonly o: Compacting,
  ) {
    this.islands = [...given];
    this.total = max(own, o.area ?? 0);
    this.left = o.most;
  }

  /** As long as that is worth it, and there are not so many; what there is before, and after each cut, is told. */
  by(cutting: Cutting, most = Infinity, told?: (step: Step) => void): void {
    const { parting, islands, own, total, o } = this;
    const side = sqrt(total / SHEET);
    const emptyIn = (i: Island): number => emptyOf(i, total, cutting, o.narrow);
    const empty = islands.map(emptyIn);
    let given = own;
    const boxes = (): number => empty.reduce((sum, x) => sum + x, given);
    const tell = (): void => told?.({ islands: [...islands], filled: own / boxes() });
    tell();
    while (this.left > 0 && islands.length < most && boxes() > own / cutting.filled) {
      const k = empty.indexOf(max(...empty));
      if (!(empty[k] > cutting.worth * total)) break;
      pulse();
      const edges = bestCut(parting, islands[k], side, o, cutting, total);
      this.straight ??= edges && new StraightBorders(parting, o);
      const halves = edges && along(parting, islands[k], edges, islands.length, this.straight!);
      if (!halves) {
        // Nothing to be done about it.
        given += empty[k];
        empty[k] = 0;
        continue;
      }
      [islands[k]] = halves;
      empty[k] = emptyIn(halves[0]);
      islands.push(halves[1]);
      empty.push(emptyIn(halves[1]));
      this.left--;
      tell();
    }
  }

  /** To what there was some cuts ago. */
  back(islands: readonly Island[]): void {
    this.left += this.islands.length - islands.length;
    this.islands = [...islands];
    islands.forEach(({ patch }, k) => {
      for (const f of patch.faces) this.parting.label[f] = k;
    });
  }
}

/**
 * Of all there is after one cut and the next: none, some of the cuts or all, as is worth most at that price an island.
 * How full the sheet gets is luck by some hundredths, so that what is to be expected by the others that were tried is
 * believed as much as what was packed.
 */
function worthiest(
  steps: readonly Step[],
  fullness: (islands: readonly Island[]) => number,
  price: number,
): readonly Island[] {
  const last = steps.length - 1;
  if (last === 0) return steps[0].islands;
  const tried: Tried[] = [];
  const look = (k: number): void => {
    if (tried.some((x) => x.k === k)) return;
    const { islands, filled } = steps[k];
    tried.push({ k, filled, packed: fullness(islands) + min(MORE, MORE_EACH * islands.length) });
  };
  const best = (): number => {
    const on = lineOf(tried);
    const worth = ({ k, filled, packed }: Tried): number => min(FULL, (packed + on(filled)) / 2) - price * k;
    return tried.reduce((a, b) => (worth(b) > worth(a) || (worth(b) === worth(a) && b.k < a.k) ? b : a)).k;
  };
  for (const k of [0, last >> 3, last >> 2, last >> 1, last]) look(k);
  // Fewer may do as well.
  for (let i = 0; i < CLOSER; i++) {
    const now = best();
    const fewer = tried.filter((x) => x.k < now).map((x) => x.k);
    if (fewer.length > 0) look((max(...fewer) + now) >> 1);
  }
  return steps[best()].islands;
}

/** What some cuts come to. */
interface Tried {
  k: number;
  filled: number;
  packed: number;
}

/** How full the sheet gets by how full boxes are, as a line as near as may be to what was tried. */
function lineOf(tried: readonly Tried[]): (filled: number) => number {
  const n = tried.length;
  const mean = (of: (x: Tried) => number): number => tried.reduce((sum, x) => sum + of(x), 0) / n;
  const [x0, y0] = [mean((x) => x.filled), mean((x) => x.packed)];
  const along = mean((x) => (x.filled - x0) ** 2);
  const rise = along > 0 ? max(0, mean((x) => (x.filled - x0) * (x.packed - y0)) / along) : 0;
  return (filled) => y0 + rise * (filled - x0);
}

/**
 * What an island leaves empty of its box, m²; 0 for one that cannot be cut here. One that is longer than the sheet
 * leaves what that is too large empty as well.
 */
function emptyOf({ patch, laid }: Island, all: number, { empty, largest }: Cutting, narrow = 0): number {
  const { density } = laid.figures;
  if (!laid.sound || patch.borders !== 1 || !(density > 0)) return 0;
  const rim = rimPointsOf(patch.rim, laid.uv);
  const { width, height } = leastBox(rim);
  const long = leastSquareOf(rim) / density;
  const own = laid.rest.total < narrow * long ? 0 : empty;
  const { total } = laid.rest;
  const box = (width * height) / density ** 2;
  const tooLarge = total < BOXY * box ? total - largest * all : 0;
  return max(0, own * (box - total), long ** 2 - TOO_LONG * all, tooLarge);
}

/** The two halves; undefined, and all as before, where the cut does not part the island in two. */
function along(
  parting: Parting,
  island: Island,
  cut: readonly number[],
  label: number,
  straight: StraightBorders,
): [Island, Island] | undefined {
  const { faces } = island.patch;
  const own = parting.label[faces[0]];
  const { seam } = parting;
  for (const e of cut) seam[e] = 1;
  const found = parting.components(faces, own).length;
  for (const f of faces) if (found !== 2) parting.label[f] = own;
  const side = found === 2 ? faces.map((f) => (parting.label[f] === own ? 0 : 1)) : undefined;
  for (const e of cut) seam[e] = 0;
  if (!side) return undefined;
  faces.forEach((f, i) => {
    parting.label[f] = side[i] === 0 ? own : label;
  });
  straight.parted(faces);
  const parts = [own, label].map((name) => faces.filter((f) => parting.label[f] === name));
  const made = parts.map((list) => partOf(parting, island, list));
  const [a, b] = made;
  if (a && b) return [a, b];
  for (const f of faces) parting.label[f] = own;
  return undefined;
}

/** Some faces of an island, as they lie there; undefined where they do not hang together as a disc. */
function partOf(parting: Parting, { patch: from, laid }: Island, faces: Uint32Array): Island | undefined {
  if (faces.length === 0) return undefined;
  const patch = parting.patch(faces);
  if (patch.borders !== 1 || patch.euler !== 1) return undefined;
  const { mesh } = parting;
  const uv = new Float64Array((2 * patch.points.length) / 3);
  let [at, there, k] = [0, 0, 0];
  for (const f of from.faces) {
    const many = mesh.faceStart[f + 1] - mesh.faceStart[f];
    if (faces[k] === f) {
      for (let q = 0; q < many; q++) {
        const w = 2 * from.corners[there + q];
        uv.set(laid.uv.subarray(w, w + 2), 2 * patch.corners[at + q]);
      }
      at += many;
      k++;
    }
    there += many;
  }
  const rest = restOf(patch);
  const figures = flatnessOf(patch, rest, uv, Infinity);
  return { patch, laid: { uv, rest, figures: { ...figures, beyond: laid.figures.beyond }, good: true, sound: true } };
}
