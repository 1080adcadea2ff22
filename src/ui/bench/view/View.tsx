'use client';
import { useEffect, useRef, useState } from 'react';
import * as THREE from 'three';
import { IDENTITY, applyPoint, fromMatrix4, type Triple } from '../../../core/math/affine';
import { resolve, verticesOf } from '../../../core/mesh/picks';
import { centreOf } from '../../../core/edit/transform';
import { faceNormals } from '../../../core/mesh/normals';
import { formatQuantity } from '../../../core/recipe/quantity';
import type { Pick } from '../../../core/mesh/picks';
import { withChildren, worlds } from '../../../document/pieces';
import { useTheme } from '../../parts/theme';
import {
  beginMove,
  changePick,
  dragMove,
  inHandMove,
  keep,
  pickWider,
  setInHand,
  viewer as viewerCommands,
} from '../actions';
import { importFiles } from '../gather/arrivals';
import { measureLines } from '../measure';
import { pickPieces, givePickCentre } from '../pieceActions';
import { beginPlacing, frameOf, inOwnSpace, onSurface, placeable, setPlacing } from '../placing';
import { addPoint, pointTool } from '../pointing';
import { bench, seenPieces, useBench, workedOn, type Pointed } from '../store';
import type { Dragged, Part } from './handles';
import { Actions, Labels, PaneNames, Tripod } from './Overlays';
import { Viewer, type DrawnLabel } from './viewer';

type Drag =
  | { kind: 'orbit' | 'pan'; x: number; y: number; moved: number }
  | { kind: 'point'; x0: number; y0: number }
  | { kind: 'box'; x0: number; y0: number }
  | { kind: 'click'; x0: number; y0: number; onGround: boolean }
  | {
      kind: 'handle';
      part: Part;
      x0: number;
      y0: number;
      move: string | null;
      placing: boolean;
      by: number;
      from: THREE.Vector3;
    };

const reader = globalThis as typeof globalThis & { glyptaView?: Viewer };

