'use client';
import { IconDownload, IconMagnet, IconPlus, IconTrash } from '@tabler/icons-react';
import { useEffect, useMemo, useState } from 'react';
import { formatNumber, formatQuantity, unitSize, type LengthUnit } from '../../../core/recipe/quantity';
import { angle, length } from '../../../core/recipe/values';
import { resolve } from '../../../core/mesh/picks';
import * as changes from '../../../document/changes';
import { giveMaterial, makeTexture, setStage } from '../actions';
import { Value } from '../recipe/Value';
import { session } from '../session';
import { bench, useBench } from '../store';

const snapMove = length('Move by', 0.001, { min: 0.00001, max: 100 }), snapTurn = angle('Turn by', 5, { min: 0.001, max: Math.PI });

/** Areas in the square of the unit that keeps the number short. */
function area(m2: number, units: LengthUnit): string {
  if (units === 'in' || units === 'ft') return `${formatNumber(m2 / unitSize(units) ** 2, 'number', units, 2)} ${units}²`;
  return m2 >= 1 ? `${formatNumber(m2, 'number', units, 3)} m²` : m2 >= 1e-6 * 100 ? `${formatNumber(m2 * 1e4, 'number', units, 2)} cm²` : `${formatNumber(m2 * 1e6, 'number', units, 2)} mm²`;
}

const Line = ({ name, value, tone }: { name: string; value: string; tone?: string }) => <div className="row"><dt className="quiet">{name}</dt><dd className={`num font-semibold ${tone ?? ''}`}>{value}</dd></div>;

/** Facts, checks and snapping: what the Shape stage watches. */
export function ShapeSide() {
  const s = useBench(), units = s.document?.units ?? 'mm', shape = s.edited?.shape;
  const piece = s.document?.pieces.find((p) => p.id === s.piece);
  const n = useMemo(() => (s.mesh ? resolve(s.mesh, s.pick).indices.length : 0), [s.mesh, s.pick]);
  const size3 = (v: readonly number[]) => v.map((x) => formatNumber(x, 'length', units, 1)).join(' × ');
  const kind = s.pick.kind;
  return <>
    <section className="panel-section" aria-label="Facts"><div className="row"><h2 className="panel-title">Facts</h2><span className="quiet">{n ? 'picked' : piece?.name ?? ''}</span></div>
      {!shape && <p className="quiet">Pick a piece to measure it.</p>}
      {shape && <dl>
        {n > 0 && <Line name={kind === 'face' ? 'Faces' : kind === 'edge' ? 'Edges' : 'Vertices'} value={`${n} of ${kind === 'face' ? shape.faces : kind === 'edge' ? shape.edges : shape.vertices}`} />}
        {n > 0 && s.facts && <>
          {kind === 'face' && <Line name="Area" value={area(s.facts.area, units)} />}
          {kind === 'edge' && <Line name="Length" value={formatQuantity(s.facts.length, 'length', units, 2)} />}
          <Line name={`Size, ${units}`} value={size3(s.facts.size)} />
          {kind === 'face' && <Line name="Flat within" value={formatQuantity(s.facts.flat, 'length', units, 2)} />}
        </>}
        {n === 0 && <><Line name="Vertices" value={String(shape.vertices)} /><Line name="Faces" value={String(shape.faces)} /><Line name="Triangles" value={String(shape.triangles)} />
          {s.edited && <Line name={`Size, ${units}`} value={size3([0, 1, 2].map((k) => s.edited!.bounds.max[k] - s.edited!.bounds.min[k]))} />}</>}
      </dl>}
    </section>
    <section className="panel-section" aria-label="Checks"><div className="row"><h2 className="panel-title">Checks</h2><span className="quiet">{piece?.name}</span></div>
      {shape ? <dl>{([['Open edges', shape.openEdges, 'text-warn'], ['Edges on 3+ faces', shape.nonManifoldEdges, 'text-wrong'], ['Doubled faces', shape.doubledFaces, 'text-wrong'], ['Loose points', shape.looseVertices, 'text-warn']] as const).map(([name, value, tone]) => <Line key={name} name={name} value={String(value)} tone={value ? tone : 'text-value'} />)}
        <Line name="Closed" value={shape.closed ? 'yes' : 'no'} tone={shape.closed ? 'text-value' : 'text-warn'} /></dl> : <p className="quiet">Nothing to check.</p>}
    </section>
    <section className="panel-section" aria-label="Snap"><div className="row"><h2 className="panel-title">Snap</h2><button className="icon-button" aria-pressed={s.snap.on} aria-label="Snapping" title="Snapping; hold Ctrl for the other way" style={s.snap.on ? { background: 'var(--value-wash)', color: 'var(--value)' } : undefined} onClick={() => bench.set({ snap: { ...s.snap, on: !s.snap.on } })}><IconMagnet size={15} stroke={1.6} /></button></div>
      <div className="row"><span className="quiet">Move by</span><Value name="move" def={snapMove} value={s.snap.move} onChange={(v) => bench.set({ snap: { ...bench.get().snap, move: v as number } })} onSettle={() => undefined} onCancel={() => undefined} /></div>
      <div className="row"><span className="quiet">Turn by</span><Value name="turn" def={snapTurn} value={s.snap.turn} onChange={(v) => bench.set({ snap: { ...bench.get().snap, turn: v as number } })} onSettle={() => undefined} onCancel={() => undefined} /></div>
    </section>
  </>;
}

