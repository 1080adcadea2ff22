'use client';
import { useState } from 'react';
import { angle, count, length, number, type ValueDef } from '../../../core/recipe/values';
import * as dials from '../../../document/dials';
import type { Dial } from '../../../document/types';
import * as changes from '../../../document/changes';
import { Value } from '../recipe/Value';
import { session } from '../session';
import { say, useBench } from '../store';
import { Buttons, Remove, Section, Small } from './Fields';

const NONE: readonly Dial[] = [];
const MAKERS = { length, angle, number, count } as const;
const KINDS: readonly (readonly [Dial['kind'], string, number])[] = [
  ['length', 'Length', 0.01],
  ['count', 'Count', 3],
  ['angle', 'Angle', Math.PI / 4],
  ['number', 'Number', 1],
];

const defOf = (d: Dial): ValueDef<unknown> =>
  MAKERS[d.kind](d.name, 0, { min: d.min ?? -1e6, max: d.max ?? 1e6 }) as ValueDef<unknown>;

/** Dials of the project: named values that formulas go by. Turning one follows everything that names it. */
export function DialsSection() {
  const list = useBench((s) => s.document?.dials ?? NONE);
  return (
    <Section title="Dials" aside={list.length > 0 ? String(list.length) : undefined}>
      {list.length === 0 && (
        <p className="quiet">
          None. A dial is a value with a name: type <span className="num">= name</span> into any number, or right-click
          a number to make a dial of it.
        </p>
      )}
      <ul>
        {list.map((d) => (
          <DialRow key={d.id} dial={d} />
        ))}
      </ul>
      <Buttons>
        {KINDS.map(([kind, label, value]) => (
          <Small
            key={kind}
            onClick={() =>
              session.change('add a dial', (d) =>
                dials.addDial(d, { id: changes.newId(), name: dials.freeName(d, label), kind, value }),
              )
            }
          >
            {label}
          </Small>
        ))}
      </Buttons>
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
    else session.change('name a dial', (d) => dials.renameDial(d, dial.id, to));
  };
  const remove = () => {
    const { document } = session.history ?? {};
    const uses = document ? dials.usesOf(document, dial.name) : [];
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
          title="Name it otherwise"
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
          def={defOf(dial)}
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
