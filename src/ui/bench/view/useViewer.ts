'use client';
/** The viewer joined to the bench's state: what changes there is passed on, each part only when it changes. */
import * as THREE from 'three';
import { useEffect, useRef, useState, type RefObject } from 'react';
import { centreOf } from '../../../core/edit/transform';
import { applyPoint, IDENTITY } from '../../../core/math/affine';
import { resolve, verticesOf, type ElementPick } from '../../../core/mesh/picks';
import { boundsOfPoints } from '../../../core/mesh/bounds';
import { worlds } from '../../../document/placing';
import { withChildren } from '../../../document/tree';
import { useTheme } from '../../parts/theme';
import { measureLines } from '../measure';
import { givePickCentre } from '../pieceActions';
import { bench, handOf, say, seenPieces, useBench, workedOn, type BenchState } from '../store';
import { standHandles } from './stand';
import type { MarkedEdges } from './pickmarks';
import { Viewer, type DrawnLabel } from './viewer';
import { viewer as ways } from './ways';

/** For tests and for measuring from outside. */
const shared = globalThis as typeof globalThis & { glyptaView?: Viewer };

export interface Drawn {
  viewer: Viewer | null;
  /** The three axes on the screen. */
  tripod: [number, number][];
  labels: DrawnLabel[];
}

const NOTHING: ElementPick = { kind: 'face', keys: [] };

export function useViewer(canvas: RefObject<HTMLCanvasElement | null>, frame: RefObject<HTMLDivElement | null>): Drawn {
  const [viewer, setViewer] = useState<Viewer | null>(null);
  const [tripod, setTripod] = useState<[number, number][]>([]);
  const [labels, setLabels] = useState<DrawnLabel[]>([]);
  useEffect(() => {
    let made: Viewer;
    try {
      made = new Viewer(canvas.current!);
    } catch {
      say('This browser cannot draw in 3D (WebGL is off).');
      return;
    }
    const resized = new ResizeObserver(() => {
      const r = frame.current!.getBoundingClientRect();
      made.resize(r.width, r.height);
    });
    resized.observe(frame.current!);
    made.onDraw = (drawn) => {
      const m = made.camera.now.matrixWorldInverse.elements;
      setTripod([0, 1, 2].map((k) => [m[4 * k], -m[4 * k + 1]]));
      setLabels((had) => (had.length === 0 && drawn.length === 0 ? had : drawn));
    };
    shared.glyptaView = made;
    giveWays(made);
    setViewer(made);
    return () => {
      resized.disconnect();
      made.dispose();
      setViewer(null);
    };
  }, [canvas, frame]);
  usePieces(viewer);
  useLooks(viewer);
  usePick(viewer);
  useHandles(viewer);
  return { viewer, tripod, labels };
}

/** What commands ask of the viewer. */
function giveWays(viewer: Viewer): void {
  ways.see = (all) => viewer.see(all ? null : whatIsPicked(bench.get()));
  ways.back = (way) => {
    if (viewer.back(way)) bench.set({ view: viewer.camera.view });
    else say(way < 0 ? 'This is the first view.' : 'This is the last view.');
  };
  ways.picture = () => viewer.picture();
  ways.way = () => viewer.camera.forward().toArray();
  ways.seen = () => {
    const back = viewer.ownWorld.clone().invert();
    const column = (k: number) =>
      new THREE.Vector3().setFromMatrixColumn(viewer.camera.now.matrixWorld, k).transformDirection(back).toArray();
    return { right: column(0), up: column(1), toward: column(2) };
  };
  ways.pixel = () => viewer.camera.pixel(viewer.camera.target);
  ways.eye = () => viewer.camera.now.getWorldPosition(viewer.camera.target.clone()).toArray();
  givePickCentre(() => {
    const { mesh, pick } = bench.get();
    const at = mesh && verticesOf(mesh, pick.kind, resolve(mesh, pick).indices);
    return mesh && at?.length ? centreOf(mesh, at) : null;
  });
}

function whatIsPicked({ mode, mesh, pick, edited, document, picked }: BenchState): Parameters<Viewer['see']>[0] {
  if (mode === 'piece' || !mesh) return document ? withChildren(document, picked) : new Set();
  return (
    boundsOfPoints(mesh.positions, verticesOf(mesh, pick.kind, resolve(mesh, pick).indices)) ?? edited?.bounds ?? null
  );
}