/** Materials, and giving them to faces. */
export function FinishSide() {
  const s = useBench(), doc = s.document, piece = doc?.pieces.find((p) => p.id === s.piece && p.kind === 'mesh');
  const [chosen, setChosen] = useState<string | null>(null);
  const m = doc?.materials.find((x) => x.id === chosen) ?? doc?.materials[0];
  const set = (part: Parameters<typeof changes.setMaterial>[2], live?: string) => { if (m) session.change('change a material', (d) => changes.setMaterial(d, m.id, part), live); };
  const n = s.mode !== 'piece' && s.pick.kind === 'face' ? s.pick.keys.length : 0;
  const add = () => { const id = changes.newId(); session.change('add a material', (d) => changes.addMaterial(d, { id, name: 'Material', color: '#8f9a86', roughness: 0.6, metalness: 0 })); setChosen(id); };
  const hasTexture = piece?.recipe.some((x) => x.kind === 'texture'), hasUv = piece?.recipe.some((x) => x.kind === 'unwrap');
  return <>
    <section className="panel-section" aria-label="Materials"><div className="row"><h2 className="panel-title">Materials</h2><button className="icon-button" aria-label="New material" title="New material" onClick={add}><IconPlus size={15} stroke={1.6} /></button></div>
      {doc?.materials.length === 0 && <p className="quiet">No materials yet. Add one, then give it to a piece or to picked faces.</p>}
      <ul role="listbox" aria-label="Materials" className="scroll-thin -mx-2 max-h-48 overflow-y-auto">{doc?.materials.map((x) => <li key={x.id} role="option" aria-selected={x.id === m?.id} tabIndex={0} className={`flex h-7 cursor-default items-center gap-2 rounded-md px-2 ${x.id === m?.id ? 'bg-wash font-semibold' : 'hover:bg-wash/50'}`} onClick={() => setChosen(x.id)} onKeyDown={(e) => { if (e.key === 'Enter') { e.stopPropagation(); setChosen(x.id); } }}><span className="h-4 w-4 rounded-full border border-line" style={{ background: x.metalness > 0.5 ? `linear-gradient(135deg, color-mix(in srgb, ${x.color} 55%, white), ${x.color} 45%, color-mix(in srgb, ${x.color} 70%, black))` : x.color }} />{x.name}</li>)}</ul>
      {m && <button className="button main mt-2 w-full justify-center" disabled={!piece} onClick={() => giveMaterial(m.id)}>{n ? `Give to ${n} ${n === 1 ? 'face' : 'faces'}` : `Give to all of ${piece?.name ?? 'the piece'}`}</button>}
    </section>
    {m && <section className="panel-section" aria-label={`Material ${m.name}`}>
      <label className="row"><span className="quiet">Name</span><input key={m.id} className="field w-32 !py-0.5" defaultValue={m.name} maxLength={200} onKeyDown={(e) => { e.stopPropagation(); if (e.key === 'Enter') e.currentTarget.blur(); }} onBlur={(e) => { if (e.target.value.trim() && e.target.value !== m.name) set({ name: e.target.value.trim() }); }} /></label>
      <label className="row"><span className="quiet">Colour</span><span className="flex items-center gap-2"><span className="num">{m.color}</span><input type="color" aria-label="Colour" className="h-6 w-8 cursor-pointer rounded border border-line bg-transparent" value={m.color} onChange={(e) => set({ color: e.target.value }, `color ${m.id}`)} onBlur={() => session.settle()} /></span></label>
      {(['roughness', 'metalness'] as const).map((k) => <label key={k} className="row"><span className="quiet capitalize">{k}</span><span className="flex items-center gap-2"><input type="range" className="range range-xs w-24" min={0} max={1} step={0.01} value={m[k]} aria-label={k} onChange={(e) => set({ [k]: Number(e.target.value) }, `${k} ${m.id}`)} onPointerUp={() => session.settle()} onBlur={() => session.settle()} onKeyUp={() => session.settle()} /><span className="num w-8 text-right">{m[k].toFixed(2)}</span></span></label>)}
      <button className="quiet mt-1 flex items-center gap-1 hover:text-wrong" onClick={() => session.change('delete a material', (d) => changes.removeMaterial(d, m.id))}><IconTrash size={13} stroke={1.6} />Delete this material</button>
    </section>}
    <section className="panel-section" aria-label="Texture"><h2 className="panel-title mb-1">Texture</h2>
      {hasTexture ? <p className="quiet">The colours are written into a picture; its size and bleed are in the recipe. It follows every change.</p>
        : <><p className="quiet mb-2">{hasUv ? 'Writes the colours into a picture on the sheet, with bleed beyond each island.' : 'Unwrap the piece first: a texture needs a sheet to lie on.'}</p>{hasUv ? <button className="button w-full justify-center" disabled={!piece} onClick={makeTexture}>Make texture</button> : <button className="button w-full justify-center" onClick={() => setStage('unwrap')}>Go to Unwrap</button>}</>}
    </section>
  </>;
}

