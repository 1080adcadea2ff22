/** What can be done with whole pieces. */
import { applyPoint, IDENTITY, invert, type Axis, type Triple } from '../../core/math/affine';
import { joinBounds, mappedBounds, type Bounds } from '../../core/mesh/bounds';
import * as changes from '../../document/changes';
import { placeKit, unpackKit } from '../../document/kits';
import type { Piece } from '../../document/types';
import { begin } from './pointing';
import { refocus, session } from './session';
import { giveDropPick } from './actions/hand';
import { setMode } from './actions/pick';
import { bench, say, seenPieces, workedOn } from './store';

const count = (n: number, one: string): string => (n === 1 ? `a ${one}` : `${n} ${one}s`);

export const pickedPieces = (): readonly string[] => {
  const s = bench.get();
  if (s.picked.length) return s.picked;
  return s.piece ? [s.piece] : [];
};

/** Picks whole pieces; the last is worked on. */
export function pickPieces(ids: readonly string[], how: 'set' | 'add' | 'remove' | 'toggle' = 'set'): void {
  session.settle();
  const s = bench.get();
  const had = s.picked;
  const without = had.filter((x) => !ids.includes(x));
  const toggled = () => [...without, ...ids.filter((x) => !had.includes(x))];
  const ways = { set: () => [...ids], add: () => [...without, ...ids], remove: () => without, toggle: toggled };
  const picked = ways[how]();
  const piece = picked[picked.length - 1] ?? null;
  bench.set({
    picked,
    piece,
    step: piece === s.piece ? s.step : null,
    hand: null,
    pick: { kind: s.pick.kind, keys: [] },
    last: null,
    facts: null,
  });
  refocus();
}

giveDropPick(() => pickPieces([]));

export function deletePieces(): void {
  const ids = pickedPieces();
  if (ids.length) session.change(`delete ${count(ids.length, 'piece')}`, (d) => changes.removePieces(d, ids));
}

export function copyPieces(linked: boolean): void {
  const ids = pickedPieces();
  if (ids.length === 0) {
    say('Pick a piece to copy first.');
    return;
  }
  let made: string[] = [];
  session.change(
    linked ? `linked copy of ${count(ids.length, 'piece')}` : `copy ${count(ids.length, 'piece')}`,
    (d) => {
      made = changes.copyPieces(d, ids, { linked });
    },
  );
  pickPieces(made);
}

export function makeOwn(): void {
  const s = bench.get();
  const ids = pickedPieces().filter((id) => s.document?.pieces.some((p) => p.id === id && p.link !== null));
  if (ids.length === 0) {
    say('None of what is picked is a linked copy.');
    return;
  }
  session.change('make its own', (d) => {
    for (const id of ids) changes.makeOwn(d, id);
  });
}

export function mirrorCopy(o: {
  axis: Axis;
  across: 'world' | 'parent' | 'pivot';
  linked: boolean;
  frontRear: boolean;
}): void {
  const ids = pickedPieces();
  if (ids.length === 0) {
    say('Pick what to mirror first.');
    return;
  }
  let made: string[] = [];
  session.change(`mirrored copy of ${count(ids.length, 'piece')}`, (d) => {
    made = changes.mirrorPieces(d, ids, o);
  });
  pickPieces(made);
}

/** Of the longest side: so far off the surface what is drawn over it lies, so that it is seen. */
const OFF = 0.004;
/** A new piece to be drawn over another, face by face and strip by strip: a last step keeps its vertices on that. */
export function drawOver(): void {
  const s = bench.get();
  const piece = workedOn(s);
  if (piece?.kind !== 'mesh') {
    say('Pick the piece to draw over first.');
    return;
  }
  const b = s.shown.get(piece.id)?.bounds;
  const size = b ? Math.max(...[0, 1, 2].map((k) => b.max[k] - b.min[k]), 0) : 0;
  const [over, hand, lay] = [0, 1, 2].map(() => changes.newId());
  session.change('draw over', (d) => {
    changes.addPiece(d, over, `${piece.name} drawn over`, piece.parent);
    changes.pieceOf(d, over).place = structuredClone(piece.place);
    changes.addStep(d, over, 'shape', hand);
    changes.addStep(d, over, 'lay', lay, { other: piece.id, off: OFF * size });
  });
  pickPieces([over]);
  bench.set({ step: hand });
  refocus();
  begin('draw-strip');
}

