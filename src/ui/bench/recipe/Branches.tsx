'use client';
/**
 * Below a step: the other recipes that flow into it, each by its name, opened as an indented list of their steps. What
 * flows into those is a list within it.
 */
import { IconChevronRight } from '@tabler/icons-react';
import { useState } from 'react';
import { referencesIn } from '../../../document/references';
import { tellStep } from '../../../document/telling';
import type { Piece, ProjectDocument, Step } from '../../../document/types';
import { focusStep } from '../actions';
import { pickPieces } from '../pieceActions';
import { useBench } from '../store';

/** Deeper than this a list is read on the map. */
const DEEPEST = 4;

/** Pieces with recipes that a step takes in, each once. */
function branchesOf(doc: ProjectDocument, step: Step, not: readonly string[]): Piece[] {
  const by = new Map(doc.pieces.map((p) => [p.id, p]));
  const found = new Set<Piece>();
  for (const r of referencesIn([step])) {
    const named = r.to === 'piece' ? by.get(r.id) : undefined;
    const source = named && by.get(named.link ?? named.id);
    if (source?.kind === 'mesh' && source.recipe.length > 0 && !not.includes(source.id)) found.add(source);
  }
  return [...found];
}

export function Branches({ step, within }: { step: Step; within: readonly string[] }) {
  const document = useBench((s) => s.document);
  if (!document || within.length > DEEPEST) return null;
  const list = branchesOf(document, step, within);
  if (list.length === 0) return null;
  return (
    <ul className="mt-0.5 text-[12px]" aria-label="What flows in here">
      {list.map((p) => (
        <li key={p.id}>
          <Branch piece={p} document={document} within={within} />
        </li>
      ))}
    </ul>
  );
}

function Branch({ piece, document, within }: { piece: Piece; document: ProjectDocument; within: readonly string[] }) {
  const [open, setOpen] = useState(false);
  const count = `${piece.recipe.length} ${piece.recipe.length === 1 ? 'step' : 'steps'}`;
  const go = (step: Step) => {
    pickPieces([piece.id]);
    focusStep(step.id);
  };
  return (
    <>
      <button
        className="flex w-full items-center gap-1 text-left hover:underline"
        aria-expanded={open}
        aria-label={`Branch ${piece.name}, ${count}`}
        onClick={(e) => {
          e.stopPropagation();
          setOpen(!open);
        }}
      >
        <IconChevronRight size={12} stroke={1.8} aria-hidden className={open ? 'rotate-90' : ''} />
        <span className="truncate">{piece.name}</span>
        <span className="quiet shrink-0">{count}</span>
      </button>
      {open && (
        <ol className="ml-1.5 border-l border-line pl-2" aria-label={`Steps of ${piece.name}`}>
          {piece.recipe.map((step, i) => (
            <li key={step.id} className={step.on ? '' : 'opacity-45'}>
              <button
                className="line-clamp-2 w-full text-left hover:underline"
                title="Work on this step"
                onClick={(e) => {
                  e.stopPropagation();
                  go(step);
                }}
              >
                <span className="quiet font-serif">{i + 1}</span> {tellStep(step, document)[0]}
              </button>
              <Branches step={step} within={[...within, piece.id]} />
            </li>
          ))}
        </ol>
      )}
    </>
  );
}
