import { snapped, type Box, type SnapOptions } from './snapping';

/** What a drag does: it moves what is held, or turns or sizes it round the middle of its box. */
export type Grip = 'move' | 'turn' | 'size';

/** A drag on the sheet. */
export interface Drag {
  grip: Grip;
  /** Where it began, on the screen. */
  x0: number;
  y0: number;
  corners: Uint32Array;
  /** How far each of them goes along, 1 for all the way; all do, where it is left out. */
  share?: Float32Array;
  /** Of the islands that are held. */
  faces: number[];
  box: Box;
  /** Of the islands that do not move. */
  others: Box[];
  /** Where all lies, with what is held where the hand has it. */
  uv: Float32Array;
}

export interface Dragging extends Omit<SnapOptions, 'others'> {
  /** From where to where the pointer went, on the sheet. */
  from: readonly [number, number];
  to: readonly [number, number];
}

/** A turn snaps to five degrees. */
const TURN = Math.PI / 36;
/** Nothing is made smaller than this at once. */
const LEAST = 0.02;

/** Where corners lie, `uv` as they were when the drag began, once the pointer is elsewhere. */
export function dragged(d: Drag, uv: Float32Array, how: Dragging): Float32Array {
  const map = mapOf(d, uv, how);
  const out = uv.slice();
  d.corners.forEach((c, i) => {
    const [u, v] = map(uv[2 * c], uv[2 * c + 1]);
    const share = d.share?.[i] ?? 1;
    out[2 * c] += share * (u - uv[2 * c]);
    out[2 * c + 1] += share * (v - uv[2 * c + 1]);
  });
  return out;
}

function mapOf(d: Drag, uv: Float32Array, how: Dragging): (u: number, v: number) => readonly [number, number] {
  const [u0, v0] = how.from;
  const [u1, v1] = how.to;
  const [cx, cy] = [(d.box.x0 + d.box.x1) / 2, (d.box.y0 + d.box.y1) / 2];
  if (d.grip === 'move') {
    // Islands snap by their box, a vertex by itself.
    const single = d.share || d.corners.length < d.faces.length * 3 ? d.corners[0] : -1;
    const [us, vs] = [uv[2 * single], uv[2 * single + 1]];
    const moving = single >= 0 ? { x0: us, y0: vs, x1: us, y1: vs } : d.box;
    const [du, dv] = snapped(moving, u1 - u0, v1 - v0, { ...how, others: d.others });
    return (u, v) => [u + du, v + dv];
  }
  if (d.grip === 'turn') {
    const free = Math.atan2(v1 - cy, u1 - cx) - Math.atan2(v0 - cy, u0 - cx);
    const turn = how.snap === 'nothing' ? free : Math.round(free / TURN) * TURN;
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    return (u, v) => [cx + (u - cx) * c - (v - cy) * s, cy + (u - cx) * s + (v - cy) * c];
  }
  const by = Math.max(LEAST, Math.hypot(u1 - cx, v1 - cy) / (Math.hypot(u0 - cx, v0 - cy) || 1));
  return (u, v) => [cx + (u - cx) * by, cy + (v - cy) * by];
}
