/** What is noted over the model: measures with their values, and where a point would land. */
import * as THREE from 'three';
import type { Camera } from './camera';
import { color } from './looks';
import { dispose, wide } from './marks';
import type { Label } from './planes';
import type { Snapped } from './snap';

/** Lines of measures: pinned tapes, and what is being measured. */
export interface MeasureLine {
  id: string;
  text: string;
  points: readonly (readonly [number, number, number])[];
  round?: { centre: readonly [number, number, number]; radius: number; normal: readonly [number, number, number] };
}

type Outline2 = readonly (readonly [number, number])[];
/** What the mark of a snapped point looks like, by what it snapped to. */
const SHAPES: Readonly<Record<string, Outline2>> = {
  vertex: [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ],
  middle: [
    [-1, -0.8],
    [1, -0.8],
    [0, 1],
  ],
  edge: [
    [-1.3, 0],
    [1.3, 0],
  ],
  grid: [
    [-1, 0],
    [0, 1],
    [1, 0],
    [0, -1],
  ],
};
const ROUND: Outline2 = Array.from({ length: 12 }, (_, i) => [
  Math.cos((i * Math.PI) / 6),
  Math.sin((i * Math.PI) / 6),
]);

/** Where a measure's value stands: in the middle of a circle, at the corner of an angle, half-way along a length. */
function middleOf(m: MeasureLine): THREE.Vector3 {
  if (m.round) return new THREE.Vector3(...m.round.centre);
  if (m.points.length === 3) return new THREE.Vector3(...m.points[1]);
  return new THREE.Vector3(...m.points[0]).lerp(new THREE.Vector3(...m.points[m.points.length - 1]), 0.5);
}

export class Notes {
  readonly group = new THREE.Group();
  labels: Label[] = [];
  private readonly measures = new THREE.Group();
  private readonly snapMark = new THREE.Group();

  constructor() {
    this.group.add(this.measures, this.snapMark);
  }

  setMeasures(list: readonly MeasureLine[], size: THREE.Vector2): void {
    dispose(this.measures);
    this.measures.clear();
    this.labels = this.labels.filter((l) => l.kind !== 'measure');
    for (const m of list) {
      const at: number[] = [];
      for (let i = 1; i < m.points.length; i++) at.push(...m.points[i - 1], ...m.points[i]);
      if (m.round) {
        const n = new THREE.Vector3(...m.round.normal).normalize();
        const u = new THREE.Vector3(Math.abs(n.y) < 0.9 ? 0 : 1, Math.abs(n.y) < 0.9 ? 1 : 0, 0).cross(n).normalize();
        const v = n.clone().cross(u);
        const c = new THREE.Vector3(...m.round.centre);
        const p = (i: number) =>
          c
            .clone()
            .addScaledVector(u, m.round!.radius * Math.cos((i * Math.PI) / 48))
            .addScaledVector(v, m.round!.radius * Math.sin((i * Math.PI) / 48));
        for (let i = 0; i < 96; i++) at.push(...p(i).toArray(), ...p(i + 1).toArray());
      }
      const line = wide(Float32Array.from(at), color('last'), 1.8, size, true);
      line.renderOrder = 15;
      this.measures.add(line);
      const dots = new THREE.Points(
        new THREE.BufferGeometry().setAttribute('position', new THREE.Float32BufferAttribute(m.points.flat(), 3)),
        new THREE.PointsMaterial({
          color: color('last'),
          size: 7 * Math.min(2, window.devicePixelRatio),
          sizeAttenuation: false,
          depthTest: false,
          transparent: true,
        }),
      );
      dots.renderOrder = 15;
      this.measures.add(dots);
      const centre = middleOf(m);
      if (m.text) this.labels.push({ id: m.id, text: m.text, kind: 'measure', at: centre });
    }
  }

  /** Rings where something was that is gone. */
  setLost(places: readonly (readonly number[])[]): void {
    this.labels = this.labels.filter((l) => l.kind !== 'lost');
    places.forEach((p, i) =>
      this.labels.push({ id: `lost ${i}`, kind: 'lost', text: '', at: new THREE.Vector3(...p) }),
    );
  }

  /** A small mark where something would land, with a word for what it is. Answers whether anything changed. */
  showSnap(s: Snapped | null, camera: Camera, size: THREE.Vector2): boolean {
    if (!s && this.snapMark.children.length === 0) return false;
    dispose(this.snapMark);
    this.snapMark.clear();
    this.labels = this.labels.filter((l) => l.kind !== 'snap');
    if (s) {
      const k = camera.pixel(s.at);
      const right = new THREE.Vector3().setFromMatrixColumn(camera.now.matrixWorld, 0);
      const up = new THREE.Vector3().setFromMatrixColumn(camera.now.matrixWorld, 1);
      const r = 6 * k;
      const at: number[] = [];
      const go = (a: number, b: number) =>
        at.push(
          ...s.at
            .clone()
            .addScaledVector(right, a * r)
            .addScaledVector(up, b * r)
            .toArray(),
        );
      // Each kind has a shape of its own: none is told by colour alone.
      const shape = SHAPES[s.kind] ?? ROUND;
      shape.forEach((p, i) => {
        const q = shape[(i + 1) % shape.length];
        go(p[0], p[1]);
        go(q[0], q[1]);
      });
      const line = wide(Float32Array.from(at), color('last'), 2, size, true);
      line.renderOrder = 21;
      this.snapMark.add(line);
      this.labels.push({ id: 'snap', kind: 'snap', text: s.kind === 'middle' ? 'middle of edge' : s.kind, at: s.at });
    }
    return true;
  }
}
