'use client';
/** A sheet of small pictures over ranges of one dial or two; a click takes what one shows. */
import { useEffect, useRef, useState } from 'react';
import * as dials from '../../../document/dials';
import { SHIP_DEFAULTS } from '../../../document/build';
import { withDials } from '../../../document/facts';
import { tellDialValue } from '../../../document/telling';
import type { Dial, ProjectDocument } from '../../../document/types';
import type { VariationPicture } from '../../../workers/calls/variations';
import { WorkCancelled } from '../../../workers/link';
import { writeZip } from '../../../core/formats';
import { Drawn } from '../../parts/Drawn';
import { Dialog } from '../../parts/Dialog';
import { saveFile } from '../../parts/handover';
import { dialDef, shownOf, storedOf } from '../dials';
import { Value } from '../recipe/Value';
import { session } from '../session';
import { bench, useBench, workedOn } from '../store';

const SIZE = { width: 132, height: 96 };
const MOST = 6;

interface Range {
  dial: string;
  from: number;
  to: number;
}

/** The range a dial is shown over: its own, or from half to double of where it stands. */
const rangeOf = (d: Dial): Range => ({
  dial: d.id,
  from: dials.limitsOf(d).min ?? Math.min(d.value / 2, d.value * 2),
  to: dials.limitsOf(d).max ?? Math.max(d.value / 2, d.value * 2),
});

/** Values over a range: whole ones once each. */
export function valuesOver(kind: Dial['kind'], from: number, to: number, most: number): number[] {
  const all = Array.from({ length: most }, (_, i) => from + ((to - from) * i) / Math.max(1, most - 1));
  return dials.isWhole({ kind }) ? [...new Set(all.map(Math.round))] : all;
}

export function Variations() {
  const document = useBench((s) => s.document);
  const piece = useBench((s) => workedOn(s)?.id ?? null);
  const list = document ? dials.dialsFor(document, piece ?? undefined).filter(dials.isTurned) : [];
  const [x, setX] = useState<Range | null>(list[0] ? rangeOf(list[0]) : null);
  const [y, setY] = useState<Range | null>(null);
  const [alone, setAlone] = useState(piece !== null);
  const [pictures, setPictures] = useState<VariationPicture[] | null>(null);
  const [share, setShare] = useState(0);
  const [wrong, setWrong] = useState('');
  const [busy, setBusy] = useState(false);
  const exporting = useRef<AbortController | null>(null);
  useEffect(() => () => exporting.current?.abort(), []);
  const close = () => bench.set({ over: null });
  const dialOf = (r: Range | null) => list.find((d) => d.id === r?.dial);
  const across = x && dialOf(x) ? valuesOver(dialOf(x)!.kind, x.from, x.to, y ? MOST : 12) : [];
  const down = y && dialOf(y) ? valuesOver(dialOf(y)!.kind, y.from, y.to, MOST) : [];
  const cells = (down.length > 0 ? down : [undefined]).flatMap((b) =>
    across.map((a): [string, number][] => [
      [x!.dial, a],
      ...(b === undefined ? [] : [[y!.dial, b] as [string, number]]),
    ]),
  );
  const asked = JSON.stringify([cells, alone && piece]);
  const begun = useRef('');
  useEffect(() => {
    if (!document || !session.crew || cells.length === 0) return undefined;
    const own = new AbortController();
    begun.current = asked;
    // Drags of a range settle before anything is drawn.
    const later = setTimeout(() => {
      setPictures(null);
      setShare(0);
      setWrong('');
      session.crew
        ?.long(
          document,
          'variations',
          { piece: alone ? piece : null, values: cells, ...SIZE },
          { signal: own.signal, progress: (p) => setShare(p.share ?? 0) },
        )
        .then((list_) => begun.current === asked && setPictures(list_))
        .catch((e: Error) => !(e instanceof WorkCancelled) && !own.signal.aborted && setWrong(e.message));
    }, 250);
    return () => {
      clearTimeout(later);
      own.abort();
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `asked` holds all that the cells are made of
  }, [asked, document]);
  const take = (cell: readonly (readonly [string, number])[]) => {
    session.change('take a variation', (d) => {
      for (const [id, value] of cell) dials.setDial(d, id, { value });
    });
    close();
  };
  if (!document || list.length === 0)
    return (
      <Dialog title="Variations" onClose={close}>
        <p className="quiet">There are no dials yet. Right-click a number to make one.</p>
      </Dialog>
    );
  const exported = async () => {
    if (!session.crew || !document) return;
    const own = new AbortController();
    exporting.current = own;
    setBusy(true);
    try {
      const files = new Map<string, Uint8Array>();
      for (const [i, cell] of cells.entries()) {
        setShare(i / cells.length);
        const options = { ...SHIP_DEFAULTS, ...(alone && piece ? { pieces: new Set([piece]) } : {}) };
        const turned = withDials(document, new Map(cell));
        const r = await session.crew.long(turned, 'ship', { options, format: 'glb' }, { signal: own.signal });
        files.set(`${document.name} ${wordsOf(cell, list, document)}.${r.ending}`.replace(/[/\\:]/g, '-'), r.file);
      }
      saveFile(`${document.name} variations.zip`, writeZip(files), 'application/zip');
    } catch (e) {
      if (!(e instanceof WorkCancelled)) setWrong((e as Error).message);
    } finally {
      exporting.current = null;
      setShare(0);
      setBusy(false);
    }
  };
  const columns = y ? across.length : Math.min(across.length, MOST);
  return (
    <Dialog title="Variations" onClose={close} width={920}>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <RangeLine label="Across" dials={list} range={x} set={setX} />
        <RangeLine label="Down" dials={list.filter((d) => d.id !== x?.dial)} range={y} set={setY} none />
        {piece !== null && (
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={alone}
              onChange={(e) => setAlone(e.target.checked)}
            />
            this piece alone
          </label>
        )}
        <button
          className="btn btn-sm ml-auto"
          title="Each as a GLB, all of them in one ZIP"
          onClick={() => (busy ? exporting.current?.abort() : void exported())}
        >
          {busy ? 'Stop' : `Export all ${cells.length}`}
        </button>
      </div>
      {wrong && (
        <p role="alert" className="mt-2 text-wrong">
          {wrong}
        </p>
      )}
      {((!pictures && !wrong) || busy) && (
        <progress
          className="progress progress-primary mt-3 h-1 w-full"
          value={share}
          max={1}
          aria-label={busy ? 'Making files' : 'Drawing'}
        />
      )}
      <div
        className="scroll-thin mt-3 grid max-h-[60vh] gap-2 overflow-y-auto"
        style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}
      >
        {cells.map((cell, i) => (
          <button
            key={cell.join()}
            className="rounded-md border border-line p-1 text-left hover:border-value focus-visible:border-value"
            aria-label={`Take ${wordsOf(cell, list, document)}`}
            onClick={() => take(cell)}
          >
            <Drawn {...SIZE} className="w-full" picture={pictures?.[i]} />
            <span className="num block text-[10px] leading-tight">{wordsOf(cell, list, document)}</span>
          </button>
        ))}
      </div>
    </Dialog>
  );
}

