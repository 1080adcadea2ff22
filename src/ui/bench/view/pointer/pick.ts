import * as THREE from 'three';
import { faceNormal } from '../../../../core/mesh/normals';
import type { PickKind } from '../../../../core/mesh/picks';
import { changePick } from '../../actions';
import { pickPieces } from '../../pieceActions';
import { readUnder } from './reading';
import { bench } from '../../store';
import type { Under } from '../elements';
import { wordsOf } from '../words';
import type { MakePointerTool, PointerAt } from './define';

/** A drag from empty ground of more than this, in pixels, is a box. */
const BOX_FROM = 4;

function wayOf(p: PointerAt): 'set' | 'add' | 'remove' {
  if (p.shift) return 'add';
  return p.ctrl ? 'remove' : 'set';
}

const isLocked = (id: string) => bench.get().document?.pieces.find((p) => p.id === id)?.locked === true;

/** Points of a lasso are at least so far apart, in pixels. */
const LASSO_STEP = 3;

/** A brush as an outline. */
const roundOf = ({ x, y }: PointerAt, radius: number): [number, number][] =>
  Array.from({ length: 24 }, (_, i) => [
    x + radius * Math.cos((Math.PI * i) / 12),
    y + radius * Math.sin((Math.PI * i) / 12),
  ]);

/**
 * Clicks pick what is under them; a drag from empty ground picks in a box, with Alt in a lasso drawn from anywhere;
 * with the brush taken up whatever it passes over is picked.
 */
