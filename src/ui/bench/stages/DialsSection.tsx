'use client';
import { IconDots } from '@tabler/icons-react';
import { useState } from 'react';
import { factDef, tellFact } from '../../../document/facts';
import * as dials from '../../../document/dials';
import { dialLists } from '../../../document/kits';
import type { Dial } from '../../../document/types';
import * as changes from '../../../document/changes';
import { dialDef } from '../dials';
import { DialValue } from '../recipe/DialValue';
import { Value } from '../recipe/Value';
import { EditionChoice } from '../recipe/KitCard';
import { session } from '../session';
import { bench, say, useBench, workedOn } from '../store';
import { Buttons, Check, Remove, Section, Small } from './Fields';

const KINDS: readonly (readonly [Dial['kind'], string, Partial<Dial> & { value: number }])[] = [
  ['length', 'Length', { value: 0.01 }],
  ['count', 'Count', { value: 3 }],
  ['angle', 'Angle', { value: Math.PI / 4 }],
  ['number', 'Number', { value: 1 }],
  ['toggle', 'Switch', { value: 1 }],
  ['choice', 'Choice', { value: 0, options: ['one', 'other'] }],
  ['colour', 'Colour', { value: 0xb5653a }],
  ['picture', 'Picture', { value: 0, options: [''] }],
  [
    'ramp',
    'Ramp',
    {
      value: 0,
      points: [
        [0, 0],
        [1, 1],
      ],
    },
  ],
];

/**
 * Dials: named values that formulas go by, of the project and of the piece that is worked on. Turning one follows
 * everything that names it.
 */
