'use client';
import { IconDownload } from '@tabler/icons-react';
import { useEffect, useMemo, useState } from 'react';
import { KINDS } from '../../../core/formats/kinds';
import { unitSize, type LengthUnit } from '../../../core/recipe/quantity';
import { WorkCancelled } from '../../../workers/link';
import type { Progress } from '../../../workers/protocol';
import { saveFile } from '../../parts/handover';
import { session } from '../session';
import { bench, useBench } from '../store';

/** A list of pieces longer than this is cut: thousands of boxes to tick help nobody. */
const SHOWN = 200;

const MIMES: Readonly<Record<string, string>> = { glb: 'model/gltf-binary', zip: 'application/zip' };

/** Choosing what leaves, and how. */
export function ShipSide() {
  const doc = useBench((s) => s.document);
  const meshes = useMemo(() => (doc ? doc.pieces.filter((p) => p.kind === 'mesh') : []), [doc]);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [format, setFormat] = useState('glb');
  const [up, setUp] = useState<'y' | 'z'>(() => bench.get().document?.settings.up ?? 'y');
  const [unit, setUnit] = useState<LengthUnit>('m');
  const fixed = format === 'glb' || format === 'gltf';
  const [triangulate, setTriangulate] = useState(false);
  const [subdivide, setSubdivide] = useState(true);
  const [check, setCheck] = useState<{ warnings: string[]; triangles: number } | null>(null);
  const [busy, setBusy] = useState<{ stop: AbortController; share: number } | null>(null);
  const [error, setError] = useState('');
  const chosen = useMemo(() => new Set(meshes.filter((p) => !left.has(p.id)).map((p) => p.id)), [meshes, left]);
  const options = useMemo(
    () => ({
      pieces: chosen,
      up: fixed ? ('y' as const) : up,
      unit: fixed ? 1 : unitSize(unit),
      triangulate,
      subdivide,
    }),
    [chosen, fixed, up, unit, triangulate, subdivide],
  );
  useEffect(() => {
    if (!doc || !session.crew) return;
    const stop = new AbortController();
    const t = setTimeout(() => {
      session.crew!.long(doc, 'check', { options }, { signal: stop.signal }).then(setCheck, (e: Error) => {
        if (!(e instanceof WorkCancelled)) setError(e.message);
      });
    }, 150);
    return () => {
      stop.abort();
      clearTimeout(t);
    };
  }, [doc, options]);
  const ship = async () => {
    if (!doc || !session.crew) return;
    const stop = new AbortController();
    setBusy({ stop, share: 0 });
    setError('');
    try {
      const progress = ({ share }: Progress) => setBusy({ stop, share });
      const r = await session.crew.long(doc, 'ship', { options, format }, { signal: stop.signal, progress });
      const name = `${doc.name.replace(/[^\w.-]+/g, '-').toLowerCase()}.${r.ending}`;
      saveFile(name, r.file, MIMES[r.ending]);
      bench.set({ say: `${name}: ${(r.file.length / 1024).toFixed(0)} KB, on its way to your downloads.` });
    } catch (e) {
      if (!(e instanceof WorkCancelled)) setError((e as Error).message);
    } finally {
      setBusy(null);
    }
  };
  const Toggle = ({
    label,
    value,
    set,
    disabled,
  }: {
    label: string;
    value: boolean;
    set: (v: boolean) => void;
    disabled?: boolean;
  }) => (
    <label className="row">
      <span className={disabled ? 'quiet opacity-60' : 'quiet'}>{label}</span>
      <input
        type="checkbox"
        className="checkbox checkbox-xs"
        checked={value}
        disabled={disabled}
        onChange={(e) => set(e.target.checked)}
      />
    </label>
  );
  return (
    <>
      <section className="panel-section" aria-label="What to ship">
        <h2 className="panel-title mb-1">What to ship</h2>
        {meshes.length === 0 && <p className="quiet">There are no pieces yet.</p>}
        <ul className="scroll-thin max-h-40 overflow-y-auto">
          {meshes.slice(0, SHOWN).map((p) => (
            <li key={p.id}>
              <label className="row">
                <span>{p.name}</span>
                <input
                  type="checkbox"
                  className="checkbox checkbox-xs"
                  checked={chosen.has(p.id)}
                  onChange={(e) => {
                    const n = new Set(left);
                    if (e.target.checked) n.delete(p.id);
                    else n.add(p.id);
                    setLeft(n);
                  }}
                />
              </label>
            </li>
          ))}
        </ul>
        {meshes.length > SHOWN && (
          <p className="quiet">
            And {(meshes.length - SHOWN).toLocaleString('en')} more, which go with them; hide in the tree what is to
            stay.
          </p>
        )}
        {meshes.length > 1 && (
          <div className="mt-1 flex gap-1">
            <button className="btn btn-xs font-normal" onClick={() => setLeft(new Set())}>
              All
            </button>
            <button className="btn btn-xs font-normal" onClick={() => setLeft(new Set(meshes.map((p) => p.id)))}>
              None
            </button>
          </div>
        )}
      </section>
      <section className="panel-section" aria-label="How to ship">
        <h2 className="panel-title mb-1">How</h2>
        <label className="row">
          <span className="quiet">Format</span>
          <select className="select select-xs" value={format} onChange={(e) => setFormat(e.target.value)}>
            {KINDS.map((k) => (
              <option key={k.kind} value={k.kind}>
                {k.kind === 'obj' ? 'OBJ, MTL and PNG' : k.title}
              </option>
            ))}
          </select>
        </label>
        {!fixed ? (
          <>
            <label className="row">
              <span className="quiet">One unit is</span>
              <select className="select select-xs" value={unit} onChange={(e) => setUnit(e.target.value as LengthUnit)}>
                {(['mm', 'cm', 'm', 'in', 'ft'] as const).map((u) => (
                  <option key={u} value={u}>
                    1 {u}
                  </option>
                ))}
              </select>
            </label>
            <label className="row">
              <span className="quiet">Up</span>
              <select className="select select-xs" value={up} onChange={(e) => setUp(e.target.value as 'y')}>
                <option value="y">Y</option>
                <option value="z">Z</option>
              </select>
            </label>
            <Toggle label="Only triangles" value={triangulate} set={setTriangulate} />
          </>
        ) : (
          <p className="quiet">glTF is always in metres, Y up, in triangles.</p>
        )}
        <Toggle label="With subdivision" value={subdivide} set={setSubdivide} />
      </section>
      <section className="panel-section" aria-label="Before it goes">
        <div className="row">
          <h2 className="panel-title">Before it goes</h2>
          {check && <span className="num quiet">{check.triangles.toLocaleString('en')} tris</span>}
        </div>
        {!check && !error && <p className="quiet">Looking it over …</p>}
        {check && check.warnings.length === 0 && <p className="text-value">Nothing to warn of.</p>}
        <ul className="scroll-thin max-h-44 overflow-y-auto">
          {check?.warnings.map((w, i) => (
            <li key={i} className="py-0.5 text-warn">
              {w}
            </li>
          ))}
        </ul>
        {error && (
          <p role="alert" className="text-wrong">
            {error}
          </p>
        )}
        <button
          className="btn btn-sm btn-primary mt-3 w-full justify-center"
          disabled={busy !== null || chosen.size === 0}
          onClick={() => void ship()}
        >
          <IconDownload size={15} stroke={1.6} />
          {busy ? 'Making …' : 'Download'}
        </button>
      </section>
    </>
  );
}
