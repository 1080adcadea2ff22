/**
 * Elements of the mesh that is worked on, by where they are on the screen: what is under the pointer, what lies in an
 * outline.
 */
import * as THREE from 'three';
import { elementPoint } from '../../../core/mesh/elements';
import type { Mesh } from '../../../core/mesh/mesh';
import { keyAt, verticesOf, type PickKind } from '../../../core/mesh/picks';
import { topologyOf } from '../../../core/mesh/topology';
import { triangulate } from '../../../core/mesh/triangulate';
import { withinOutline, type Outline } from '../../../core/pick/outline';
import type { Edited } from '../../../workers/protocol';
import type { PickMode, Shading } from '../store';
import type { Camera } from './camera';
import type { Layer } from './layer';
import { Picker } from './picker';
import { nearEdges, nearestOn, nearVertices, project, seenOnly, type End, type Hit, type OnScreen } from './picking';

/**
 * Of more faces than this not all vertices and edges are gone through for one pick: what is under the pointer tells
 * which are near.
 */
export const LARGE = 60_000;
/** As many triangles may be asked whether they hide something before only the way faces look is. */
const MOST_EFFORT = 2e7;

export interface Under {
  kind: PickMode;
  index: number;
  piece?: string;
  point: THREE.Vector3;
  triangle?: number;
  /** Which of the copies that the piece shows. */
  copy?: number;
}

/** What is looked with: the active pane and its camera, and where the mesh stands. */
export interface Eye {
  readonly pane: { x: number; y: number; width: number; height: number; shading: Shading };
  readonly camera: Camera;
  readonly layer: Layer;
  readonly ownWorld: THREE.Matrix4;
  readonly ownVisible: boolean;
  rayAt(x: number, y: number): THREE.Ray;
}

export class Elements {
  mesh: Mesh | null = null;
  edited: Edited | null = null;
  /** What is hidden is picked too. */
  through = false;
  private madePicker: Picker | null = null;
  private screen: OnScreen | null = null;

  constructor(private readonly eye: Eye) {}

  set(mesh: Mesh | null, edited: Edited | null): void {
    this.mesh = mesh;
    this.edited = edited;
    this.madePicker = null;
    this.screen = null;
  }

  /** The camera or the pane is another: where things are on the screen is looked for anew. */
  look(): void {
    this.screen = null;
  }

  /** For picking elements: made when one is first looked for, since a mesh that is dragged changes at every frame. */
  private get picker(): Picker | null {
    const { mesh } = this;
    if (!mesh) return null;
    // What is shown is what is worked on: its triangles, and their tree once the worker has made it, are there.
    if (this.edited?.same && mesh.faceCount > LARGE) {
      const shown = this.eye.layer.pickerOf(this.edited.piece);
      if (shown) return shown;
    }
    if (!this.madePicker) {
      const { corners, face } = triangulate(mesh);
      const vertices = corners.map((c) => mesh.cornerVertex[c]);
      this.madePicker = new Picker(mesh.positions, vertices, face, this.edited?.bounds);
    }
    return this.madePicker;
  }

  private onScreen(): OnScreen | null {
    if (this.mesh && !this.screen)
      this.screen = project(
        this.mesh,
        this.eye.camera.now,
        this.eye.pane.width,
        this.eye.pane.height,
        this.eye.ownWorld,
      );
    return this.screen;
  }

  /** What lies under the pointer, of a kind. */
  under(x: number, y: number, mode: PickKind): Under | null {
    const ray = this.eye.rayAt(x, y);
    const through = this.picksThrough;
    const mesh = this.mesh;
    const picker = this.picker;
    if (!mesh || !picker || !this.eye.ownVisible) return null;
    const back = this.eye.ownWorld.clone().invert();
    const cast = (r: THREE.Ray) => picker.cast(r.clone().applyMatrix4(back), this.eye.ownWorld.determinant() > 0);
    if (mode === 'face') {
      const h = cast(ray);
      return h ? { kind: 'face', index: h.face, point: h.point.applyMatrix4(this.eye.ownWorld) } : null;
    }
    if (mesh.faceCount > LARGE && !through) {
      const h = cast(ray);
      return h && this.nearIn(mesh, h.face, mode, x, y);
    }
    const screen = this.onScreen();
    if (!screen) return null;
    const p = mesh.positions;
    const at = new THREE.Vector3();
    const to = new THREE.Vector3();
    const seen = (q: THREE.Vector3) => through || this.reached(q, cast);
    if (mode === 'vertex') {
      for (const v of nearVertices(mesh, screen, x, y, 12).slice(0, 8)) {
        at.fromArray(p, 3 * v).applyMatrix4(this.eye.ownWorld);
        if (seen(at)) return { kind: 'vertex', index: v, point: at };
      }
      return null;
    }
    const { edgeVertex } = topologyOf(mesh);
    for (const { edge, at: s } of nearEdges(mesh, screen, x, y, 9).slice(0, 8)) {
      at.fromArray(p, 3 * edgeVertex[2 * edge])
        .lerp(to.fromArray(p, 3 * edgeVertex[2 * edge + 1]), Math.min(0.9, Math.max(0.1, s)))
        .applyMatrix4(this.eye.ownWorld);
      if (seen(at)) return { kind: 'edge', index: edge, point: at };
    }
    return null;
  }