/** A cage for a piece: a box of lines round it, cut in two each way; the piece follows its vertices from now on. */
export function putCage(): void {
  const s = bench.get();
  const piece = workedOn(s);
  const bounds = piece && s.shown.get(piece.id)?.bounds;
  if (piece?.kind !== 'mesh' || !bounds || !(bounds.min[0] <= bounds.max[0])) {
    say('Pick a piece that shows something first.');
    return;
  }
  const [cage, start, put, hand] = [0, 1, 2, 3].map(() => changes.newId());
  const extent = [0, 1, 2].map((k) => bounds.max[k] - bounds.min[k]);
  const room = 0.05 * Math.max(...extent, 1e-3);
  const [width, height, depth] = extent.map((x) => x + room);
  const [x, y, z] = [0, 1, 2].map((k) => (bounds.min[k] + bounds.max[k]) / 2);
  const cuts = { cutX: 2, cutY: 2, cutZ: 2 };
  const last = piece.recipe[piece.recipe.length - 1];
  const shape = last?.kind === 'shape' ? last.id : changes.newId();
  session.change('put a cage round it', (d) => {
    changes.addPiece(d, cage, `Cage of ${piece.name}`, piece.parent);
    changes.pieceOf(d, cage).place = structuredClone(piece.place);
    changes.setPiece(d, cage, { ghost: true });
    changes.addStep(d, cage, 'box', start, { width, height, depth, ...cuts, onGround: false });
    changes.addStep(d, cage, 'place', put, { x, y, z });
    changes.addStep(d, cage, 'shape', hand);
    if (last?.kind !== 'shape') changes.addStep(d, piece.id, 'shape', shape);
    const pick = { kind: 'face' as const, keys: [], rule: { id: 'all', values: {} } };
    changes.addMove(d, piece.id, shape, { id: changes.newId(), tool: 'by-cage', pick, values: { other: cage } });
  });
  pickPieces([cage]);
  setMode('vertex');
}

export function groupPicked(): void {
  const ids = pickedPieces();
  const id = changes.newId();
  session.change('group', (d) => changes.groupPieces(d, ids, id, 'group'));
  pickPieces([id]);
}

export function mergePicked(): void {
  const ids = pickedPieces();
  const id = changes.newId();
  const before = bench.get().document;
  session.change('merge pieces', (d) => changes.mergePieces(d, ids, id, changes.newId()));
  if (bench.get().document !== before) pickPieces([id]);
}

export async function splitPicked(by: 'part' | 'material' | 'set'): Promise<void> {
  const s = bench.get();
  const id = s.piece;
  const source = workedOn(s);
  if (!id || !source || source.kind !== 'mesh' || !session.crew) {
    say('Pick a piece to split first.');
    return;
  }
  try {
    const parts = await session.crew.ask('parts', { piece: source.id, by });
    if (parts.length < 2) {
      say(by === 'part' ? `${source.name} hangs together: it is one part.` : `${source.name} has only one ${by}.`);
      return;
    }
    if (parts.length > 2000) {
      say(`${source.name} has ${parts.length.toLocaleString('en')} loose parts; at most 2,000 become pieces.`);
      return;
    }
    const names = (set: string | undefined) =>
      (by === 'material' ? s.document!.materials.find((m) => m.id === set)?.name : set) || 'the rest';
    let made: string[] = [];
    session.change(`split ${source.name}`, (d) => {
      made = changes.splitPiece(
        d,
        id,
        parts.map((p) => ({
          name: by === 'part' ? `${source.name} ${p.name}` : names(p.set),
          by,
          ...(by === 'part' ? { faces: { kind: 'face' as const, keys: p.keys } } : { set: p.set }),
        })),
      );
    });
    pickPieces(made);
  } catch (e) {
    say((e as Error).message);
  }
}

