/** A layout packed anew for as long as one cares to wait: its islands as they are, in better and better places. */
import { UV, type Mesh } from '../../mesh/mesh';
import { islandShapes } from './islandShapes';
import { coverageOf } from '../measure';
import { groupOf, type Together } from './groups';
import type { Packed, PackIsland, PackOptions } from './pack';
import { packPart, type Part } from './sheets';
import { triangulate } from '../../mesh/triangulate';
import { asOne, eachAlone, stacksOf, togetherBy } from './stacks';

export interface LongerOptions {
  /** Texels along the side of the sheet, and between islands. */
  size: number;
  padding: number;
  turn: boolean;
  /** Islands with one of these faces stay where they are; with one of those they are not turned. */
  locked: ReadonlySet<number>;
  upright: ReadonlySet<number>;
  /** As for unwrapping: what may be used of the sheet, and what stays as it lies to each other. */
  part?: Part;
  together?: Together;
  /** So many islands are laid, at most. */
  effort: number;
  stop: () => boolean;
  better: (uv: Float32Array, fill: number) => void;
}

/** The best that was found: 2 per corner. All islands are drawn to one scale with each other, as they were. */
export function packedLonger(mesh: Mesh, o: LongerOptions): Float32Array {
  const uv = mesh.attributes[UV].data as Float32Array;
  const t = triangulate(mesh);
  const { ofFace, corners, shapes } = islandShapes(mesh, uv);
  const count = shapes.length;
  const marked = (faces: ReadonlySet<number>): Uint8Array => {
    const out = new Uint8Array(count);
    for (const f of faces) out[ofFace[f]] = 1;
    return out;
  };
  const [locked, upright] = [marked(o.locked), marked(o.upright)];
  const all = shapes.map((shape, i): PackIsland => ({ ...shape, upright: upright[i] === 1 }));
  const free = all.flatMap((_, i) => (locked[i] ? [] : [i]));
  const islands = free.map((i) => all[i]);
  const faceOf = new Int32Array(count);
  for (let f = 0; f < mesh.faceCount; f++) faceOf[ofFace[f]] = f;
  const name = o.together && groupOf(mesh, o.together);
  const stacks = name ? togetherBy(free.map((i) => name(faceOf[i]))) : stacksOf(islands.map((i) => i.points));
  const taken = all.filter((_, i) => locked[i]);
  const laid = (found: Packed): Float32Array => {
    const out = uv.slice();
    const placed = eachAlone(islands, stacks, found.placed);
    free.forEach((i, k) => {
      corners[i].forEach((c, q) => {
        out[2 * c] = placed[k][2 * q];
        out[2 * c + 1] = placed[k][2 * q + 1];
      });
    });
    return out;
  };
  // What is locked has its density, and the others stay at it.
  const scale = taken.length > 0 ? { maxScale: 1 } : {};
  const options: PackOptions = {
    size: o.size,
    padding: o.padding,
    turn: o.turn,
    scale: 0,
    care: 1,
    ...scale,
    taken,
    effort: o.effort,
    stop: o.stop,
    better: (now) => {
      if (now.scale <= 1 && taken.length === 0) return;
      const out = laid(now);
      o.better(out, coverageOf(out, t, 512).coverage);
    },
  };
  const found = packPart(asOne(islands, stacks), options, o.part);
  // Never less than what was there.
  return found.scale >= 1 || taken.length > 0 ? laid(found) : uv;
}