/** Choosing what leaves, and how. */
export function ShipSide() {
  const s = useBench(), doc = s.document, meshes = useMemo(() => doc?.pieces.filter((p) => p.kind === 'mesh') ?? [], [doc]);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [format, setFormat] = useState<'glb' | 'obj'>('glb'), [up, setUp] = useState<'y' | 'z'>('y'), [unit, setUnit] = useState<LengthUnit>('m'), [triangulate, setTriangulate] = useState(false), [subdivide, setSubdivide] = useState(true);
  const [check, setCheck] = useState<{ warnings: string[]; triangles: number } | null>(null), [busy, setBusy] = useState(false), [error, setError] = useState('');
  const chosen = useMemo(() => new Set(meshes.filter((p) => !left.has(p.id)).map((p) => p.id)), [meshes, left]);
  const options = useMemo(() => ({ pieces: chosen, up: format === 'glb' ? 'y' as const : up, unit: format === 'glb' ? 1 : unitSize(unit), triangulate, subdivide }), [chosen, format, up, unit, triangulate, subdivide]);
  useEffect(() => {
    if (!doc || !session.worker) return;
    let on = true;
    const t = setTimeout(() => { void session.worker!.ask('check', { document: doc, options }).then((r) => { if (on && 'triangles' in r) setCheck({ warnings: r.warnings, triangles: r.triangles }); }, (e: Error) => { if (on) setError(e.message); }); }, 150);
    return () => { on = false; clearTimeout(t); };
  }, [doc, options]);
  const ship = async () => {
    if (!doc || !session.worker) return;
    setBusy(true); setError('');
    try {
      const r = await session.worker.ask('ship', { document: doc, options, format });
      if (!('file' in r)) return;
      const name = `${doc.name.replace(/[^\w.-]+/g, '-').toLowerCase()}.${format === 'glb' ? 'glb' : 'zip'}`;
      const url = URL.createObjectURL(new Blob([r.file as Uint8Array<ArrayBuffer>], { type: format === 'glb' ? 'model/gltf-binary' : 'application/zip' }));
      const a = document.createElement('a');
      a.href = url; a.download = name; a.click();
      setTimeout(() => URL.revokeObjectURL(url), 30000);
      bench.set({ say: `${name}: ${(r.file.length / 1024).toFixed(0)} KB, on its way to your downloads.` });
    } catch (e) { setError((e as Error).message); } finally { setBusy(false); }
  };
  const Toggle = ({ label, value, set, disabled }: { label: string; value: boolean; set: (v: boolean) => void; disabled?: boolean }) => <label className="row"><span className={disabled ? 'quiet opacity-60' : 'quiet'}>{label}</span><input type="checkbox" className="checkbox checkbox-xs" checked={value} disabled={disabled} onChange={(e) => set(e.target.checked)} /></label>;
  return <>
    <section className="panel-section" aria-label="What to ship"><h2 className="panel-title mb-1">What to ship</h2>
      {meshes.length === 0 && <p className="quiet">There are no pieces yet.</p>}
      <ul className="scroll-thin max-h-40 overflow-y-auto">{meshes.map((p) => <li key={p.id}><label className="row"><span>{p.name}</span><input type="checkbox" className="checkbox checkbox-xs" checked={chosen.has(p.id)} onChange={(e) => { const n = new Set(left); if (e.target.checked) n.delete(p.id); else n.add(p.id); setLeft(n); }} /></label></li>)}</ul>
    </section>
    <section className="panel-section" aria-label="How to ship"><h2 className="panel-title mb-1">How</h2>
      <label className="row"><span className="quiet">Format</span><select className="field !py-0.5" value={format} onChange={(e) => setFormat(e.target.value as 'glb')}><option value="glb">GLB</option><option value="obj">OBJ, MTL and PNG</option></select></label>
      {format === 'obj' ? <>
        <label className="row"><span className="quiet">One unit is</span><select className="field !py-0.5" value={unit} onChange={(e) => setUnit(e.target.value as LengthUnit)}>{(['mm', 'cm', 'm', 'in', 'ft'] as const).map((u) => <option key={u} value={u}>1 {u}</option>)}</select></label>
        <label className="row"><span className="quiet">Up</span><select className="field !py-0.5" value={up} onChange={(e) => setUp(e.target.value as 'y')}><option value="y">Y</option><option value="z">Z</option></select></label>
        <Toggle label="Only triangles" value={triangulate} set={setTriangulate} />
      </> : <p className="quiet">GLB is always in metres, Y up, in triangles.</p>}
      <Toggle label="With subdivision" value={subdivide} set={setSubdivide} />
    </section>
    <section className="panel-section" aria-label="Before it goes"><div className="row"><h2 className="panel-title">Before it goes</h2>{check && <span className="num quiet">{check.triangles.toLocaleString('en')} tris</span>}</div>
      {!check && !error && <p className="quiet">Looking it over …</p>}
      {check && check.warnings.length === 0 && <p className="text-value">Nothing to warn of.</p>}
      <ul className="scroll-thin max-h-44 overflow-y-auto">{check?.warnings.map((w, i) => <li key={i} className="py-0.5 text-warn">{w}</li>)}</ul>
      {error && <p role="alert" className="text-wrong">{error}</p>}
      <button className="button main mt-3 w-full justify-center" disabled={busy || chosen.size === 0} onClick={() => void ship()}><IconDownload size={15} stroke={1.6} />{busy ? 'Making …' : 'Download'}</button>
    </section>
  </>;
}