/** Picked faces as a piece of their own. */
export function detachPicked(copy: boolean): void {
  const s = bench.get();
  const piece = workedOn(s);
  if (!piece || s.pick.kind !== 'face' || s.pick.keys.length === 0) {
    say('Pick the faces to detach first.');
    return;
  }
  const ids = { piece: changes.newId(), keep: changes.newId(), move: changes.newId() };
  const focused = piece.recipe.find((x) => x.id === s.step);
  const shape = focused?.kind === 'shape' ? focused.id : changes.newId();
  const after = s.step ?? piece.upTo ?? piece.recipe[piece.recipe.length - 1]?.id;
  session.change(copy ? 'copy faces out' : 'detach as a piece', (d) => {
    if (focused?.kind !== 'shape') changes.addStep(d, piece.id, 'shape', shape, {}, after);
    changes.detachPiece(d, s.piece!, shape, s.pick, copy, ids);
  });
  pickPieces([ids.piece]);
}

export const setPicked = (label: string, part: Partial<Piece>): void => {
  const ids = pickedPieces();
  if (ids.length)
    session.change(label, (d) => {
      for (const id of ids) changes.setPiece(d, id, part);
    });
};

export function toggleGhost(): void {
  const s = bench.get();
  const on = !s.document?.pieces.find((p) => p.id === s.piece)?.ghost;
  setPicked(on ? 'ghost' : 'no ghost', { ghost: on });
}

/** Only what is picked is seen; again: all. Nothing of this is kept in the project. */
export function isolate(): void {
  const s = bench.get();
  if (s.only) {
    bench.set({ only: null });
    return;
  }
  const ids = pickedPieces();
  if (!s.document || ids.length === 0) {
    say('Pick what to see alone first.');
    return;
  }
  bench.set({ only: changes.withChildren(s.document, ids) });
}

export function bakePlaces(): void {
  const s = bench.get();
  const ids = pickedPieces().filter((id) =>
    s.document?.pieces.some((p) => p.id === id && p.kind === 'mesh' && p.link === null),
  );
  if (ids.length === 0) {
    say('Pick pieces with recipes of their own: groups, blueprints and linked copies have none.');
    return;
  }
  session.change('bake placement', (d) => {
    for (const id of ids) changes.bakePlacement(d, id, changes.newId());
  });
}

// Pivots and order in space

/** The box of pieces and all in them, in the world. */
export function worldBox(ids: readonly string[]): Bounds | null {
  const s = bench.get();
  const doc = s.document;
  if (!doc) return null;
  const tree = changes.withChildren(doc, ids);
  const now = changes.worlds(doc);
  let all: Bounds | null = null;
  for (const p of doc.pieces) {
    const b = tree.has(p.id) && p.kind === 'mesh' ? s.shown.get(p.link ?? p.id)?.bounds : undefined;
    if (b && b.min[0] <= b.max[0]) all = joinBounds(all, mappedBounds(b, now.get(p.id) ?? IDENTITY));
  }
  return all;
}

/** The box of a piece in its own space, with all in it. */
export function ownBox(id: string): Bounds | null {
  const s = bench.get();
  const doc = s.document;
  const p = doc?.pieces.find((x) => x.id === id);
  if (!doc || !p) return null;
  if (p.kind === 'mesh') {
    const b = s.shown.get(p.link ?? p.id)?.bounds;
    return b && b.min[0] <= b.max[0] ? b : null;
  }
  const w = worldBox([id]);
  return w && mappedBounds(w, invert(changes.worlds(doc).get(id) ?? IDENTITY));
}

export type PivotTo = 'centre' | 'bottom' | 'world' | 'pick';

export function movePivot(to: PivotTo): void {
  const s = bench.get();
  const ids = pickedPieces();
  const doc = s.document;
  if (!doc || ids.length === 0) {
    say('Pick a piece first.');
    return;
  }
  const now = changes.worlds(doc);
  const pickAt = (): Triple | null => {
    if (!s.mesh || s.pick.keys.length === 0 || !s.facts || !s.piece) return null;
    const c = pickCentre();
    return c && applyPoint(now.get(s.piece) ?? IDENTITY, c);
  };
  const places = ids.flatMap((id): [string, Triple][] => {
    if (to === 'world') return [[id, [0, 0, 0]]];
    if (to === 'pick') {
      const at = pickAt();
      return at ? [[id, at]] : [];
    }
    const b = ownBox(id);
    if (!b) return [];
    const c = [0, 1, 2].map((k) => (b.min[k] + b.max[k]) / 2) as [number, number, number];
    if (to === 'bottom') {
      // The lowest point in the world's sense, under the middle.
      const w = worldBox([id])!;
      return [[id, [(w.min[0] + w.max[0]) / 2, w.min[1], (w.min[2] + w.max[2]) / 2]]];
    }
    return [[id, applyPoint(now.get(id) ?? IDENTITY, c)]];
  });
  if (places.length === 0) {
    say(
      to === 'pick'
        ? 'Pick vertices, edges or faces for the pivot to go to.'
        : 'There is nothing in it yet for the pivot to go by.',
    );
    return;
  }
  session.change('move the pivot', (d) => {
    for (const [id, at] of places) changes.setPivot(d, id, at);
  });
}

