'use client';
import { useEffect, useRef, useState } from 'react';
import { resolve, verticesOf } from '../../../core/mesh/picks';
import { centreOf } from '../../../core/edit/transform';
import { faceNormals } from '../../../core/mesh/normals';
import { formatQuantity } from '../../../core/recipe/quantity';
import type { Pick } from '../../../core/mesh/picks';
import { token, useTheme } from '../../parts/theme';
import { beginMove, changePick, commands, dragMove, focusPiece, inHandMove, keep, pickWider, setInHand, setShading, viewer as viewerCommands } from '../actions';
import { bench, SHADINGS, useBench, type PickMode } from '../store';
import type { Part } from './handles';
import { Viewer } from './viewer';

type Drag =
  | { kind: 'orbit' | 'pan'; x: number; y: number; moved: number }
  | { kind: 'box'; x0: number; y0: number }
  | { kind: 'click'; x0: number; y0: number; onGround: boolean }
  | { kind: 'handle'; part: Part; x0: number; y0: number; move: string | null; base: Record<string, number> };

const reader = globalThis as typeof globalThis & { glyptaView?: Viewer };

/** The view of the bench, and every way to point at things in it. */
export function View() {
  const canvas = useRef<HTMLCanvasElement>(null), frame = useRef<HTMLDivElement>(null), v = useRef<Viewer | null>(null), drag = useRef<Drag | null>(null);
  const [box, setBox] = useState<{ x0: number; y0: number; x1: number; y1: number } | null>(null);
  const [menu, setMenu] = useState<{ x: number; y: number } | null>(null);
  const [tripod, setTripod] = useState<[number, number][]>([]);
  const space = useRef(false);
  const theme = useTheme();
  const s = useBench();
  const doc = s.document, piece = doc?.pieces.find((p) => p.id === s.piece);
  const seamStep = s.stage === 'unwrap' ? piece?.recipe.find((x) => x.id === s.step && x.kind === 'unwrap') : undefined;

  useEffect(() => {
    let viewer: Viewer;
    try { viewer = new Viewer(canvas.current!); } catch { bench.set({ say: 'This browser cannot draw in 3D (WebGL is off).' }); return; }
    v.current = viewer;
    reader.glyptaView = viewer;
    const seen = new ResizeObserver(() => { const r = frame.current!.getBoundingClientRect(); viewer.resize(r.width, r.height); });
    seen.observe(frame.current!);
    viewer.onDraw = () => {
      const m = viewer.camera.now.matrixWorldInverse.elements;
      setTripod([0, 1, 2].map((k) => [m[4 * k], -m[4 * k + 1]]));
    };
    viewerCommands.see = (all) => {
      const { mesh, pick } = bench.get();
      if (all || !mesh) { viewer.see(null); return; }
      const at = verticesOf(mesh, pick.kind, resolve(mesh, pick).indices);
      if (at.length === 0) { viewer.see(bench.get().edited?.bounds ?? null); return; }
      const lo = [Infinity, Infinity, Infinity], hi = [-Infinity, -Infinity, -Infinity];
      for (const i of at) for (let k = 0; k < 3; k++) { const x = mesh.positions[3 * i + k]; lo[k] = Math.min(lo[k], x); hi[k] = Math.max(hi[k], x); }
      viewer.see({ min: lo, max: hi });
    };
    const key = (e: KeyboardEvent) => { if (e.code === 'Space' && !(e.target instanceof HTMLInputElement) && !(e.target instanceof HTMLButtonElement)) { space.current = e.type === 'keydown'; if (e.type === 'keydown') e.preventDefault(); } };
    window.addEventListener('keydown', key);
    window.addEventListener('keyup', key);
    return () => { seen.disconnect(); viewer.dispose(); v.current = null; window.removeEventListener('keydown', key); window.removeEventListener('keyup', key); };
  }, []);

  const fitted = useRef(false);
  useEffect(() => {
    const viewer = v.current;
    if (!viewer || !doc) return;
    viewer.show(s.shown, doc.pieces, doc.materials, s.shading, s.piece, s.edited);
    if (!fitted.current && [...s.shown.values()].some((x) => x.buffers) && doc.pieces.filter((p) => p.kind === 'mesh' && p.visible).every((p) => s.shown.has(p.id))) { fitted.current = true; viewer.see(null); }
  }, [s.shown, doc, s.shading, s.piece, s.edited]);
  useEffect(() => { v.current?.setEdited(s.mesh, s.edited); }, [s.mesh, s.edited]);
  useEffect(() => { v.current?.retheme(); v.current?.invalidate(); }, [theme]);
  useEffect(() => { v.current?.setGrid(s.grid); }, [s.grid]);
  useEffect(() => { v.current?.mark(s.mode === 'piece' ? { kind: 'face', keys: [] } : s.pick, s.last, s.mode, seamStep ? (seamStep.values as { cut: Pick; hold: Pick }) : null); }, [s.pick, s.last, s.mode, s.mesh, seamStep, theme, s.shading]);
  useEffect(() => { if (v.current) { v.current.camera.view = s.view; v.current.camera.update(); v.current.invalidate(); } }, [s.view]);

  // Handles stand in the middle of the pick; an extrusion in hand has one arrow along its way.
  const move = s.inHand ? inHandMove() : undefined;
  useEffect(() => {
    const viewer = v.current;
    if (!viewer) return;
    const mesh = s.mesh;
    if (!mesh || s.stage !== 'shape') { viewer.setHandles(null, null); return; }
    const picked = resolve(mesh, s.pick);
    const at = picked.indices.length ? verticesOf(mesh, s.pick.kind, picked.indices) : Uint32Array.from({ length: mesh.vertexCount }, (_, i) => i);
    if (move?.tool === 'extrude' && s.inHand?.fresh && picked.indices.length) {
      const n = faceNormals(mesh, true), way: [number, number, number] = [0, 0, 0], along = move.values.along as string;
      if (along === 'normals') for (const f of picked.indices) for (let k = 0; k < 3; k++) way[k] += n[3 * f + k]; else way['xyz'.indexOf(along)] = 1;
      viewer.setHandles('along', centreOf(mesh, at), Math.hypot(...way) > 1e-12 ? way : [0, 1, 0]);
      return;
    }
    viewer.setHandles(s.handle, s.handle && at.length ? centreOf(mesh, at) : null);
  }, [s.handle, s.pick, s.mesh, s.stage, s.inHand, move]);

  const place = (e: { clientX: number; clientY: number }): [number, number] => { const r = frame.current!.getBoundingClientRect(); return [e.clientX - r.left, e.clientY - r.top]; };
  const size = (): [number, number] => { const r = frame.current!.getBoundingClientRect(); return [r.width, r.height]; };

  const down = (e: React.PointerEvent) => {
    const viewer = v.current;
    if (!viewer) return;
    setMenu(null);
    (document.activeElement as HTMLElement | null)?.blur?.();
    const [x, y] = place(e);
    frame.current!.setPointerCapture(e.pointerId);
    if (e.button === 1 || (e.button === 2 && e.shiftKey) || (e.button === 0 && space.current)) { drag.current = { kind: 'pan', x, y, moved: 0 }; e.preventDefault(); return; }
    if (e.button === 2) { drag.current = { kind: 'orbit', x, y, moved: 0 }; return; }
    if (e.button !== 0) return;
    const [w, h] = size(), part = viewer.handles.hit(viewer.camera, x, y, w, h);
    if (part) {
      const extruding = viewer.handles.kind === 'along';
      drag.current = { kind: 'handle', part, x0: x, y0: y, move: null, base: { by: extruding ? Number(inHandMove()?.values.by ?? 0) : 0 } };
      return;
    }
    drag.current = { kind: 'click', x0: x, y0: y, onGround: !viewer.under(x, y, s.mode) };
  };

  const moved = (e: React.PointerEvent) => {
    const viewer = v.current;
    if (!viewer) return;
    const [x, y] = place(e), d = drag.current;
    if (!d) {
      const [w, h] = size();
      const hot = viewer.handles.hit(viewer.camera, x, y, w, h);
      if (viewer.handles.setHot(hot)) viewer.invalidate();
      viewer.hover(hot ? null : viewer.under(x, y, s.mode));
      return;
    }
    if (d.kind === 'orbit' || d.kind === 'pan') {
      const dx = x - d.x, dy = y - d.y;
      d.moved += Math.abs(dx) + Math.abs(dy);
      if (d.moved > 3) { if (d.kind === 'orbit') { viewer.camera.orbit(dx, dy); if (s.view !== viewer.camera.view) bench.set({ view: viewer.camera.view }); } else viewer.camera.pan(dx, dy); viewer.invalidate(); }
      d.x = x; d.y = y;
    } else if (d.kind === 'click') {
      if (d.onGround && Math.hypot(x - d.x0, y - d.y0) > 4) drag.current = { kind: 'box', x0: d.x0, y0: d.y0 };
    } else if (d.kind === 'box') setBox({ x0: Math.min(d.x0, x), y0: Math.min(d.y0, y), x1: Math.max(d.x0, x), y1: Math.max(d.y0, y) });
    else if (d.kind === 'handle') dragHandle(viewer, d, x, y, e.ctrlKey);
  };

  const dragHandle = (viewer: Viewer, d: Extract<Drag, { kind: 'handle' }>, x: number, y: number, ctrl: boolean) => {
    const snap = s.snap.on !== ctrl;
    const step = (value: number, by: number) => (snap && by > 0 ? Math.round(value / by) * by : value);
    const amount = viewer.handles.measure(d.part, viewer.camera, viewer.rayAt(d.x0, d.y0), viewer.rayAt(x, y), x - d.x0 - (y - d.y0));
    if (viewer.handles.kind === 'along') { setInHand({ by: step(d.base.by + amount, s.snap.move) }); return; }
    const kind = s.handle!;
    const values: Record<string, unknown> = kind === 'move' ? { [d.part]: step(amount, s.snap.move) } : kind === 'turn' ? { axis: d.part, angle: step(amount, s.snap.turn) }
      : d.part === 'all' ? { x: step(amount, 0.05), y: step(amount, 0.05), z: step(amount, 0.05) } : { [d.part]: step(amount, 0.05) };
    if (!d.move) d.move = beginMove(kind, values); else dragMove(d.move, kind, values);
  };

  const up = (e: React.PointerEvent) => {
    const viewer = v.current, d = drag.current;
    drag.current = null;
    if (!viewer || !d) return;
    const [x, y] = place(e), how = e.shiftKey ? 'add' : e.ctrlKey || e.metaKey ? 'remove' : 'set';
    if (d.kind === 'box') {
      const [w, h] = size(), b = { x0: Math.max(0, Math.min(d.x0, x)), y0: Math.max(0, Math.min(d.y0, y)), x1: Math.min(w, Math.max(d.x0, x)), y1: Math.min(h, Math.max(d.y0, y)) };
      setBox(null);
      if (s.mode === 'piece') return;
      const kind = s.mode;
      changePick(kind, viewer.inBox(b, kind).map((index) => viewer.keyOf({ kind, index, point: viewer.camera.target })), how);
    } else if (d.kind === 'click') {
      const under = viewer.under(x, y, s.mode);
      if (s.mode === 'piece') { if (under?.piece && !doc?.pieces.find((p) => p.id === under.piece)?.locked) focusPiece(under.piece); return; }
      if (!under) {
        // A click on another piece goes to it; on the ground it picks nothing.
        const other = viewer.under(x, y, 'piece');
        if (other?.piece && other.piece !== s.piece && how === 'set' && !doc?.pieces.find((p) => p.id === other.piece)?.locked) focusPiece(other.piece);
        else if (how === 'set') changePick(s.mode, [], 'set');
        return;
      }
      const key = viewer.keyOf(under), had = s.pick.kind === s.mode && s.pick.keys.includes(key);
      changePick(s.mode, [key], how === 'add' && had ? 'remove' : how);
    } else if (d.kind === 'handle') { if (viewer.handles.kind !== 'along') keep(); }
    else if (d.kind === 'orbit' && d.moved <= 3) setMenu({ x, y });
    else if (d.kind === 'orbit' && seamStep) viewer.mark(s.pick, s.last, s.mode, seamStep.values as { cut: Pick; hold: Pick });
  };

  const wheel = (e: WheelEvent) => {
    e.preventDefault();
    const viewer = v.current;
    if (!viewer) return;
    const [x, y] = place(e), [w, h] = size();
    viewer.camera.zoom(Math.exp(e.deltaY * (e.ctrlKey ? 0.01 : 0.0012)), (x / w) * 2 - 1, 1 - (y / h) * 2);
    viewer.invalidate();
  };
  useEffect(() => {
    const el = frame.current!;
    el.addEventListener('wheel', wheel, { passive: false });
    return () => el.removeEventListener('wheel', wheel);
  });

  const double = (e: React.MouseEvent) => {
    const viewer = v.current, [x, y] = place(e);
    const under = viewer?.under(x, y, s.mode);
    if (viewer && under && s.mode !== 'piece') pickWider(s.mode, under.index, e.shiftKey);
  };

  const shadingName = SHADINGS.find((x) => x[0] === s.shading)![1];
  return (
    <div ref={frame} className="view-ground relative h-full min-w-0 overflow-hidden" data-testid="view" onPointerDown={down} onPointerMove={moved} onPointerUp={up}
      onPointerLeave={() => v.current?.hover(null)} onPointerCancel={() => { drag.current = null; setBox(null); }} onDoubleClick={double} onContextMenu={(e) => e.preventDefault()}>
      <canvas ref={canvas} className="absolute inset-0 h-full w-full outline-none" role="img" tabIndex={0} aria-label={`${s.view === 'Persp' ? 'Perspective' : s.view} view of ${doc?.name ?? 'the project'}`} />
      <div className="quiet pointer-events-none absolute left-3.5 top-2.5 flex gap-1" onPointerDown={(e) => e.stopPropagation()}>
        <span>{s.view === 'Persp' ? 'Perspective' : s.view}</span><span>·</span>
        <button className="pointer-events-auto hover:text-ink" title="Next shading (Y)" onClick={() => setShading(SHADINGS[(SHADINGS.findIndex((x) => x[0] === s.shading) + 1) % SHADINGS.length][0])}>{shadingName}</button>
        <span>·</span>
        <button className="pointer-events-auto hover:text-ink" title="Grid step" onClick={() => bench.set({ grid: s.grid >= 1 ? 0.01 : s.grid >= 0.1 ? 1 : s.grid >= 0.05 ? 0.1 : 0.05 })}>{formatQuantity(s.grid, 'length', doc?.units)} grid</button>
      </div>
      <Tripod axes={tripod} />
      <div className="absolute right-3 top-[132px] flex flex-col items-end gap-1" onPointerDown={(e) => e.stopPropagation()} role="group" aria-label="Views">
        {(['Persp', 'Front', 'Side', 'Top'] as const).map((name) => <button key={name} aria-pressed={s.view === name} className={s.view === name ? 'font-semibold' : 'quiet hover:text-ink'} onClick={() => bench.set({ view: name })}>{name}</button>)}
      </div>
      {box && <div className="pointer-events-none absolute border border-value bg-wash/40" style={{ left: box.x0, top: box.y0, width: box.x1 - box.x0, height: box.y1 - box.y0 }} />}
      {menu && <Actions at={menu} mode={s.mode} close={() => setMenu(null)} />}
      {s.ready && doc?.pieces.every((p) => p.kind === 'group') && <p className="quiet absolute inset-0 m-auto h-16 w-80 text-center">Nothing here yet. Begin with a box: press <kbd className="num rounded border border-line px-1">/</kbd> or use “New piece” on the left.</p>}
    </div>
  );
}