/** Stages that are still to come say so, and what they will be for. */
export function GatherSide() {
  const doc = useBench((s) => s.document);
  return <>
    <section className="panel-section" aria-label="Project"><h2 className="panel-title mb-1">Project</h2>
      {doc && <>
        <label className="row"><span className="quiet">Name</span><input key={doc.name} className="field w-36 !py-0.5" defaultValue={doc.name} maxLength={200} onKeyDown={(e) => { e.stopPropagation(); if (e.key === 'Enter') e.currentTarget.blur(); }} onBlur={(e) => { const name = e.target.value.trim(); if (name && name !== doc.name) session.change('rename the project', (d) => changes.setProject(d, { name })); }} /></label>
        <label className="row"><span className="quiet">Made</span><select className="field w-36 !py-0.5" value={doc.purpose} onChange={(e) => session.change('change the purpose', (d) => changes.setProject(d, { purpose: e.target.value as 'game' }))}><option value="render">to render</option><option value="game">for a game</option><option value="print">to print</option></select></label>
        <label className="row"><span className="quiet">Units</span><select className="field w-36 !py-0.5" value={doc.units} onChange={(e) => session.change('change the units', (d) => changes.setProject(d, { units: e.target.value as LengthUnit }))}>{(['mm', 'cm', 'm', 'in', 'ft'] as const).map((u) => <option key={u}>{u}</option>)}</select></label>
      </>}
    </section>
    <section className="panel-section" aria-label="To come"><h2 className="panel-title mb-1">What Gather is for</h2><p className="quiet">Reference pictures made true to scale, files from elsewhere with a report of what came in, and a library of things used again. So far: the project’s own settings, and OBJ, GLB or ZIP files, dropped anywhere on the bench or through “From a file” beside Pieces.</p></section>
  </>;
}

export const StageSide = () => <section className="panel-section" aria-label="To come"><h2 className="panel-title mb-1">What Stage is for</h2><p className="quiet">Cameras with real lenses, sun and lamps, haze, motion along routes, and a rendered picture at the end. None of it is here yet; the work done in the other stages will be ready for it.</p></section>;
