'use client';
/** Two steps of a recipe in numbers: what the later has more or less of, and how far it moved what both have. */
import { useEffect, useState } from 'react';
import { stepDef } from '../../../core/steps';
import { formatQuantity, unitSize, type LengthUnit } from '../../../core/recipe/quantity';
import type { Compared, StepNumbers } from '../../../workers/calls/compare';
import { Drawn } from '../../parts/Drawn';
import { Dialog } from '../../parts/Dialog';
import { session } from '../session';
import { bench, useBench, workedOn } from '../store';

type Row = readonly [string, (n: StepNumbers) => number, (x: number) => string];

function rowsFor(units: LengthUnit): Row[] {
  const count = (x: number) => Math.round(x).toLocaleString('en');
  const power = (k: number, mark: string) => (x: number) =>
    `${(x / unitSize(units) ** k).toPrecision(5)} ${units}${mark}`;
  const length = (x: number) => formatQuantity(x, 'length', units, 3);
  return [
    ['Faces', (n) => n.faces, count],
    ['Vertices', (n) => n.vertices, count],
    ['Area', (n) => n.area, power(2, '²')],
    ['Volume', (n) => n.volume, power(3, '³')],
    ['Width', (n) => n.size[0], length],
    ['Height', (n) => n.size[1], length],
    ['Depth', (n) => n.size[2], length],
  ];
}

export function Compare() {
  const document = useBench((s) => s.document);
  const piece = useBench((s) => workedOn(s));
  const pinned = useBench((s) => s.pinned);
  const [found, setFound] = useState<Compared | null>(null);
  const [wrong, setWrong] = useState('');
  const close = () => bench.set({ over: null, pinned: [] });
  useEffect(() => {
    if (!document || !piece || !session.crew || pinned.length !== 2) return;
    session.crew
      .long(document, 'compare', { piece: piece.id, steps: [pinned[0], pinned[1]] })
      .then(setFound, (e: Error) => setWrong(e.message));
  }, [document, piece, pinned]);
  if (!piece || !document) return null;
  const order = [...pinned].sort(
    (a, b) => piece.recipe.findIndex((s) => s.id === a) - piece.recipe.findIndex((s) => s.id === b),
  );
  const turned = order[0] !== pinned[0];
  const name = (id: string) => {
    const i = piece.recipe.findIndex((s) => s.id === id);
    return `${i + 1}. ${stepDef(piece.recipe[i]?.kind ?? '')?.title ?? 'a step'}`;
  };
  const both = found ? [found.a, found.b] : [];
  const [a, b] = turned ? both.toReversed() : both;
  const length = (x: number) => formatQuantity(x, 'length', document.units, 3);
  return (
    <Dialog title="Two steps compared" onClose={close} width={520}>
      {wrong && (
        <p role="alert" className="text-wrong">
          {wrong}
        </p>
      )}
      {!found && !wrong && <span className="loading loading-spinner loading-sm" aria-label="Comparing" />}
      {found && a && b && (
        <>
          <Wipe drawn={found.drawn} turned={turned} names={[name(order[0]), name(order[1])]} />
          <table className="table table-sm">
            <thead>
              <tr>
                <th />
                <th>{name(order[0])}</th>
                <th>{name(order[1])}</th>
                <th>differs by</th>
              </tr>
            </thead>
            <tbody>
              {rowsFor(document.units).map(([label, of, read]) => (
                <tr key={label}>
                  <th className="quiet font-normal">{label}</th>
                  <td className="num">{read(of(a))}</td>
                  <td className="num">{read(of(b))}</td>
                  <td className="num">
                    {of(b) >= of(a) ? '+' : '−'}
                    {read(Math.abs(of(b) - of(a)))}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="mt-2">
            {found.shared === 0
              ? 'No vertex of the one is in the other.'
              : `Of ${found.shared.toLocaleString('en')} vertices that both have, ` +
                `${found.moved.toLocaleString('en')} are elsewhere: by ${length(found.mean)} on average, ` +
                `${length(found.most)} at most.`}
          </p>
        </>
      )}
    </Dialog>
  );
}

/** One picture over the other, up to where the slider stands. */
function Wipe({
  drawn,
  turned,
  names,
}: {
  drawn: Compared['drawn'];
  turned: boolean;
  names: readonly [string, string];
}) {
  const [at, setAt] = useState(50);
  const { width, height, pictures } = drawn;
  const [before, after] = turned ? [...pictures].reverse() : pictures;
  return (
    <div className="mb-3">
      <div
        className="relative overflow-hidden rounded-md border border-line"
        style={{ aspectRatio: `${width} / ${height}` }}
      >
        <Drawn
          picture={{ data: after, width, height }}
          width={width}
          height={height}
          className="absolute inset-0 h-full w-full"
        />
        <div className="absolute inset-0" style={{ clipPath: `inset(0 ${100 - at}% 0 0)` }}>
          <Drawn
            picture={{ data: before, width, height }}
            width={width}
            height={height}
            className="absolute inset-0 h-full w-full"
          />
        </div>
        <div className="absolute inset-y-0 w-px bg-value" style={{ left: `${at}%` }} />
      </div>
      <input
        type="range"
        className="range range-primary range-xs mt-1 w-full"
        aria-label={`How much of ${names[0]} lies over ${names[1]}`}
        min={0}
        max={100}
        value={at}
        onChange={(e) => setAt(Number(e.target.value))}
      />
      <p className="row quiet text-[11px]">
        <span>{names[0]}</span>
        <span>{names[1]}</span>
      </p>
    </div>
  );
}
