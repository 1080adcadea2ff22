/** Notes that lie free on the map of a recipe, each beside a step, with which it moves. */
import { pieceOf } from './changes';
import type { MapNote, ProjectDocument } from './types';

export const NOTE_LENGTH = 2000;
const MOST = 200;

/** Throws one sentence where there are too many. */
export function addNote(doc: ProjectDocument, piece: string, note: MapNote): void {
  const p = pieceOf(doc, piece);
  if ((p.notes?.length ?? 0) >= MOST) throw new Error(`A map holds ${MOST} notes at most.`);
  (p.notes ??= []).push({ ...note, text: note.text.slice(0, NOTE_LENGTH) });
}

/** One without a text is taken away. */
export function setNote(doc: ProjectDocument, piece: string, id: string, part: Partial<Omit<MapNote, 'id'>>): void {
  const p = pieceOf(doc, piece);
  const note = p.notes?.find((n) => n.id === id);
  if (!note) return;
  Object.assign(note, part);
  note.text = note.text.trim().slice(0, NOTE_LENGTH);
  if (note.text !== '') return;
  p.notes = p.notes!.filter((n) => n !== note);
  if (p.notes.length === 0) delete p.notes;
}
