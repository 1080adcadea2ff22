/**
 * Handles for move, turn and size, along any three axes: single axes, planes, all three, and the view's own. Drawn over
 * everything at a constant size on the screen, hit by their distance to the pointer.
 */
import * as THREE from 'three';
import type { Handle } from '../store';
import type { Camera } from './camera';
import { color } from './looks';

export type AxisPart = 'x' | 'y' | 'z';
/** An axis, the plane across an axis, all three (size) or the view's plane (move, turn). */
export type Part = AxisPart | 'yz' | 'zx' | 'xy' | 'all';
const LONG = 92;
const NEAR = 22;
const FAR = 40; // pixels
const AXES: readonly AxisPart[] = ['x', 'y', 'z'];
const PLANES: readonly (readonly [Part, AxisPart, AxisPart, AxisPart])[] = [
  ['yz', 'y', 'z', 'x'],
  ['zx', 'z', 'x', 'y'],
  ['xy', 'x', 'y', 'z'],
];

/** What a drag came to, along the handle's own axes: metres, radians about an axis, or factors. */
export interface Dragged {
  move: [number, number, number];
  angle: number;
  size: [number, number, number];
}

/**
 * The value of the tool in hand that an arrow drives, and how far the pointer goes in the world for one metre of it.
 */
export interface Arrow {
  drives: string;
  worldPerOwn: number;
}

export class Handles {
  readonly group = new THREE.Group();
  kind: Handle | 'along' | null = null;
  /** What a single arrow drives. */
  arrow: Arrow | null = null;
  at = new THREE.Vector3();
  /** The three axes, as the columns of a turn. */
  readonly axes: Record<AxisPart, THREE.Vector3> = {
    x: new THREE.Vector3(1, 0, 0),
    y: new THREE.Vector3(0, 1, 0),
    z: new THREE.Vector3(0, 0, 1),
  };
  /** For a single arrow: the way it points. */
  along = new THREE.Vector3(0, 1, 0);
  private hot: Part | null = null;

  constructor() {
    this.group.renderOrder = 20;
  }

  setAxes(m: THREE.Matrix4 | null): void {
    if (m) m.extractBasis(this.axes.x, this.axes.y, this.axes.z);
    else {
      this.axes.x.set(1, 0, 0);
      this.axes.y.set(0, 1, 0);
      this.axes.z.set(0, 0, 1);
    }
  }

  private circle(n: THREE.Vector3, u: THREE.Vector3, radius: number): THREE.Vector3[] {
    const v = n.clone().cross(u);
    return Array.from({ length: 65 }, (_, i) =>
      u
        .clone()
        .multiplyScalar(radius * Math.cos((i * Math.PI) / 32))
        .addScaledVector(v, radius * Math.sin((i * Math.PI) / 32)),
    );
  }

  /** The two directions that span what a part moves in, and the direction across. */
  private across(axis: AxisPart): [THREE.Vector3, THREE.Vector3] {
    return [this.axes[axis], this.axes[({ x: 'y', y: 'z', z: 'x' } as const)[axis]]];
  }

  /** Polylines of each part, in metres from the middle. */
  private lines(camera: Camera): Map<Part, THREE.Vector3[]> {
    const k = camera.pixel(this.at);
    const out = new Map<Part, THREE.Vector3[]>();
    if (this.kind === 'along') {
      out.set('all', [new THREE.Vector3(), this.along.clone().multiplyScalar(LONG * k)]);
      return out;
    }
    const f = camera.forward();
    for (const a of AXES) {
      if (this.kind === 'turn') {
        const [n, u] = this.across(a);
        out.set(a, this.circle(n, u, LONG * k));
        continue;
      }
      // An axis that points at the viewer cannot be dragged along.
      if (Math.abs(f.dot(this.axes[a])) < 0.985)
        out.set(a, [this.axes[a].clone().multiplyScalar(14 * k), this.axes[a].clone().multiplyScalar(LONG * k)]);
    }
    if (this.kind === 'turn') {
      const right = new THREE.Vector3().setFromMatrixColumn(camera.now.matrixWorld, 0);
      out.set('all', this.circle(f.clone().negate(), right, (LONG + 14) * k));
      return out;
    }
    for (const [part, a, b, n] of PLANES) {
      if (Math.abs(f.dot(this.axes[n])) < 0.15) continue; // seen edge-on
      const p = (s: number, t: number) =>
        this.axes[a]
          .clone()
          .multiplyScalar(s * k)
          .addScaledVector(this.axes[b], t * k);
      out.set(part, [p(NEAR, FAR), p(FAR, FAR), p(FAR, NEAR), p(NEAR, NEAR), p(NEAR, FAR)]);
    }
    out.set('all', [
      new THREE.Vector3().addScaledVector(this.axes.x, -4 * k),
      new THREE.Vector3().addScaledVector(this.axes.x, 4 * k),
    ]);
    return out;
  }

