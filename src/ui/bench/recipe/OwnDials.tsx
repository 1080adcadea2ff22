'use client';
/** The dials of a kit below the step that follows it: the kit's value, or the placement's own, one click back. */
import { IconArrowBackUp } from '@tabler/icons-react';
import { kitDials, setOwn } from '../../../document/kits';
import type { Dial, Piece, ProjectDocument, Step } from '../../../document/types';
import { session } from '../session';
import { say, useBench } from '../store';
import { DialValue } from './DialValue';
import { KitCard } from './KitCard';

export function OwnDials({ piece, step, kit }: { piece: Piece; step: Step; kit: string }) {
  const document = useBench((s) => s.document) as ProjectDocument;
  const dials = kitDials(document, kit);
  const own = (step.values.own ?? {}) as Readonly<Record<string, unknown>>;
  const card = <KitCard kit={kit} />;
  if (dials.length === 0)
    return (
      <>
        {card}
        <p className="quiet mt-0.5 text-[12px]">This kit has no dials of its own.</p>
      </>
    );
  return (
    <>
      {card}
      <ul className="mt-1 border-l border-line pl-2 text-[12px]" aria-label="Dials of the kit">
        {dials.map((d) => (
          <OwnDial key={d.id} piece={piece} step={step} dial={d} value={own[d.name]} />
        ))}
      </ul>
    </>
  );
}

function OwnDial({ piece, step, dial, value }: { piece: Piece; step: Step; dial: Dial; value: unknown }) {
  const owned = value !== undefined;
  const set = (to: unknown, live = false) =>
    session.change(
      to === undefined ? `${dial.name} as the kit has it` : `turn ${dial.name} here`,
      (d) => setOwn(d, piece.id, step.id, dial.name, to),
      live ? `own ${step.id} ${dial.name}` : undefined,
    );
  return (
    <li className="row">
      <span title={dial.note}>{dial.name}</span>
      <span className="flex items-center gap-1">
        <span className={`text-[11px] ${owned ? 'text-value' : 'quiet'}`}>{owned ? 'own value' : 'kit value'}</span>
        <DialValue
          dial={dial}
          name={`own-${dial.name}`}
          value={value}
          onChange={(part, live) => {
            if ('formula' in part) set(part.formula, live);
            else if (part.value !== undefined && !part.options) set(part.value, live);
            else say('What a kit offers is changed at the kit itself.');
          }}
        />
        <button
          className={`btn btn-ghost btn-square icon-small ${owned ? '' : 'invisible'}`}
          aria-label={`${dial.name} as the kit has it`}
          onClick={() => set(undefined)}
        >
          <IconArrowBackUp size={13} stroke={1.6} />
        </button>
      </span>
    </li>
  );
}
