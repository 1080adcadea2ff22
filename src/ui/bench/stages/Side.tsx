'use client';
import { IconBooks, IconDownload, IconPlus, IconTrash } from '@tabler/icons-react';
import { useEffect, useMemo, useState } from 'react';
import { KINDS } from '../../../core/formats/kinds';
import { unitSize, type LengthUnit } from '../../../core/recipe/quantity';
import * as changes from '../../../document/changes';
import { giveMaterial, makeTexture, setStage } from '../actions';
import { keepMaterial } from '../library';
import { session } from '../session';
import { bench, useBench, workedOn } from '../store';

/** Materials, and giving them to faces. */
export function FinishSide() {
  const s = useBench(),
    doc = s.document,
    found = workedOn(s),
    piece = found?.kind === 'mesh' ? found : undefined;
  const [chosen, setChosen] = useState<string | null>(null);
  const m = doc?.materials.find((x) => x.id === chosen) ?? doc?.materials[0];
  const set = (part: Parameters<typeof changes.setMaterial>[2], live?: string) => {
    if (m) session.change('change a material', (d) => changes.setMaterial(d, m.id, part), live);
  };
  const n = s.mode !== 'piece' && s.pick.kind === 'face' ? s.pick.keys.length : 0;
  const add = () => {
    const id = changes.newId();
    session.change('add a material', (d) =>
      changes.addMaterial(d, { id, name: 'Material', color: '#8f9a86', roughness: 0.6, metalness: 0 }),
    );
    setChosen(id);
  };
  const hasTexture = piece?.recipe.some((x) => x.kind === 'texture'),
    hasUv = piece?.recipe.some((x) => x.kind === 'unwrap');
  return (
    <>
      <section className="panel-section" aria-label="Materials">
        <div className="row">
          <h2 className="panel-title">Materials</h2>
          <button className="icon-button" aria-label="New material" title="New material" onClick={add}>
            <IconPlus size={15} stroke={1.6} />
          </button>
        </div>
        {doc?.materials.length === 0 && (
          <p className="quiet">No materials yet. Add one, then give it to a piece or to picked faces.</p>
        )}
        <ul role="listbox" aria-label="Materials" className="scroll-thin -mx-2 max-h-48 overflow-y-auto">
          {doc?.materials.map((x) => (
            <li
              key={x.id}
              role="option"
              aria-selected={x.id === m?.id}
              tabIndex={0}
              className={`flex h-7 cursor-default items-center gap-2 rounded-md px-2 ${x.id === m?.id ? 'bg-wash font-semibold' : 'hover:bg-wash/50'}`}
              onClick={() => setChosen(x.id)}
              onKeyDown={(e) => {
                if (e.key === 'Enter') {
                  e.stopPropagation();
                  setChosen(x.id);
                }
              }}
            >
              <span
                className="h-4 w-4 rounded-full border border-line"
                style={{
                  background:
                    x.metalness > 0.5
                      ? `linear-gradient(135deg, color-mix(in srgb, ${x.color} 55%, white), ${x.color} 45%, color-mix(in srgb, ${x.color} 70%, black))`
                      : x.color,
                }}
              />
              {x.name}
            </li>
          ))}
        </ul>
        {m && (
          <button
            className="button main mt-2 w-full justify-center"
            disabled={!piece}
            onClick={() => giveMaterial(m.id)}
          >
            {n ? `Give to ${n} ${n === 1 ? 'face' : 'faces'}` : `Give to all of ${piece?.name ?? 'the piece'}`}
          </button>
        )}
      </section>
      {m && (
        <section className="panel-section" aria-label={`Material ${m.name}`}>
          <label className="row">
            <span className="quiet">Name</span>
            <input
              key={m.id}
              className="field w-32 !py-0.5"
              defaultValue={m.name}
              maxLength={200}
              onKeyDown={(e) => {
                e.stopPropagation();
                if (e.key === 'Enter') e.currentTarget.blur();
              }}
              onBlur={(e) => {
                if (e.target.value.trim() && e.target.value !== m.name) set({ name: e.target.value.trim() });
              }}
            />
          </label>
          <label className="row">
            <span className="quiet">Colour</span>
            <span className="flex items-center gap-2">
              <span className="num">{m.color}</span>
              <input
                type="color"
                aria-label="Colour"
                className="h-6 w-8 cursor-pointer rounded border border-line bg-transparent"
                value={m.color}
                onChange={(e) => set({ color: e.target.value }, `color ${m.id}`)}
                onBlur={() => session.settle()}
              />
            </span>
          </label>
          {(['roughness', 'metalness'] as const).map((k) => (
            <label key={k} className="row">
              <span className="quiet capitalize">{k}</span>
              <span className="flex items-center gap-2">
                <input
                  type="range"
                  className="range range-xs w-24"
                  min={0}
                  max={1}
                  step={0.01}
                  value={m[k]}
                  aria-label={k}
                  onChange={(e) => set({ [k]: Number(e.target.value) }, `${k} ${m.id}`)}
                  onPointerUp={() => session.settle()}
                  onBlur={() => session.settle()}
                  onKeyUp={() => session.settle()}
                />
                <span className="num w-8 text-right">{m[k].toFixed(2)}</span>
              </span>
            </label>
          ))}
          {doc &&
            doc.images.some((i) => i.use === 'picture') &&
            (
              [
                ['color', 'Colour picture'],
                ['surface', 'Surface picture'],
              ] as const
            ).map(([k, label]) => (
              <label key={k} className="row">
                <span className="quiet">{label}</span>
                <select
                  className="field max-w-28 !py-0.5"
                  value={m.maps?.[k] ?? ''}
                  onChange={(e) => {
                    const { [k]: _, ...rest } = m.maps ?? {};
                    set({ maps: e.target.value ? { ...rest, [k]: e.target.value } : rest });
                  }}
                >
                  <option value="">none</option>
                  {doc.images
                    .filter((i) => i.use === 'picture')
                    .map((i) => (
                      <option key={i.id} value={i.id}>
                        {i.name}
                      </option>
                    ))}
                </select>
              </label>
            ))}
          <button
            className="quiet mt-1 flex items-center gap-1 hover:text-wrong"
            onClick={() => session.change('delete a material', (d) => changes.removeMaterial(d, m.id))}
          >
            <IconTrash size={13} stroke={1.6} />
            Delete this material
          </button>
          <button className="quiet mt-1 flex items-center gap-1 hover:text-ink" onClick={() => void keepMaterial(m.id)}>
            <IconBooks size={13} stroke={1.6} />
            Keep it in the library
          </button>
        </section>
      )}
      <section className="panel-section" aria-label="Texture">
        <h2 className="panel-title mb-1">Texture</h2>
        {hasTexture ? (
          <p className="quiet">
            The colours are written into a picture; its size and bleed are in the recipe. It follows every change.
          </p>
        ) : (
          <>
            <p className="quiet mb-2">
              {hasUv
                ? 'Writes the colours into a picture on the sheet, with bleed beyond each island.'
                : 'Unwrap the piece first: a texture needs a sheet to lie on.'}
            </p>
            {hasUv ? (
              <button className="button w-full justify-center" disabled={!piece} onClick={makeTexture}>
                Make texture
              </button>
            ) : (
              <button className="button w-full justify-center" onClick={() => setStage('unwrap')}>
                Go to Unwrap
              </button>
            )}
          </>
        )}
      </section>
    </>
  );
}

