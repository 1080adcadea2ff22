/** Marks of what is picked on the mesh that is worked on, and of what is said of its edges whatever is picked. */
import * as THREE from 'three';
import type { LineMaterial } from 'three/addons/lines/LineMaterial.js';
import type { LineSegments2 } from 'three/addons/lines/LineSegments2.js';
import { marksOf } from '../../../core/mesh/marks';
import type { Mesh } from '../../../core/mesh/mesh';
import { resolve, type ElementPick } from '../../../core/mesh/picks';
import { edgeValence, topologyOf } from '../../../core/mesh/topology';
import type { Dotted, PickMode } from '../store';
import { LARGE } from './elements';
import { color } from './looks';
import { edgeLines, faceLines, faceWash, points, stitches } from './marks';

/** Of more picked faces than this the sides are not drawn. */
const MOST_LINED = 30_000;
/** Levels of creases, over and up to, and how thick they are drawn, pixels. */
const CREASES = [
  [0, 1, 1.8],
  [1, 3, 2.6],
  [3, Infinity, 3.6],
] as const;

/**
 * Edges that are marked whatever is picked: seams where one unwraps, creases where one shapes, the heavier the sharper.
 */
export interface MarkedEdges {
  cut?: ElementPick;
  hold?: ElementPick;
  creases?: ElementPick;
  sharpness?: number;
  /** Seams to be, and one of them that is looked at. */
  dotted?: Dotted;
}

interface Drawing {
  /** What is hidden is marked too. */
  through: boolean;
  /** How much of the mesh's own space a pixel is. */
  pixel: number;
  size: THREE.Vector2;
}

/** Dotted stitches. */
function dots(
  mesh: Mesh,
  edges: ArrayLike<number>,
  paint: 'seam' | 'picked',
  width: number,
  size: THREE.Vector2,
  pixel: number,
): LineSegments2 {
  const lines = edgeLines(mesh, edges, color(paint), width, size, true);
  const m = lines.material as LineMaterial;
  m.dashed = true;
  m.dashSize = 3.5 * pixel;
  m.gapSize = 4 * pixel;
  lines.computeLineDistances();
  return lines;
}

export function pickMarks(
  mesh: Mesh,
  pick: ElementPick,
  last: number | null,
  mode: PickMode,
  seams: MarkedEdges | null,
  { through, pixel: k, size }: Drawing,
): THREE.Group {
  const out = new THREE.Group();
  if (seams?.cut) out.add(stitches(mesh, resolve(mesh, seams.cut).indices, color('seam'), size, k));
  if (seams?.hold) out.add(edgeLines(mesh, resolve(mesh, seams.hold).indices, color('value'), 3, size));
  if (seams?.dotted) {
    const { lists, hot } = seams.dotted;
    const marked = (keys: readonly number[]) => resolve(mesh, { kind: 'edge', keys: [...keys] }).indices;
    out.add(dots(mesh, marked(lists.flat()), 'seam', 3.4, size, k));
    if (hot) out.add(dots(mesh, marked(hot), 'picked', 5, size, k));
  }
  if (seams?.creases) {
    const weight = 1.5 + Math.min(3, (seams.sharpness ?? 10) / 3);
    out.add(edgeLines(mesh, resolve(mesh, seams.creases).indices, color('ink'), weight, size));
  }
  const own = marksOf(mesh, 'crease');
  if (own) {
    // As heavy as they are sharp.
    for (const [from, to, weight] of CREASES) {
      const list = Array.from(own.keys()).filter((e) => own[e] > from && own[e] <= to);
      out.add(edgeLines(mesh, list, color('ink'), weight, size));
    }
  }
  if (mesh.faceCount < LARGE) {
    const t = topologyOf(mesh);
    const open: number[] = [];
    for (let e = 0; e < t.edgeCount; e++) if (edgeValence(t, e) === 1) open.push(e);
    const dashes = edgeLines(mesh, open, color('wrong'), 1.6, size);
    const m = dashes.material as LineMaterial;
    m.dashed = true;
    m.dashSize = 6 * k;
    m.gapSize = 4 * k;
    dashes.computeLineDistances();
    out.add(dashes);
  }
  const { indices } = resolve(mesh, pick);
  const jade = color('picked');
  const lastAt = last === null ? [] : Array.from(resolve(mesh, { kind: pick.kind, keys: [last] }).indices);
  if (pick.kind === 'face') {
    out.add(faceWash(mesh, indices, jade, 0.4));
    if (indices.length < MOST_LINED) out.add(faceLines(mesh, indices, jade, 1.8, size, through));
    if (indices.length > 1) out.add(faceLines(mesh, lastAt, color('last'), 2.2, size, through));
  } else if (pick.kind === 'edge') {
    out.add(edgeLines(mesh, indices, jade, 3.4, size, through));
    if (indices.length > 1) out.add(edgeLines(mesh, lastAt, color('last'), 3.4, size, through));
  } else {
    if (mode === 'vertex' && mesh.vertexCount < 20000)
      out.add(
        points(
          mesh,
          Array.from({ length: mesh.vertexCount }, (_, v) => v),
          color('ink'),
          4.5 * Math.min(2, window.devicePixelRatio),
        ),
      );
    out.add(
      points(mesh, indices, jade, 9 * Math.min(2, window.devicePixelRatio), through),
      points(mesh, lastAt, color('last'), 9 * Math.min(2, window.devicePixelRatio), through),
    );
  }
  return out;
}
