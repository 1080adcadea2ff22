/** Handles for move, turn and size: three axes in their colours, drawn over everything at a constant size on the screen, hit by their distance to the pointer. */
import * as THREE from 'three';
import type { Handle } from '../store';
import type { Camera } from './camera';
import { color } from './looks';

export type Part = 'x' | 'y' | 'z' | 'all';
const LONG = 92; // pixels
const AXES: readonly ('x' | 'y' | 'z')[] = ['x', 'y', 'z'];
const unit = (a: 'x' | 'y' | 'z'): THREE.Vector3 => new THREE.Vector3(a === 'x' ? 1 : 0, a === 'y' ? 1 : 0, a === 'z' ? 1 : 0);

function circle(axis: 'x' | 'y' | 'z', radius: number): THREE.Vector3[] {
  const n = unit(axis), u = unit(axis === 'x' ? 'y' : axis === 'y' ? 'z' : 'x'), v = n.clone().cross(u);
  return Array.from({ length: 65 }, (_, i) => u.clone().multiplyScalar(radius * Math.cos((i * Math.PI) / 32)).addScaledVector(v, radius * Math.sin((i * Math.PI) / 32)));
}

export class Handles {
  readonly group = new THREE.Group();
  kind: Handle | 'along' | null = null;
  at = new THREE.Vector3();
  /** For a single arrow: the way it points. */
  along = new THREE.Vector3(0, 1, 0);
  private hot: Part | null = null;

  constructor() { this.group.renderOrder = 20; }

  /** Polylines of each part, in metres from the middle. */
  private lines(camera: Camera): Map<Part, THREE.Vector3[]> {
    const k = camera.pixel(this.at), out = new Map<Part, THREE.Vector3[]>();
    if (this.kind === 'along') { out.set('all', [new THREE.Vector3(), this.along.clone().multiplyScalar(LONG * k)]); return out; }
    for (const a of AXES) out.set(a, this.kind === 'turn' ? circle(a, LONG * k) : [unit(a).multiplyScalar(14 * k), unit(a).multiplyScalar(LONG * k)]);
    if (this.kind === 'size') out.set('all', [new THREE.Vector3(-5 * k, 0, 0), new THREE.Vector3(5 * k, 0, 0)]);
    return out;
  }

  draw(camera: Camera): void {
    this.group.traverse((o) => { const m = o as THREE.Mesh; m.geometry?.dispose(); (m.material as THREE.Material | undefined)?.dispose(); });
    this.group.clear();
    if (!this.kind) return;
    const k = camera.pixel(this.at);
    this.group.position.copy(this.at);
    for (const [part, points] of this.lines(camera)) {
      const paint = part === this.hot ? color('value') : part === 'all' ? color('value') : color(`axis-${part}`);
      const material = () => new THREE.MeshBasicMaterial({ color: paint, depthTest: false, transparent: true });
      const path = new THREE.CurvePath<THREE.Vector3>();
      for (let i = 0; i + 1 < points.length; i++) path.add(new THREE.LineCurve3(points[i], points[i + 1]));
      const tube = new THREE.Mesh(new THREE.TubeGeometry(path, points.length > 2 ? 64 : 1, (part === this.hot ? 2.4 : 1.5) * k, 6), material());
      tube.renderOrder = 20;
      this.group.add(tube);
      if (this.kind === 'turn') continue;
      const end = points[points.length - 1], way = end.clone().normalize();
      const tip = new THREE.Mesh(this.kind === 'size' ? new THREE.BoxGeometry(9 * k, 9 * k, 9 * k) : new THREE.ConeGeometry(5 * k, 15 * k, 12), material());
      tip.position.copy(part === 'all' && this.kind === 'size' ? new THREE.Vector3() : end);
      if (this.kind !== 'size') tip.quaternion.setFromUnitVectors(new THREE.Vector3(0, 1, 0), way);
      tip.renderOrder = 20;
      this.group.add(tip);
    }
  }

  /** The part within reach of the pointer, in pixels. */
  hit(camera: Camera, x: number, y: number, width: number, height: number): Part | null {
    if (!this.kind) return null;
    let best: Part | null = null, near = 9;
    const screen = (p: THREE.Vector3) => { const q = p.clone().add(this.at).project(camera.now); return [(q.x * 0.5 + 0.5) * width, (0.5 - q.y * 0.5) * height]; };
    for (const [part, points] of this.lines(camera)) {
      for (let i = 0; i + 1 < points.length; i++) {
        const [ax, ay] = screen(points[i]), [bx, by] = screen(points[i + 1]);
        const dx = bx - ax, dy = by - ay, l = dx * dx + dy * dy;
        const t = l > 0 ? Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / l)) : 0;
        const d = Math.hypot(ax + dx * t - x, ay + dy * t - y) - (part === 'all' ? 4 : 0);
        if (d < near) { near = d; best = part; }
      }
    }
    return best;
  }

  setHot(part: Part | null): boolean { const changed = part !== this.hot; this.hot = part; return changed; }

  /** What a drag from one ray to another means for a part: metres along it, radians about it, or a ratio. */
  measure(part: Part, camera: Camera, from: THREE.Ray, to: THREE.Ray, pixels: number): number {
    if (this.kind === 'size') {
      if (part === 'all') return Math.max(0.01, 1 + pixels / 120);
      const way = unit(part as 'x'), a = along(from, this.at, way), b = along(to, this.at, way);
      return Math.abs(a) > 1e-9 ? b / a : 1;
    }
    if (this.kind === 'turn') {
      const n = unit(part === 'all' ? 'y' : part);
      const angle = (r: THREE.Ray) => {
        const d = r.direction.dot(n);
        if (Math.abs(d) < 0.08) return undefined;
        const p = r.at(this.at.clone().sub(r.origin).dot(n) / d, new THREE.Vector3()).sub(this.at);
        const u = unit(part === 'x' ? 'y' : part === 'y' ? 'z' : 'x'), v = n.clone().cross(u);
        return Math.atan2(p.dot(v), p.dot(u));
      };
      const a = angle(from), b = angle(to);
      if (a === undefined || b === undefined) return pixels * 0.01; // seen edge-on: by how far the pointer went
      return Math.atan2(Math.sin(b - a), Math.cos(b - a));
    }
    const way = this.kind === 'along' ? this.along : unit(part as 'x');
    return along(to, this.at, way) - along(from, this.at, way);
  }
}

/** Where along a line the ray passes nearest. */
function along(ray: THREE.Ray, at: THREE.Vector3, way: THREE.Vector3): number {
  const w = ray.origin.clone().sub(at), b = way.dot(ray.direction), d = way.dot(w), e = ray.direction.dot(w);
  const k = 1 - b * b;
  return k < 1e-6 ? 0 : (d - b * e) / k;
}