/** Filled in by the view: the middle of the pick in the worked-on piece's space. */
let pickCentre: () => [number, number, number] | null = () => null;
export const givePickCentre = (f: typeof pickCentre): void => {
  pickCentre = f;
};

export function align(axis: Axis, value: number, pivots: boolean): void {
  const ids = pickedPieces();
  session.change(`align ${count(ids.length, 'piece')}`, (d) => changes.alignPieces(d, ids, axis, value, pivots));
}
export function distribute(axis: Axis): void {
  const ids = pickedPieces();
  if (ids.length < 3) {
    say('Pick three pieces or more to spread evenly.');
    return;
  }
  session.change(`distribute ${count(ids.length, 'piece')}`, (d) => changes.distributePieces(d, ids, axis));
}

/** Sizes a piece so that its own box has a length along an axis. */
export function setOwnSize(id: string, axis: 0 | 1 | 2, metres: number, live: boolean): void {
  const b = ownBox(id);
  const own = b ? b.max[axis] - b.min[axis] : 0;
  if (!(own > 0) || !(metres > 0)) {
    say('It has no extent along that axis to be sized.');
    return;
  }
  session.change(
    'size a piece',
    (d) => {
      const p = changes.pieceOf(d, id);
      const size: [number, number, number] = [...p.place.size];
      size[axis] = (Math.sign(size[axis]) || 1) * (metres / own);
      changes.setPlace(d, id, { size });
    },
    live ? `size ${id} ${axis}` : undefined,
  );
}

export function stepPieces(by: number): void {
  const s = bench.get();
  const seen = seenPieces(s);
  const list = s.document?.pieces.filter((p) => seen.has(p.id)) ?? [];
  const at = list.findIndex((p) => p.id === s.piece);
  const next = list[(at + by + list.length) % list.length];
  if (next) pickPieces([next.id]);
}

/** A new piece made of the one that is worked on: it follows it wherever it has no value of its own. */
export function placeAsKit(): void {
  const kit = workedOn(bench.get());
  if (kit?.kind !== 'mesh') {
    say('Pick the piece that others are to be made of first.');
    return;
  }
  const id = changes.newId();
  session.change(`place ${kit.name} as a kit`, (d) => placeKit(d, kit.id, id, changes.newId()));
  pickPieces([id]);
  say(`A piece made of ${kit.name}: its dials are turned here without touching the others.`);
}

/** The kit's steps in the place of the step that follows it. */
export function unpack(piece: string, step: string): void {
  try {
    session.change('make it a piece of its own', (d) => unpackKit(d, piece, step));
  } catch (e) {
    say((e as Error).message);
  }
}

/** A piece that goes its own way from a step of another: the other may take it in again further on. */
export function branchFrom(piece: string, step: string): void {
  const id = changes.newId();
  const from = bench.get().document?.pieces.find((p) => p.id === piece);
  if (!from) return;
  session.change('branch', (d) => {
    changes.addPiece(d, id, `${from.name} branch`, from.parent);
    changes.addStep(d, id, 'branch', changes.newId(), { other: piece, step });
    changes.setPiece(d, id, { place: from.place });
  });
  pickPieces([id]);
  say(`A branch of ${from.name}: Join, in ${from.name}, takes it in again.`);
}

/** Steps folded under a name on the map; without one, taken apart again. */
export function foldSteps(piece: string, steps: readonly string[], name: string | undefined): void {
  session.change(name === undefined ? 'take a fold apart' : `fold under ${name}`, (d) => {
    for (const id of steps) {
      const step = changes.stepOf(d, piece, id);
      if (name === undefined) delete step.fold;
      else step.fold = name;
    }
  });
}
