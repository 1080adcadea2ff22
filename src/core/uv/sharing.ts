/**
 * Several pieces on one sheet: the islands of all of them packed together, as dense on each as on the others. Whoever
 * asks for one of them gets the same sheet, so the pieces need not know of each other's places.
 */
import { pulse } from '../math/pulse';
import { UV, type Mesh } from '../mesh/mesh';
import { triangulate } from '../mesh/triangulate';
import { islandShapes } from './islandShapes';
import { triangleFigures } from './measure';
import type { PackIsland } from './pack';
import { layOut, type LayOutOptions } from './sheets';
import { asOne, eachAlone, stacksOf, togetherBy } from './stacks';

const { sqrt } = Math;

/** A piece that is laid out, and how large it stands in the world. */
export interface Sharer {
  mesh: Mesh;
  size: number;
}

export interface SharedSheet {
  /** For each piece, 2 per corner. */
  uv: Float32Array[];
  islands: number;
  /** Texels per metre of the world; 0 where nothing fits. */
  density: number;
}

/** Throws one sentence where a piece has no layout. */
export function shareSheet(pieces: readonly Sharer[], o: LayOutOptions): SharedSheet {
  const islands: PackIsland[] = [];
  const names: number[] = [];
  const of: { piece: number; corners: number[] }[] = [];
  pieces.forEach(({ mesh, size }, piece) => {
    pulse();
    const uv = mesh.attributes[UV]?.data;
    if (!uv) throw new Error('One of the pieces is not laid out yet: unfold it first.');
    const { corners, shapes } = islandShapes(mesh, uv as Float32Array);
    const by = size * metresPerSheet(mesh, uv as Float32Array);
    // What lies on each other stays so.
    const stack = new Int32Array(shapes.length);
    stacksOf(shapes.map((s) => s.points)).forEach((list) => {
      for (const i of list) stack[i] = islands.length + list[0];
    });
    shapes.forEach((s, i) => {
      names.push(stack[i]);
      of.push({ piece, corners: corners[i] });
      islands.push({ ...s, points: s.points.map((x) => x * by) });
    });
  });
  const stacks = togetherBy(names);
  const laying = { ...o };
  let found = layOut(asOne(islands, stacks), [], 0, laying);
  while (islands.length > 0 && !(found.scale > 0) && laying.padding > 0) {
    laying.padding >>= 1;
    found = layOut(asOne(islands, stacks), [], 0, laying);
  }
  const placed = eachAlone(islands, stacks, found.placed);
  const out = pieces.map(({ mesh }) => Float32Array.from(mesh.attributes[UV].data));
  of.forEach(({ piece, corners }, i) => {
    corners.forEach((c, q) => {
      out[piece][2 * c] = placed[i][2 * q];
      out[piece][2 * c + 1] = placed[i][2 * q + 1];
    });
  });
  return { uv: out, islands: islands.length, density: found.scale * o.size };
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
