'use client';
import { useMemo, useState } from 'react';
import type { ElementPick } from '../../../core/mesh/picks';
import * as changes from '../../../document/changes';
import { changePick, keepPickAs, pickSet, setMode, type Meeting } from '../actions';
import { detachPicked, splitPicked } from '../pieceActions';
import { session } from '../session';
import { useBench, workedOn } from '../store';
import { Buttons, Remove, Section, Small } from './Fields';

/** The sets inside a piece: picks that were kept, what it was merged of, or what its file named. A click picks one. */
export function SetsSection() {
  const mesh = useBench((s) => s.mesh);
  const piece = useBench(workedOn);
  const faces = useBench((s) => (s.pick.kind === 'face' ? s.pick.keys.length : 0));
  const groups = mesh?.groups;
  const data = mesh?.attributes.group?.data;
  const counts = useMemo(() => {
    const out = new Map<number, number>();
    if (data) for (const g of data) out.set(g, (out.get(g) ?? 0) + 1);
    return out;
  }, [data]);
  if (!mesh || !piece) return null;
  const pick = (i: number, add: boolean) => {
    const keys: number[] = [];
    data!.forEach((g, f) => {
      if (g === i) keys.push(mesh.faceKey[f]);
    });
    setMode('face');
    changePick('face', keys, add ? 'add' : 'set');
  };
  const sets = piece.sets ?? [];
  const count = (groups?.length ?? 0) + sets.length;
  return (
    <Section title="Sets" aside={count ? String(count) : undefined}>
      {count === 0 && <p className="quiet">None. Keep a pick here to have it again; merged pieces become sets too.</p>}
      <ul className="scroll-thin max-h-44 overflow-y-auto">
        {sets.map((s) => (
          <KeptSet
            key={s.id}
            name={s.name}
            pick={s.pick}
            remove={() => session.change('remove a set', (d) => changes.removeSet(d, piece.id, s.id))}
          />
        ))}
        {groups?.map((g, i) => (
          <li key={`${g}${i}`}>
            <button className="row w-full rounded px-1 hover:bg-wash" onClick={(e) => pick(i, e.shiftKey)}>
              <span className="truncate">{g}</span>
              <span className="num quiet">{counts.get(i) ?? 0}</span>
            </button>
          </li>
        ))}
      </ul>
      <KeepSet taken={sets.length} />
      <Buttons>
        <Small onClick={() => void splitPicked('part')}>Split: loose parts</Small>
        <Small onClick={() => void splitPicked('material')}>by material</Small>
        {!!groups?.length && <Small onClick={() => void splitPicked('set')}>by set</Small>}
        {faces > 0 && (
          <>
            <Small onClick={() => detachPicked(false)} title="Shift D">
              Detach as a piece
            </Small>
            <Small onClick={() => detachPicked(true)}>Copy as a piece</Small>
          </>
        )}
      </Buttons>
    </Section>
  );
}

const MANY = { vertex: 'Vertices', edge: 'Edges', face: 'Faces' } as const;
const MEETINGS: readonly (readonly [Meeting, string, string])[] = [
  ['add', '+', 'Add to the pick'],
  ['remove', '−', 'Take from the pick'],
  ['cross', '∩', 'Only what is in both'],
];

function KeptSet({ name, pick, remove }: { name: string; pick: ElementPick; remove: () => void }) {
  const some = useBench((s) => s.pick.kind === pick.kind && s.pick.keys.length > 0);
  return (
    <li className="row !gap-1">
      <button
        className="row min-h-[24px] min-w-0 flex-1 rounded px-1 hover:bg-wash"
        title={pick.rule ? 'A rule: what fits it now' : `${MANY[pick.kind]} that were kept`}
        onClick={(e) => pickSet(pick, e.shiftKey ? 'add' : 'set')}
      >
        <span className="truncate">{name}</span>
        <span className="num quiet">{pick.rule ? 'rule' : pick.keys.length.toLocaleString('en')}</span>
      </button>
      {some &&
        MEETINGS.map(([how, sign, title]) => (
          <button
            key={how}
            className="btn btn-ghost btn-square icon-small num"
            aria-label={`${title}: ${name}`}
            title={title}
            onClick={() => pickSet(pick, how)}
          >
            {sign}
          </button>
        ))}
      <Remove label={`Remove the set ${name}`} onClick={remove} />
    </li>
  );
}

/** A name for what is picked. */
function KeepSet({ taken }: { taken: number }) {
  const [name, setName] = useState('');
  const some = useBench((s) => s.mode !== 'piece' && s.pick.keys.length > 0);
  if (!some) return null;
  const keep = () => {
    keepPickAs(name.trim() || `set ${taken + 1}`);
    setName('');
  };
  return (
    <form
      className="mt-1 flex gap-1"
      onSubmit={(e) => {
        e.preventDefault();
        keep();
      }}
    >
      <input
        className="input input-xs min-w-0 flex-1"
        aria-label="Name of the set"
        placeholder={`set ${taken + 1}`}
        maxLength={200}
        value={name}
        onChange={(e) => setName(e.target.value)}
        onKeyDown={(e) => e.stopPropagation()}
      />
      <button className="btn btn-xs font-normal" type="submit">
        Keep the pick
      </button>
    </form>
  );
}
