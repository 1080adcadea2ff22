/** What lies on the sheet. */
import { uvSetCalled } from '../../../core/mesh';
import type { ElementPick } from '../../../core/mesh/picks';
import type { Box } from '../../../core/uv/edits/sheet';
import type { HandPlaces } from '../../../core/uv/follow/placed';
import * as changes from '../../../document/changes';
import { leaveSheet, releaseShared, shareSheet } from '../../../document/sharing';
import { keepBlob } from '../../parts/api';
import { WorkCancelled } from '../../../workers/link';
import { refocus, session } from '../session';
import { bench, layingOut, say, sharing, workedOn, type RelaxingNow, type RelaxingWay } from '../store';
import { giveDropLive } from './hand';
import { endProjecting } from './project';
import { ownSheetOnly, seenStep, sheetSeen, unwrapStep } from './sheetstep';

/** A layout beside those there are, in a UV set of its own, cut and held where the one that is worked on is. */
export function addUvSet(): void {
  const s = bench.get();
  const piece = workedOn(s);
  const had = layingOut(s);
  if (!piece || !had) {
    say('Unfold the piece first.');
    return;
  }
  const taken = new Set(piece.recipe.map((x) => uvSetCalled(String(x.values.set ?? ''))));
  let n = 2;
  while (taken.has(uvSetCalled(`set ${n}`))) n++;
  const { cut, hold, seamAngle, stretch, size, padding } = had.values;
  const id = changes.newId();
  const values = { cut, hold, seamAngle, stretch, size, padding, set: `set ${n}` };
  session.change('another UV set', (d) => changes.addStep(d, piece.id, 'unwrap', id, values, had.id));
  bench.set({ step: id });
  refocus();
}

/** Lays the pieces that are picked on one sheet, as dense on each as on the others. */
export function shareOneSheet(ids: readonly string[]): void {
  const { document } = bench.get();
  session.change('lay on one sheet', (d) => shareSheet(d, ids));
  if (bench.get().document === document) return;
  say('They share a sheet: what changes on one is laid out anew on all.');
  refocus();
}

/** The piece has its sheet for itself again. */
export function haveOwnSheet(): void {
  const piece = workedOn(bench.get());
  if (!piece) return;
  session.change('leave the sheet', (d) => leaveSheet(d, changes.pieceOf(d, piece.id)));
  refocus();
}

export function unfold(): void {
  const had = bench
    .get()
    .document?.pieces.find((p) => p.id === bench.get().piece)
    ?.recipe.some((s) => s.kind === 'unwrap');
  const at = unwrapStep();
  if (!at) return;
  if (had) session.change('unfold anew', (d) => changes.releasePlaces(d, at.piece, at.step));
  say(had ? 'Unfolded and packed anew; places set by hand were given back.' : 'Unfolded.');
}

/**
 * Packs everything anew at one density; islands placed by hand keep the shape they were given, but on a shared sheet.
 */
export function packAll(): void {
  const share = sharing(bench.get());
  if (share) {
    session.change('pack', (d) => releaseShared(d, share));
    say('Packed anew, with what was placed by hand on the sheet that is shared.');
    return;
  }
  const at = unwrapStep();
  if (at) session.change('pack', (d) => changes.setValues(d, at.piece, at.step, { repack: true }));
}

/** Packs islands within a rectangle of the sheet, by its ends, on whole texels; or on all of it again. */
export function packWithin(ends: Box | null, texels: number): void {
  if (!ownSheetOnly('Packing within a rectangle')) return;
  const at = unwrapStep();
  if (!at) return;
  const inSheet = (n: number): number => Math.round(Math.min(1, Math.max(0, n)) * texels) / texels;
  const { x0, y0, x1, y1 } = ends ?? { x0: 0, y0: 0, x1: 1, y1: 1 };
  const values = {
    partLeft: Math.min(0.99, inSheet(x0)),
    partLow: Math.min(0.99, inSheet(y0)),
    partWidth: Math.max(0.01, inSheet(x1) - inSheet(x0)),
    partHeight: Math.max(0.01, inSheet(y1) - inSheet(y0)),
  };
  const label = ends ? 'pack within a rectangle' : 'pack on the whole sheet';
  session.change(label, (d) => changes.setValues(d, at.piece, at.step, values));
}

