import { worlds } from '../../../../document/placing';
import { measureLines } from '../../measure';
import { addPoint, finish, pointTool, type PointTool } from '../../pointing';
import { bench, handOf, type Pointed, type SnapKinds } from '../../store';
import type { Viewer } from '../viewer';
import type { MakePointerTool, PointerAt } from './define';

/** With Ctrl, and where one draws by dragging, a point lies on the surface, wherever the pointer is. */
const FREE: SnapKinds = {
  grid: false,
  vertex: false,
  middle: false,
  edge: false,
  face: true,
  pivot: false,
  texel: false,
};
/** What runs along edges goes from vertex to vertex. */
const VERTICES: SnapKinds = { ...FREE, vertex: true };
const AS_KIND = { middle: 'edge', grid: 'free', texel: 'free' } as const;
/** A drag of more than this, in pixels, sets the second point where it ends. */
const DRAGGED = 8;
/** Points of a drag are so far apart, in pixels. */
const SAMPLED = 10;

function kindsFor(tool: PointTool, free: boolean): SnapKinds {
  if (tool.live) return VERTICES;
  return free || tool.drags ? FREE : bench.get().snap.kinds;
}

/** The point a click means for the tool in hand. */
function pointAt(viewer: Viewer, p: PointerAt): Pointed | null {
  const hand = handOf(bench.get(), 'pointing');
  const tool = hand && pointTool(hand.tool);
  if (!hand || !tool) return null;
  if (tool.on === 'blueprint') {
    const h = viewer.planes.cast(viewer.rayAt(p.x, p.y), hand.on ?? undefined);
    return h && { at: h.point.toArray(), piece: h.piece, kind: 'free', pixel: h.pixel, uv: [h.u, h.v] };
  }
  const snapped = viewer.snapAt(p.x, p.y, kindsFor(tool, p.ctrl));
  viewer.showSnap(snapped);
  if (!snapped) return null;
  const kind = AS_KIND[snapped.kind as keyof typeof AS_KIND] ?? (snapped.kind as Pointed['kind']);
  return { at: snapped.at.toArray(), piece: snapped.piece, kind };
}

/** Tools that are worked by clicking points: tape, angle, level, stations, fits … */
export const points: MakePointerTool = (viewer) => {
  let from: PointerAt | null = null;
  /** Where a drag set its last point. */
  let last: PointerAt | null = null;
  const drags = (): boolean => {
    const hand = handOf(bench.get(), 'pointing');
    return hand !== null && pointTool(hand.tool)?.drags === true;
  };
  /** The tool in hand as it would be with a point here. */
  const preview = (p: PointerAt) => {
    const { document, anchors } = bench.get();
    const point = pointAt(viewer, p);
    const hand = handOf(bench.get(), 'pointing');
    if (!document || !hand || !point || hand.points.length === 0) return;
    const live = pointTool(hand.tool)?.live;
    if (live) {
      live([...hand.points, point]);
      return;
    }
    viewer.setMeasures(measureLines(document, anchors, { ...hand, points: [...hand.points, point] }, worlds(document)));
  };
  return {
    down(p) {
      if (p.button !== 0 || !handOf(bench.get(), 'pointing')) return false;
      const point = pointAt(viewer, p);
      if (!point) return true;
      from = p;
      last = p;
      addPoint(point);
      return true;
    },
    move(p) {
      preview(p);
      if (!last || !drags() || Math.hypot(p.x - last.x, p.y - last.y) < SAMPLED) return;
      const point = pointAt(viewer, p);
      if (!point) return;
      last = p;
      addPoint(point);
    },
    up(p) {
      const dragged = from && last !== from && drags();
      last = null;
      if (dragged) {
        from = null;
        finish();
        return;
      }
      const hand = handOf(bench.get(), 'pointing');
      const far = from && Math.hypot(p.x - from.x, p.y - from.y) > DRAGGED;
      from = null;
      if (!hand || hand.points.length === 0 || !far) return;
      const point = pointAt(viewer, p);
      if (point) addPoint(point);
    },
    cancel() {
      from = null;
      last = null;
    },
    hover(p) {
      if (!handOf(bench.get(), 'pointing')) return false;
      preview(p);
      return true;
    },
  };
};
