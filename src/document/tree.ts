/** The tree of pieces, and what is asked of it. */
import type { Piece, ProjectDocument } from './types';

export type Draft = ProjectDocument;

export const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

export const pieceOf = (doc: Draft, id: string): Piece => {
  const p = doc.pieces.find((x) => x.id === id);
  if (!p) throw new Error('That piece is no longer there.');
  return p;
};

/** The piece whose recipe this one shows: itself, or what it is linked to. */
export const sourceOf = (doc: Draft, piece: Piece): Piece =>
  piece.link === null ? piece : (doc.pieces.find((p) => p.id === piece.link) ?? piece);

/** The names in use, to be asked many times. */
export function namer(doc: Draft): (wanted: string) => string {
  const taken = new Set(doc.pieces.map((p) => p.name));
  const next = new Map<string, number>();
  return (wanted) => {
    let name = wanted.trim() || 'piece';
    const stem = name.replace(/ \d+$/, '');
    for (let i = next.get(stem) ?? 2; taken.has(name); i++) {
      name = `${stem} ${i}`;
      next.set(stem, i + 1);
    }
    taken.add(name);
    return name;
  };
}
export const uniqueName = (doc: Draft, wanted: string): string => namer(doc)(wanted);

/** The pieces and all that is in them. */
export function withChildren(doc: Draft, ids: string | readonly string[]): Set<string> {
  const out = new Set(typeof ids === 'string' ? [ids] : ids);
  for (const p of doc.pieces) if (p.parent !== null && out.has(p.parent)) out.add(p.id);
  return out;
}

/** Of several pieces those that are not inside another of them. */
export function topmost(doc: Draft, ids: Iterable<string>): string[] {
  const set = new Set(ids);
  const by = new Map(doc.pieces.map((p) => [p.id, p]));
  return doc.pieces
    .filter((p) => {
      if (!set.has(p.id)) return false;
      for (let q = p.parent; q !== null; q = by.get(q)?.parent ?? null) if (set.has(q)) return false;
      return true;
    })
    .map((p) => p.id);
}
