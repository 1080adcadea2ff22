/** Borders of islands brought into shape, and what lies within them evened out after. */
import { cos, sin } from '../../math/exact';
import { flatnessOf, restOf, rimCrosses, type Rest } from '../flatten/flatness';
import type { Patch } from '../flatten/patch';
import { Relaxing, tutte } from '../flatten/refine';
import { laidBack, signedArea } from './shape';
import { onSheet, type SheetEdit } from './sheet';

const { abs, atan2, hypot, max, min, PI, round, sqrt } = Math;

/** Evened out within the new border for so many rounds. */
const ROUNDS = 80;

/** Vertices of the one border, in order, the island on their left. Throws one sentence where there are more of them. */
function ringOf(patch: Patch): number[] {
  const { rim } = patch;
  const next = new Map<number, number>();
  for (let i = 0; i < rim.length; i += 2) next.set(rim[i], rim[i + 1]);
  if (patch.borders !== 1 || patch.euler !== 1 || next.size !== rim.length / 2)
    throw new Error('Only an island with one border and no holes can be given another outline.');
  const ring: number[] = [];
  for (let v = rim[0]; ring.length < next.size; v = next.get(v)!) ring.push(v);
  return ring;
}

/**
 * Where each vertex of a ring comes along it, in metres; and how long it is. `least`: of the mean, no side counts for
 * less.
 */
function along(patch: Patch, ring: readonly number[], least = 0): { at: Float64Array; all: number } {
  const p = patch.points;
  const sides = ring.map((v, i) => {
    const w = ring[(i + 1) % ring.length];
    return hypot(p[3 * v] - p[3 * w], p[3 * v + 1] - p[3 * w + 1], p[3 * v + 2] - p[3 * w + 2]);
  });
  const mean = sides.reduce((sum, x) => sum + x, 0) / sides.length;
  const at = new Float64Array(ring.length);
  let all = 0;
  sides.forEach((long, i) => {
    at[i] = all;
    all += max(long, least * mean);
  });
  return { at, all: all || 1 };
}

interface Outlined {
  patch: Patch;
  rest: Rest;
  ring: number[];
  /** Where it lies, face up. */
  at: Float64Array;
}

/** Gives an island the border that `shape` puts into its places, all else evened out within. */
function outlined(s: SheetEdit, island: number, shape: (o: Outlined) => Float64Array, back: boolean): void {
  const faces = s.facesOf(island);
  const { patch, at: before } = s.patchOf(faces);
  const rest = restOf(patch);
  const ring = ringOf(patch);
  const mirrored = signedArea(before, patch.triangles) < 0;
  const over = (uv: Float64Array): Float64Array => (mirrored ? uv.map((x, i) => (i % 2 === 0 ? -x : x)) : uv.slice());
  const bordered = shape({ patch, rest, ring, at: over(before) });
  const laid = tutte(patch, rest, bordered);
  const flips = (uv: Float64Array): number => flatnessOf(patch, rest, uv, 2).flips;
  const no = new Error(
    'Within such an outline faces would lie on each other: give it more faces, or another cut, first.',
  );
  if (!laid || rimCrosses(patch.rim, laid) || flips(laid) > 0) throw no;
  const scale = sqrt(rest.total / abs(signedArea(laid, patch.triangles) || 1));
  for (let i = 0; i < laid.length; i++) laid[i] *= scale;
  const held = new Uint8Array(laid.length / 2);
  for (const v of ring) held[v] = 1;
  const relaxing = new Relaxing(patch, rest, laid, { held, lengths: 0.5 });
  for (let k = 0; k < ROUNDS && (relaxing.round() ?? 0) > 1e-5; k++);
  const small = over(laid.map((x) => x / scale));
  const shown = onSheet(back ? level(small, before, patch) : small, before);
  // As it is kept, in single precision, it is to be without flips too.
  if (flips(over(shown.map((x) => Math.fround(x)))) > 0) throw no;
  s.put(faces, patch, shown);
}

/** As large as it was and where it was, and as near to how it lay as quarter turns allow. */
function level(next: Float64Array, before: Float64Array, patch: Patch): Float64Array {
  const back = laidBack(next, before, patch.triangles);
  const [v, w] = [patch.rim[0], patch.rim[1]];
  const way = (uv: Float64Array): number => atan2(uv[2 * w + 1] - uv[2 * v + 1], uv[2 * w] - uv[2 * v]);
  const turned = way(back) - way(next);
  const by = round(turned / (PI / 2)) * (PI / 2) - turned;
  let [cx, cy] = [0, 0];
  for (let i = 0; i < back.length; i += 2) {
    cx += (2 * back[i]) / back.length;
    cy += (2 * back[i + 1]) / back.length;
  }
  const [c, n] = [cos(by), sin(by)];
  return back.map((_, i) => {
    const [x, y] = [back[i & ~1] - cx, back[i | 1] - cy];
    return i % 2 === 0 ? cx + x * c - y * n : cy + x * n + y * c;
  });
}

