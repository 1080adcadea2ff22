import * as THREE from 'three';
import { applyPoint, fromMatrix4, type Affine } from '../../../../core/math/affine';
import { beginMove, dragMove, inHandMove, keep, setInHand, setProjecting } from '../../actions';
import { beginPlacing, inOwnSpace, onSurface, placeable, setPlacing } from '../../placing';
import { bench, handOf, type Handle, type PlaceValues, type ProjectingNow } from '../../store';
import type { Dragged, Part } from '../handles';
import { cameraFrame } from '../stand';
import type { Viewer } from '../viewer';
import type { MakePointerTool, PointerAt } from './define';

type Size3 = [number, number, number];

interface Drag {
  part: Part;
  x: number;
  y: number;
  /** The move it makes, once it has begun. */
  move: string | null;
  /** The frame of a projection, as it was. */
  frame: ProjectingNow | null;
  /** Whole pieces are placed, rather than elements moved. */
  placing: boolean;
  /** The value an arrow drives, as it was. */
  value: number;
  at: THREE.Vector3;
}

/** Snapping lands the handle on what is under the pointer, as far as its part may go there. */
function land(viewer: Viewer, d: Drag, p: PointerAt): Size3 | null {
  const k = bench.get().snap.kinds;
  if (!(k.vertex || k.middle || k.edge || k.pivot || k.texel)) return null;
  const without = d.placing ? new Set(handOf(bench.get(), 'placing')?.ids ?? placeable()) : undefined;
  const landed = viewer.snapAt(p.x, p.y, { ...k, face: false, grid: false }, without);
  viewer.showSnap(landed);
  return landed && alongPart(d.part, landed.at.clone().sub(d.at), viewer);
}

/** A world offset as far as a part of the handle may go along it, on the handle's own axes. */
function alongPart(part: Part, offset: THREE.Vector3, viewer: Viewer): Size3 {
  const { x, y, z } = viewer.handles.axes;
  const on: Size3 = [offset.dot(x), offset.dot(y), offset.dot(z)];
  return part === 'all' ? on : (on.map((v, i) => (part.includes('xyz'[i]) ? v : 0)) as Size3);
}

/**
 * A drag as the values of a move, in the space of the piece: what was turned or sized with its group moves as far as
 * the pointer.
 */
function elementValues(viewer: Viewer, kind: Handle, part: Part, move: Size3, angle: number, size: Size3) {
  const { soft: radius, falloff, reach, about, document, piece: id } = bench.get();
  const world = fromMatrix4(viewer.ownWorld.elements);
  const scale = Math.cbrt(Math.abs(viewer.ownWorld.determinant())) || 1;
  const soft = radius > 0 ? { soft: radius / scale, falloff, reach } : {};
  const own = inOwnSpace(world, cameraFrame(viewer));
  const pivot = document?.pieces.find((p) => p.id === id)?.place.pivot ?? [0, 0, 0];
  const [px, py, pz] =
    about === 'origin' ? applyPoint(fromMatrix4(viewer.ownWorld.clone().invert().elements), [0, 0, 0]) : pivot;
  const middle = about === 'pick' || about === 'each' ? { about } : { about: 'point', px, py, pz };
  if (kind === 'move') return { ...own.vector(move), ...soft };
  if (kind === 'size') return { x: size[0], y: size[1], z: size[2], ...middle, ...soft, ...own.frame };
  if (part === 'all') {
    const view = inOwnSpace(world, onSurface(viewer.handles.axisOf(part, viewer.camera).toArray()));
    return { axis: 'z', angle: view.mirrored ? -angle : angle, ...middle, ...soft, ...view.frame };
  }
  return { axis: part, angle: own.mirrored ? -angle : angle, ...middle, ...soft, ...own.frame };
}

function placeValues(kind: Handle, move: Size3, angle: number, size: Size3): Partial<PlaceValues> {
  if (kind === 'turn') return { angle };
  const [x, y, z] = kind === 'move' ? move : size;
  return { x, y, z };
}

