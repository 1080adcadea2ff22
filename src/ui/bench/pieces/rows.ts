/** The tree as rows: which are open, which match what is looked for, and what each holds. */
import type { Piece } from '../../../document/types';

export interface Row {
  piece: Piece;
  depth: number;
  open: boolean;
}
export interface Held {
  pieces: number;
  triangles: number;
}

/** Rows from top to bottom. With words to find, all that match and the groups above them, whatever is closed. */
export function rowsOf(pieces: readonly Piece[], closed: ReadonlySet<string>, find: string): Row[] {
  const words = find.trim().toLowerCase().split(/\s+/).filter(Boolean);
  const under = new Map<string | null, Piece[]>();
  let wanted: Set<string> | undefined;
  if (words.length) {
    const by = new Map(pieces.map((p) => [p.id, p]));
    wanted = new Set();
    for (const p of pieces) {
      const name = p.name.toLowerCase();
      if (!words.every((w) => name.includes(w))) continue;
      for (let q: Piece | undefined = p; q && !wanted.has(q.id); q = q.parent === null ? undefined : by.get(q.parent))
        wanted.add(q.id);
    }
  }
  for (const p of pieces) {
    if (wanted && !wanted.has(p.id)) continue;
    const list = under.get(p.parent);
    if (list) list.push(p);
    else under.set(p.parent, [p]);
  }
  const out: Row[] = [];
  const walk = (parent: string | null, depth: number): void => {
    for (const piece of under.get(parent) ?? []) {
      const open = wanted !== undefined || !closed.has(piece.id);
      out.push({ piece, depth, open });
      if (piece.kind === 'group' && open) walk(piece.id, depth + 1);
    }
  };
  walk(null, 0);
  return out;
}

/**
 * How many pieces each group holds, and the triangles of each piece and group. Parents stand before children, so one
 * pass from the end is enough.
 */
export function heldBy(pieces: readonly Piece[], triangles: (source: string) => number): Map<string, Held> {
  const out = new Map<string, Held>();
  for (let i = pieces.length - 1; i >= 0; i--) {
    const p = pieces[i];
    const own = out.get(p.id) ?? { pieces: 0, triangles: 0 };
    if (p.kind === 'mesh') own.triangles += triangles(p.link ?? p.id);
    out.set(p.id, own);
    if (p.parent === null) continue;
    const above = out.get(p.parent) ?? { pieces: 0, triangles: 0 };
    out.set(p.parent, {
      pieces: above.pieces + (p.kind === 'group' ? own.pieces : 1),
      triangles: above.triangles + own.triangles,
    });
  }
  return out;
}

/** The ids between two rows, both included. */
export function between(rows: readonly Row[], a: string | null, b: string): string[] {
  const i = rows.findIndex((r) => r.piece.id === a);
  const j = rows.findIndex((r) => r.piece.id === b);
  return i < 0 ? [b] : rows.slice(Math.min(i, j), Math.max(i, j) + 1).map((r) => r.piece.id);
}
