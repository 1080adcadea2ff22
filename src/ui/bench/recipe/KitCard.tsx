'use client';
/** What a kit is, beside its placement: its picture, what it is for, and which edition of it is here. */
import { useEffect, useState } from 'react';
import type { Piece } from '../../../document/types';
import type { VariationPicture } from '../../../workers/calls/variations';
import { Drawn } from '../../parts/Drawn';
import { takeEditionOf, useEditions } from '../library';
import { session } from '../session';
import { bench, useBench } from '../store';

const SIZE = { width: 96, height: 64 };
/** Milliseconds: while a kit is worked on its picture waits. */
const QUIET = 700;

export function KitCard({ kit }: { kit: string }) {
  const piece = useBench((s) => s.document?.pieces.find((p) => p.id === kit));
  const picture = useKitPicture(piece);
  if (!piece) return null;
  return (
    <div className="mt-1 flex items-start gap-2">
      <Drawn picture={picture} {...SIZE} className="shrink-0" />
      <div className="min-w-0 flex-1">
        {piece.about && <p className="quiet line-clamp-2 text-[12px] italic">{piece.about}</p>}
        <EditionChoice piece={piece} />
      </div>
    </div>
  );
}

/** Drawn when the kit has been left alone for a while. */
function useKitPicture(piece: Piece | undefined): VariationPicture | undefined {
  const [picture, setPicture] = useState<VariationPicture>();
  const id = piece?.id;
  const { recipe, dials } = piece ?? {};
  useEffect(() => {
    if (id === undefined) return undefined;
    const own = new AbortController();
    const later = setTimeout(() => {
      const { document } = bench.get();
      if (!document || !session.crew) return;
      session.crew
        .long(document, 'variations', { piece: id, values: [[]], ...SIZE }, { signal: own.signal })
        .then(([first]) => setPicture(first))
        .catch(() => undefined);
    }, QUIET);
    return () => {
      clearTimeout(later);
      own.abort();
    };
  }, [id, recipe, dials]);
  return picture;
}

/** Which edition of its kit a piece is, with the others that the library has; nothing where it was never kept. */
export function EditionChoice({ piece }: { piece: Piece }) {
  const { edition } = piece;
  const kept = useEditions(edition?.kit);
  if (!edition) return null;
  const others = (kept ?? []).filter((e) => e.number !== edition.number);
  const newest = Math.max(edition.number, ...others.map((e) => e.number));
  return (
    <p className="text-[12px]">
      {others.length === 0 ? (
        <span className="quiet">Edition {edition.number}</span>
      ) : (
        <select
          className="select select-xs w-28"
          aria-label={`Edition of ${piece.name}`}
          value=""
          onChange={(chosen) => void takeEditionOf(piece.id, chosen.target.value)}
        >
          <option value="">Edition {edition.number}</option>
          {others.map((e) => (
            <option key={e.id} value={e.id}>
              Take edition {e.number} in its place
            </option>
          ))}
        </select>
      )}
      {newest > edition.number && <span className="block text-value">There is a newer one.</span>}
    </p>
  );
}