/** The frame of a projection from where it was, in the space of the piece. */
function moveFrame(viewer: Viewer, from: ProjectingNow, kind: Handle, part: Part, to: Dragged): void {
  if (typeof from.frame !== 'object') return;
  const back = viewer.ownWorld.clone().invert();
  const { axes } = viewer.handles;
  if (kind === 'size') {
    setProjecting({ frame: from.frame, size: from.size.map((x, k) => Math.max(0.01, x * to.size[k])) as Size3 });
    return;
  }
  if (kind === 'move') {
    const way = new THREE.Vector3();
    (['x', 'y', 'z'] as const).forEach((k, i) => way.addScaledVector(axes[k], to.move[i]));
    way.applyMatrix3(new THREE.Matrix3().setFromMatrix4(back));
    const at = new THREE.Vector3(...from.frame.at).add(way).toArray();
    setProjecting({ frame: { ...from.frame, at } });
    return;
  }
  const axis = viewer.handles.axisOf(part, viewer.camera).transformDirection(back);
  const turn = (v: Size3): Size3 =>
    new THREE.Vector3(...v).applyAxisAngle(axis, viewer.ownWorld.determinant() < 0 ? -to.angle : to.angle).toArray();
  const { at, right, up, toward } = from.frame;
  setProjecting({ frame: { at, right: turn(right), up: turn(up), toward: turn(toward) } });
}

/**
 * Dragging a part of the handles: moves elements, places pieces, or drives the value that a tool's arrow stands for.
 */
export const handle: MakePointerTool = (viewer) => {
  let drag: Drag | null = null;

  const begin = (d: Drag, kind: Handle, frame: Affine): boolean => {
    const axis = viewer.handles.axisOf(d.part, viewer.camera).toArray();
    const about = bench.get().about === 'each' ? 'each' : viewer.handles.at.toArray();
    if (!beginPlacing(kind, frame, axis, about)) return false;
    d.move = 'placing';
    return true;
  };

  /** What the drag comes to, snapped to steps or to what is under the pointer. */
  const measure = (d: Drag, p: PointerAt, kind: Handle): Dragged => {
    const { snap } = bench.get();
    const on = snap.on !== p.ctrl;
    const step = (value: number, by: number) => (on && by > 0 ? Math.round(value / by) * by : value);
    const ways = p.x - d.x - (p.y - d.y);
    const amount = viewer.handles.measure(d.part, viewer.camera, viewer.rayAt(d.x, d.y), viewer.rayAt(p.x, p.y), ways);
    if (!on) viewer.showSnap(null);
    else if (kind === 'move') {
      const landed = land(viewer, d, p);
      if (landed) amount.move = landed;
      else if (snap.kinds.grid) amount.move = amount.move.map((m) => step(m, snap.move)) as Size3;
    }
    return {
      move: amount.move,
      angle: step(amount.angle, snap.turn),
      size: amount.size.map((q) => step(q, 0.05) || 0.05) as Size3,
    };
  };

  return {
    down(p) {
      if (p.button !== 0) return false;
      const part = viewer.handles.hit(viewer.camera, p.x, p.y, viewer.pane.width, viewer.pane.height);
      if (!part) return false;
      const arrow = viewer.handles.arrow;
      const { mode, mesh } = bench.get();
      drag = {
        part,
        x: p.x,
        y: p.y,
        move: null,
        frame: bench.get().projecting,
        placing: !arrow && (mode === 'piece' || !mesh),
        value: arrow ? Number(inHandMove()?.values[arrow.drives] ?? 0) : 0,
        at: viewer.handles.at.clone(),
      };
      return true;
    },
    move(p) {
      const d = drag;
      if (!d) return;
      const { arrow } = viewer.handles;
      const kind = bench.get().handle ?? 'move';
      const { move, angle, size } = measure(d, p, kind);
      if (arrow) {
        // The pointer goes in the world, the value in the piece's own space.
        setInHand({ [arrow.drives]: d.value + move[1] / arrow.worldPerOwn });
        return;
      }
      if (d.frame) {
        moveFrame(viewer, d.frame, kind, d.part, { move, angle, size });
        return;
      }
      const frame = cameraFrame(viewer);
      if (d.placing) {
        if (!d.move && !begin(d, kind, frame)) {
          drag = null;
          return;
        }
        setPlacing(placeValues(kind, move, angle, size)); // the values are of the whole drag
        return;
      }
      const values = elementValues(viewer, kind, d.part, move, angle, size);
      if (!d.move) d.move = beginMove(kind, values);
      else dragMove(d.move, kind, values);
    },
    up() {
      const arrow = viewer.handles.arrow;
      const frame = drag?.frame;
      drag = null;
      viewer.showSnap(null);
      if (!arrow && !frame) keep();
    },
    cancel() {
      drag = null;
      viewer.showSnap(null);
    },
    hover(p) {
      const hot = viewer.handles.hit(viewer.camera, p.x, p.y, viewer.pane.width, viewer.pane.height);
      if (viewer.handles.setHot(hot)) viewer.invalidate();
      if (hot) viewer.hover(null);
      return hot !== null;
    },
  };
};