export const pick: MakePointerTool = (viewer, marks) => {
  let from: { x: number; y: number; onGround: boolean } | null = null;
  let boxing = false;
  let lasso: [number, number][] | null = null;
  let brushing = false;

  const keysAt = (mode: PickKind, indices: readonly number[]) =>
    indices.map((index) => viewer.elements.keyOf({ kind: mode, index, point: viewer.camera.target }));

  const pickLasso = (p: PointerAt) => {
    const { mode } = bench.get();
    const outline = lasso!;
    if (mode === 'piece')
      pickPieces(
        viewer.piecesIn(outline).filter((id) => !isLocked(id)),
        wayOf(p),
      );
    else changePick(mode, keysAt(mode, viewer.elements.within(outline, mode)), wayOf(p));
  };

  const paint = (p: PointerAt) => {
    const { mode, pickBrush } = bench.get();
    marks.brush([p.frameX, p.frameY], pickBrush ?? 0);
    if (mode === 'piece' || pickBrush === null) return;
    const found = viewer.elements.within(roundOf(p, pickBrush), mode);
    if (found.length > 0) changePick(mode, keysAt(mode, found), p.ctrl ? 'remove' : 'add');
  };

  const boxOf = (p: PointerAt) => ({
    x0: Math.min(from!.x, p.x),
    y0: Math.min(from!.y, p.y),
    x1: Math.max(from!.x, p.x),
    y1: Math.max(from!.y, p.y),
  });

  const pickBox = (p: PointerAt) => {
    const { width, height } = viewer.pane;
    const b = boxOf(p);
    const inside = {
      x0: Math.max(0, b.x0),
      y0: Math.max(0, b.y0),
      x1: Math.min(width, b.x1),
      y1: Math.min(height, b.y1),
    };
    const { mode } = bench.get();
    if (mode === 'piece') {
      const found = viewer.piecesInBox(inside).filter((id) => !isLocked(id));
      pickPieces(found, wayOf(p));
      return;
    }
    const { x0, y0, x1, y1 } = inside;
    const outline = [
      [x0, y0],
      [x1, y0],
      [x1, y1],
      [x0, y1],
    ] as const;
    changePick(mode, keysAt(mode, viewer.elements.within(outline, mode)), wayOf(p));
  };

  const wordsUnder = (kind: PickKind, index: number): string => {
    const { mesh, document } = bench.get();
    const toWorld = (p: [number, number, number]) => new THREE.Vector3(...p).applyMatrix4(viewer.ownWorld).toArray();
    return mesh ? wordsOf(mesh, kind, index, toWorld, document?.units ?? 'mm') : '';
  };

  const pickPiece = (under: Under | null, p: PointerAt) => {
    if (under?.piece && under.triangle !== undefined) {
      const [a, b, c] = viewer.layer.polygon(under.piece, under.triangle, under.copy);
      bench.set({ surface: b.clone().sub(a).cross(c.clone().sub(a)).normalize().toArray() });
    }
    const how = wayOf(p);
    if (under?.piece && !isLocked(under.piece)) {
      const again = how === 'add' && bench.get().picked.includes(under.piece);
      pickPieces([under.piece], again ? 'remove' : how);
    } else if (how === 'set') pickPieces([]);
  };

  /** A click on another piece goes to it; on the ground it picks nothing. */
  const pickBeside = (mode: PickKind, p: PointerAt) => {
    if (wayOf(p) !== 'set') return;
    const other = viewer.under(p.x, p.y, 'piece')?.piece;
    if (other && other !== bench.get().piece && !isLocked(other)) pickPieces([other]);
    else changePick(mode, [], 'set');
  };

  const pickElement = (under: Under, mode: PickKind, p: PointerAt) => {
    const { mesh, pick: now } = bench.get();
    if (under.kind === 'face' && mesh) {
      const own = new Float32Array(3);
      faceNormal(mesh, under.index, own, 0);
      const n = new THREE.Vector3().fromArray(own);
      bench.set({ surface: n.transformDirection(viewer.ownWorld).toArray() });
    }
    const key = viewer.elements.keyOf(under);
    const again = p.shift && now.kind === mode && now.keys.includes(key);
    changePick(mode, [key], again ? 'remove' : wayOf(p), [under.index]);
  };

  const clear = () => {
    marks.box(null);
    marks.lasso(null);
    from = null;
    lasso = null;
    brushing = false;
  };

  return {
    down(p) {
      if (p.button !== 0) return false;
      const { mode, pickBrush } = bench.get();
      if (pickBrush !== null && mode !== 'piece') {
        brushing = true;
        if (wayOf(p) === 'set') changePick(mode, [], 'set');
        paint(p);
        return true;
      }
      lasso = p.alt ? [[p.x, p.y]] : null;
      from = { x: p.x, y: p.y, onGround: !viewer.under(p.x, p.y, bench.get().mode) };
      boxing = false;
      return true;
    },
    move(p) {
      if (brushing) {
        paint(p);
        return;
      }
      if (lasso) {
        const [x, y] = lasso[lasso.length - 1];
        if (Math.hypot(p.x - x, p.y - y) < LASSO_STEP) return;
        lasso.push([p.x, p.y]);
        marks.lasso(lasso.map(([a, b]) => [a + viewer.pane.x, b + viewer.pane.y]));
        return;
      }
      if (!from) return;
      boxing ||= from.onGround && Math.hypot(p.x - from.x, p.y - from.y) > BOX_FROM;
      if (!boxing) return;
      const b = boxOf(p);
      const { x, y } = viewer.pane;
      marks.box({ x0: x + b.x0, y0: y + b.y0, x1: x + b.x1, y1: y + b.y1 });
    },
    up(p) {
      const { mode } = bench.get();
      if (brushing) {
        brushing = false;
        return;
      }
      if (lasso && lasso.length > 2) pickLasso(p);
      else if (boxing) pickBox(p);
      else {
        const under = viewer.under(p.x, p.y, mode);
        if (mode === 'piece') pickPiece(under, p);
        else if (under) pickElement(under, mode, p);
        else pickBeside(mode, p);
      }
      clear();
    },
    cancel: clear,
    hover(p) {
      const { pickBrush } = bench.get();
      marks.brush(pickBrush === null ? null : [p.frameX, p.frameY], pickBrush ?? 0);
      const under = viewer.under(p.x, p.y, bench.get().mode);
      viewer.hover(under);
      const hovered = under && under.kind !== 'piece' ? wordsUnder(under.kind, under.index) : '';
      if (hovered !== bench.get().hovered) bench.set({ hovered });
      readUnder(under?.point ?? null);
      return true;
    },
  };
};
