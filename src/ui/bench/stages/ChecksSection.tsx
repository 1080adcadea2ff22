'use client';
/** What may be wrong with the piece that is worked on, or with all of them. */
import { IconChevronLeft, IconChevronRight } from '@tabler/icons-react';
import { useEffect, useState } from 'react';
import { checkDef, checkDefs } from '../../../core/check';
import type { Checked, Fault } from '../../../workers/calls/checks';
import { Tooltip } from '../../parts/Tooltip';
import { isWrong, look, mendFault, pickFault, stopLooking } from '../checking';
import { useBench } from '../store';
import { Buttons, Section, Small } from './Fields';

/** So long after the last change it is looked again. */
const PAUSE = 350;
/** Larger pieces are looked at when that is asked for. */
const AT_ONCE = 200_000;

export function ChecksSection() {
  const hash = useBench((s) => s.edited?.hash ?? '');
  const faces = useBench((s) => s.edited?.shape.faces ?? 0);
  const name = useBench((s) => s.document?.pieces.find((p) => p.id === s.piece)?.name);
  const checks = useBench((s) => s.checks);
  useEffect(() => {
    if (!hash || faces > AT_ONCE) return;
    const timer = setTimeout(() => void look(), PAUSE);
    return () => clearTimeout(timer);
  }, [hash, faces]);
  const fresh = checks && (checks.whole || checks.of === hash);
  return (
    <Section title="Checks" aside={checks?.whole ? 'the whole project' : name}>
      {!hash && !checks?.whole && <p className="quiet">Pick a piece to check it.</p>}
      {checks?.share !== null && checks?.share !== undefined && (
        <div className="flex items-center gap-2">
          <progress
            className="progress progress-primary h-1 flex-1"
            value={checks.share}
            max={1}
            aria-label="Looking"
          />
          <Small onClick={stopLooking}>Stop</Small>
        </div>
      )}
      {fresh && checks.share === null && <Found list={checks.list} whole={checks.whole} deep={checks.deep} />}
      <Buttons>
        <Small
          onClick={() => void look({ deep: true })}
          disabled={!hash}
          title="Also what is never seen, inside, or passing through"
        >
          Look deeper
        </Small>
        <Small onClick={() => void look({ deep: true, whole: true })}>The whole project</Small>
      </Buttons>
    </Section>
  );
}

function Found({ list, whole, deep }: { list: readonly Checked[]; whole: boolean; deep: boolean }) {
  const some = list.filter((c) => c.faults.length > 0);
  const looked = checkDefs().filter((c) => deep || !c.slow).length;
  if (some.length === 0) return <p className="text-value">{looked} checks, nothing found.</p>;
  return (
    <>
      {some.map((c) => (
        <div key={c.piece}>
          {whole && <h3 className="mt-1 font-semibold">{c.name}</h3>}
          <ul aria-label={`Found in ${c.name}`}>
            {c.faults.map((f) => (
              <FaultRow key={f.check} at={c} fault={f} />
            ))}
          </ul>
        </div>
      ))}
      {!whole && <p className="quiet">{looked - some[0].faults.length} other checks found nothing.</p>}
    </>
  );
}

function FaultRow({ at, fault }: { at: Checked; fault: Fault }) {
  const [one, setOne] = useState(-1);
  const purpose = useBench((s) => s.document?.purpose ?? 'render');
  const def = checkDef(fault.check)!;
  const n = fault.keys.length;
  const go = (way: 1 | -1) => {
    const next = one < 0 && way < 0 ? n - 1 : (one + way + n) % n;
    setOne(next);
    pickFault(at, fault, next);
  };
  const wrong = isWrong(def, purpose);
  const noun = def.title.toLowerCase();
  return (
    <li className="py-0.5">
      <div className="row !gap-1">
        <Tooltip content={`${def.help}. A click picks them.`} placement="left">
          <button className="min-h-[24px] flex-1 text-left hover:underline" onClick={() => pickFault(at, fault)}>
            {def.title}
          </button>
        </Tooltip>
        <span className={`num font-semibold ${wrong ? 'text-wrong' : 'text-warn'}`}>
          {wrong && <span className="sr-only">a fault: </span>}
          {one >= 0 ? `${one + 1} / ` : ''}
          {fault.count.toLocaleString('en')}
          {wrong ? ' !' : ''}
        </span>
      </div>
      <div className="flex items-center gap-1">
        <button
          className="btn btn-ghost btn-square icon-small"
          aria-label={`Previous of ${noun}`}
          onClick={() => go(-1)}
        >
          <IconChevronLeft size={14} stroke={1.6} />
        </button>
        <button className="btn btn-ghost btn-square icon-small" aria-label={`Next of ${noun}`} onClick={() => go(1)}>
          <IconChevronRight size={14} stroke={1.6} />
        </button>
        {def.mend && (
          <button className="link-remedy ml-auto" onClick={() => mendFault(at, fault)}>
            {def.mend.label}
          </button>
        )}
      </div>
    </li>
  );
}
