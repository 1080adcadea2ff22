/**
 * Moving, turning and sizing whole pieces: one live change from where they began, with values that can be dragged or
 * typed.
 */
import {
  about,
  applyVector,
  compose,
  IDENTITY,
  invert,
  placeOf,
  rotationAbout,
  scaling,
  translation,
  turned,
  type Affine,
  type Triple,
} from '../../core/math/affine';
import { angle, length, number, type ValueDefs } from '../../core/recipe/values';
import * as changes from '../../document/changes';
import { session } from './session';
import { giveHand } from './actions/hand';
import { bench, handOf, type Handle, type Placing } from './store';

export const PLACE_TOOLS: Readonly<Record<Handle, { title: string; sentence: string; defs: ValueDefs }>> = {
  move: {
    title: 'Move',
    sentence: ' {pieces} by {x}, {y}, {z} along {axes}',
    defs: { x: length('along x', 0), y: length('along y', 0), z: length('along z', 0) },
  },
  turn: { title: 'Turn', sentence: ' {pieces} by {angle} about {about}', defs: { angle: angle('by', 0) } },
  size: {
    title: 'Size',
    sentence: ' {pieces} by {x} × {y} × {z} from {about}',
    defs: {
      x: number('along x', 1, { min: -1000, max: 1000 }),
      y: number('along y', 1, { min: -1000, max: 1000 }),
      z: number('along z', 1, { min: -1000, max: 1000 }),
    },
  },
};

/** The pieces a transform is for: all that are picked, or the one worked on; locked ones stay. */
export function placeable(): string[] {
  const s = bench.get();
  const ids = s.picked.length || s.piece === null ? s.picked : [s.piece];
  return ids.filter((id) => s.document?.pieces.some((p) => p.id === id && !p.locked));
}

/** The world map that a placing stands for, for a piece whose pivot is at `pivot`. */
export function mapOf(p: Placing, pivot: Triple): Affine {
  const at = p.about === 'each' ? pivot : p.about;
  const { x, y, z } = p.values;
  if (p.handle === 'move') return translation(...applyVector(p.frame, [x, y, z]));
  if (p.handle === 'turn') return about(rotationAbout(p.axis, p.values.angle), at[0], at[1], at[2]);
  return about(compose(p.frame, compose(scaling(x, y, z), invert(p.frame))), at[0], at[1], at[2]);
}

const NOTHING: Readonly<Record<Handle, Placing['values']>> = {
  move: { x: 0, y: 0, z: 0, angle: 0 },
  turn: { x: 0, y: 0, z: 0, angle: 0 },
  size: { x: 1, y: 1, z: 1, angle: 0 },
};

export function beginPlacing(handle: Handle, frame: Affine, axis: Triple, aboutPoint: Placing['about']): boolean {
  const ids = placeable();
  if (ids.length === 0) {
    bench.set({ say: 'Pick a piece that is not locked.' });
    return false;
  }
  session.settle();
  bench.set({
    typed: null,
    hand: {
      kind: 'placing',
      id: changes.newId(),
      handle,
      ids,
      values: { ...NOTHING[handle] },
      axis,
      frame,
      about: aboutPoint,
      fresh: true,
      done: null,
    },
  });
  return true;
}

/** What is in hand is a change of its own now; further values go on from it. */
export function keepPlacing(): void {
  session.settle();
  const p = handOf(bench.get(), 'placing');
  if (p) bench.set({ hand: { ...p, fresh: false, done: p.values } });
}

/**
 * New values for what is in hand: replayed from where the pieces began, or, once that was kept, from there by the
 * difference.
 */
