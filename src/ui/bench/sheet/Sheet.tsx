'use client';
import {
  IconFold,
  IconLayoutGrid,
  IconBrush,
  IconPinned,
  IconPolygon,
  IconLine,
  IconPoint,
  IconScissors,
  IconShape,
} from '@tabler/icons-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { edgeKeys, resolve, type ElementPick } from '../../../core/mesh/picks';
import { topologyOf } from '../../../core/mesh/topology';
import type { EditName } from '../../../core/uv/edits';
import type { Fault } from '../../../core/uv/look';
import { islandsOf } from '../../../core/uv/measure';
import type { PieceSet } from '../../../document/types';
import { saveFile } from '../../parts/handover';
import { token, useTheme } from '../../parts/theme';
import { useBehind } from './behind';
import { cornersOf, facesAt, facesOfIslands, facesWithin } from './chosen';
import { dragged, type Drag, type Grip } from './dragging';
import { drawBehind, drawOthers, drawPaper, drawPart, SheetDrawing } from './drawing';
import { useHeat, type HeatOf } from './heat';
import { Hits } from './hits';
import { namesOfIslands } from './islandNames';
import { KeptDrawing } from './kept';
import {
  beginProjecting,
  changePick,
  endProjecting,
  endRelaxing,
  keepLayout,
  markIslands,
  markSeams,
  packAll,
  packLonger,
  packWithin,
  placeByHand,
  releaseIsland,
  setMode,
  unfold,
  type IslandMark,
} from '../actions';
import { session } from '../session';
import { bench, say, useBench, type RelaxingWay } from '../store';
import { NoSheet } from './NoSheet';
import { ProjectingPanel } from './ProjectingPanel';
import { RelaxingPanel } from './RelaxingPanel';
import { SheetHead } from './SheetHead';
import { SheetMenu } from './SheetMenu';
import { boxesOf, boxOfFaces, type Box, type Snap } from './snapping';
import { alsoPlaced, layoutNow, placedBy, type PlacedSince } from './placedSince';
import { useBrush } from './useBrush';
import { softly } from './softly';
import { PackingNow, Suggestions } from './Suggestions';
import { useLook } from './useLook';
import { usePlaced } from './usePlaced';
import { useRelaxing } from './useRelaxing';
import { useSeen } from './useSeen';
import { useShared } from './useShared';

type Way = 'island' | 'vertex' | 'edge' | 'face' | 'brush';
/** The drawing of more faces is kept: every move of the pointer would draw all of them anew. */
const HEAVY = 20_000;
let placings = 0;
const NO_SETS: readonly PieceSet[] = [];

const RELAXED: RelaxingWay = { lengths: 0.5, border: false, picked: 'nothing' };

/**
 * The sheet: UVs laid out flat, sharing its picks with the view; islands and vertices are moved, turned and sized here
 * by hand.
 */
