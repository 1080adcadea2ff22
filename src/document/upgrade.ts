/** Documents of earlier formats, brought up to this one. What is already complete is returned as it is. */
import { NO_PLACE } from '../core/math';
import type { Move } from '../core/recipe';
import { FORMAT, type Piece, type ProjectDocument, type Settings, type Step } from './types';

export const SETTINGS: Settings = {
  precision: 3,
  triangles: 0,
  bed: [0.22, 0.22, 0.25],
  up: 'y',
  grid: 0.05,
  ground: true,
  background: 'dawn',
};

const pieceNow = (p: Piece): Piece =>
  p.place && p.link !== undefined && p.ghost !== undefined
    ? p
    : { ...p, link: p.link ?? null, ghost: p.ghost ?? false, place: p.place ?? NO_PLACE };

/**
 * Formats there were. In the third, elements of grids and loop cuts are named by shares; before, by ranks, and steps
 * did not say so. In the fourth, an unwrap that says nothing of it keeps a bound on stretch; before, surfaces were cut
 * along seams alone, and sheets of those days stay as they were.
 */
export const FORMATS: readonly number[] = [1, 2, 3, FORMAT];

/** With all that a document has to have, and nothing else changed: patches of earlier days fit it. */
export function complete(value: unknown): ProjectDocument {
  const doc = value as Omit<ProjectDocument, 'format'> & { format: number };
  if (typeof doc !== 'object' || doc === null || !Array.isArray(doc.pieces) || !FORMATS.includes(doc.format))
    return value as ProjectDocument;
  const whole = doc.images && doc.tapes && doc.settings;
  const old = doc.pieces.some((p) => p && pieceNow(p) !== p);
  if (whole && !old) return value as ProjectDocument;
  return {
    ...doc,
    format: Math.max(2, doc.format) as typeof FORMAT,
    pieces: old ? doc.pieces.map((p) => (p ? pieceNow(p) : p)) : doc.pieces,
    images: doc.images ?? [],
    tapes: doc.tapes ?? [],
    settings: doc.settings ?? structuredClone(SETTINGS),
  };
}

export function upgrade(value: unknown): ProjectDocument {
  const doc = complete(value) as Omit<ProjectDocument, 'format'> & { format: number };
  if (typeof doc !== 'object' || doc === null || !FORMATS.includes(doc.format) || doc.format === FORMAT)
    return value === doc ? (value as ProjectDocument) : (doc as ProjectDocument);
  const pieces = doc.pieces.map((p) =>
    p && Array.isArray(p.recipe) ? { ...p, recipe: p.recipe.map((s) => earlier(s, doc.format)) } : p,
  );
  return { ...doc, format: FORMAT, pieces };
}

const GRIDS = ['box', 'cylinder', 'plane', 'sphere'];

/** A step that does not say what it does, made when all did it in another way. */
function earlier(step: Step, format: number): Step {
  const values = step?.values;
  if (!values) return step;
  if (step.kind === 'unwrap') return { ...step, values: { stretch: 0, ...values } };
  if (Array.isArray(values.parts)) {
    const parts = (values.parts as { recipe?: Step[] }[]).map((p) =>
      Array.isArray(p?.recipe) ? { ...p, recipe: p.recipe.map((s) => earlier(s, format)) } : p,
    );
    return { ...step, values: { ...values, parts } };
  }
  return format < 3 ? byRanks(step) : step;
}

function byRanks(step: Step): Step {
  const { values } = step;
  if (GRIDS.includes(step.kind)) return { ...step, values: { names: 'ranks', ...values } };
  if (Array.isArray(values.moves)) {
    const moves = (values.moves as Move[]).map((m) =>
      m?.tool === 'loop' ? { ...m, values: { names: 'ranks', ...m.values } } : m,
    );
    return { ...step, values: { ...values, moves } };
  }
  return step;
}
