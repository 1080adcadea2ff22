/** Documents of earlier formats, brought up to this one. What is already complete is returned as it is. */
import { NO_PLACE } from '../core/math';
import { FORMAT, type Piece, type ProjectDocument, type Settings } from './types';

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

export function upgrade(value: unknown): ProjectDocument {
  const doc = value as Omit<ProjectDocument, 'format'> & { format: number };
  if (
    typeof doc !== 'object' ||
    doc === null ||
    !Array.isArray(doc.pieces) ||
    (doc.format !== 1 && doc.format !== FORMAT)
  )
    return value as ProjectDocument;
  const whole = doc.format === FORMAT && doc.images && doc.tapes && doc.settings;
  const old = doc.pieces.some((p) => p && pieceNow(p) !== p);
  if (whole && !old) return value as ProjectDocument;
  return {
    ...doc,
    format: FORMAT,
    pieces: old ? doc.pieces.map((p) => (p ? pieceNow(p) : p)) : doc.pieces,
    images: doc.images ?? [],
    tapes: doc.tapes ?? [],
    settings: doc.settings ?? structuredClone(SETTINGS),
  };
}
