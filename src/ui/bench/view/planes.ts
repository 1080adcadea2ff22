/**
 * Blueprints in the view: unlit pictures on planes, seen from both sides, with their stations and the circles and
 * ellipses laid on them.
 */
import * as THREE from 'three';
import { toPixel, toPlane, type Blueprint } from '../../../core/blueprint/blueprint';
import type { Piece, ProjectImage } from '../../../document/types';
import type { ViewName } from '../store';
import { color, stored } from './looks';
import { dispose } from './marks';

export interface Label {
  id: string;
  text: string;
  at: THREE.Vector3;
  kind: 'station' | 'measure' | 'snap' | 'lost';
}

const SIDE_OF: Readonly<Partial<Record<ViewName, Blueprint['side']>>> = {
  Front: 'front',
  Back: 'back',
  Side: 'right',
  Left: 'left',
  Top: 'top',
  Bottom: 'bottom',
};

interface Sheet {
  piece: Piece;
  group: THREE.Group;
  plane: THREE.Mesh<THREE.BufferGeometry, THREE.ShaderMaterial>;
  marks: THREE.Group;
  image: ProjectImage | undefined;
  world: THREE.Matrix4;
}

const material = (): THREE.ShaderMaterial =>
  new THREE.ShaderMaterial({
    transparent: true,
    side: THREE.DoubleSide,
    depthWrite: false,
    uniforms: { map: { value: null }, opacity: { value: 1 }, brightness: { value: 0 }, contrast: { value: 0 } },
    vertexShader: 'varying vec2 at; void main(){at=uv;gl_Position=projectionMatrix*modelViewMatrix*vec4(position,1.);}',
    // As the picture is on paper: neither lit nor toned. Contrast turns about middle grey.
    fragmentShader:
      'uniform sampler2D map; uniform float opacity; uniform float brightness; uniform float contrast; varying ' +
      'vec2 at; void main(){vec4 c=texture2D(map,at);vec3 ' +
      'p=(c.rgb-.5)*(contrast<0.?1.+contrast:1.+3.*contrast)+.5+brightness;gl_FragColor=vec4(clamp(p,0.,1.),c.a*opacity);}',
  });

export class Planes {
  readonly group = new THREE.Group();
  private sheets = new Map<string, Sheet>();
  loaded: () => void = () => undefined;

  show(
    pieces: readonly Piece[],
    worlds: ReadonlyMap<string, THREE.Matrix4>,
    seen: ReadonlySet<string>,
    images: readonly ProjectImage[],
  ): void {
    const live = new Set<string>();
    for (const piece of pieces) {
      if (piece.kind !== 'blueprint' || !piece.blueprint || !seen.has(piece.id)) continue;
      live.add(piece.id);
      let s = this.sheets.get(piece.id);
      if (!s) {
        const group = new THREE.Group();
        const plane = new THREE.Mesh(new THREE.BufferGeometry(), material());
        const marks = new THREE.Group();
        group.matrixAutoUpdate = false;
        group.add(plane, marks);
        this.group.add(group);
        s = { piece: null as unknown as Piece, group, plane, marks, image: undefined, world: new THREE.Matrix4() };
        this.sheets.set(piece.id, s);
      }
      const image = images.find((i) => i.id === piece.blueprint!.image);
      const world = worlds.get(piece.id) ?? new THREE.Matrix4();
      s.world = world;
      s.group.matrix.copy(world);
      s.group.matrixWorldNeedsUpdate = true;
      if (s.piece !== piece || s.image !== image) {
        s.piece = piece;
        s.image = image;
        if (image) this.draw(s, piece.blueprint, image);
      }
    }
    for (const [id, s] of this.sheets)
      if (!live.has(id)) {
        this.group.remove(s.group);
        dispose(s.group);
        this.sheets.delete(id);
      }
  }

