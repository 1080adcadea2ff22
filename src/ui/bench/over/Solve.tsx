'use client';
/** "Make the height 3 m by turning storeys": the value of a dial found by what it should come to. */
import dynamic from 'next/dynamic';
import { useEffect, useRef, useState } from 'react';
import { FACTS, factDef } from '../../../document/facts';
import * as dials from '../../../document/dials';
import { formatNumber, parseQuantity, unitSize, type LengthUnit } from '../../../core/recipe/quantity';
import type { Solved } from '../../../core/math/solve';
import { tellDialValue } from '../../../document/telling';
import { Dialog } from '../../parts/Dialog';
import { WorkCancelled } from '../../../workers/link';
import { session } from '../session';
import { bench, useBench, workedOn } from '../store';

const Plot = dynamic(() => import('./Plot').then((m) => m.Plot), { ssr: false });
/** Dials that a fact can be followed along. */
const SOLVED = ['length', 'angle', 'number', 'count'];
const POWER = ['', '', '²', '³'];

/** In the project's unit, to the power that the fact has. */
const factor = (length: number, units: LengthUnit): number => unitSize(units) ** length;

export function Solve() {
  const document = useBench((s) => s.document);
  const piece = useBench((s) => workedOn(s));
  const list = document && piece ? dials.dialsFor(document, piece.id).filter((d) => SOLVED.includes(d.kind)) : [];
  const [fact, setFact] = useState('height');
  const [wanted, setWanted] = useState('');
  const [density, setDensity] = useState('1.24');
  const [dial, setDial] = useState(list[0]?.id ?? '');
  const [share, setShare] = useState<number | null>(null);
  const [found, setFound] = useState<Solved | null>(null);
  const [wrong, setWrong] = useState('');
  const running = useRef<AbortController | null>(null);
  useEffect(() => () => running.current?.abort(), []);
  const close = () => bench.set({ over: null });
  const def = factDef(fact)!;
  const units = document?.units ?? 'mm';
  const unit = def.length === 0 ? (def.unit ?? '') : `${units}${POWER[def.length]}`;
  const chosen = list.find((d) => d.id === dial);

  const asked = useRef(0);
  const weighed = () => (def.unit === 'g' ? { density: Number(density) || 1 } : {});
  const ask = async () => {
    if (!document || !piece || !session.crew || !chosen) return;
    setWrong('');
    setFound(null);
    let value: number;
    try {
      value =
        def.length === 1
          ? parseQuantity(wanted, 'length', units)
          : parseQuantity(wanted, 'number', units) * factor(def.length, units);
    } catch (e) {
      setWrong((e as Error).message);
      return;
    }
    const own = new AbortController();
    running.current = own;
    setShare(0);
    try {
      const query = { piece: piece.id, fact, wanted: value, dial: chosen.id, ...weighed() };
      asked.current = value;
      const options = { signal: own.signal, progress: (p: { share?: number }) => setShare(p.share ?? 0) };
      setFound(await session.crew.long(document, 'solve', query, options));
    } catch (e) {
      if (!(e instanceof WorkCancelled)) setWrong((e as Error).message);
    } finally {
      if (running.current === own) setShare(null);
    }
  };
  const take = (keep: boolean) => {
    if (!found || !chosen || !piece) return;
    const rule = keep ? { rule: { piece: piece.id, fact, wanted: asked.current, ...weighed() } } : {};
    session.change(`turn ${chosen.name}`, (d) => dials.setDial(d, chosen.id, { value: found.x, ...rule }));
    close();
  };
  const read = (x: number) => `${formatNumber(x / factor(def.length, units), 'number')}${unit ? ` ${unit}` : ''}`;
  return (
    <Dialog title="Solve" onClose={close} width={520}>
      {!piece || list.length === 0 ? (
        <p className="quiet">Pick a piece that goes by a dial first.</p>
      ) : (
        <>
          <form
            className="flex flex-wrap items-center gap-x-2 gap-y-2"
            onSubmit={(e) => {
              e.preventDefault();
              void ask();
            }}
          >
            <span>Make the</span>
            <select
              className="select select-sm w-auto pr-7"
              aria-label="What"
              value={fact}
              onChange={(e) => setFact(e.target.value)}
            >
              {FACTS.map((f) => (
                <option key={f.id} value={f.id}>
                  {f.label}
                </option>
              ))}
            </select>
            <span>of {piece.name}</span>
            <input
              autoFocus
              className="input input-sm w-24"
              aria-label="How much"
              placeholder={unit || 'number'}
              value={wanted}
              onChange={(e) => setWanted(e.target.value)}
            />
            <span>{unit && def.length !== 1 ? unit : ''}</span>
            {def.unit === 'g' && (
              <label className="flex items-center gap-1">
                <span>at</span>
                <input
                  className="input input-sm w-16"
                  aria-label="Density, grams per cubic centimetre"
                  value={density}
                  onChange={(e) => setDensity(e.target.value)}
                />
                <span>g/cm³</span>
              </label>
            )}
            <span>by turning</span>
            <select
              className="select select-sm w-auto pr-7"
              aria-label="Dial"
              value={dial}
              onChange={(e) => setDial(e.target.value)}
            >
              {list.map((d) => (
                <option key={d.id} value={d.id}>
                  {d.name}
                </option>
              ))}
            </select>
            {share === null ? (
              <button className="btn btn-primary btn-sm" disabled={wanted.trim() === ''}>
                Find
              </button>
            ) : (
              <button type="button" className="btn btn-sm" onClick={() => running.current?.abort()}>
                Stop
              </button>
            )}
          </form>
          {share !== null && (
            <progress
              className="progress progress-primary mt-3 h-1 w-full"
              value={share}
              max={1}
              aria-label="Solving"
            />
          )}
          {wrong && (
            <p role="alert" className="mt-2 text-wrong">
              {wrong}
            </p>
          )}
          {found && chosen && document && (
            <div className="mt-3" role="status">
              <p>
                {found.found ? 'Found: ' : 'It cannot be reached. The nearest: '}
                <b className="num">
                  {chosen.name} = {tellDialValue({ ...chosen, value: found.x }, document)}
                </b>{' '}
                gives {read(found.value)}, in {found.asked.length} tries.
              </p>
              <Plot
                x={found.asked.map((a) => a[0] / (chosen.kind === 'length' ? unitSize(units) : 1))}
                y={found.asked.map((a) => a[1] / factor(def.length, units))}
                mark={[
                  found.x / (chosen.kind === 'length' ? unitSize(units) : 1),
                  found.value / factor(def.length, units),
                ]}
                xTitle={chosen.name}
                yTitle={`${def.label}${unit ? `, ${unit}` : ''}`}
              />
              <div className="mt-2 flex justify-end gap-2">
                <button className="btn btn-sm" onClick={close}>
                  Leave it
                </button>
                <button
                  className="btn btn-sm"
                  title="Whatever changes, the dial is turned again until this holds"
                  onClick={() => take(true)}
                >
                  Keep it so
                </button>
                <button className="btn btn-primary btn-sm" onClick={() => take(false)}>
                  Turn it to that
                </button>
              </div>
            </div>
          )}
        </>
      )}
    </Dialog>
  );
}
