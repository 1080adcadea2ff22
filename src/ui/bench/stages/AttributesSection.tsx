'use client';
/** Attributes of the piece: what there is of each, how its values are spread, and the piece in its colours. */
import dynamic from 'next/dynamic';
import { useEffect, useState } from 'react';
import type { AttributeFacts } from '../../../core/mesh/statistics';
import { formatNumber } from '../../../core/recipe/quantity';
import { session } from '../session';
import { bench, useBench, workedOn } from '../store';
import { Line, Section } from './Fields';

const Plot = dynamic(() => import('../over/Plot').then((m) => m.Plot), { ssr: false });
const NONE: readonly AttributeFacts[] = [];
const MANY = { vertex: 'vertices', face: 'faces', corner: 'corners' } as const;

/** Colours the piece by one of its attributes; null: as it is. */
export function colourBy(name: string | null): void {
  bench.set({ coloured: name });
  session.refresh();
}

export function AttributesSection() {
  const piece = useBench((s) => workedOn(s)?.id ?? null);
  const hash = useBench((s) => s.shown.get(workedOn(s)?.id ?? '')?.hash);
  const coloured = useBench((s) => s.coloured);
  const [list, setList] = useState<readonly AttributeFacts[]>(NONE);
  const [open, setOpen] = useState<string | null>(null);
  useEffect(() => {
    let gone = false;
    if (piece === null || !session.crew) return undefined;
    // What is being dragged comes to rest first.
    const later = setTimeout(() => {
      session.crew?.ask('attributes', { piece }).then(
        (found) => !gone && setList(found),
        () => undefined,
      );
    }, 300);
    return () => {
      gone = true;
      clearTimeout(later);
    };
  }, [piece, hash]);
  if (piece === null || list.length === 0) return null;
  return (
    <Section title="Attributes" aside={String(list.length)}>
      <ul>
        {list.map((a) => (
          <li key={a.name}>
            <div className="row">
              <button
                className="truncate text-left hover:underline"
                aria-expanded={open === a.name}
                onClick={() => setOpen(open === a.name ? null : a.name)}
              >
                {a.name} <span className="quiet">of {MANY[a.domain]}</span>
              </button>
              <button
                className={`btn btn-xs ${coloured === a.name ? 'btn-primary' : ''}`}
                aria-pressed={coloured === a.name}
                aria-label={`Show ${a.name} in colours`}
                onClick={() => colourBy(coloured === a.name ? null : a.name)}
              >
                Show
              </button>
            </div>
            {open === a.name && <Spread of={a} />}
          </li>
        ))}
      </ul>
    </Section>
  );
}

const read = (x: number): string => formatNumber(Number(x.toPrecision(5)), 'number');

function Spread({ of: a }: { of: AttributeFacts }) {
  const step = (a.max - a.min) / a.spread.length;
  const [x] = useState(() => a.spread.map((_, i) => a.min + (i + 0.5) * step));
  return (
    <dl>
      <Line name="Least, mean, most" value={`${read(a.min)}, ${read(a.mean)}, ${read(a.max)}`} />
      <Plot x={x} y={a.spread} xTitle={a.name} yTitle={`of ${a.count.toLocaleString('en')}`} bars />
    </dl>
  );
}

/** Which colour stands for what, over the view. */
export function Legend() {
  const heat = useBench((s) => s.shown.get(workedOn(s)?.id ?? '')?.heat);
  const reading = useBench((s) => s.reading);
  if (!heat) return null;
  return (
    <div
      className="absolute right-3 top-80 flex items-stretch gap-2 rounded-md border border-line bg-base-100 p-2 text-[11px]"
      role="img"
      aria-label={`Colours of ${heat.name}, from ${read(heat.min)} to ${read(heat.max)}`}
    >
      <span className="w-2.5 rounded-sm" style={{ background: 'linear-gradient(to top, #263339, #2e8573, #ebd9a1)' }} />
      <span className="num flex h-24 flex-col justify-between">
        <span>{read(heat.max)}</span>
        <b className="font-semibold">
          {heat.name}
          {reading && <span className="text-value"> {reading.map(read).join(', ')}</span>}
        </b>
        <span>{read(heat.min)}</span>
      </span>
    </div>
  );
}