let packing: AbortController | null = null;

/**
 * Packs on and on in a helper, in better and better ways, until it is stopped or nothing better is likely. The best is
 * kept then.
 */
export async function packLonger(): Promise<void> {
  if (!ownSheetOnly('Packing longer')) return;
  const at = unwrapStep();
  const { document } = bench.get();
  if (!at || !document || !session.crew || packing) return;
  const own = new AbortController();
  packing = own;
  bench.set({ packing: { ...at, fill: bench.get().uv?.coverage ?? 0, best: null } });
  try {
    const bytes = await session.crew.long(document, 'packing', at, {
      signal: own.signal,
      progress: ({ share, layout }) => {
        const now = bench.get().packing;
        if (now && layout) bench.set({ packing: { ...now, fill: share, best: layout } });
      },
    });
    if (packing !== own) return;
    await endPacking(bytes ? 'best' : 'nothing', bytes ?? undefined);
    say(bytes ? 'Packed; the layout is kept.' : 'Nothing better was found.');
  } catch (e) {
    if (packing !== own) return;
    await endPacking('nothing');
    if (!(e instanceof WorkCancelled)) say((e as Error).message);
  }
}

/** Stops packing: with the best so far kept, or nothing of it. */
export async function endPacking(keep: 'best' | 'nothing', file?: Uint8Array): Promise<void> {
  const now = bench.get().packing;
  packing?.abort();
  packing = null;
  bench.set({ packing: null });
  const bytes = file ?? now?.best?.bytes;
  if (!now || keep === 'nothing' || !bytes) {
    if (now && keep === 'best') say('Nothing better was found yet.');
    return;
  }
  try {
    await keptAs(now, bytes, 'pack longer');
  } catch (e) {
    say((e as Error).message);
  }
}

let relaxing: AbortController | null = null;

/**
 * Relaxes islands in a helper until it is stopped, or nothing more is gained; asked again, it begins anew in the other
 * way. Nothing is kept by it.
 */
export async function relaxLive(
  way: RelaxingWay,
  of: { faces: readonly number[]; held: readonly number[]; only?: readonly number[] },
): Promise<void> {
  const at = seenStep();
  const { document } = bench.get();
  if (!at || !document || !session.crew) return;
  relaxing?.abort();
  const own = new AbortController();
  relaxing = own;
  bench.set({ relaxing: { ...at, faces: of.faces, way, now: null, rests: false } });
  const tell = (found: Partial<RelaxingNow>): void => {
    const now = bench.get().relaxing;
    if (now && relaxing === own) bench.set({ relaxing: { ...now, ...found } });
  };
  try {
    const query = { ...at, ...of, border: way.border, lengths: way.lengths };
    const found = await session.crew.long(document, 'relaxing', query, {
      signal: own.signal,
      progress: ({ relaxed }) => relaxed && tell({ now: relaxed }),
    });
    tell({ rests: true, ...(found ? { now: { uv: found.uv, mean: found.mean, round: found.rounds } } : {}) });
    if (relaxing === own && (!found || found.left > 0))
      say('Islands that lie on their face stay as they are where something of them is held.');
  } catch (e) {
    if (relaxing !== own) return;
    endRelaxing();
    if (!(e instanceof WorkCancelled)) say((e as Error).message);
  }
}

giveDropLive(() => {
  endRelaxing();
  endProjecting();
});

/** Ends relaxing, and answers what came of it. */
export function endRelaxing(): RelaxingNow | null {
  const now = bench.get().relaxing;
  relaxing?.abort();
  relaxing = null;
  bench.set({ relaxing: null });
  return now;
}