/** The view of the bench, and every way to point at things in it. */
export function View() {
  const canvas = useRef<HTMLCanvasElement>(null),
    frame = useRef<HTMLDivElement>(null),
    v = useRef<Viewer | null>(null),
    drag = useRef<Drag | null>(null);
  const [box, setBox] = useState<{ x0: number; y0: number; x1: number; y1: number } | null>(null);
  const [menu, setMenu] = useState<{ x: number; y: number } | null>(null);
  const [tripod, setTripod] = useState<[number, number][]>([]),
    [labels, setLabels] = useState<DrawnLabel[]>([]),
    [pointer, setPointer] = useState<[number, number]>([0, 0]);
  const space = useRef(false);
  const theme = useTheme();
  const s = useBench();
  const doc = s.document,
    worked = workedOn(s),
    piece = doc?.pieces.find((p) => p.id === s.piece);
  const seamStep =
    s.stage === 'unwrap' ? worked?.recipe.find((x) => x.id === s.step && x.kind === 'unwrap') : undefined;

  useEffect(() => {
    let viewer: Viewer;
    try {
      viewer = new Viewer(canvas.current!);
    } catch {
      bench.set({ say: 'This browser cannot draw in 3D (WebGL is off).' });
      return;
    }
    v.current = viewer;
    reader.glyptaView = viewer;
    const resized = new ResizeObserver(() => {
      const r = frame.current!.getBoundingClientRect();
      viewer.resize(r.width, r.height);
    });
    resized.observe(frame.current!);
    viewer.onDraw = (drawn) => {
      const m = viewer.camera.now.matrixWorldInverse.elements;
      setTripod([0, 1, 2].map((k) => [m[4 * k], -m[4 * k + 1]]));
      setLabels((had) => (had.length === 0 && drawn.length === 0 ? had : drawn));
    };
    viewerCommands.see = (all) => {
      const now = bench.get();
      if (all) {
        viewer.see(null);
        return;
      }
      if (now.mode === 'piece' || !now.mesh) {
        viewer.see(now.document ? withChildren(now.document, now.picked) : new Set());
        return;
      }
      const at = verticesOf(now.mesh, now.pick.kind, resolve(now.mesh, now.pick).indices);
      if (at.length === 0) {
        viewer.see(now.edited?.bounds ?? null);
        return;
      }
      const lo = [Infinity, Infinity, Infinity],
        hi = [-Infinity, -Infinity, -Infinity];
      for (const i of at)
        for (let k = 0; k < 3; k++) {
          const x = now.mesh.positions[3 * i + k];
          lo[k] = Math.min(lo[k], x);
          hi[k] = Math.max(hi[k], x);
        }
      viewer.see({ min: lo, max: hi });
    };
    viewerCommands.back = (way) => {
      if (viewer.back(way)) bench.set({ view: viewer.camera.view });
      else bench.set({ say: way < 0 ? 'This is the first view.' : 'This is the last view.' });
    };
    givePickCentre(() => {
      const { mesh, pick } = bench.get();
      const at = mesh && verticesOf(mesh, pick.kind, resolve(mesh, pick).indices);
      return mesh && at?.length ? centreOf(mesh, at) : null;
    });
    const key = (e: KeyboardEvent) => {
      if (e.code === 'Space' && !(e.target instanceof HTMLInputElement) && !(e.target instanceof HTMLButtonElement)) {
        space.current = e.type === 'keydown';
        if (e.type === 'keydown') e.preventDefault();
      }
    };
    window.addEventListener('keydown', key);
    window.addEventListener('keyup', key);
    return () => {
      resized.disconnect();
      viewer.dispose();
      v.current = null;
      window.removeEventListener('keydown', key);
      window.removeEventListener('keyup', key);
    };
  }, []);

  const fitted = useRef(false);
  useEffect(() => {
    const viewer = v.current;
    if (!viewer || !doc) return;
    viewer.show(s.shown, doc, worlds(doc), seenPieces(s), s.piece, s.edited);
    if (
      !fitted.current &&
      (doc.pieces.some((p) => p.kind === 'blueprint') || [...s.shown.values()].some((x) => x.buffers)) &&
      doc.pieces.filter((p) => p.kind === 'mesh' && p.visible && !p.link).every((p) => s.shown.has(p.id))
    ) {
      fitted.current = true;
      viewer.see(null);
    }
  }, [s.shown, doc, s.piece, s.edited, s.only]); // eslint-disable-line react-hooks/exhaustive-deps
  useEffect(() => {
    for (const t of s.trees) v.current?.keepTree(t);
  }, [s.trees]);
  useEffect(() => {
    v.current?.setEdited(s.mesh, s.edited);
  }, [s.mesh, s.edited]);
  useEffect(() => {
    v.current?.retheme();
  }, [theme]);
  useEffect(() => {
    if (doc) v.current?.setGround(doc.settings.grid, doc.settings.ground);
  }, [doc?.settings]); // eslint-disable-line react-hooks/exhaustive-deps
  useEffect(() => {
    v.current?.setPanes(s.four);
    if (v.current) bench.set({ view: v.current.camera.view, shading: v.current.pane.shading });
  }, [s.four]);
  useEffect(() => {
    v.current?.setShading(s.shading);
    const textures = !!v.current?.panes.some((p) => p.shading === 'materials');
    if (textures !== bench.get().textures) bench.set({ textures });
  }, [s.shading]);
  useEffect(() => {
    v.current?.mark(
      s.mode === 'piece' ? { kind: 'face', keys: [] } : s.pick,
      s.last,
      s.mode,
      seamStep ? (seamStep.values as { cut: Pick; hold: Pick }) : null,
      s.picked,
    );
  }, [s.pick, s.last, s.mode, s.mesh, seamStep, theme, s.shading, s.picked, s.shown, doc?.pieces]);
  useEffect(() => {
    const c = v.current;
    if (c && c.camera.view !== s.view) {
      c.begin();
      c.camera.view = s.view;
      c.camera.update();
      c.moved();
      c.invalidate();
    }
  }, [s.view]);
  useEffect(() => {
    if (!s.pointing) v.current?.showSnap(null);
  }, [s.pointing]);
  useEffect(() => {
    if (doc) v.current?.setMeasures(measureLines(doc, s.anchors, s.pointing, worlds(doc)));
  }, [doc, s.anchors, s.pointing]);

  // Handles stand in the middle of the pick, or at a piece's pivot; an extrusion in hand has one arrow along its way.
  const move = s.inHand ? inHandMove() : undefined;
  const axesNow = () => {
    const viewer = v.current,
      m = viewer?.camera.now.matrixWorld;
    const col = (k: number): Triple =>
      m ? [m.elements[4 * k], m.elements[4 * k + 1], m.elements[4 * k + 2]] : [0, 0, 0];
    return frameOf(m ? { right: col(0), up: col(1), back: col(2) } : null);
  };
  useEffect(() => {
    const viewer = v.current;
    if (!viewer || !doc) return;
    const f = axesNow(),
      axes = new THREE.Matrix4().set(f[0], f[1], f[2], 0, f[4], f[5], f[6], 0, f[8], f[9], f[10], 0, 0, 0, 0, 1),
      now = worlds(doc);
    if (s.pointing || !['shape', 'gather'].includes(s.stage)) {
      viewer.setHandles(null, null);
      return;
    }
    if (s.mode === 'piece' || !s.mesh) {
      const ids = placeable();
      if (!s.handle || ids.length === 0) {
        viewer.setHandles(null, null);
        return;
      }
      viewer.setHandles(s.handle, aboutPoint(ids), undefined, axes);
      return;
    }
    const mesh = s.mesh,
      own = fromMatrix4(viewer.ownWorld.elements),
      picked = resolve(mesh, s.pick);
    const at = picked.indices.length
      ? verticesOf(mesh, s.pick.kind, picked.indices)
      : Uint32Array.from({ length: mesh.vertexCount }, (_, i) => i);
    if (move?.tool === 'extrude' && s.inHand?.fresh && picked.indices.length) {
      const n = faceNormals(mesh, true),
        way: [number, number, number] = [0, 0, 0],
        along = move.values.along as string;
      if (along === 'normals') for (const i of picked.indices) for (let k = 0; k < 3; k++) way[k] += n[3 * i + k];
      else way['xyz'.indexOf(along)] = 1;
      const d = new THREE.Vector3(...(Math.hypot(...way) > 1e-12 ? way : [0, 1, 0])).transformDirection(
        viewer.ownWorld,
      );
      viewer.setHandles('along', applyPoint(own, centreOf(mesh, at)), d.toArray());
      return;
    }
    const centre =
      s.about === 'pivot' && piece
        ? applyPoint(now.get(piece.id) ?? IDENTITY, piece.place.pivot)
        : s.about === 'origin'
          ? ([0, 0, 0] as const)
          : at.length
            ? applyPoint(own, centreOf(mesh, at))
            : null;
    viewer.setHandles(
      s.handle,
      s.handle ? (s.handle === 'move' && at.length ? applyPoint(own, centreOf(mesh, at)) : centre) : null,
      undefined,
      axes,
    );
  }, [
    s.handle,
    s.pick,
    s.mesh,
    s.stage,
    s.inHand,
    move,
    s.mode,
    s.picked,
    s.axes,
    s.about,
    s.pointing,
    doc,
    s.surface,
    s.view,
  ]); // eslint-disable-line react-hooks/exhaustive-deps

  /** The point that pieces turn and size about. */
  const aboutPoint = (ids: readonly string[]): [number, number, number] => {
    const d = bench.get().document!,
      now = worlds(d);
    if (bench.get().about === 'origin') return [0, 0, 0];
    const pivots = ids.map((id) => {
      const p = d.pieces.find((x) => x.id === id)!;
      return applyPoint(now.get(id) ?? IDENTITY, p.place.pivot);
    });
    if (bench.get().about === 'pick' && v.current) {
      const b = v.current.layer.bounds(new Set(ids));
      if (!b.isEmpty()) return b.getCenter(new THREE.Vector3()).toArray();
    }
    return pivots[pivots.length - 1];
  };

  const place = (e: { clientX: number; clientY: number }): [number, number] => {
    const r = frame.current!.getBoundingClientRect();
    return [e.clientX - r.left, e.clientY - r.top];
  };

  /** The point a click means for the tool in hand. */
  const pointAt = (x: number, y: number, free: boolean): Pointed | null => {
    const viewer = v.current!,
      now = bench.get().pointing,
      t = now && pointTool(now.tool);
    if (!now || !t) return null;
    if (t.on === 'blueprint') {
      const h = viewer.planes.cast(viewer.rayAt(x, y), now.on ?? undefined);
      return h && { at: h.point.toArray(), piece: h.piece, kind: 'free', pixel: h.pixel, uv: [h.u, h.v] };
    }
    const kinds = free
        ? { grid: false, vertex: false, middle: false, edge: false, face: true, pivot: false, texel: false }
        : bench.get().snap.kinds,
      snapped = viewer.snapAt(x, y, kinds);
    viewer.showSnap(snapped);
    return (
      snapped && {
        at: snapped.at.toArray(),
        piece: snapped.piece,
        kind:
          snapped.kind === 'middle'
            ? 'edge'
            : snapped.kind === 'grid' || snapped.kind === 'texel'
              ? 'free'
              : snapped.kind,
      }
    );
  };

  /** The tool in hand as it would be with a point here. */
  const preview = (viewer: Viewer, x: number, y: number, free: boolean) => {
    const now = bench.get(),
      p = pointAt(x, y, free);
    if (now.document && now.pointing && p && now.pointing.points.length)
      viewer.setMeasures(
        measureLines(
          now.document,
          now.anchors,
          { ...now.pointing, points: [...now.pointing.points, p] },
          worlds(now.document),
        ),
      );
  };

  const down = (e: React.PointerEvent) => {
    const viewer = v.current;
    if (!viewer) return;
    setMenu(null);
    (document.activeElement as HTMLElement | null)?.blur?.();
    const entered = viewer.enter(...place(e)),
      [x, y] = entered.at;
    if (entered.changed) bench.set({ view: viewer.camera.view, shading: viewer.pane.shading });
    frame.current!.setPointerCapture(e.pointerId);
    viewer.begin();
    if (e.button === 1 || (e.button === 2 && e.shiftKey) || (e.button === 0 && space.current)) {
      drag.current = { kind: 'pan', x, y, moved: 0 };
      e.preventDefault();
      return;
    }
    if (e.button === 2) {
      drag.current = { kind: 'orbit', x, y, moved: 0 };
      return;
    }
    if (e.button !== 0) return;
    if (s.pointing) {
      const p = pointAt(x, y, e.ctrlKey);
      if (p) {
        drag.current = { kind: 'point', x0: x, y0: y };
        addPoint(p);
      }
      return;
    }
    const part = viewer.handles.hit(viewer.camera, x, y, viewer.pane.width, viewer.pane.height);
    if (part) {
      const along = viewer.handles.kind === 'along';
      drag.current = {
        kind: 'handle',
        part,
        x0: x,
        y0: y,
        move: null,
        placing: !along && (s.mode === 'piece' || !s.mesh),
        by: along ? Number(inHandMove()?.values.by ?? 0) : 0,
        from: viewer.handles.at.clone(),
      };
      return;
    }
    drag.current = { kind: 'click', x0: x, y0: y, onGround: !viewer.under(x, y, s.mode) };
  };

  const hovered = useRef(0);
  const moved = (e: React.PointerEvent) => {
    const viewer = v.current;
    if (!viewer) return;
    const d = drag.current,
      [fx, fy] = place(e),
      [x, y] = d ? viewer.inPane(fx, fy) : viewer.enter(fx, fy).at;
    if (!d) {
      // Hovering asks rays of large pieces: at most once a frame.
      cancelAnimationFrame(hovered.current);
      hovered.current = requestAnimationFrame(() => {
        if (!v.current) return;
        if (viewer.camera.view !== bench.get().view || viewer.pane.shading !== bench.get().shading)
          bench.set({ view: viewer.camera.view, shading: viewer.pane.shading });
        if (s.pointing) {
          preview(viewer, x, y, e.ctrlKey);
          return;
        }
        if (s.wall !== null) {
          const w = viewer.wallAt(x, y);
          setPointer([fx, fy]);
          bench.set({ wall: w?.thickness ?? 0 });
          return;
        }
        const hot = viewer.handles.hit(viewer.camera, x, y, viewer.pane.width, viewer.pane.height);
        if (viewer.handles.setHot(hot)) viewer.invalidate();
        viewer.hover(hot ? null : viewer.under(x, y, s.mode));
      });
      return;
    }
    if (d.kind === 'point') {
      preview(viewer, x, y, e.ctrlKey);
      return;
    }
    if (d.kind === 'orbit' || d.kind === 'pan') {
      const dx = x - d.x,
        dy = y - d.y;
      d.moved += Math.abs(dx) + Math.abs(dy);
      if (d.moved > 3) {
        if (d.kind === 'orbit') {
          viewer.camera.orbit(dx, dy);
          if (s.view !== viewer.camera.view) bench.set({ view: viewer.camera.view });
        } else viewer.camera.pan(dx, dy);
        viewer.moved();
        viewer.invalidate();
      }
      d.x = x;
      d.y = y;
    } else if (d.kind === 'click') {
      if (d.onGround && Math.hypot(x - d.x0, y - d.y0) > 4) drag.current = { kind: 'box', x0: d.x0, y0: d.y0 };
    } else if (d.kind === 'box') {
      const p = viewer.pane;
      setBox({
        x0: p.x + Math.min(d.x0, x),
        y0: p.y + Math.min(d.y0, y),
        x1: p.x + Math.max(d.x0, x),
        y1: p.y + Math.max(d.y0, y),
      });
    } else if (d.kind === 'handle') dragHandle(viewer, d, x, y, e.ctrlKey);
  };

  const dragHandle = (viewer: Viewer, d: Extract<Drag, { kind: 'handle' }>, x: number, y: number, ctrl: boolean) => {
    const on = s.snap.on !== ctrl,
      step = (value: number, by: number) => (on && by > 0 ? Math.round(value / by) * by : value);
    const amount = viewer.handles.measure(
      d.part,
      viewer.camera,
      viewer.rayAt(d.x0, d.y0),
      viewer.rayAt(x, y),
      x - d.x0 - (y - d.y0),
    );
    const kind = s.handle ?? 'move',
      frameAt = axesNow();
    if (viewer.handles.kind === 'along') {
      setInHand({ by: step(d.by + amount.move[1], s.snap.move) });
      return;
    }
    if (on && kind === 'move') {
      // Land on what is under the pointer, as far as the handle's part may go there.
      const k = s.snap.kinds,
        landed =
          k.vertex || k.middle || k.edge || k.pivot || k.texel
            ? viewer.snapAt(
                x,
                y,
                { ...k, face: false, grid: false },
                d.placing ? new Set(bench.get().placing?.ids ?? placeable()) : undefined,
              )
            : null;
      viewer.showSnap(landed);
      if (landed) amount.move = along(d.part, landed.at.clone().sub(d.from), viewer);
      else if (k.grid) amount.move = amount.move.map((m) => step(m, s.snap.move)) as [number, number, number];
    } else if (!on) viewer.showSnap(null);
    const angle = step(amount.angle, s.snap.turn),
      size = amount.size.map((q) => step(q, 0.05) || 0.05) as [number, number, number];
    if (d.placing) {
      if (!d.move) {
        const axis = viewer.handles.axisOf(d.part, viewer.camera).toArray();
        if (!beginPlacing(kind, frameAt, axis, s.about === 'each' ? 'each' : viewer.handles.at.toArray())) {
          drag.current = null;
          return;
        }
        d.move = 'placing';
      }
      // The handle stays where the drag began: the values are of the whole drag.
      setPlacing(
        kind === 'move'
          ? { x: amount.move[0], y: amount.move[1], z: amount.move[2] }
          : kind === 'turn'
            ? { angle }
            : { x: size[0], y: size[1], z: size[2] },
      );
      return;
    }
    const values = elementValues(viewer, kind, d.part, amount, angle, size);
    if (!d.move) d.move = beginMove(kind, values);
    else dragMove(d.move, kind, values);
  };

  /** A drag as the values of a move, in the space of the piece. */
  const elementValues = (
    viewer: Viewer,
    kind: 'move' | 'turn' | 'size',
    part: Part,
    amount: Dragged,
    angle: number,
    size: [number, number, number],
  ): Record<string, unknown> => {
    const world = fromMatrix4(viewer.ownWorld.elements),
      soft =
        s.soft > 0
          ? { soft: s.soft / (Math.cbrt(Math.abs(viewer.ownWorld.determinant())) || 1), falloff: s.falloff }
          : {};
    const own = inOwnSpace(world, axesNow()),
      origin =
        s.about === 'origin'
          ? applyPoint(fromMatrix4(viewer.ownWorld.clone().invert().elements), [0, 0, 0])
          : (piece?.place.pivot ?? [0, 0, 0]);
    const about =
      s.about === 'pick'
        ? { about: 'pick' }
        : s.about === 'each'
          ? { about: 'each' }
          : { about: 'point', px: origin[0], py: origin[1], pz: origin[2] };
    if (kind === 'move') return { ...own.vector(amount.move), ...soft };
    if (kind === 'size') return { x: size[0], y: size[1], z: size[2], ...about, ...soft, ...own.frame };
    if (part === 'all') {
      const view = inOwnSpace(world, onSurface(viewer.handles.axisOf(part, viewer.camera).toArray()));
      return { axis: 'z', angle: view.mirrored ? -angle : angle, ...about, ...soft, ...view.frame };
    }
    return { axis: part, angle: own.mirrored ? -angle : angle, ...about, ...soft, ...own.frame };
  };

  const up = (e: React.PointerEvent) => {
    const viewer = v.current,
      d = drag.current;
    drag.current = null;
    if (!viewer || !d) return;
    const [x, y] = viewer.inPane(...place(e)),
      how = e.shiftKey ? 'add' : e.ctrlKey || e.metaKey ? 'remove' : 'set';
    const locked = (id: string) => doc?.pieces.find((p) => p.id === id)?.locked;
    if (d.kind === 'point') {
      // Dragged from the first point to the second.
      const now = bench.get().pointing,
        p = now && now.points.length > 0 && Math.hypot(x - d.x0, y - d.y0) > 8 ? pointAt(x, y, e.ctrlKey) : null;
      if (p) addPoint(p);
      return;
    }
    if (d.kind === 'box') {
      const p = viewer.pane,
        b = {
          x0: Math.max(0, Math.min(d.x0, x)),
          y0: Math.max(0, Math.min(d.y0, y)),
          x1: Math.min(p.width, Math.max(d.x0, x)),
          y1: Math.min(p.height, Math.max(d.y0, y)),
        };
      setBox(null);
      if (s.mode === 'piece') {
        pickPieces(
          viewer.piecesInBox(b).filter((id) => !locked(id)),
          how,
        );
        return;
      }
      const kind = s.mode;
      changePick(
        kind,
        viewer.inBox(b, kind).map((index) => viewer.keyOf({ kind, index, point: viewer.camera.target })),
        how,
      );
    } else if (d.kind === 'click') {
      const under = viewer.under(x, y, s.mode);
      if (s.mode === 'piece') {
        if (under?.piece && under.triangle !== undefined) {
          const [a, b, c] = viewer.layer.polygon(under.piece, under.triangle),
            n = b.clone().sub(a).cross(c.clone().sub(a)).normalize();
          bench.set({ surface: n.toArray() });
        }
        if (under?.piece && !locked(under.piece))
          pickPieces([under.piece], how === 'add' && s.picked.includes(under.piece) ? 'remove' : how);
        else if (how === 'set') pickPieces([]);
        return;
      }
      if (!under) {
        // A click on another piece goes to it; on the ground it picks nothing.
        const other = viewer.under(x, y, 'piece');
        if (other?.piece && other.piece !== s.piece && how === 'set' && !locked(other.piece)) pickPieces([other.piece]);
        else if (how === 'set') changePick(s.mode, [], 'set');
        return;
      }
      if (under.kind === 'face' && s.mesh) {
        const n = faceNormals(s.mesh),
          k = 3 * under.index;
        bench.set({
          surface: new THREE.Vector3(n[k], n[k + 1], n[k + 2]).transformDirection(viewer.ownWorld).toArray(),
        });
      }
      const key = viewer.keyOf(under),
        had = s.pick.kind === s.mode && s.pick.keys.includes(key);
      changePick(s.mode, [key], how === 'add' && had ? 'remove' : how);
    } else if (d.kind === 'handle') {
      viewer.showSnap(null);
      if (viewer.handles.kind !== 'along') keep();
    } else if (d.kind === 'orbit' && d.moved <= 3) setMenu({ x: place(e)[0], y: place(e)[1] });
    else if (d.kind === 'orbit' && seamStep)
      viewer.mark(s.pick, s.last, s.mode, seamStep.values as { cut: Pick; hold: Pick }, s.picked);
  };

  const wheel = (e: WheelEvent) => {
    e.preventDefault();
    const viewer = v.current;
    if (!viewer) return;
    const [x, y] = viewer.enter(...place(e)).at;
    viewer.begin();
    viewer.camera.zoom(
      Math.exp(e.deltaY * (e.ctrlKey ? 0.01 : 0.0012)),
      (x / viewer.pane.width) * 2 - 1,
      1 - (y / viewer.pane.height) * 2,
    );
    viewer.moved();
    viewer.invalidate();
  };
  useEffect(() => {
    const el = frame.current!;
    el.addEventListener('wheel', wheel, { passive: false });
    return () => el.removeEventListener('wheel', wheel);
  });

  const double = (e: React.MouseEvent) => {
    const viewer = v.current;
    if (!viewer || s.pointing) return;
    const under = viewer.under(...viewer.enter(...place(e)).at, s.mode);
    if (under && s.mode !== 'piece') pickWider(s.mode, under.index, e.shiftKey);
  };

  const background = doc?.settings.background ?? 'dawn';
  return (
    <div
      ref={frame}
      className={`view-ground ground-${background} relative h-full min-w-0 overflow-hidden ${s.pointing ? 'cursor-crosshair' : ''}`}
      data-testid="view"
      onPointerDown={down}
      onPointerMove={moved}
      onPointerUp={up}
      onPointerLeave={() => v.current?.hover(null)}
      onPointerCancel={() => {
        drag.current = null;
        setBox(null);
      }}
      onDoubleClick={double}
      onContextMenu={(e) => e.preventDefault()}
      onDragOver={(e) => {
        if (e.dataTransfer.types.includes('glypta/item')) e.preventDefault();
      }}
      onDrop={(e) => {
        const item = e.dataTransfer.getData('glypta/item');
        if (item) {
          e.preventDefault();
          e.stopPropagation();
          void import('../library').then((l) => l.insertItem(item));
        } else if (e.dataTransfer.files.length && e.altKey) {
          e.preventDefault();
          e.stopPropagation();
          void importFiles([...e.dataTransfer.files], true);
        }
      }}
    >
      <canvas
        ref={canvas}
        className="absolute inset-0 h-full w-full outline-none"
        role="img"
        tabIndex={0}
        aria-label={`${s.four ? 'Four views' : s.view === 'Persp' ? 'Perspective view' : `${s.view} view`} of ${doc?.name ?? 'the project'}`}
      />
      {s.four && (
        <>
          <span className="pointer-events-none absolute inset-x-0 top-1/2 h-px bg-line" />
          <span className="pointer-events-none absolute inset-y-0 left-1/2 w-px bg-line" />
        </>
      )}
      <PaneNames viewer={v.current} />
      <Tripod axes={tripod} />
      <Labels labels={labels} />
      {s.wall !== null && s.wall > 0 && (
        <span
          className="num pointer-events-none absolute z-10 rounded bg-tool px-1.5 py-0.5 text-[11px]"
          style={{ left: pointer[0] + 14, top: pointer[1] + 10, background: 'var(--tool)', color: 'var(--tool-ink)' }}
        >
          wall {formatQuantity(s.wall, 'length', doc?.units)}
        </span>
      )}
      {box && (
        <div
          className="pointer-events-none absolute border border-value bg-wash/40"
          style={{ left: box.x0, top: box.y0, width: box.x1 - box.x0, height: box.y1 - box.y0 }}
        />
      )}
      {menu && <Actions at={menu} mode={s.mode} close={() => setMenu(null)} />}
      {s.ready && doc?.pieces.every((p) => p.kind === 'group') && (
        <p className="quiet absolute inset-0 m-auto h-16 w-80 text-center">
          Nothing here yet. Begin with a box: press <kbd className="num rounded border border-line px-1">/</kbd> or use
          “New piece” on the left. Or drop models, drawings and pictures here.
        </p>
      )}
    </div>
  );
}

/** A world offset as far as a part of the handle may go along it, on the handle's own axes. */
function along(part: Part, offset: THREE.Vector3, viewer: Viewer): [number, number, number] {
  const { x, y, z } = viewer.handles.axes,
    all: [number, number, number] = [offset.dot(x), offset.dot(y), offset.dot(z)];
  return all.map((a, k) => (part === 'all' || part.includes('xyz'[k]) ? a : 0)) as [number, number, number];
}