  /**
   * The corner or side of a face that is nearest to the pointer: in a mesh of very many, all others are hidden or
   * farther.
   */
  private nearIn(mesh: Mesh, face: number, kind: 'vertex' | 'edge', x: number, y: number): Under | null {
    const { width, height } = this.eye.pane;
    const ring = Array.from(mesh.cornerVertex.subarray(mesh.faceStart[face], mesh.faceStart[face + 1]));
    const places = ring.map((v) =>
      new THREE.Vector3().fromArray(mesh.positions, 3 * v).applyMatrix4(this.eye.ownWorld),
    );
    const { now } = this.eye.camera;
    const onto = new THREE.Matrix4().multiplyMatrices(now.projectionMatrix, now.matrixWorldInverse);
    const ends = places.map((p): End => {
      const q = new THREE.Vector4(p.x, p.y, p.z, 1).applyMatrix4(onto);
      return [((q.x / q.w) * 0.5 + 0.5) * width, (0.5 - (q.y / q.w) * 0.5) * height, q.w];
    });
    let best = kind === 'vertex' ? 12 : 9;
    let found: Under | null = null;
    ring.forEach((v, i) => {
      const j = (i + 1) % ring.length;
      const near = nearestOn(ends[i], ends[kind === 'edge' ? j : i], x, y);
      if (!near || near.away > best) return;
      best = near.away;
      const index = kind === 'vertex' ? v : topologyOf(mesh).cornerEdge[mesh.faceStart[face] + i];
      found = { kind, index, point: places[i].clone().lerp(places[j], kind === 'edge' ? near.at : 0) };
    });
    return found;
  }

  /**
   * Where the pointer meets the mesh that is worked on: in the world, in its own space, and the way it looks there in
   * that.
   */
  surfaceAt(x: number, y: number): { world: THREE.Vector3; own: THREE.Vector3; normal: THREE.Vector3 } | null {
    const { mesh, picker } = this;
    if (!mesh || !picker || !this.eye.ownVisible) return null;
    const back = this.eye.ownWorld.clone().invert();
    const h = picker.cast(this.eye.rayAt(x, y).clone().applyMatrix4(back));
    if (!h) return null;
    const [a, b, c] = picker.corners(h.triangle);
    const normal = b.sub(a).cross(c.sub(a)).normalize();
    return { world: h.point.clone().applyMatrix4(this.eye.ownWorld), own: h.point, normal };
  }

  /** Elements within an outline drawn in the active pane; only what is seen, unless one picks through. */
  within(outline: Outline, kind: PickKind): number[] {
    const { mesh, picker } = this;
    const screen = this.onScreen();
    if (!mesh || !picker || !screen || !this.eye.ownVisible) return [];
    const found = withinOutline(mesh, kind, screen.places, outline);
    if (this.picksThrough) return Array.from(found);
    const back = this.eye.ownWorld.clone().invert();
    const seen = seenOnly(mesh, kind, found, screen.places, this.eye.ownWorld.determinant() < 0);
    if (seen.length * picker.effort > MOST_EFFORT) return seen;
    const at = new THREE.Vector3();
    return seen.filter((i) => {
      at.fromArray(elementPoint(mesh, kind, i));
      return this.reached(at.applyMatrix4(this.eye.ownWorld), (r) => picker.cast(r.applyMatrix4(back)));
    });
  }

  private get picksThrough(): boolean {
    return this.eye.pane.shading === 'lines' || this.eye.pane.shading === 'xray' || this.through;
  }

  /** Whether nothing stands between the eye and a point of the world. `cast` takes a ray of its own. */
  private reached(q: THREE.Vector3, cast: (ray: THREE.Ray) => Hit | null): boolean {
    const s = q.clone().project(this.eye.camera.now);
    const r = this.eye.camera.ray(s.x, s.y);
    const d = q.clone().sub(r.origin).dot(r.direction);
    const h = cast(r.clone());
    return !h || h.point.applyMatrix4(this.eye.ownWorld).sub(r.origin).dot(r.direction) > d - Math.max(1e-6, d * 2e-3);
  }

  /** A picked element's key. */
  keyOf(under: Under): number {
    const mesh = this.mesh!;
    return keyAt(mesh, under.kind === 'piece' ? 'face' : under.kind, under.index);
  }

  /** Where an element's middle is in the frame. */
  screenOf(kind: PickKind, index: number): [number, number] | null {
    const mesh = this.mesh;
    const s = this.onScreen()?.places;
    if (!mesh || !s) return null;
    const list = [...verticesOf(mesh, kind, [index])];
    return [
      this.eye.pane.x + list.reduce((n, v) => n + s[3 * v], 0) / list.length,
      this.eye.pane.y + list.reduce((n, v) => n + s[3 * v + 1], 0) / list.length,
    ];
  }
}