/** A list of pieces longer than this is cut: thousands of boxes to tick help nobody. */
const SHOWN = 200;

/** Choosing what leaves, and how. */
export function ShipSide() {
  const s = useBench(),
    doc = s.document,
    meshes = useMemo(() => (doc ? doc.pieces.filter((p) => p.kind === 'mesh') : []), [doc]);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [format, setFormat] = useState('glb'),
    [up, setUp] = useState<'y' | 'z'>(() => bench.get().document?.settings.up ?? 'y'),
    [unit, setUnit] = useState<LengthUnit>('m'),
    fixed = format === 'glb' || format === 'gltf',
    [triangulate, setTriangulate] = useState(false),
    [subdivide, setSubdivide] = useState(true);
  const [check, setCheck] = useState<{ warnings: string[]; triangles: number } | null>(null),
    [busy, setBusy] = useState(false),
    [error, setError] = useState('');
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
    if (!doc || !session.worker) return;
    let on = true;
    const t = setTimeout(() => {
      void session.worker!.ask('check', { document: doc, options }).then(
        (r) => {
          if (on && 'triangles' in r) setCheck({ warnings: r.warnings, triangles: r.triangles });
        },
        (e: Error) => {
          if (on) setError(e.message);
        },
      );
    }, 150);
    return () => {
      on = false;
      clearTimeout(t);
    };
  }, [doc, options]);
  const ship = async () => {
    if (!doc || !session.worker) return;
    setBusy(true);
    setError('');
    try {
      const r = await session.worker.ask('ship', { document: doc, options, format });
      if (!('file' in r)) return;
      const name = `${doc.name.replace(/[^\w.-]+/g, '-').toLowerCase()}.${r.ending}`;
      const url = URL.createObjectURL(
        new Blob([r.file as Uint8Array<ArrayBuffer>], {
          type:
            r.ending === 'glb'
              ? 'model/gltf-binary'
              : r.ending === 'zip'
                ? 'application/zip'
                : 'application/octet-stream',
        }),
      );
      const a = document.createElement('a');
      a.href = url;
      a.download = name;
      a.click();
      setTimeout(() => URL.revokeObjectURL(url), 30000);
      bench.set({ say: `${name}: ${(r.file.length / 1024).toFixed(0)} KB, on its way to your downloads.` });
    } catch (e) {
      setError((e as Error).message);
    } finally {
      setBusy(false);
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
            <button className="button !px-2 !py-0.5 text-[12px]" onClick={() => setLeft(new Set())}>
              All
            </button>
            <button
              className="button !px-2 !py-0.5 text-[12px]"
              onClick={() => setLeft(new Set(meshes.map((p) => p.id)))}
            >
              None
            </button>
          </div>
        )}
      </section>
      <section className="panel-section" aria-label="How to ship">
        <h2 className="panel-title mb-1">How</h2>
        <label className="row">
          <span className="quiet">Format</span>
          <select className="field !py-0.5" value={format} onChange={(e) => setFormat(e.target.value)}>
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
              <select className="field !py-0.5" value={unit} onChange={(e) => setUnit(e.target.value as LengthUnit)}>
                {(['mm', 'cm', 'm', 'in', 'ft'] as const).map((u) => (
                  <option key={u} value={u}>
                    1 {u}
                  </option>
                ))}
              </select>
            </label>
            <label className="row">
              <span className="quiet">Up</span>
              <select className="field !py-0.5" value={up} onChange={(e) => setUp(e.target.value as 'y')}>
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
          className="button main mt-3 w-full justify-center"
          disabled={busy || chosen.size === 0}
          onClick={() => void ship()}
        >
          <IconDownload size={15} stroke={1.6} />
          {busy ? 'Making …' : 'Download'}
        </button>
      </section>
    </>
  );
}

/** A stage that is still to come says so, and what it will be for. */
export const StageSide = () => (
  <section className="panel-section" aria-label="To come">
    <h2 className="panel-title mb-1">What Stage is for</h2>
    <p className="quiet">
      Cameras with real lenses, sun and lamps, haze, motion along routes, and a rendered picture at the end. None of it
      is here yet; the work done in the other stages will be ready for it.
    </p>
  </section>
);