export function setPlacing(values: Partial<Placing['values']>): void {
  const p = handOf(bench.get(), 'placing');
  if (!p) return;
  const next = { ...p, values: { ...p.values, ...values } };
  bench.set({ hand: next });
  const done = p.done;
  const change = (pivot: Triple) =>
    done ? compose(mapOf(next, pivot), invert(mapOf({ ...next, values: done }, pivot))) : mapOf(next, pivot);
  const n = p.ids.length;
  const label = `${PLACE_TOOLS[p.handle].title.toLowerCase()} ${n === 1 ? 'a piece' : `${n} pieces`}`;
  session.change(
    label,
    (d) => {
      const now = changes.worlds(d);
      if (bench.get().pivoting && p.handle === 'turn') {
        for (const id of p.ids)
          changes.turnPivot(d, id, rotationAbout(p.axis, next.values.angle - (done?.angle ?? 0)), now);
        return;
      }
      if (bench.get().pivoting && p.handle === 'move') {
        for (const id of p.ids) {
          const at = changes.pivotOf(d, changes.pieceOf(d, id), now);
          const m = change(at);
          changes.setPivot(d, id, [m[3] + at[0], m[7] + at[1], m[11] + at[2]], now);
        }
        return;
      }
      changes.transformPieces(d, p.ids, (id) => change(changes.pivotOf(d, changes.pieceOf(d, id), now)));
    },
    `place ${p.id}`,
  );
}

/** The axes that handles show and values go along, as a turn of the world's. */
export function frameOf(camera: { right: Triple; up: Triple; back: Triple } | null): Affine {
  const s = bench.get();
  const doc = s.document;
  const piece = doc?.pieces.find((p) => p.id === s.piece);
  if (!doc) return turned([0, 0, 0]);
  const now = changes.worlds(doc);
  const turnOf = (m: Affine | undefined) => (m ? turned(placeOf(m).turn) : turned([0, 0, 0]));
  if (s.axes === 'own' && piece) return changes.pivotFrame(piece, now.get(piece.id) ?? IDENTITY);
  if (s.axes === 'parent' && piece?.parent) return turnOf(now.get(piece.parent));
  if (s.axes === 'view' && camera)
    return [
      camera.right[0],
      camera.up[0],
      camera.back[0],
      0,
      camera.right[1],
      camera.up[1],
      camera.back[1],
      0,
      camera.right[2],
      camera.up[2],
      camera.back[2],
      0,
    ];
  if (s.axes === 'surface') return onSurface(s.surface);
  return turned([0, 0, 0]);
}

/** Axes whose z stands on a surface and whose x lies level where it can. */
export function onSurface(n: Triple): Affine {
  const l = Math.hypot(...n) || 1;
  const z: Triple = [n[0] / l, n[1] / l, n[2] / l];
  const upright = Math.abs(z[1]) > 0.999;
  const x0: Triple = upright ? [1, 0, 0] : [z[2], 0, -z[0]];
  const xl = Math.hypot(...x0);
  const x: Triple = [x0[0] / xl, x0[1] / xl, x0[2] / xl];
  const y: Triple = [z[1] * x[2] - z[2] * x[1], z[2] * x[0] - x[2] * z[0], z[0] * x[1] - z[1] * x[0]];
  return [x[0], y[0], z[0], 0, x[1], y[1], z[1], 0, x[2], y[2], z[2], 0];
}

/** A world vector or turn as the values of a move on elements of a piece that stands at `world`. */
export function inOwnSpace(
  world: Affine,
  frame: Affine,
): {
  vector(v: Triple): { x: number; y: number; z: number };
  frame: { frameX: number; frameY: number; frameZ: number };
  mirrored: boolean;
} {
  const back = invert(world);
  const turn = placeOf(compose(back, frame)).turn;
  const [frameX, frameY, frameZ] = turn.map((x) => (Math.abs(x) < 1e-9 ? 0 : x));
  return {
    vector: (v) => {
      const [x, y, z] = applyVector(back, applyVector(frame, v));
      return { x, y, z };
    },
    frame: { frameX, frameY, frameZ },
    mirrored:
      world[0] * (world[5] * world[10] - world[6] * world[9]) -
        world[1] * (world[4] * world[10] - world[6] * world[8]) +
        world[2] * (world[4] * world[9] - world[5] * world[8]) <
      0,
  };
}

giveHand('placing', { keep: keepPlacing, cancel: () => bench.set({ hand: null }) });
