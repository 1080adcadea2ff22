'use client';
/** Notes that lie free on the map: dragged, written on by a double click, taken away by emptying them. */
import { IconX } from '@tabler/icons-react';
import type { Node, NodeProps } from '@xyflow/react';
import { memo, useEffect, useRef, useState } from 'react';
import { newId } from '../../../document/changes';
import { addNote, NOTE_LENGTH, setNote } from '../../../document/notes';
import type { MapNote } from '../../../document/types';
import { session } from '../session';
import { say } from '../store';
import type { RecipeMap, Slip } from './graph';

export type NoteNode = Node<{ piece: string; note: MapNote }, 'note'>;

const WIDE = 160;
/** Beside a slip, where nothing else is laid out. */
const APART = 18;
const FRESH = 'New note';

const slipOf = (map: RecipeMap, piece: string, step: string): Slip | undefined =>
  map.slips.find((s) => s.piece === piece && s.steps.some((x) => x.id === step)) ??
  map.slips.find((s) => s.piece === piece);

/** The notes of all pieces on the map, where their slips are laid out now. */
export function noteNodes(map: RecipeMap, drag: { id: string; x: number; y: number } | null): NoteNode[] {
  return map.pieces.flatMap((p) =>
    (p.notes ?? []).flatMap((note): NoteNode[] => {
      const slip = slipOf(map, p.id, note.beside);
      if (!slip) return [];
      const id = `${p.id}/note/${note.id}`;
      const position = drag?.id === id ? { x: drag.x, y: drag.y } : { x: slip.x + note.x, y: slip.y + note.y };
      return [{ id, type: 'note', position, width: WIDE, zIndex: 5, data: { piece: p.id, note } }];
    }),
  );
}

/** A new note to the right of a slip; answers where it lies. */
export function writeNote(slip: Slip): { x: number; y: number } {
  const note = { id: newId(), text: FRESH, beside: slip.steps[0].id, x: slip.wide + APART, y: 0 };
  try {
    session.change('write a note', (d) => addNote(d, slip.piece, note));
  } catch (e) {
    say((e as Error).message);
  }
  return { x: slip.x + note.x + WIDE / 2, y: slip.y + APART };
}

/** Where it was let go it lies beside the slip that is nearest. */
export function dropNote(map: RecipeMap, node: Node, at: { x: number; y: number }): void {
  const { piece, note } = (node as NoteNode).data;
  const far = (s: Slip) => Math.hypot(s.x + s.wide / 2 - at.x - WIDE / 2, s.y + s.high / 2 - at.y);
  const own = map.slips.filter((s) => s.piece === piece).sort((a, b) => far(a) - far(b));
  if (own.length === 0) return;
  const [slip] = own;
  session.change('move a note', (d) =>
    setNote(d, piece, note.id, { beside: slip.steps[0].id, x: at.x - slip.x, y: at.y - slip.y }),
  );
}

export const NoteCard = memo(function NoteCard({ data }: NodeProps<NoteNode>) {
  const { piece, note } = data;
  const ref = useRef<HTMLTextAreaElement>(null);
  const [writing, setWriting] = useState(note.text === FRESH);
  const put = (text: string) => {
    setWriting(false);
    if (text.trim() !== note.text) session.change('note', (d) => setNote(d, piece, note.id, { text }));
  };
  // What is on the map is hidden until it has been measured, and what is hidden takes no focus.
  useEffect(() => {
    if (!writing) return undefined;
    const later = setInterval(() => {
      ref.current?.focus({ preventScroll: true });
      if (document.activeElement === ref.current) clearInterval(later);
    }, 30);
    return () => clearInterval(later);
  }, [writing]);
  if (writing)
    return (
      <textarea
        ref={ref}
        className="textarea textarea-xs nodrag w-full bg-wash"
        aria-label="Text of the note"
        rows={3}
        maxLength={NOTE_LENGTH}
        defaultValue={note.text}
        onFocus={(e) => e.target.select()}
        onBlur={(e) => put(e.target.value)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Escape' || (e.key === 'Enter' && !e.shiftKey)) e.currentTarget.blur();
        }}
      />
    );
  return (
    <div
      className="group relative rounded border border-line bg-wash px-2 py-1 text-[12px] whitespace-pre-wrap"
      role="note"
      tabIndex={0}
      aria-label={`Note: ${note.text}. Enter to write on it`}
      onDoubleClick={() => setWriting(true)}
      onKeyDown={(e) => {
        if (e.key !== 'Enter' && e.key !== 'Delete') return;
        e.preventDefault();
        e.stopPropagation();
        if (e.key === 'Enter') setWriting(true);
        else put('');
      }}
    >
      {note.text}
      <button
        className="btn btn-ghost btn-square icon-small nodrag absolute right-0 top-0 opacity-0 focus-visible:opacity-100 group-hover:opacity-100"
        aria-label="Take the note away"
        onClick={() => put('')}
      >
        <IconX size={11} stroke={1.8} />
      </button>
    </div>
  );
});