/** Pieces, the one that is worked on, blueprints and measures. */
function usePieces(viewer: Viewer | null): void {
  const doc = useBench((s) => s.document);
  const shown = useBench((s) => s.shown);
  const piece = useBench((s) => s.piece);
  const edited = useBench((s) => s.edited);
  const mesh = useBench((s) => s.mesh);
  const only = useBench((s) => s.only);
  const trees = useBench((s) => s.trees);
  const anchors = useBench((s) => s.anchors);
  const pointing = useBench((s) => handOf(s, 'pointing'));
  const fitted = useRef(false);
  useEffect(() => {
    if (!viewer || !doc) return;
    viewer.show(shown, doc, worlds(doc), seenPieces({ document: doc, only }), piece, edited);
    if (fitted.current) return;
    const some = doc.pieces.some((p) => p.kind === 'blueprint') || [...shown.values()].some((x) => x.buffers);
    const meshes = doc.pieces.filter((p) => p.kind === 'mesh' && p.visible && !p.link);
    if (some && meshes.every((p) => shown.has(p.id))) {
      fitted.current = true;
      viewer.see(null);
    }
  }, [viewer, shown, doc, piece, edited, only]);
  useEffect(() => {
    for (const t of trees) viewer?.keepTree(t);
  }, [viewer, trees]);
  useEffect(() => viewer?.setEdited(mesh, edited), [viewer, mesh, edited]);
  const lit = useBench((s) => s.lit ?? s.step);
  useEffect(() => {
    if (!viewer || !doc || piece === null) return;
    const p = doc.pieces.find((x) => x.id === piece);
    const report = shown.get(p?.link ?? piece)?.reports.find((r) => r.step === lit);
    const at = report?.warnings.flatMap((w) => w.at ?? []) ?? [];
    const world = at.length > 0 ? (worlds(doc).get(piece) ?? IDENTITY) : IDENTITY;
    viewer.setLost(
      Array.from({ length: at.length / 3 }, (_, i) => applyPoint(world, [at[3 * i], at[3 * i + 1], at[3 * i + 2]])),
    );
  }, [viewer, shown, doc, piece, lit]);
  useEffect(() => {
    if (viewer && doc) viewer.setMeasures(measureLines(doc, anchors, pointing, worlds(doc)));
    if (!pointing) viewer?.showSnap(null);
  }, [viewer, doc, anchors, pointing]);
}

/** Theme, ground, panes, shading, and from where it is seen. */
function useLooks(viewer: Viewer | null): void {
  const theme = useTheme();
  const settings = useBench((s) => s.document?.settings);
  const four = useBench((s) => s.four);
  const shading = useBench((s) => s.shading);
  const view = useBench((s) => s.view);
  useEffect(() => viewer?.retheme(), [viewer, theme]);
  useEffect(() => {
    if (settings) viewer?.setGround(settings.grid, settings.ground);
  }, [viewer, settings]);
  useEffect(() => {
    if (!viewer) return;
    viewer.setPanes(four);
    bench.set({ view: viewer.camera.view, shading: viewer.pane.shading });
  }, [viewer, four]);
  useEffect(() => {
    if (!viewer) return;
    viewer.setShading(shading);
    const textures = viewer.panes.some((p) => p.shading === 'materials');
    if (textures !== bench.get().textures) bench.set({ textures });
  }, [viewer, shading]);
  const through = useBench((s) => s.through);
  useEffect(() => {
    if (viewer) viewer.elements.through = through;
  }, [viewer, through]);
  useEffect(() => {
    if (!viewer || viewer.camera.view === view) return;
    viewer.begin();
    viewer.camera.view = view;
    viewer.camera.update();
    viewer.moved();
    viewer.invalidate();
  }, [viewer, view]);
}

/** What is picked, and seams while they are worked on. */
function usePick(viewer: Viewer | null): void {
  const theme = useTheme();
  const pick = useBench((s) => s.pick);
  const last = useBench((s) => s.last);
  const mode = useBench((s) => s.mode);
  const mesh = useBench((s) => s.mesh);
  const picked = useBench((s) => s.picked);
  const shown = useBench((s) => s.shown);
  const shading = useBench((s) => s.shading);
  const pieces = useBench((s) => s.document?.pieces);
  const seams = useBench((s) => {
    const recipe = workedOn(s)?.recipe ?? [];
    const at = recipe.findIndex((x) => x.id === s.step);
    if (s.stage === 'unwrap' && recipe[at]?.kind === 'unwrap') return recipe[at].values as MarkedEdges;
    const next =
      s.stage === 'shape' && s.mode !== 'piece' ? recipe.slice(at + 1).find((x) => x.kind === 'subdivide') : null;
    return next?.values as MarkedEdges | undefined;
  });
  const dotted = useBench((s) => s.dotted);
  useEffect(
    () =>
      viewer?.mark(
        mode === 'piece' ? NOTHING : pick,
        last,
        mode,
        dotted ? { ...seams, dotted } : (seams ?? null),
        picked,
      ),
    [viewer, pick, last, mode, mesh, seams, dotted, theme, shading, picked, shown, pieces],
  );
}

function useHandles(viewer: Viewer | null): void {
  const handle = useBench((s) => s.handle);
  const pick = useBench((s) => s.pick);
  const mesh = useBench((s) => s.mesh);
  const stage = useBench((s) => s.stage);
  const hand = useBench((s) => s.hand);
  const mode = useBench((s) => s.mode);
  const picked = useBench((s) => s.picked);
  const axes = useBench((s) => s.axes);
  const about = useBench((s) => s.about);
  const surface = useBench((s) => s.surface);
  const view = useBench((s) => s.view);
  const doc = useBench((s) => s.document);
  const projecting = useBench((s) => s.projecting);
  useEffect(() => {
    if (viewer) standHandles(viewer);
  }, [viewer, projecting, handle, pick, mesh, stage, hand, mode, picked, axes, about, surface, view, doc]);
}