function Tripod({ axes }: { axes: [number, number][] }) {
  const names = ['x', 'y', 'z'] as const;
  return (
    <svg className="pointer-events-none absolute right-6 top-12" width={76} height={76} viewBox="-38 -38 76 76" aria-hidden="true">
      {axes.map(([x, y], i) => <g key={names[i]} stroke={token(`axis-${names[i]}`)} strokeWidth={1.6}><line x1={0} y1={0} x2={x * 26} y2={y * 26} /><text x={x * 33} y={y * 33 + 3} stroke="none" fill={token(`axis-${names[i]}`)} fontSize={10} textAnchor="middle">{names[i]}</text></g>)}
    </svg>
  );
}

/** A right click without a drag: what can be done here. */
function Actions({ at, mode, close }: { at: { x: number; y: number }; mode: PickMode; close: () => void }) {
  const stage = bench.get().stage;
  const ids = stage === 'unwrap' ? ['cut', 'hold', 'letbe', 'unfold', 'grow', 'see-pick'] : mode === 'piece' ? ['copy', 'hide', 'show', 'delete', 'see-pick', 'see-all']
    : ['extrude', 'inset', 'loop', 'fill', 'weld', 'delete', 'grow', 'shrink', 'see-pick'].filter((id) => mode === 'face' || !['extrude', 'inset'].includes(id)).filter((id) => mode === 'edge' || id !== 'loop').filter((id) => mode !== 'face' || id !== 'fill');
  const list = commands().filter((c) => ids.includes(c.id));
  return (
    <div role="menu" className="absolute z-20 w-48 rounded-lg border border-line bg-paper py-1 shadow-lg" style={{ left: Math.max(0, Math.min(at.x, (document.querySelector('[data-testid=view]')?.clientWidth ?? 400) - 200)), top: at.y }} onPointerDown={(e) => e.stopPropagation()}
      onKeyDown={(e) => { if (e.key === 'Escape') { e.stopPropagation(); close(); } }} ref={(el) => { el?.querySelector('button')?.focus(); }}>
      {list.map((c) => <button key={c.id} role="menuitem" className="flex w-full justify-between px-3 py-1.5 text-left hover:bg-wash" onClick={() => { close(); c.run(); }}><span>{c.title}</span><span className="num quiet">{c.key}</span></button>)}
    </div>
  );
}
