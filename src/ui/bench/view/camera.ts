/** The camera: orbits a target, pans, zooms to the pointer; perspective, or straight on from the front, side or top. */
import * as THREE from 'three';
import type { ViewName } from '../store';

const FOV = 32;

export interface CameraState {
  target: [number, number, number];
  distance: number;
  yaw: number;
  pitch: number;
  view: ViewName;
}

export class Camera {
  readonly perspective = new THREE.PerspectiveCamera(FOV, 1, 0.001, 1000);
  readonly straight = new THREE.OrthographicCamera(-1, 1, 1, -1, -1000, 1000);
  target = new THREE.Vector3(0, 0.08, 0);
  distance = 0.9;
  yaw = 0.62;
  pitch = 0.36;
  view: ViewName = 'Persp';
  private width = 1;
  private height = 1;

  get now(): THREE.PerspectiveCamera | THREE.OrthographicCamera {
    return this.view === 'Persp' ? this.perspective : this.straight;
  }

  resize(width: number, height: number): void {
    this.width = Math.max(1, width);
    this.height = Math.max(1, height);
    this.update();
  }

  /** Metres per pixel at a point. */
  pixel(at: THREE.Vector3): number {
    if (this.view !== 'Persp') return (2 * this.distance * Math.tan((FOV * Math.PI) / 360)) / this.height;
    const d = at.clone().sub(this.perspective.position).dot(this.forward());
    return (2 * Math.max(d, 1e-6) * Math.tan((FOV * Math.PI) / 360)) / this.height;
  }

  forward(): THREE.Vector3 {
    return new THREE.Vector3(0, 0, -1).applyQuaternion(this.now.quaternion);
  }

  private angles(): [number, number] {
    if (this.view === 'Front') return [0, 0];
    if (this.view === 'Side') return [Math.PI / 2, 0];
    if (this.view === 'Back') return [Math.PI, 0];
    if (this.view === 'Left') return [-Math.PI / 2, 0];
    if (this.view === 'Top') return [0, Math.PI / 2];
    if (this.view === 'Bottom') return [0, -Math.PI / 2];
    return [this.yaw, this.pitch];
  }

  update(): void {
    const [yaw, pitch] = this.angles();
    const c = this.now;
    const offset = new THREE.Vector3(
      Math.sin(yaw) * Math.cos(pitch),
      Math.sin(pitch),
      Math.cos(yaw) * Math.cos(pitch),
    ).multiplyScalar(this.distance);
    c.position.copy(this.target).add(offset);
    c.up.set(0, 1, 0);
    if (this.view === 'Top') c.up.set(0, 0, -1);
    if (this.view === 'Bottom') c.up.set(0, 0, 1);
    c.lookAt(this.target);
    const aspect = this.width / this.height;
    if (c instanceof THREE.PerspectiveCamera) {
      c.aspect = aspect;
      // Clip planes follow the distance, so that jewels and islands both are safe.
      c.near = this.distance / 200;
      c.far = this.distance * 200;
    } else {
      const h = this.distance * Math.tan((FOV * Math.PI) / 360);
      c.left = -h * aspect;
      c.right = h * aspect;
      c.top = h;
      c.bottom = -h;
      c.near = -this.distance * 100;
      c.far = this.distance * 100;
    }
    c.updateProjectionMatrix();
    c.updateMatrixWorld(true);
  }

  /** Turns by pixels. A straight view becomes the perspective it was turned from. */
  orbit(dx: number, dy: number): void {
    if (this.view !== 'Persp') {
      [this.yaw, this.pitch] = this.angles();
      this.view = 'Persp';
    }
    this.yaw -= dx * 0.008;
    this.pitch = Math.max(-1.55, Math.min(1.55, this.pitch + dy * 0.008));
    this.update();
  }

  pan(dx: number, dy: number): void {
    const k = this.pixel(this.target);
    const m = this.now.matrixWorld;
    this.target
      .addScaledVector(new THREE.Vector3().setFromMatrixColumn(m, 0), -dx * k)
      .addScaledVector(new THREE.Vector3().setFromMatrixColumn(m, 1), dy * k);
    this.update();
  }

  /** Zooms so that what is under the pointer (−1..1) stays there. */
  zoom(factor: number, x: number, y: number): void {
    const before = this.under(x, y);
    this.distance = Math.max(1e-4, Math.min(5e4, this.distance * factor));
    this.update();
    this.target.add(before.sub(this.under(x, y)));
    this.update();
  }

  /** The point of the target's plane under the pointer. */
  private under(x: number, y: number): THREE.Vector3 {
    const ray = this.ray(x, y);
    const n = this.forward();
    const d = n.dot(ray.direction);
    return ray.at(Math.abs(d) < 1e-9 ? 0 : this.target.clone().sub(ray.origin).dot(n) / d, new THREE.Vector3());
  }

  ray(x: number, y: number): THREE.Ray {
    const r = new THREE.Raycaster();
    r.setFromCamera(new THREE.Vector2(x, y), this.now);
    return r.ray;
  }

  /** What the view history keeps. */
  get state(): CameraState {
    return {
      target: this.target.toArray(),
      distance: this.distance,
      yaw: this.yaw,
      pitch: this.pitch,
      view: this.view,
    };
  }
  set state(s: CameraState) {
    this.target.fromArray(s.target);
    Object.assign(this, { distance: s.distance, yaw: s.yaw, pitch: s.pitch, view: s.view });
    this.update();
  }

  see(box: THREE.Box3): void {
    if (box.isEmpty()) return;
    const size = box.getSize(new THREE.Vector3()).length() / 2 || 0.05;
    box.getCenter(this.target);
    // In a pane that is taller than wide it is the width that it all has to fit.
    const half = Math.atan(Math.tan((FOV * Math.PI) / 360) * Math.min(1, this.width / this.height));
    this.distance = (size / Math.sin(half)) * 1.3;
    this.update();
  }
}
