/** What the workers answered last. */
import type { DisplayBuffers } from '../../../core/display';
import { applyPatch } from '../../../core/display/patch';
import { Mesh } from '../../../core/mesh/mesh';
import { keepTopology } from '../../../core/mesh/topology';
import { Later } from '../../../core/mesh/places';
import type { Projection, ProjectionFrame, Vector } from '../../../core/uv/edits/project';
import type { UvFigures } from '../../../core/uv/measure';
import type { ProjectDocument } from '../../../document/types';
import type { Checked } from '../../../workers/calls/checks';
import type { SuggestedSeam } from '../../../workers/calls/seams';
import type { Edited, Facts, FoundAnchors, PieceShown, TreeNote } from '../../../workers/protocol';

/** What was looked for, and found. */
export interface Checks {
  /** The result that was checked: it is old where this is not what is worked on now. */
  of: string;
  deep: boolean;
  /** All pieces of the project. */
  whole: boolean;
  list: readonly Checked[];
  /** How far it has come; null once it is done. */
  share: number | null;
}

/** Seams that could be cut or closed, as they were found for a step. */
export interface Suggested {
  piece: string;
  step: string;
  /** What may be stretched so far is let be. */
  bound: number;
  list: readonly SuggestedSeam[];
  /** How far the search has come; null once it is done. */
  share: number | null;
}

/** A layout that is being packed for as long as one cares to wait, and the best so far. */
export interface Packing {
  piece: string;
  step: string;
  /** Share of the sheet that is filled. */
  fill: number;
  best: { uv: Float32Array; bytes: Uint8Array } | null;
}

/** How islands are relaxed while one looks on. */
export interface RelaxingWay {
  /** 1 keeps lengths, 0 angles. */
  lengths: number;
  border: boolean;
  /** What is picked stays where it is, or alone may move. */
  picked: 'stays' | 'moves' | 'nothing';
}

/** Islands that are being relaxed, and as they are by now. */
export interface RelaxingNow {
  piece: string;
  step: string;
  /** By number, of the islands that are relaxed. */
  faces: readonly number[];
  way: RelaxingWay;
  now: { uv: Float32Array; mean: number; round: number } | null;
  /** Nothing more is gained. */
  rests: boolean;
}

/** Faces that are being projected, and the frame they are projected in. */
export interface ProjectingNow {
  id: number;
  piece: string;
  step: string;
  /** By number. */
  faces: readonly number[];
  how: Projection;
  /** In the space of the piece; asked for where it is not known: the best, or one along an axis. */
  frame: ProjectionFrame | 0 | 1 | 2 | undefined;
  /** How far the faces reach from its middle, along each of its axes, as it was at first. */
  half: Vector | undefined;
  /** How much larger it is than that. */
  size: Vector;
  wraps: number;
  now: { faces: Uint32Array; uv: Float32Array } | null;
}

/** Edges shown as dotted stitches, by key: seams to be, and one of them that is looked at. */
export interface Dotted {
  lists: readonly (readonly number[])[];
  hot: readonly number[] | null;
}

export interface AnswersSlice {
  suggested: Suggested | null;
  dotted: Dotted | null;
  packing: Packing | null;
  relaxing: RelaxingNow | null;
  projecting: ProjectingNow | null;
  anchors: FoundAnchors;
  trees: readonly TreeNote[];
  shown: ReadonlyMap<string, PieceShown>;
  edited: Edited | null;
  /** The document that `edited` was made of. */
  followed: ProjectDocument | undefined;
  /** The mesh of `edited`, where its elements are picked. */
  mesh: Mesh | null;
  facts: Facts | null;
  uv: UvFigures | null;
  checks: Checks | null;
  working: { step: string; share: number } | null;
}

export const answersSlice: AnswersSlice = {
  suggested: null,
  dotted: null,
  packing: null,
  relaxing: null,
  projecting: null,
  anchors: {},
  trees: [],
  shown: new Map(),
  edited: null,
  followed: undefined,
  mesh: null,
  facts: null,
  uv: null,
  checks: null,
  working: null,
};

/**
 * The mesh of an answer: whole, or the one before with some vertices elsewhere, which keeps what was derived from its
 * connectivity.
 */
export function meshOf({ mesh, moved }: Edited, before: Mesh | null): Mesh | null {
  if (moved && before) {
    const positions = before.positions.slice();
    moved.vertices.forEach((v, i) => positions.set(moved.positions.subarray(3 * i, 3 * i + 3), 3 * v));
    return before.with({ positions });
  }
  if (!mesh) return null;
  const { marked, topology } = mesh;
  const out = new Mesh({
    ...mesh,
    ...(marked ? { marks: new Later(() => marked) } : {}),
    attributes: {
      ...(mesh.uv ? { uv: { domain: 'corner', width: 2, data: mesh.uv } } : {}),
      ...(mesh.slot ? { material: { domain: 'face', width: 1, data: mesh.slot } } : {}),
      ...(mesh.group ? { group: { domain: 'face', width: 1, data: mesh.group } } : {}),
    },
  });
  if (topology) keepTopology(out, topology);
  return out;
}

/** Sources of copies that were sent before come without their buffers: those that are held stay. */
function keepCopies(now: DisplayBuffers, before: DisplayBuffers | undefined): void {
  for (const c of now.copies ?? []) c.buffers ??= before?.copies?.find((b) => b.source === c.source)?.buffers;
}

/**
 * What is shown after an answer. Patches are applied in place: at most one view holds the buffers, and it is told where
 * they changed.
 */
export function takeShown(
  had: ReadonlyMap<string, PieceShown>,
  gone: readonly string[],
  answered: readonly PieceShown[],
): ReadonlyMap<string, PieceShown> {
  const out = new Map(had);
  for (const id of gone) out.delete(id);
  for (const p of answered) {
    const old = out.get(p.piece);
    if (p.patch && old?.buffers) {
      applyPatch(old.buffers, p.patch);
      out.set(p.piece, { ...p, buffers: old.buffers });
    } else {
      if (p.buffers) keepCopies(p.buffers, old?.buffers);
      out.set(p.piece, p.buffers || !old ? p : { ...old, reports: p.reports });
    }
  }
  return out;
}
