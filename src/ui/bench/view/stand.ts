/**
 * Where the handles stand: in the middle of the pick, at a piece's pivot, or, for a tool in hand, as an arrow along
 * what it drives.
 */
import { valuesNow } from '../../../document/dials';
import * as THREE from 'three';
import { centreOf } from '../../../core/edit/transform';
import { applyPoint, fromMatrix4, IDENTITY, type Affine, type Triple } from '../../../core/math/affine';
import { resolve, verticesOf, type PickKind } from '../../../core/mesh/picks';
import type { Mesh } from '../../../core/mesh/mesh';
import { complete } from '../../../core/recipe/values';
import type { Vector } from '../../../core/uv/edits/project';
import { toolDef } from '../../../core/tools';
import { worlds } from '../../../document/placing';
import { inHandMove } from '../actions';
import { frameOf, placeable } from '../placing';
import { stageDef } from '../stages/define';
import { bench, handOf, workedOn } from '../store';
import { frameLines } from './projection';
import type { Viewer } from './viewer';

/** The axes that handles show and values go along. */
export function cameraFrame(viewer: Viewer): Affine {
  const m = viewer.camera.now.matrixWorld.elements;
  const column = (k: number): Triple => [m[4 * k], m[4 * k + 1], m[4 * k + 2]];
  return frameOf({ right: column(0), up: column(1), back: column(2) });
}

/** The point that pieces turn and size about. */
function aboutPieces(viewer: Viewer, ids: readonly string[]): Triple {
  const { document, about } = bench.get();
  if (about === 'origin' || !document) return [0, 0, 0];
  if (about === 'pick') {
    const b = viewer.layer.bounds(new Set(ids));
    if (!b.isEmpty()) return b.getCenter(new THREE.Vector3()).toArray();
  }
  const last = document.pieces.find((p) => p.id === ids[ids.length - 1])!;
  return applyPoint(worlds(document).get(last.id) ?? IDENTITY, last.place.pivot);
}

/** The point that elements turn and size about, in the world. */
function aboutElements(own: Affine, middle: Triple): Triple {
  const { document, about, piece: id } = bench.get();
  if (about === 'origin') return [0, 0, 0];
  const piece = document?.pieces.find((p) => p.id === id);
  if (about === 'pivot' && piece) return applyPoint(own, piece.place.pivot);
  return applyPoint(own, middle);
}

/** The arrow of the tool in hand, if it has one. */
function standArrow(viewer: Viewer, own: Affine, mesh: Mesh, kind: PickKind, indices: Uint32Array): boolean {
  const move = inHandMove();
  const { document } = bench.get();
  const def = move && toolDef(move.tool);
  if (!move || !def?.handle || indices.length === 0) return false;
  let values: ReturnType<typeof complete<typeof def.values>>;
  try {
    values = complete(
      def.values,
      document ? valuesNow(def.values, move.values, document, workedOn(bench.get())?.id) : move.values,
    );
  } catch {
    return false; // a formula that cannot be worked out: its step says why
  }
  const way = new THREE.Vector3(...def.handle.along(mesh, { kind, indices }, values)).normalize();
  // Its value is a length in the piece's own space; the pointer goes in the world's.
  const inWorld = way.clone().applyMatrix3(new THREE.Matrix3().setFromMatrix4(viewer.ownWorld));
  const at = applyPoint(own, centreOf(mesh, verticesOf(mesh, kind, indices)));
  viewer.setArrow(at, inWorld, { drives: def.handle.drives, worldPerOwn: inWorld.length() || 1 });
  return true;
}

/** The frame of a projection, with handles in its middle. */
function standFrame(viewer: Viewer): boolean {
  const { projecting: p, handle } = bench.get();
  if (!p || typeof p.frame !== 'object' || !p.half) {
    viewer.setFrame(null);
    return false;
  }
  const { at, right, up, toward } = p.frame;
  const half = p.half.map((x, k) => x * p.size[k]) as Vector;
  viewer.setFrame(frameLines(p.how, p.frame, half, viewer.screen));
  const axes = new THREE.Matrix4();
  const inWorld = (v: Triple) => new THREE.Vector3(...v).transformDirection(viewer.ownWorld);
  axes.makeBasis(inWorld(right), inWorld(up), inWorld(toward));
  viewer.setHandles(handle ?? 'move', applyPoint(fromMatrix4(viewer.ownWorld.elements), at), axes);
  return true;
}

export function standHandles(viewer: Viewer): void {
  if (standFrame(viewer)) return;
  const s = bench.get();
  const stage = stageDef(s.stage);
  if (!s.document || !stage.handles || handOf(s, 'pointing')) {
    viewer.setHandles(null, null);
    return;
  }
  const f = cameraFrame(viewer);
  const axes = new THREE.Matrix4().set(f[0], f[1], f[2], 0, f[4], f[5], f[6], 0, f[8], f[9], f[10], 0, 0, 0, 0, 1);
  if (s.mode === 'piece' || !s.mesh) {
    const ids = placeable();
    viewer.setHandles(s.handle, s.handle && ids.length ? aboutPieces(viewer, ids) : null, axes);
    return;
  }
  const { mesh, pick } = s;
  const own = fromMatrix4(viewer.ownWorld.elements);
  const { indices } = resolve(mesh, pick);
  if (handOf(s, 'move')?.fresh && standArrow(viewer, own, mesh, pick.kind, indices)) return;
  const vertices = indices.length
    ? verticesOf(mesh, pick.kind, indices)
    : Uint32Array.from({ length: mesh.vertexCount }, (_, i) => i);
  if (!s.handle || vertices.length === 0) {
    viewer.setHandles(null, null);
    return;
  }
  const middle = centreOf(mesh, vertices);
  viewer.setHandles(s.handle, s.handle === 'move' ? applyPoint(own, middle) : aboutElements(own, middle), axes);
}