export function DialsSection() {
  const document = useBench((s) => s.document);
  const piece = useBench((s) => workedOn(s)?.id ?? null);
  const [of, setOf] = useState<'project' | 'piece'>('project');
  if (!document) return null;
  const lists = dialLists(document, piece).filter((l) => l.holder === undefined || l.dials.length > 0);
  const total = lists.reduce((n, l) => n + l.dials.length, 0);
  const add = (kind: Dial['kind'], label: string, first: Partial<Dial> & { value: number }) => {
    const holder = of === 'piece' ? (piece ?? undefined) : undefined;
    session.change('add a dial', (d) =>
      dials.addDial(d, { id: changes.newId(), name: dials.freeName(d, label, holder), kind, ...first }, holder),
    );
  };
  return (
    <Section title="Dials" aside={total > 0 ? String(total) : undefined}>
      {total === 0 && (
        <p className="quiet">
          None. A dial is a value with a name: type <span className="num">= name</span> into any value, or right-click a
          value to make a dial of it.
        </p>
      )}
      {lists.map(({ holder, name, dials: list }) => (
        <div key={holder ?? 'project'}>
          {holder !== undefined && list.length > 0 && (
            <Line
              label={`What ${name} is for, as a kit`}
              text={document.pieces.find((p) => p.id === holder)?.about ?? ''}
              put={(about) =>
                session.change('say what it is for', (d) =>
                  changes.setPiece(d, holder, { about: about.slice(0, 2000) || undefined }),
                )
              }
            />
          )}
          {holder !== undefined && <EditionChoice piece={document.pieces.find((p) => p.id === holder)!} />}
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
  const [more, setMore] = useState(false);
  const put = (part: Partial<Dial>, live: boolean) =>
    session.change(`turn ${dial.name}`, (d) => dials.setDial(d, dial.id, part), live ? `dial ${dial.id}` : undefined);
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
  const control = (
    <DialValue
      dial={dial}
      name={`dial-${dial.name}`}
      onChange={(part, live) => {
        if ('formula' in part) say('A dial is a plain value: formulas go by it.');
        else put(part, live);
      }}
    />
  );
  return (
    <li>
      <div className="row">
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
          {dial.kind !== 'ramp' && control}
          <button
            className="btn btn-ghost btn-square icon-small"
            aria-label={`More of the dial ${dial.name}`}
            aria-expanded={more}
            onClick={() => setMore(!more)}
          >
            <IconDots size={13} stroke={1.6} />
          </button>
          <Remove label={`Take the dial ${dial.name} away`} onClick={remove} />
        </span>
      </div>
      {dial.kind === 'ramp' && <div className="my-1">{control}</div>}
      {more && <DialMore dial={dial} put={put} />}
    </li>
  );
}

const LIMITED = ['length', 'angle', 'number', 'count'];

/** What is said of a dial besides its value: its range, how it is turned, what it offers, and what it is for. */
function DialMore({ dial, put }: { dial: Dial; put: (part: Partial<Dial>, live: boolean) => void }) {
  const limited = LIMITED.includes(dial.kind);
  return (
    <div className="mb-1.5 ml-1 border-l border-line pl-2 text-[12px]">
      {limited &&
        (['min', 'max'] as const).map((end) => (
          <div key={end} className="row">
            <span className="quiet">{end === 'min' ? 'from' : 'to'}</span>
            <span className="flex items-center gap-1">
              {dial[end] === undefined ? (
                <Small onClick={() => put({ [end]: dial.value }, false)}>no limit</Small>
              ) : (
                <>
                  <Value
                    name={`dial-${dial.name}-${end}`}
                    def={dialDef({ ...dial, min: undefined, max: undefined, name: `${dial.name}, ${end}` })}
                    value={dial[end]}
                    onChange={(v, live) => typeof v === 'number' && put({ [end]: v }, live)}
                    onSettle={() => session.settle()}
                    onCancel={() => session.cancel()}
                  />
                  <Remove
                    label={`No ${end === 'min' ? 'lower' : 'upper'} limit`}
                    onClick={() => put({ [end]: undefined }, false)}
                  />
                </>
              )}
            </span>
          </div>
        ))}
      {dial.rule && <Kept dial={dial} put={put} />}
      {limited && dial.min !== undefined && dial.max !== undefined && (
        <Check
          name="with a slider"
          value={dial.slider === true}
          onChange={(v) => put({ slider: v || undefined }, false)}
        />
      )}
      {dial.kind === 'ramp' && (
        <Check name="smooth" value={dial.smooth === true} onChange={(v) => put({ smooth: v || undefined }, false)} />
      )}
      {dial.kind === 'choice' && (
        <Line
          label={`Words of ${dial.name}, with commas between`}
          text={(dial.options ?? []).join(', ')}
          put={(text) => {
            const options = [...new Set(text.split(',').map((x) => x.trim().slice(0, 60)))].filter((x) => x !== '');
            if (options.length > 0) put({ options }, false);
          }}
        />
      )}
      <Line
        label={`What ${dial.name} is for`}
        text={dial.note ?? ''}
        put={(note) => put({ note: note.slice(0, 500) || undefined }, false)}
      />
    </div>
  );
}

/** What the dial is turned for. */
function Kept({ dial, put }: { dial: Dial; put: (part: Partial<Dial>, live: boolean) => void }) {
  const document = useBench((s) => s.document);
  const { rule } = dial;
  const fact = factDef(rule!.fact);
  const piece = document?.pieces.find((p) => p.id === rule!.piece);
  if (!rule || !document || !fact) return null;
  return (
    <div className="row">
      <span>
        kept so that the {fact.label} of {piece?.name ?? 'a piece that is gone'} is{' '}
        {tellFact(fact, rule.wanted, document.units)}
      </span>
      <Remove label={`Let ${dial.name} be turned freely`} onClick={() => put({ rule: undefined }, false)} />
    </div>
  );
}

function Line({ label, text, put }: { label: string; text: string; put: (text: string) => void }) {
  return (
    <input
      key={text}
      className="input input-xs mt-1 w-full"
      aria-label={label}
      placeholder={label}
      defaultValue={text}
      onBlur={(e) => e.target.value !== text && put(e.target.value)}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Enter') e.currentTarget.blur();
      }}
    />
  );
}