  draw(camera: Camera): void {
    this.group.traverse((o) => {
      const m = o as THREE.Mesh;
      m.geometry?.dispose();
      (m.material as THREE.Material | undefined)?.dispose();
    });
    this.group.clear();
    if (!this.kind) return;
    const k = camera.pixel(this.at);
    this.group.position.copy(this.at);
    for (const [part, points] of this.lines(camera)) {
      const axis = PLANES.find((p) => p[0] === part)?.[3] ?? (part as AxisPart | 'all');
      const plain = this.kind === 'turn' ? 'ink' : 'value';
      const own = axis === 'all' ? plain : `axis-${axis}`;
      const paint = color(part === this.hot ? 'value' : own);
      const material = (opacity = 1) =>
        new THREE.MeshBasicMaterial({
          color: paint,
          depthTest: false,
          transparent: true,
          opacity,
          side: THREE.DoubleSide,
        });
      const add = (o: THREE.Object3D) => {
        o.renderOrder = 20;
        this.group.add(o);
      };
      const path = new THREE.CurvePath<THREE.Vector3>();
      for (let i = 0; i + 1 < points.length; i++) path.add(new THREE.LineCurve3(points[i], points[i + 1]));
      const thin = part.length === 2 || (part === 'all' && this.kind === 'turn');
      const still = thin ? 0.9 : 1.5;
      add(
        new THREE.Mesh(
          new THREE.TubeGeometry(
            path,
            points.length > 10 ? 64 : 8 * (points.length - 1),
            (part === this.hot ? 2.4 : still) * k,
            6,
          ),
          material(thin && part !== this.hot ? 0.7 : 1),
        ),
      );
      if (part.length === 2) {
        const g = new THREE.BufferGeometry().setFromPoints([
          points[0],
          points[1],
          points[2],
          points[0],
          points[2],
          points[3],
        ]);
        add(new THREE.Mesh(g, material(part === this.hot ? 0.5 : 0.22)));
        continue;
      }
      if (this.kind === 'turn') continue;
      if (part === 'all' && this.kind === 'move') {
        add(new THREE.Mesh(new THREE.SphereGeometry(6 * k, 14, 10), material()));
        continue;
      }
      const end = points[points.length - 1];
      const way = end.clone().normalize();
      const tip = new THREE.Mesh(
        this.kind === 'size' ? new THREE.BoxGeometry(9 * k, 9 * k, 9 * k) : new THREE.ConeGeometry(5 * k, 15 * k, 12),
        material(),
      );
      tip.position.copy(part === 'all' && this.kind === 'size' ? new THREE.Vector3() : end);
      tip.quaternion.setFromUnitVectors(new THREE.Vector3(0, 1, 0), way);
      add(tip);
    }
  }

