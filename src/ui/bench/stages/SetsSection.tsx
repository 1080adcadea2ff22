'use client';
import { useMemo } from 'react';
import { changePick, setMode } from '../actions';
import { detachPicked, splitPicked } from '../pieceActions';
import { useBench } from '../store';
import { Buttons, Section, Small } from './Fields';

/** The sets inside a piece: what it was merged of, or what its file named. A click picks one. */
export function SetsSection() {
  const mesh = useBench((s) => s.mesh);
  const faces = useBench((s) => (s.pick.kind === 'face' ? s.pick.keys.length : 0));
  const groups = mesh?.groups;
  const data = mesh?.attributes.group?.data;
  const counts = useMemo(() => {
    const out = new Map<number, number>();
    if (data) for (const g of data) out.set(g, (out.get(g) ?? 0) + 1);
    return out;
  }, [data]);
  if (!mesh) return null;
  const pick = (i: number, add: boolean) => {
    const keys: number[] = [];
    data!.forEach((g, f) => {
      if (g === i) keys.push(mesh.faceKey[f]);
    });
    setMode('face');
    changePick('face', keys, add ? 'add' : 'set');
  };
  return (
    <Section title="Sets" aside={groups?.length ? String(groups.length) : undefined}>
      {!groups?.length && <p className="quiet">None. Merged pieces become sets here; so do groups from files.</p>}
      <ul className="scroll-thin max-h-36 overflow-y-auto">
        {groups?.map((g, i) => (
          <li key={`${g}${i}`}>
            <button className="row w-full rounded px-1 hover:bg-wash" onClick={(e) => pick(i, e.shiftKey)}>
              <span className="truncate">{g}</span>
              <span className="num quiet">{counts.get(i) ?? 0}</span>
            </button>
          </li>
        ))}
      </ul>
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