const wordsOf = (cell: readonly (readonly [string, number])[], list: readonly Dial[], doc: ProjectDocument): string =>
  cell
    .map(([id, value]) => {
      const d = list.find((x) => x.id === id)!;
      return `${d.name} ${tellDialValue({ ...d, value: Number(value.toPrecision(3)) }, doc)}`;
    })
    .join(', ');

function RangeLine({
  label,
  dials: list,
  range,
  set,
  none,
}: {
  label: string;
  dials: readonly Dial[];
  range: Range | null;
  set: (r: Range | null) => void;
  none?: boolean;
}) {
  const dial = list.find((d) => d.id === range?.dial);
  return (
    <span className="flex items-center gap-1.5">
      <span className="quiet">{label}</span>
      <select
        className="select select-sm w-auto pr-7"
        aria-label={label}
        value={dial?.id ?? ''}
        onChange={(e) => {
          const to = list.find((d) => d.id === e.target.value);
          set(to ? rangeOf(to) : null);
        }}
      >
        {none && <option value="">nothing</option>}
        {list.map((d) => (
          <option key={d.id} value={d.id}>
            {d.name}
          </option>
        ))}
      </select>
      {dial && range && (
        <>
          {(['from', 'to'] as const).map((end) => (
            <span key={end} className="flex items-center gap-1">
              <span className="quiet">{end}</span>
              <Value
                name={`dial-${label.toLowerCase()}-${end}`}
                def={dialDef(dial)}
                value={shownOf(dial, range[end])}
                onChange={(v) => set({ ...range, [end]: storedOf(dial, v).value ?? range[end] })}
                onSettle={() => undefined}
                onCancel={() => undefined}
              />
            </span>
          ))}
        </>
      )}
    </span>
  );
}
