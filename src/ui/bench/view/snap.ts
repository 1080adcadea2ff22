/**
 * Where a pointer would land: the nearest vertex, middle of an edge, edge, face, pivot, texel or grid point within
 * reach on the screen.
 */
import * as THREE from 'three';
import type { SnapKinds } from '../store';
import type { Hit } from './picking';

export interface Snapped {
  kind: 'vertex' | 'middle' | 'edge' | 'face' | 'pivot' | 'texel' | 'grid';
  at: THREE.Vector3;
  piece: string | null;
}

const AROUND = Array.from(
  { length: 8 },
  (_, i) => [9 * Math.cos((i * Math.PI) / 4), 9 * Math.sin((i * Math.PI) / 4)] as const,
);

export interface SnapScene {
  ray(x: number, y: number): THREE.Ray;
  cast(ray: THREE.Ray): (Hit & { piece: string; copy?: number }) | null;
  polygon(piece: string, triangle: number, copy?: number): THREE.Vector3[];
  texel(hit: Hit & { piece: string; copy?: number }): THREE.Vector3 | null;
  pivots: readonly { piece: string; at: THREE.Vector3 }[];
  /** A point of a picture's plane that may be landed on. */
  plane(ray: THREE.Ray): { piece: string; point: THREE.Vector3 } | null;
}

const REACH: Readonly<Record<Snapped['kind'], number>> = {
  vertex: 13,
  pivot: 13,
  middle: 11,
  edge: 9,
  texel: 1e9,
  face: 1e9,
  grid: 1e9,
};

export function snap(
  ray: THREE.Ray,
  screen: (p: THREE.Vector3) => [number, number],
  x: number,
  y: number,
  kinds: SnapKinds,
  scene: SnapScene,
  grid: number,
  ground: THREE.Plane,
): Snapped | null {
  let best: Snapped | null = null;
  let near = Infinity;
  const offer = (kind: Snapped['kind'], at: THREE.Vector3, piece: string | null, rank: number) => {
    const [sx, sy] = screen(at);
    const d = Math.hypot(sx - x, sy - y);
    // Points are wanted before lines, lines before faces: each rank outweighs any distance within reach.
    if (d <= REACH[kind] && rank * 1000 + d < near) {
      near = rank * 1000 + d;
      best = { kind, at: at.clone(), piece };
    }
  };
  // Just beside a piece its rim is still in reach: rays a little to each side find it.
  const straight = scene.cast(ray);
  const hit = straight ?? AROUND.map(([dx, dy]) => scene.cast(scene.ray(x + dx, y + dy))).find((h) => h) ?? null;
  if (hit) {
    const ring = scene.polygon(hit.piece, hit.triangle, hit.copy);
    ring.forEach((a, i) => {
      const b = ring[(i + 1) % ring.length];
      if (kinds.vertex) offer('vertex', a, hit.piece, 0);
      if (kinds.middle) offer('middle', a.clone().lerp(b, 0.5), hit.piece, 1);
      if (kinds.edge) {
        const [ax, ay] = screen(a);
        const [bx, by] = screen(b);
        const dx = bx - ax;
        const dy = by - ay;
        const l = dx * dx + dy * dy;
        offer(
          'edge',
          a.clone().lerp(b, l > 0 ? Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / l)) : 0),
          hit.piece,
          2,
        );
      }
    });
    if (kinds.texel && straight) {
      const t = scene.texel(hit);
      if (t) offer('texel', t, hit.piece, 3);
    }
    if (kinds.face && straight) offer('face', hit.point, hit.piece, 4);
  }
  if (kinds.pivot) for (const p of scene.pivots) offer('pivot', p.at, p.piece, 0);
  const plane = straight ? null : scene.plane(ray);
  if (plane && kinds.face) offer('face', plane.point, plane.piece, 5);
  if (kinds.grid && !best) {
    const p = ray.intersectPlane(ground, new THREE.Vector3());
    if (p)
      offer(
        'grid',
        new THREE.Vector3(
          ...(p
            .toArray()
            .map((c, k) => (Math.abs(ground.normal.getComponent(k)) > 0.5 ? 0 : Math.round(c / grid) * grid)) as [
            number,
            number,
            number,
          ]),
        ),
        null,
        6,
      );
  }
  return best;
}