  /** The part within reach of the pointer, in pixels. */
  hit(camera: Camera, x: number, y: number, width: number, height: number): Part | null {
    if (!this.kind) return null;
    // What is behind the eye, or out of its reach, would be hit where it is mirrored through it.
    if (!(Math.abs(this.at.clone().project(camera.now).z) <= 1)) return null;
    let best: Part | null = null;
    let near = 9;
    const screen = (p: THREE.Vector3) => {
      const q = p.clone().add(this.at).project(camera.now);
      return [(q.x * 0.5 + 0.5) * width, (0.5 - q.y * 0.5) * height];
    };
    for (const [part, points] of this.lines(camera)) {
      const at = points.map(screen);
      if (part.length === 2 && insideQuad(at, x, y)) return part;
      for (let i = 0; i + 1 < at.length; i++) {
        const [ax, ay] = at[i];
        const [bx, by] = at[i + 1];
        const dx = bx - ax;
        const dy = by - ay;
        const l = dx * dx + dy * dy;
        const t = l > 0 ? Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / l)) : 0;
        const d = Math.hypot(ax + dx * t - x, ay + dy * t - y) - (part === 'all' && this.kind !== 'turn' ? 4 : 0);
        if (d < near) {
          near = d;
          best = part;
        }
      }
    }
    return best;
  }

  setHot(part: Part | null): boolean {
    const changed = part !== this.hot;
    this.hot = part;
    return changed;
  }

  /** The axis a turn by a part is about. */
  axisOf(part: Part, camera: Camera): THREE.Vector3 {
    return part === 'x' || part === 'y' || part === 'z' ? this.axes[part].clone() : camera.forward().negate();
  }

  /** What a drag from one ray to another means for a part. `pixels` stands in where geometry says nothing. */
  measure(part: Part, camera: Camera, from: THREE.Ray, to: THREE.Ray, pixels: number): Dragged {
    const out: Dragged = { move: [0, 0, 0], angle: 0, size: [1, 1, 1] };
    const own = (v: THREE.Vector3): [number, number, number] => [
      v.dot(this.axes.x),
      v.dot(this.axes.y),
      v.dot(this.axes.z),
    ];
    if (this.kind === 'along') {
      out.move = [0, along(to, this.at, this.along) - along(from, this.at, this.along), 0];
      return out;
    }
    if (this.kind === 'turn') {
      const n = this.axisOf(part, camera);
      const u =
        part === 'all'
          ? new THREE.Vector3().setFromMatrixColumn(camera.now.matrixWorld, 0)
          : this.across(part as AxisPart)[1];
      const v = n.clone().cross(u);
      const angle = (r: THREE.Ray) => {
        const p = onPlane(r, this.at, n, 0.08);
        return p && Math.atan2(p.dot(v), p.dot(u));
      };
      const a = angle(from);
      const b = angle(to);
      out.angle = a === undefined || b === undefined ? pixels * 0.01 : Math.atan2(Math.sin(b - a), Math.cos(b - a)); // seen edge-on: by how far the pointer went
      return out;
    }
    if (part === 'all' && this.kind === 'size') {
      const k = Math.max(0.01, 1 + pixels / 120);
      out.size = [k, k, k];
      return out;
    }
    if (part === 'x' || part === 'y' || part === 'z') {
      const way = this.axes[part];
      const a = along(from, this.at, way);
      const b = along(to, this.at, way);
      const i = AXES.indexOf(part);
      if (this.kind === 'size') out.size[i] = Math.abs(a) > 1e-9 ? b / a : 1;
      else out.move[i] = b - a;
      return out;
    }
    const plane = PLANES.find((p) => p[0] === part);
    const n = plane ? this.axes[plane[3]] : camera.forward();
    const a = onPlane(from, this.at, n, 1e-3);
    const b = onPlane(to, this.at, n, 1e-3);
    if (!a || !b) return out;
    if (this.kind === 'move') {
      out.move = own(b.sub(a));
      return out;
    }
    const k = a.length() > 1e-9 ? b.dot(a) / a.lengthSq() : 1;
    for (const q of [plane![1], plane![2]]) out.size[AXES.indexOf(q)] = k;
    return out;
  }
}

/** Where a ray meets a plane through a point, from that point; undefined where it runs along it. */
function onPlane(r: THREE.Ray, at: THREE.Vector3, n: THREE.Vector3, least: number): THREE.Vector3 | undefined {
  const d = r.direction.dot(n);
  return Math.abs(d) < least ? undefined : r.at(at.clone().sub(r.origin).dot(n) / d, new THREE.Vector3()).sub(at);
}

/** Where along a line the ray passes nearest. */
function along(ray: THREE.Ray, at: THREE.Vector3, way: THREE.Vector3): number {
  const w = ray.origin.clone().sub(at);
  const b = way.dot(ray.direction);
  const d = way.dot(w);
  const e = ray.direction.dot(w);
  const k = 1 - b * b;
  return k < 1e-6 ? 0 : (d - b * e) / k;
}

function insideQuad(q: readonly number[][], x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = 3; i < 4; j = i++)
    if (q[i][1] > y !== q[j][1] > y && x < ((q[j][0] - q[i][0]) * (y - q[i][1])) / (q[j][1] - q[i][1]) + q[i][0])
      inside = !inside;
  return inside;
}
