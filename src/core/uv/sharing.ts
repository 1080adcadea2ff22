/**
 * Several pieces on one sheet: the islands of all of them packed together, as dense on each as on the others. Whoever
 * asks for one of them gets the same sheet, so the pieces need not know of each other's places.
 */
import { pulse } from '../math/pulse';
import { UV, type Mesh } from '../mesh/mesh';
import { triangulate } from '../mesh/triangulate';
import { islandShapes } from './pack/islandShapes';
import { likeness } from './likeness';
import { triangleFigures } from './measure';
import type { PackIsland } from './pack/pack';
import { careFor, laidAtLast, layOut, type HeldIsland, type LayOutOptions } from './pack/sheets';
import { asOne, eachAlone, stacksOf, togetherBy } from './pack/stacks';

const { max, sqrt } = Math;

/** Where corners were placed on the shared sheet by hand, as the layout of a set has it: NaN where they were not. */
export const placesShared = (set: string): string => `shared ${set}`;
/** Which faces are of islands that stand as they do on the surface, and are not turned on the shared sheet either. */
export const standsShared = (set: string): string => `stands ${set}`;

/** A piece that is laid out, and how large it stands in the world. */
export interface Sharer {
  mesh: Mesh;
  size: number;
  /** Where its corners were placed by hand, 2 per corner; NaN where they were not. */
  places?: ArrayLike<number>;
  /** By face, other than 0 where its island stands as it does on the surface. */
  stands?: ArrayLike<number>;
}

export interface SharedSheet {
  /** For each piece, 2 per corner. */
  uv: Float32Array[];
  islands: number;
  /** Texels per metre of the world; 0 where nothing fits. */
  density: number;
  /** As they came to be laid; see `LaidAtLast`. */
  padding: number;
  fits: number;
  /** For each piece, its islands that lie where a hand put them; and those of which too little does, so they do not. */
  held: { there: number; gone: number }[];
}

/** Throws one sentence where a piece has no layout. */
export function shareSheet(pieces: readonly Sharer[], o: LayOutOptions): SharedSheet {
  const islands: PackIsland[] = [];
  const names: number[] = [];
  const of: { piece: number; corners: number[] }[] = [];
  const held: (HeldIsland & { piece: number; corners: number[] })[] = [];
  const counts = pieces.map(() => ({ there: 0, gone: 0 }));
  let heldScale = 0;
  pieces.forEach(({ mesh, size, places, stands }, piece) => {
    pulse();
    const uv = mesh.attributes[UV]?.data;
    if (!uv) throw new Error('One of the pieces is not laid out yet: unfold it first.');
    const { ofFace, corners, shapes } = islandShapes(mesh, uv as Float32Array);
    const upright = shapes.map(() => false);
    for (let f = 0; stands && f < mesh.faceCount; f++) if (stands[f]) upright[ofFace[f]] = true;
    const by = size * metresPerSheet(mesh, uv as Float32Array);
    // What lies on each other stays so.
    const stack = new Int32Array(shapes.length);
    const first = islands.length + held.length;
    stacksOf(shapes.map((s) => s.points)).forEach((list) => {
      for (const i of list) stack[i] = first + list[0];
    });
    shapes.forEach((s, i) => {
      const points = s.points.map((x) => x * by);
      const hand = places && asPlaced(s, points, corners[i], places);
      if (hand) {
        counts[piece].there++;
        heldScale = max(heldScale, hand.scale);
        held.push({ ...s, points: hand.points, solved: () => points, piece, corners: corners[i] });
        return;
      }
      if (hand === null) counts[piece].gone++;
      names.push(stack[i]);
      of.push({ piece, corners: corners[i] });
      islands.push({ ...s, points, upright: upright[i] });
    });
  });
  const stacks = togetherBy(names);
  const care = careFor(pieces.reduce((sum, { mesh }) => sum + mesh.faceCount, 0));
  const {
    packed,
    padding,
    size: fits,
  } = laidAtLast(o, islands.length > 0, (as) => layOut(asOne(islands, stacks), held, heldScale, { ...as, care }));
  const placed = eachAlone(islands, stacks, packed.placed);
  const out = pieces.map(({ mesh }) => Float32Array.from(mesh.attributes[UV].data));
  const lay = (piece: number, corners: readonly number[], points: Float64Array): void =>
    corners.forEach((c, q) => {
      out[piece][2 * c] = points[2 * q];
      out[piece][2 * c + 1] = points[2 * q + 1];
    });
  of.forEach(({ piece, corners }, i) => lay(piece, corners, placed[i]));
  for (const { piece, corners, points } of held) lay(piece, corners, points);
  return {
    uv: out,
    islands: islands.length + held.length,
    density: (islands.length > 0 ? packed.scale : heldScale) * o.size,
    padding,
    fits,
    held: counts,
  };
}

/** Of an island of which less than so much has its place, the place is no longer known. */
const ENOUGH = 0.5;

/**
 * An island where a hand put it. Corners that have come to it since go where those beside them say; where what has its
 * place no longer lies as one piece, all of it is laid in the shape that it has now. Null where too little has its
 * place, undefined where nothing has.
 */
function asPlaced(
  { triangles }: PackIsland,
  points: Float64Array,
  corners: readonly number[],
  places: ArrayLike<number>,
): { points: Float64Array; scale: number } | null | undefined {
  const to = Float64Array.from(corners.flatMap((c) => [places[2 * c], places[2 * c + 1]]));
  const known = corners.filter((_, i) => Number.isFinite(to[2 * i]) && Number.isFinite(to[2 * i + 1])).length;
  if (known === 0) return undefined;
  const like = known >= ENOUGH * corners.length ? likeness(points, to) : undefined;
  if (!like) return null;
  const { map, scale } = like;
  if (known === corners.length) return { points: to, scale };
  const as = new Float64Array(points.length);
  for (let i = 0; i < as.length; i += 2) as.set(map(points[i], points[i + 1]), i);
  const mended = to.map((x, i) => (Number.isFinite(x) ? x : as[i]));
  return { points: turnsAlike(mended, triangles) ? mended : as, scale };
}

/** Whether no triangle lies on its face beside others that do not. */
function turnsAlike(p: Float64Array, t: ArrayLike<number>): boolean {
  let [up, down] = [false, false];
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [2 * t[i], 2 * t[i + 1], 2 * t[i + 2]];
    const twice = (p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a]);
    up ||= twice > 0;
    down ||= twice < 0;
  }
  return !(up && down);
}

/** How long on the surface what is as long as the sheet is, over all of a piece. */
function metresPerSheet(mesh: Mesh, uv: Float32Array): number {
  const { area, uvArea } = triangleFigures(mesh, uv, triangulate(mesh));
  let [surface, sheet] = [0, 0];
  for (let i = 0; i < area.length; i++) {
    surface += area[i];
    sheet += Math.abs(uvArea[i]);
  }
  return sheet > 0 ? sqrt(surface / sheet) : 1;
}

/** The sheet that was asked for last: each of its pieces asks for the same. */
let last: { meshes: readonly Mesh[]; name: string; sheet: SharedSheet } | undefined;

/** As `shareSheet`, once for all the pieces that ask. */
export function sharedSheet(pieces: readonly Sharer[], o: LayOutOptions): SharedSheet {
  const name = JSON.stringify([o, pieces.map((p) => p.size)]);
  const had = last;
  if (had && had.name === name && pieces.every((p, i) => had.meshes[i] === p.mesh)) return had.sheet;
  const sheet = shareSheet(pieces, o);
  last = { meshes: pieces.map((p) => p.mesh), name, sheet };
  return sheet;
}