  private draw(s: Sheet, b: Blueprint, image: ProjectImage): void {
    const [x0, y0, x1, y1] = b.frame;
    const corners = [
      [x0, y1],
      [x1, y1],
      [x1, y0],
      [x0, y0],
    ] as const;
    const at = new Float32Array(12);
    const uv = new Float32Array(8);
    corners.forEach(([x, y], i) => {
      const [u, v] = toPlane(b, [x, y]);
      at.set([u, v, 0], 3 * i);
      uv.set([x / image.width, 1 - y / image.height], 2 * i);
    });
    s.plane.geometry.dispose();
    s.plane.geometry = new THREE.BufferGeometry()
      .setAttribute('position', new THREE.BufferAttribute(at, 3))
      .setAttribute('uv', new THREE.BufferAttribute(uv, 2))
      .setIndex([0, 1, 2, 0, 2, 3]);
    const m = s.plane.material;
    const t = stored(image.blob, false, this.loaded);
    const filter = b.filter === 'pixels' ? THREE.NearestFilter : THREE.LinearFilter;
    if (t.magFilter !== filter) {
      t.magFilter = filter;
      t.needsUpdate = !!t.image;
    }
    Object.assign(m.uniforms, {
      map: { value: t },
      opacity: { value: b.opacity },
      brightness: { value: b.brightness },
      contrast: { value: b.contrast },
    });
    m.depthTest = b.depth === 'in place';
    s.plane.renderOrder = { behind: -10, 'in front': 12, 'in place': 1 }[b.depth];
    dispose(s.marks);
    s.marks.clear();
    const line = (points: number[], name: string) => {
      const l = new THREE.LineSegments(
        new THREE.BufferGeometry().setAttribute('position', new THREE.Float32BufferAttribute(points, 3)),
        new THREE.LineBasicMaterial({ color: color(name), depthTest: b.depth === 'in place', transparent: true }),
      );
      l.renderOrder = s.plane.renderOrder + 1;
      s.marks.add(l);
    };
    const [lo, hi] = extent(b);
    const stations: number[] = [];
    for (const q of b.stations)
      stations.push(
        ...(q.along === 'u' ? [q.at, lo[1], 0.0005, q.at, hi[1], 0.0005] : [lo[0], q.at, 0.0005, hi[0], q.at, 0.0005]),
      );
    if (stations.length) line(stations, 'last');
    const rounds: number[] = [];
    for (const r of b.rounds)
      for (let i = 0; i < 96; i++)
        for (const k of [i, i + 1]) {
          const a = (k * Math.PI) / 48;
          const c = Math.cos(a) * r.a;
          const d = Math.sin(a) * r.b;
          rounds.push(
            r.u + c * Math.cos(r.turn) - d * Math.sin(r.turn),
            r.v + c * Math.sin(r.turn) + d * Math.cos(r.turn),
            0.001,
          );
        }
    if (rounds.length) line(rounds, 'value');
    line(
      [lo[0] * 0, 0, 0.0005, hi[0] * 0.06 || 0.01, 0, 0.0005, 0, 0, 0.0005, 0, hi[1] * 0.06 || 0.01, 0.0005],
      'wrong',
    );
  }

  /** Shows what a view is to see of them. */
  dress(view: ViewName): void {
    for (const s of this.sheets.values())
      s.group.visible = s.piece.blueprint!.seen === 'always' || s.piece.blueprint!.side === SIDE_OF[view];
  }

  /** Names of stations, on the drawings that are not seen edge-on. */
  labels(forward: THREE.Vector3): Label[] {
    const faces = (s: Sheet) =>
      Math.abs(new THREE.Vector3().setFromMatrixColumn(s.world, 2).normalize().dot(forward)) > 0.15;
    return [...this.sheets.values()].flatMap((s) =>
      s.group.visible && faces(s)
        ? s.piece.blueprint!.stations.map((q): Label => {
            const [, hi] = extent(s.piece.blueprint!);
            return {
              id: `${s.piece.id}/${q.id}`,
              text: q.name,
              kind: 'station',
              at: new THREE.Vector3(q.along === 'u' ? q.at : hi[0], q.along === 'u' ? hi[1] : q.at, 0).applyMatrix4(
                s.world,
              ),
            };
          })
        : [],
    );
  }

  /** Where a ray meets a blueprint: the plane's own coordinates, and the picture's pixel. */
  cast(
    ray: THREE.Ray,
    only?: string,
  ): { piece: string; u: number; v: number; pixel: [number, number]; point: THREE.Vector3; distance: number } | null {
    let best: ReturnType<Planes['cast']> = null;
    for (const s of this.sheets.values()) {
      const b = s.piece.blueprint!;
      if (!s.group.visible || (only !== undefined ? s.piece.id !== only : !b.pickable || s.piece.locked)) continue;
      const r = ray.clone().applyMatrix4(s.world.clone().invert());
      if (Math.abs(r.direction.z) < 1e-9) continue;
      const t = -r.origin.z / r.direction.z;
      if (t < 0) continue;
      const p = r.at(t, new THREE.Vector3());
      const pixel = toPixel(b, [p.x, p.y]);
      const point = p.clone().applyMatrix4(s.world);
      const distance = point.distanceTo(ray.origin);
      const inside =
        pixel[0] >= b.frame[0] && pixel[0] <= b.frame[2] && pixel[1] >= b.frame[1] && pixel[1] <= b.frame[3];
      if ((inside || only !== undefined) && (!best || distance < best.distance))
        best = { piece: s.piece.id, u: p.x, v: p.y, pixel, point, distance };
    }
    return best;
  }

  /** A point of a blueprint's plane in the world. */
  worldAt(piece: string, u: number, v: number): THREE.Vector3 | null {
    const s = this.sheets.get(piece);
    return s ? new THREE.Vector3(u, v, 0).applyMatrix4(s.world) : null;
  }

  bounds(piece?: string): THREE.Box3 {
    const out = new THREE.Box3();
    for (const s of this.sheets.values()) {
      if (piece !== undefined && s.piece.id !== piece) continue;
      const [lo, hi] = extent(s.piece.blueprint!);
      out.union(
        new THREE.Box3(new THREE.Vector3(lo[0], lo[1], 0), new THREE.Vector3(hi[0], hi[1], 0)).applyMatrix4(s.world),
      );
    }
    return out;
  }
}

/** The corners of what a blueprint covers in its own plane. */
export function extent(b: Blueprint): [[number, number], [number, number]] {
  const [x0, y0, x1, y1] = b.frame;
  const at = (
    [
      [x0, y0],
      [x1, y0],
      [x1, y1],
      [x0, y1],
    ] as const
  ).map((p) => toPlane(b, p));
  return [
    [Math.min(...at.map((p) => p[0])), Math.min(...at.map((p) => p[1]))],
    [Math.max(...at.map((p) => p[0])), Math.max(...at.map((p) => p[1]))],
  ];
}