/** Of the mean of the sides, none is shorter on a circle: the corners of a face there would be on one line. */
const SPACED = 0.25;

/** The border on a circle, spaced nearly as it is on the surface. */
export function toCircle(s: SheetEdit, island: number): void {
  outlined(
    s,
    island,
    ({ patch, ring, at }) => {
      const { at: far, all } = along(patch, ring, SPACED);
      const out = at.slice();
      ring.forEach((v, i) => {
        const a = (2 * PI * far[i]) / all;
        out[2 * v] = cos(a);
        out[2 * v + 1] = sin(a);
      });
      return out;
    },
    true,
  );
}

/** Corners of a rectangle are no nearer to each other than this, of the length of the border. */
const APART = 0.06;

/** The border on a rectangle: its corners where the outline turns most, sides as long as those across from them. */
export function toRectangle(s: SheetEdit, island: number): void {
  outlined(
    s,
    island,
    ({ patch, ring, at }) => {
      const { at: far, all } = along(patch, ring);
      const n = ring.length;
      const turns = ring.map((v, i) => {
        const [a, b] = [ring[(i + n - 1) % n], ring[(i + 1) % n]];
        const from = atan2(at[2 * v + 1] - at[2 * a + 1], at[2 * v] - at[2 * a]);
        const to = atan2(at[2 * b + 1] - at[2 * v + 1], at[2 * b] - at[2 * v]);
        const by = to - from;
        return by - 2 * PI * round(by / (2 * PI));
      });
      const apart = (i: number, j: number): number => min(abs(far[i] - far[j]), all - abs(far[i] - far[j]));
      const corners: number[] = [];
      for (const i of turns.map((_, k) => k).sort((a, b) => turns[b] - turns[a] || a - b))
        if (corners.length < 4 && corners.every((j) => apart(i, j) > APART * all)) corners.push(i);
      if (corners.length < 4) throw new Error('Its border has too few sides for a rectangle.');
      corners.sort((a, b) => a - b);
      const sides = corners.map((i, k) => (far[corners[(k + 1) % 4]] - far[i] + all) % all);
      const [width, height] = [(sides[0] + sides[2]) / 2, (sides[1] + sides[3]) / 2];
      const places = [
        [0, 0],
        [width, 0],
        [width, height],
        [0, height],
      ];
      const out = at.slice();
      corners.forEach((from, k) => {
        const to = corners[(k + 1) % 4];
        const [p, q] = [places[k], places[(k + 1) % 4]];
        for (let i = from; i !== to; i = (i + 1) % n) {
          const share = ((far[i] - far[from] + all) % all) / sides[k];
          out[2 * ring[i]] = p[0] + (q[0] - p[0]) * share;
          out[2 * ring[i] + 1] = p[1] + (q[1] - p[1]) * share;
        }
      });
      return out;
    },
    true,
  );
}

/** Sides within this of straight up or across become so; radians. */
const NEARLY = 0.4;

/** Sides of the border that run nearly up or across run exactly so; the others stay. */
export function toAxes(s: SheetEdit, island: number): void {
  outlined(
    s,
    island,
    ({ ring, at }) => {
      const n = ring.length;
      /** 0 for a side that runs across, 1 for one that runs up, −1 for neither. */
      const ways = ring.map((v, i) => {
        const w = ring[(i + 1) % n];
        const angle = atan2(at[2 * w + 1] - at[2 * v + 1], at[2 * w] - at[2 * v]);
        const quarter = round(angle / (PI / 2));
        return abs(angle - (quarter * PI) / 2) > NEARLY ? -1 : abs(quarter) % 2;
      });
      const out = at.slice();
      // Runs of sides of one way, from where one begins; a border all of one way does not close.
      const first = ways.findIndex((w, i) => w !== ways[(i + n - 1) % n]);
      for (let i = max(0, first), done = 0; first >= 0 && done < n;) {
        let k = 1;
        while (k < n - done && ways[(i + k) % n] === ways[i]) k++;
        const axis = 1 - ways[i];
        if (ways[i] >= 0) {
          let sum = 0;
          for (let q = 0; q <= k; q++) sum += at[2 * ring[(i + q) % n] + axis];
          for (let q = 0; q <= k; q++) out[2 * ring[(i + q) % n] + axis] = sum / (k + 1);
        }
        i = (i + k) % n;
        done += k;
      }
      return out;
    },
    false,
  );
}