async function keptAs(at: { piece: string; step: string }, bytes: Uint8Array, label: string): Promise<void> {
  const sha = await keepBlob(bytes);
  await session.crew?.ask('keep', { sha, bytes });
  // All of it is in the layout: what was placed by hand before, and where packing put that.
  const all = {
    ...{ layout: sha, repack: false },
    placed: { face: [], vertex: [], uv: [] },
    anew: { kind: 'face', keys: [] } as ElementPick,
  };
  session.change(label, (d) => changes.setValues(d, at.piece, at.step, all));
}

/** A layout taken from one piece, to be laid on others. */
let copied: { bytes: Uint8Array; name: string } | null = null;

/** Takes the layout of the piece, for others of its shape. */
export async function copyLayout(): Promise<void> {
  const piece = workedOn(bench.get());
  if (!piece?.recipe.some((x) => x.kind === 'unwrap')) {
    say('Unfold the piece first: it has no layout to copy.');
    return;
  }
  const at = unwrapStep();
  const { crew } = session;
  if (!at || !crew) return;
  try {
    copied = { bytes: await crew.askNow('layout', at), name: piece.name };
    say(`The layout of ${piece.name} is copied: lay it on a piece of the same or a similar shape.`);
  } catch (e) {
    say((e as Error).message);
  }
}

/**
 * Lays the piece out as the one that was copied: by keys where it is a copy of that, by places where it is like it.
 * What has no place in that is laid out by itself, and how much has is told beside the sheet.
 */
export async function layAsCopied(): Promise<void> {
  if (!copied) {
    say('Copy the layout of a piece first.');
    return;
  }
  const from = copied;
  const at = unwrapStep();
  if (!at) return;
  try {
    await keptAs(at, from.bytes, `lay out as ${from.name}`);
  } catch (e) {
    say((e as Error).message);
  }
}

/**
 * Keeps the layout as it is: what changes before it is followed, nothing is laid out anew. Or lets it go, so that it is
 * laid out again whenever something changes.
 */
export async function keepLayout(on: boolean): Promise<void> {
  const at = unwrapStep();
  const { crew } = session;
  if (!at || !crew) return;
  if (!on) {
    session.change('let the layout go', (d) => {
      changes.setValues(d, at.piece, at.step, { layout: '', anew: { kind: 'face', keys: [] } });
    });
    return;
  }
  try {
    const bytes = await crew.askNow('layout', at);
    await keptAs(at, bytes, 'keep the layout');
    say('The layout is kept: it follows the surface through changes before it.');
  } catch (e) {
    say((e as Error).message);
  }
}

export function placeByHand(places: HandPlaces, live: string): void {
  const at = unwrapStep();
  const sheet = sheetSeen();
  if (at) session.change('place on the sheet', (d) => changes.placeByHand(d, at.piece, at.step, places, sheet), live);
}

const ISLAND_MARKS = {
  locked: ['lock islands', 'unlock islands'],
  upright: ['let islands stand', 'let islands be turned'],
  finer: ['make islands finer', 'make islands as fine as others'],
  coarser: ['make islands coarser', 'make islands as fine as others'],
} as const;

export type IslandMark = keyof typeof ISLAND_MARKS;

/** Marks islands, or takes the mark from them: locked in place, standing as on the model, finer or coarser. */
export function markIslands(name: IslandMark, keys: readonly number[], on: boolean): void {
  const at = unwrapStep();
  if (!at) return;
  session.change(ISLAND_MARKS[name][on ? 0 : 1], (d) => {
    const values = changes.stepOf(d, at.piece, at.step).values as Record<string, ElementPick | undefined>;
    const now = values[name]?.keys ?? [];
    const set = new Set(keys);
    const others = now.filter((k) => !set.has(k));
    values[name] = { kind: 'face', keys: on ? [...others, ...keys] : others };
  });
}

export function releaseIsland(faces: ReadonlySet<number>): void {
  const at = unwrapStep();
  const sheet = sheetSeen();
  if (at) session.change('give back to the solver', (d) => changes.releasePlaces(d, at.piece, at.step, faces, sheet));
}