export function Sheet() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const s = useBench(
    useShallow(({ document, piece, mesh, pick, step, uv }) => ({ document, piece, mesh, pick, step, uv })),
  );
  const theme = useTheme();
  const [way, setWay] = useState<Way>('island');
  const [snap, setSnap] = useState<Snap>('texels');
  const [aiming, setAiming] = useState(false);
  const [soft, setSoft] = useState(0);
  const live = useRef<Drag | null>(null);
  const pan = useRef<{ x: number; y: number } | null>(null);
  const box = useRef<{ x: number; y: number; add: 'set' | 'add' | 'remove' } | null>(null);
  const [drawn, setDrawn] = useState<Box | null>(null);
  const [, redraw] = useState(0);
  const [kept] = useState(() => new KeptDrawing(() => redraw((n) => n + 1)));
  useEffect(() => () => kept.end(), [kept]);
  const seen = useSeen(s);
  const { piece, step, laying, placedNow, placedThen, texels, sheets, part, told } = seen;
  const mesh = s.mesh;
  const look = useLook(frame, sheets);
  const { size, square, toScreen, toUv, place } = look;
  const since = useRef<PlacedSince | null>(null);
  const shared = useShared(piece, s.step);
  const { sheet } = seen.placed;
  const drawnUv = mesh?.attributes.uv?.data as Float32Array | undefined;
  const uv = useMemo(
    () => (mesh && drawnUv ? layoutNow(mesh, drawnUv, since.current, placedThen, placedNow) : undefined),
    [mesh, drawnUv, placedThen, placedNow],
  );
  const islands = useMemo(() => (mesh && uv ? islandsOf(mesh, uv) : null), [mesh, uv]);
  const picked = useMemo(() => (mesh ? resolve(mesh, s.pick).indices : new Uint32Array(0)), [mesh, s.pick]);
  const named = useMemo(
    () => (mesh && uv && islands ? namesOfIslands(mesh, uv, islands, piece?.sets ?? NO_SETS) : []),
    [mesh, uv, islands, piece?.sets],
  );
  const [heatOf, setHeatOf] = useState<HeatOf>('nothing');
  const heat = useHeat(heatOf, mesh, uv);
  const behind = useBehind(mesh);
  const keptNow = typeof step?.values.layout === 'string' && step.values.layout !== '';
  const packing = useBench((b) => (b.packing && b.packing.step === step?.id ? b.packing : null));
  const projecting = useBench((b) => (b.projecting && b.projecting.step === step?.id ? b.projecting : null));
  const relaxing = useBench((b) => (b.relaxing && b.relaxing.step === laying?.id ? b.relaxing : null));
  const ring = useRef<HTMLDivElement>(null);
  const isPlaced = usePlaced(piece?.id, step, sheet, mesh);

  /** Faces of the islands that are picked. */
  const ofPicked = useMemo((): number[] => {
    if (!mesh || !islands || picked.length === 0 || (way === 'island' && s.pick.kind !== 'face')) return [];
    return facesOfIslands(islands.ofFace, facesAt(mesh, s.pick.kind, picked));
  }, [mesh, islands, picked, s.pick.kind, way]);
  const ofPickedSet = useMemo(() => new Set(ofPicked), [ofPicked]);
  const pickedFaces = (): number[] => ofPicked;
  /** Faces at what is picked, whatever it is. */
  const facesPicked = (): number[] => (mesh ? [...facesAt(mesh, s.pick.kind, picked)] : []);
  const handBox = (faces: number[]): Box | null => {
    if (!mesh || !uv || faces.length === 0) return null;
    return boxOfFaces(mesh, uv, faces);
  };

  const brush = useBrush((faces, at) => commit(faces, at));

  // Drawing
  useEffect(() => {
    const c = canvas.current;
    const g = c?.getContext('2d');
    if (!c || !g) return;
    const dpr = Math.min(2, window.devicePixelRatio);
    c.width = size.w * dpr;
    c.height = size.h * dpr;
    g.setTransform(dpr, 0, 0, dpr, 0, 0);
    g.clearRect(0, 0, size.w, size.h);
    const q = square();
    for (let k = 0; k < sheets; k++) {
      const x = q.x + k * q.side;
      drawPaper(g, x, q.y, q.side, sheets > 1 ? `${k + 1}` : '');
      if (behind.picture) drawBehind(g, behind.picture, behind.opacity, x, q.y, q.side);
      if (part) drawPart(g, part, x, q.y, q.side);
    }
    if (shared?.others) drawOthers(g, shared.others, toScreen);
    if (!mesh || !uv || !islands) return;
    const coming = projecting?.now?.uv ?? relaxing?.now?.uv ?? packing?.best?.uv;
    const at = brush.live() ?? live.current?.uv ?? (coming?.length === uv.length ? coming : uv);
    const drawing = new SheetDrawing(g, mesh, uv, at, toScreen);
    const alpha = behind.picture ? 0.2 : 0.42;
    if (mesh.faceCount > HEAVY) {
      // What a hand moves is drawn over the rest, which stays as it is until it is let go.
      const rest = live.current ? uv : at;
      kept.show(g, [mesh, rest, heat, alpha, theme], { size, square: q, dpr }, (on) =>
        new SheetDrawing(on, mesh, uv, rest, toScreen).all(heat, alpha),
      );
      if (live.current) drawing.fill(live.current.faces, token('picked'), 0.7);
      else if (s.pick.kind === 'face') drawing.fill(picked, token('picked'), 0.35);
    } else {
      if (heat) drawing.heat(heat);
      else drawing.fill(islands.ofFace.keys(), token('clay'), alpha);
      if (s.pick.kind === 'face') drawing.fill(picked, token('picked'), 0.35);
      drawing.edges();
    }
    if (s.pick.kind === 'edge') drawing.pickedEdges(picked);
    if (way === 'vertex') drawing.vertices(s.pick.kind === 'vertex' ? picked : []);
    if (!live.current) drawing.names(named);
    const hold = way === 'island' ? handBox(pickedFaces()) : null;
    if (hold && !live.current) drawing.hold(hold);
  });

  const hits = mesh && uv ? new Hits(mesh, uv, toScreen) : null;
  const faceAt = (x: number, y: number): number => hits?.faceAt(...toUv(x, y)) ?? -1;
  const cornerAt = (x: number, y: number): number => hits?.cornerAt(x, y) ?? -1;
  const edgeAt = (x: number, y: number): number => hits?.edgeAt(x, y) ?? -1;

  const begin = (grip: Grip, x: number, y: number, faces: number[], corners: Uint32Array): void => {
    const b = handBox(faces);
    if (!b || !uv || !mesh || !islands) return;
    const moving = new Set(faces.map((f) => islands.ofFace[f]));
    const others =
      snap === 'islands' ? boxesOf(mesh, uv, islands.ofFace, islands.count).filter((_, i) => !moving.has(i)) : [];
    live.current = { grip, x0: x, y0: y, corners, faces, box: b, others, uv: uv.slice() };
  };
  const down = (e: React.PointerEvent) => {
    const [x, y] = place(e);
    if (!mesh || !uv || !islands) return;
    frame.current!.setPointerCapture(e.pointerId);
    if (e.button !== 0 || e.altKey) {
      pan.current = { x, y };
      return;
    }
    if (aiming) {
      box.current = { x, y, add: 'set' };
      return;
    }
    if (way === 'brush') {
      const f = faceAt(x, y);
      if (f >= 0) brush.begin(f, toUv(x, y), uv);
      return;
    }
    const alone = e.ctrlKey ? 'remove' : 'set';
    const add = e.shiftKey ? 'add' : alone;
    if (way === 'island') {
      const faces = pickedFaces();
      const b = handBox(faces);
      if (b) {
        const [x0, y1] = toScreen(b.x0, b.y0);
        const [x1, y0] = toScreen(b.x1, b.y1);
        const near = (px: number, py: number) => Math.hypot(x - px, y - py) < 10;
        if (near((x0 + x1) / 2, y0 - 24)) {
          begin('turn', x, y, faces, cornersOf(mesh, faces));
          return;
        }
        if (near(x0 - 4, y0 - 4) || near(x1 + 4, y0 - 4) || near(x0 - 4, y1 + 4) || near(x1 + 4, y1 + 4)) {
          begin('size', x, y, faces, cornersOf(mesh, faces));
          return;
        }
      }
      const f = faceAt(x, y);
      if (f < 0) {
        if (add === 'set') changePick('face', [], 'set');
        box.current = { x, y, add };
        return;
      }
      const island = facesOfIslands(islands.ofFace, [f]);
      const had = faces.includes(f);
      if (!had || add !== 'set')
        changePick(
          'face',
          island.map((g) => mesh.faceKey[g]),
          add,
        );
      const moving = had && add === 'set' ? faces : island;
      if (add === 'set') begin('move', x, y, moving, cornersOf(mesh, moving));
    } else if (way === 'vertex') {
      const k = cornerAt(x, y);
      if (k < 0) {
        if (add === 'set') changePick('vertex', [], 'set');
        return;
      }
      const key = mesh.vertexKey[mesh.cornerVertex[k]];
      const had = s.pick.kind === 'vertex' && s.pick.keys.includes(key);
      if (!had || add !== 'set') changePick('vertex', [key], add);
      const f = topologyOf(mesh).cornerFace[k];
      const faces = facesOfIslands(islands.ofFace, [f]);
      const chosen = new Set(had ? s.pick.keys : [key]);
      if (add === 'set') {
        const all = cornersOf(mesh, faces);
        const own = all.filter((c) => chosen.has(mesh.vertexKey[mesh.cornerVertex[c]]));
        begin('move', x, y, faces, own);
        if (live.current && soft > 0) Object.assign(live.current, softly(uv, all, own, soft));
      }
    } else {
      const i = way === 'face' ? faceAt(x, y) : edgeAt(x, y);
      if (i < 0) {
        if (add === 'set') changePick(way, [], 'set');
        return;
      }
      changePick(way, [way === 'face' ? mesh.faceKey[i] : edgeKeys(mesh)[i]], add);
    }
  };

  const moved = (e: React.PointerEvent) => {
    const [x, y] = place(e);
    if (ring.current) ring.current.style.translate = `${x}px ${y}px`;
    if (brush.move(toUv(x, y))) return;
    if (pan.current) {
      const p = pan.current;
      look.pan(x - p.x, y - p.y);
      pan.current = { x, y };
      return;
    }
    const b = box.current;
    if (b) {
      const rect = { x0: Math.min(b.x, x), y0: Math.min(b.y, y), x1: Math.max(b.x, x), y1: Math.max(b.y, y) };
      setDrawn(rect.x1 - rect.x0 > 3 || rect.y1 - rect.y0 > 3 ? rect : null);
      return;
    }
    const d = live.current;
    if (!d || !uv) return;
    const moved = dragged(d, uv, {
      from: toUv(d.x0, d.y0),
      to: toUv(x, y),
      // Ctrl lets go of what it snaps to.
      snap: e.ctrlKey ? 'nothing' : snap,
      texels,
      padding: seen.padding,
      near: 8 / square().side,
    });
    live.current = { ...d, uv: moved };
    redraw((n) => n + 1);
  };

  const commit = (faces: number[], at: Float32Array) => {
    if (!mesh) return;
    const face: number[] = [];
    const vertex: number[] = [];
    const places: number[] = [];
    // After a packing, the others that were placed by hand stay where that put them.
    const all =
      sheet === 'placed' && step?.values.repack
        ? new Set([...faces, ...Array.from(mesh.faceKey.keys()).filter((f) => isPlaced(mesh.faceKey[f]))])
        : faces;
    for (const f of all)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        face.push(mesh.faceKey[f]);
        vertex.push(mesh.vertexKey[mesh.cornerVertex[c]]);
        places.push(at[2 * c], at[2 * c + 1]);
      }
    const was = placedBy(bench.get().document, seen.placed);
    placeByHand({ face, vertex, uv: places }, `place ${++placings}`);
    session.settle();
    const now = placedBy(bench.get().document, seen.placed);
    if (now) since.current = alsoPlaced(since.current, was, now, face);
  };

  /** Islands of which a corner lies in a rectangle of the screen. */
  const pickWithin = (rect: Box, add: 'set' | 'add' | 'remove') => {
    if (!mesh || !uv || !islands) return;
    const [u0, v1] = toUv(rect.x0, rect.y0);
    const [u1, v0] = toUv(rect.x1, rect.y1);
    const faces = facesWithin(mesh, uv, islands.ofFace, { x0: u0, y0: v0, x1: u1, y1: v1 });
    changePick(
      'face',
      faces.map((f) => mesh.faceKey[f]),
      add,
    );
  };

  const up = (e: React.PointerEvent) => {
    pan.current = null;
    brush.end();
    if (aiming && drawn) {
      const [x0, y1] = toUv(drawn.x0, drawn.y0);
      const [x1, y0] = toUv(drawn.x1, drawn.y1);
      packWithin({ x0, y0, x1, y1 }, texels);
      setAiming(false);
      say('');
    } else if (box.current && drawn) pickWithin(drawn, box.current.add);
    box.current = null;
    setDrawn(null);
    const d = live.current;
    const [x, y] = place(e);
    live.current = null;
    if (d && Math.hypot(x - d.x0, y - d.y0) > 2) commit(d.faces, d.uv);
    else redraw((n) => n + 1);
  };

  const nudge = (e: React.KeyboardEvent) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
    const faces = way === 'island' ? pickedFaces() : [];
    if (!by || !mesh || !uv || faces.length === 0) return;
    e.preventDefault();
    e.stopPropagation();
    const at = uv.slice();
    for (const c of cornersOf(mesh, faces)) {
      at[2 * c] += by[0] / texels;
      at[2 * c + 1] += by[1] / texels;
    }
    commit(faces, at);
  };

  /** What is picked, for edits at once: how many islands, and which edges. */
  const chosen = (() => {
    const faces = way === 'island' || s.pick.kind === 'face' ? pickedFaces() : facesPicked();
    return {
      faces,
      islands: islands ? new Set(faces.map((x) => islands.ofFace[x])).size : 0,
      edges: s.pick.kind === 'edge' ? Array.from(picked) : [],
    };
  })();
  const edit = async (name: EditName) => {
    const { faces, edges } = chosen;
    try {
      const how = { name, faces, edges, texels, density: seen.density };
      const out = await session.crew?.askNow('sheetEdit', how);
      if (out) commit(Array.from(out.faces), out.uv);
      if (out?.told) say(out.told);
    } catch (e) {
      say((e as Error).message);
    }
  };

  const { relax, keepRelaxed } = useRelaxing({
    ...{ mesh, uv, ofFace: islands?.ofFace, kind: s.pick.kind, picked },
    commit: (faces, at) => commit(faces, at),
  });

  const pickFaulty = async (fault: Fault) => {
    const bound = Number(step?.values.stretch ?? 0) || 1.3;
    try {
      const found = (await session.crew?.askNow('sheetFaults', { fault, stretch: bound, texels })) ?? [];
      if (way !== 'face') choose('face');
      if (mesh)
        changePick(
          'face',
          found.map((x) => mesh.faceKey[x]),
          'set',
        );
      say(found.length === 0 ? 'Nothing lies so.' : `${found.length.toLocaleString('en')} faces picked.`);
    } catch (e) {
      say((e as Error).message);
    }
  };
  const draw = async (kind: 'svg' | 'png') => {
    try {
      const names = named.map(({ face, name }) => ({ face, name }));
      const o = { kind, size: texels, line: Math.max(1, texels / 768), filled: true, numbered: true, names };
      const bytes = await session.crew?.askNow('sheetDrawing', o);
      if (bytes)
        saveFile(`${piece?.name ?? 'layout'} layout.${kind}`, bytes, kind === 'svg' ? 'image/svg+xml' : 'image/png');
    } catch (e) {
      say((e as Error).message);
    }
  };

  const choose = (w: Way) => {
    setWay(w);
    setMode(w === 'island' || w === 'brush' ? 'face' : w);
  };
  const hasPlaced = pickedFaces().some((x) => mesh && isPlaced(mesh.faceKey[x]));
  const release =
    hasPlaced && mesh
      ? () => releaseIsland(new Set(pickedFaces().flatMap((x) => isPlaced(mesh.faceKey[x]) || [])))
      : undefined;
  const marks = (name: IslandMark) => {
    const pickNow = step?.values[name] as ElementPick | undefined;
    const on = new Set(pickNow?.keys);
    const faces = pickedFaces();
    if (!mesh || !islands || faces.length === 0) return undefined;
    const keys = faces.map((x) => mesh.faceKey[x]);
    const there = keys.some((k) => on.has(k));
    return { on: there, toggle: () => markIslands(name, keys, !there) };
  };
  // On a sheet that is shared what was placed stays as it is.
  const locked = sheet === 'placed' ? marks('locked') : undefined;
  const lock = locked && {
    on: locked.on,
    toggle: () => {
      // Where it lies now is where it stays.
      if (!locked.on && uv) commit(pickedFaces(), uv);
      locked.toggle();
    },
  };
  const stand = marks('upright');
  // A step before the sheet may be the one that is worked on.
  const ahead = !!piece && !!step && s.step !== step.id && !uv;
  const ways: [Way, string, React.ReactNode][] = [
    ['island', 'Island', <IconShape key="i" size={18} stroke={1.6} />],
    ['vertex', 'Vertex', <IconPoint key="v" size={18} stroke={1.6} />],
    ['edge', 'Edge', <IconLine key="e" size={18} stroke={1.6} />],
    ['face', 'Face', <IconPolygon key="f" size={18} stroke={1.6} />],
    ['brush', 'Brush', <IconBrush key="b" size={18} stroke={1.6} />],
  ];
  return (
    <div
      ref={frame}
      role="application"
      tabIndex={0}
      aria-label="Sheet"
      data-testid="sheet"
      data-theme-now={theme}
      className="relative h-full min-w-0 overflow-hidden border-l border-line bg-bench"
      onPointerDown={down}
      onPointerMove={moved}
      onPointerUp={up}
      onKeyDown={nudge}
      onContextMenu={(e) => e.preventDefault()}
    >
      <canvas ref={canvas} className="absolute inset-0 h-full w-full" aria-hidden="true" />
      {piece && step && <Suggestions piece={piece.id} step={step.id} />}
      {packing && <PackingNow fill={packing.fill} better={packing.best !== null} />}
      {relaxing && (
        <RelaxingPanel
          relaxing={relaxing}
          some={way !== 'island' && picked.length > 0}
          change={(how) => relax(relaxing.faces, how)}
          drop={() => void endRelaxing()}
          keep={keepRelaxed}
        />
      )}
      {way === 'brush' && (
        <div
          ref={ring}
          className="pointer-events-none absolute -ml-px -mt-px rounded-full border border-value"
          style={{
            width: 2 * brush.now.radius * square().side,
            height: 2 * brush.now.radius * square().side,
            left: -brush.now.radius * square().side,
            top: -brush.now.radius * square().side,
          }}
        />
      )}
      {projecting && (
        <ProjectingPanel
          projecting={projecting}
          keep={() => {
            const found = endProjecting();
            if (found?.now) commit([...found.now.faces], found.now.uv);
          }}
        />
      )}
      {drawn && (
        <div
          className="pointer-events-none absolute border border-value"
          style={{ left: drawn.x0, top: drawn.y0, width: drawn.x1 - drawn.x0, height: drawn.y1 - drawn.y0 }}
        />
      )}
      <SheetHead
        piece={piece}
        step={step}
        texels={texels}
        there={uv !== undefined}
        whole={look.whole}
        heat={heat}
        heatOf={heatOf}
        setHeatOf={setHeatOf}
        snap={snap}
        setSnap={setSnap}
        behind={behind.control}
        soft={way === 'vertex' ? { value: soft, set: setSoft } : undefined}
        brush={way === 'brush' ? brush : undefined}
        naming={way === 'island' && ofPicked.length > 0 ? named.filter((n) => ofPickedSet.has(n.face)) : undefined}
        release={release}
        shared={shared}
        figures={texels ? s.uv : null}
        kept={told}
      />
      {!uv && <NoSheet name={piece?.name} ahead={ahead ? step : undefined} />}
      <div
        className="strip sheet-strip absolute bottom-3.5 left-1/2 -translate-x-1/2"
        role="toolbar"
        aria-label="Sheet tools"
        onPointerDown={(e) => e.stopPropagation()}
      >
        {ways.map(([w, label, icon]) => (
          <button key={w} aria-pressed={way === w} title={`${label} on the sheet`} onClick={() => choose(w)}>
            {icon}
            {label}
          </button>
        ))}
        <span className="divider" />
        <button disabled={picked.length === 0} title="Cut seam (K)" onClick={() => markSeams('cut')}>
          <IconScissors size={18} stroke={1.6} />
          Cut
        </button>
        <button title="Unfold and pack anew (U)" disabled={!piece} onClick={unfold}>
          <IconFold size={18} stroke={1.6} />
          Unfold
        </button>
        <button title="Pack anew, with one density; shapes made by hand stay" disabled={!uv} onClick={packAll}>
          <IconLayoutGrid size={18} stroke={1.6} />
          Pack
        </button>
        <SheetMenu
          islands={chosen.islands}
          edges={chosen.edges.length}
          run={(name) => void edit(name)}
          pickFaulty={(fault) => void pickFaulty(fault)}
          draw={(kind) => void draw(kind)}
          there={uv !== undefined}
          release={release}
          packLonger={() => void packLonger()}
          within={{
            on: part !== undefined,
            toggle: () => {
              if (part) packWithin(null, texels);
              else {
                setAiming(true);
                say('Draw a rectangle on the sheet: islands are packed within it.');
              }
            },
          }}
          projectLive={() => beginProjecting(chosen.faces)}
          relaxLive={() => relax(chosen.faces, RELAXED)}
          lock={lock}
          stand={stand}
          finer={marks('finer')}
          coarser={marks('coarser')}
        />
        <button
          aria-pressed={keptNow}
          disabled={!uv}
          title={
            keptNow
              ? 'The layout is kept through changes before it. Press to have it laid out anew again'
              : 'Keep this layout: it follows the surface through changes before it'
          }
          onClick={() => void keepLayout(!keptNow)}
        >
          <IconPinned size={18} stroke={1.6} />
          Keep
        </button>
      </div>
    </div>
  );
}
