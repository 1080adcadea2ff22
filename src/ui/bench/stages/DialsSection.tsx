'use client';
import { useState } from 'react';
import * as dials from '../../../document/dials';
import { dialLists } from '../../../document/kits';
import type { Dial } from '../../../document/types';
import * as changes from '../../../document/changes';
import { dialDef } from '../dials';
import { Value } from '../recipe/Value';
import { session } from '../session';
import { bench, say, useBench, workedOn } from '../store';
import { Buttons, Remove, Section, Small } from './Fields';

const KINDS: readonly (readonly [Dial['kind'], string, number])[] = [
  ['length', 'Length', 0.01],
  ['count', 'Count', 3],
  ['angle', 'Angle', Math.PI / 4],
  ['number', 'Number', 1],
];

/** Dials: named values that formulas go by, of the project and of the piece that is worked on. Turning one follows everything that names it. */
export function DialsSection() {
  const document = useBench((s) => s.document);
  const piece = useBench((s) => workedOn(s)?.id ?? null);
  const [of, setOf] = useState<'project' | 'piece'>('project');
  if (!document) return null;
  const lists = dialLists(document, piece).filter((l) => l.holder === undefined || l.dials.length > 0);
  const total = lists.reduce((n, l) => n + l.dials.length, 0);
  const add = (kind: Dial['kind'], label: string, value: number) => {
    const holder = of === 'piece' ? (piece ?? undefined) : undefined;
    session.change('add a dial', (d) =>
      dials.addDial(d, { id: changes.newId(), name: dials.freeName(d, label, holder), kind, value }, holder),
    );
  };
  return (
    <Section title="Dials" aside={total > 0 ? String(total) : undefined}>
      {total === 0 && (
        <p className="quiet">
          None. A dial is a value with a name: type <span className="num">= name</span> into any number, or right-click
          a number to make a dial of it.
        </p>
      )}
      {lists.map(({ holder, name, dials: list }) => (
        <div key={holder ?? 'project'}>
          {lists.length > 1 && list.length > 0 && <h3 className="quiet mt-1 text-[11px]">Of {name}</h3>}
          <ul>
            {list.map((d) => (
              <DialRow key={d.id} dial={d} />
            ))}
          </ul>
        </div>
      ))}
      <Buttons>
        {KINDS.map(([kind, label, value]) => (
          <Small key={kind} onClick={() => add(kind, label, value)}>
            {label}
          </Small>
        ))}
        {piece !== null && (
          <Small
            pressed={of === 'piece'}
            title="New dials are of this piece alone: what places it as a kit may turn them"
            onClick={() => setOf(of === 'piece' ? 'project' : 'piece')}
          >
            Of this piece
          </Small>
        )}
      </Buttons>
      {total > 0 && (
        <Buttons>
          <Small title="Find the dial's value by what it should come to" onClick={() => bench.set({ over: 'solve' })}>
            Solve …
          </Small>
          <Small
            title="Small pictures over ranges of one dial or two"
            onClick={() => bench.set({ over: 'variations' })}
          >
            Variations …
          </Small>
        </Buttons>
      )}
    </Section>
  );
}

function DialRow({ dial }: { dial: Dial }) {
  const [name, setName] = useState<string | null>(null);
  const rename = () => {
    const to = (name ?? '').trim();
    setName(null);
    if (to === '' || to === dial.name) return;
    if (!dials.isDialName(to)) say('A dial is named by one word of letters and figures, as in “wall”.');
    else {
      session.change('name a dial', (d) => dials.renameDial(d, dial.id, to));
      const now = session.history && dials.dialById(session.history.document, dial.id)?.dial.name;
      if (now !== to) say(`There is a dial “${to}” already where this one is seen.`);
    }
  };
  const remove = () => {
    const { document } = session.history ?? {};
    const uses = document ? dials.usesOf(document, dial.id) : [];
    if (uses.length > 0) {
      const [first] = uses;
      const more = uses.length > 1 ? ` and ${uses.length - 1} more` : '';
      say(`${dial.name} is used by step ${first.step} of ${first.piece}${more}: take it out of there first.`);
      return;
    }
    session.change('take a dial away', (d) => dials.removeDial(d, dial.id));
  };
  return (
    <li className="row">
      {name === null ? (
        <button
          className="truncate text-left hover:underline"
          title={dial.note ? `${dial.note}. Click to name it otherwise` : 'Name it otherwise'}
          onClick={() => setName(dial.name)}
        >
          {dial.name}
        </button>
      ) : (
        <input
          autoFocus
          className="value-input"
          aria-label={`Name of the dial ${dial.name}`}
          value={name}
          onChange={(e) => setName(e.target.value)}
          onBlur={rename}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'Enter') rename();
            if (e.key === 'Escape') setName(null);
          }}
        />
      )}
      <span className="flex items-center gap-1">
        <Value
          name={`dial-${dial.name}`}
          def={dialDef(dial)}
          value={dial.value}
          onChange={(value, live) =>
            session.change(
              `turn ${dial.name}`,
              (d) => dials.setDial(d, dial.id, { value: value as number }),
              live ? `dial ${dial.id}` : undefined,
            )
          }
          onSettle={() => session.settle()}
          onCancel={() => session.cancel()}
        />
        <Remove label={`Take the dial ${dial.name} away`} onClick={remove} />
      </span>
    </li>
  );
}
