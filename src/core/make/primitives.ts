/**
 * Simple bodies. Keys come from shares of their sides and of the turn, so that they mean the same place whatever the
 * counts.
 */
import { EVERY, pulse } from '../math/pulse';
import { key2, key3, key4, keyOf } from '../math/hash';
import type { Triple } from '../math/affine';
import { Mesh } from '../mesh/mesh';
import { Later } from '../mesh/places';
import { names, type Names } from './naming';

/** Collects faces and vertices with keys. */
class Builder {
  readonly positions: number[] = [];
  readonly vertexKey: number[] = [];
  readonly faceKey: number[] = [];
  readonly faceStart: number[] = [0];
  readonly cornerVertex: number[] = [];
  readonly places: number[] = [];
  private known = new Map<number, number>();

  /** `place` in the natural coordinates of the body. */
  vertex(key: number, place: Triple, x: number, y: number, z: number): number {
    const had = this.known.get(key);
    if (had !== undefined) return had;
    const i = this.vertexKey.length;
    this.vertexKey.push(key);
    this.positions.push(x, y, z);
    this.places.push(place[0], place[1], place[2], 0);
    this.known.set(key, i);
    return i;
  }

  face(key: number, ...vertices: number[]): void {
    if ((this.faceKey.length & EVERY) === 0) pulse();
    this.cornerVertex.push(...vertices);
    this.faceStart.push(this.cornerVertex.length);
    this.faceKey.push(key);
  }

  mesh(): Mesh {
    return new Mesh({
      positions: Float32Array.from(this.positions),
      faceStart: Uint32Array.from(this.faceStart),
      cornerVertex: Uint32Array.from(this.cornerVertex),
      vertexKey: Float64Array.from(this.vertexKey),
      faceKey: Float64Array.from(this.faceKey),
      places: new Later(() => ({
        at: Float32Array.from(this.places),
        role: new Uint32Array(this.vertexKey.length),
      })),
    });
  }
}

const count = (n: number, least: number) => Math.max(least, Math.min(512, Math.round(n)));

export interface BoxOptions {
  width: number;
  height: number;
  depth: number;
  cutX: number;
  cutY: number;
  cutZ: number;
  onGround: boolean;
  names?: Names;
}

/** Width along x, height along y, depth along z, each divided. Centred; on the ground if asked. */
export function box(o: BoxOptions, id: number): Mesh {
  const n = [count(o.cutX, 1), count(o.cutY, 1), count(o.cutZ, 1)];
  const size = [o.width, o.height, o.depth];
  const b = new Builder();
  const { line, cell } = names(o.names);
  const seed = key2(id, keyOf('box'));
  const lift = o.onGround ? o.height / 2 : 0;
  const at = (i: number, j: number, k: number) =>
    b.vertex(
      key4(seed, line(i, n[0]), line(j, n[1]), line(k, n[2])),
      [(2 * i) / n[0] - 1, (2 * j) / n[1] - 1, (2 * k) / n[2] - 1],
      size[0] * (i / n[0] - 0.5),
      size[1] * (j / n[1] - 0.5) + lift,
      size[2] * (k / n[2] - 0.5),
    );
  for (let axis = 0; axis < 3; axis++)
    for (const end of [0, 1]) {
      const u = (axis + 1) % 3;
      const v = (axis + 2) % 3;
      const corner = (i: number, j: number) => {
        const at3 = [0, 0, 0];
        at3[axis] = end * n[axis];
        at3[u] = i;
        at3[v] = j;
        return at(at3[0], at3[1], at3[2]);
      };
      for (let i = 0; i < n[u]; i++)
        for (let j = 0; j < n[v]; j++) {
          const q = [corner(i, j), corner(i + 1, j), corner(i + 1, j + 1), corner(i, j + 1)];
          b.face(key4(seed, 10 + 2 * axis + end, cell(i, n[u]), cell(j, n[v])), ...(end ? q : q.reverse()));
        }
    }
  return b.mesh();
}

export type Cap = 'polygon' | 'fan' | 'open';
export interface CylinderOptions {
  radius: number;
  topRadius: number;
  height: number;
  sides: number;
  rows: number;
  cap: Cap;
  onGround: boolean;
  names?: Names;
}

/** Upright, along y. A top radius of 0 makes a cone. */
export function cylinder(o: CylinderOptions, id: number): Mesh {
  const sides = count(o.sides, 3);
  const rows = count(o.rows, 1);
  const b = new Builder();
  const { line, cell, spoke, sector } = names(o.names);
  const seed = key2(id, keyOf('cylinder'));
  const base = o.onGround ? 0 : -o.height / 2;
  const pointed = o.topRadius === 0;
  const at = (i: number, j: number) => {
    const a = (2 * Math.PI * (i % sides)) / sides;
    const s = j / rows;
    const r = o.radius + (o.topRadius - o.radius) * s;
    if (pointed && j === rows) return b.vertex(key2(seed, keyOf('apex')), [0, 1, 0], 0, base + o.height, 0);
    const [x, z] = [Math.cos(a), -Math.sin(a)];
    return b.vertex(
      key4(seed, 5, spoke(i % sides, sides), line(j, rows)),
      [x, 2 * s - 1, z],
      r * x,
      base + o.height * s,
      r * z,
    );
  };
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < sides; i++) {
      const key = key4(seed, 1, sector(i, sides), cell(j, rows));
      if (pointed && j === rows - 1) b.face(key, at(i, j), at(i + 1, j), at(i, j + 1));
      else b.face(key, at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1));
    }
  for (const top of [false, true]) {
    if (o.cap === 'open' || (top && pointed)) continue;
    const row = top ? rows : 0;
    const ring = Array.from({ length: sides }, (_, i) => at(top ? i : sides - 1 - i, row));
    if (o.cap === 'polygon') b.face(key3(seed, 2, top ? 1 : 0), ...ring);
    else {
      const middle = b.vertex(key3(seed, 3, top ? 1 : 0), [0, top ? 1 : -1, 0], 0, base + (top ? o.height : 0), 0);
      for (let i = 0; i < sides; i++)
        b.face(
          key4(seed, 4, top ? 1 : 0, sector(top ? i : (2 * sides - 2 - i) % sides, sides)),
          ring[i],
          ring[(i + 1) % sides],
          middle,
        );
    }
  }
  return b.mesh();
}

/** A flat grid in the ground plane, looking up. */
export function plane(
  o: { width: number; depth: number; cutX: number; cutZ: number; names?: Names },
  id: number,
): Mesh {
  const { line, cell } = names(o.names);
  const nx = count(o.cutX, 1);
  const nz = count(o.cutZ, 1);
  const b = new Builder();
  const seed = key2(id, keyOf('plane'));
  const at = (i: number, k: number) =>
    b.vertex(
      key3(seed, line(i, nx), line(k, nz)),
      [(2 * i) / nx - 1, 0, (2 * k) / nz - 1],
      o.width * (i / nx - 0.5),
      0,
      o.depth * (k / nz - 0.5),
    );
  for (let k = 0; k < nz; k++)
    for (let i = 0; i < nx; i++)
      b.face(key4(seed, 1, cell(i, nx), cell(k, nz)), at(i, k), at(i, k + 1), at(i + 1, k + 1), at(i + 1, k));
  return b.mesh();
}

/** A sphere of rings and sides, with triangles at the poles. */
export function ringSphere(o: { radius: number; sides: number; rings: number; names?: Names }, id: number): Mesh {
  const { line, cell, spoke, sector } = names(o.names);
  const sides = count(o.sides, 3);
  const rings = count(o.rings, 2);
  const b = new Builder();
  const seed = key2(id, keyOf('ring sphere'));
  const at = (i: number, j: number) => {
    const pole = j === 0 ? -1 : 1;
    if (j === 0 || j === rings) return b.vertex(key3(seed, 2, j === 0 ? 0 : 1), [0, pole, 0], 0, pole * o.radius, 0);
    const polar = (Math.PI * j) / rings;
    const a = (2 * Math.PI * (i % sides)) / sides;
    const out: Triple = [Math.sin(polar) * Math.cos(a), -Math.cos(polar), -Math.sin(polar) * Math.sin(a)];
    return b.vertex(
      key4(seed, 1, spoke(i % sides, sides), line(j, rings)),
      out,
      o.radius * out[0],
      o.radius * out[1],
      o.radius * out[2],
    );
  };
  for (let j = 0; j < rings; j++)
    for (let i = 0; i < sides; i++) {
      const key = key4(seed, 3, sector(i, sides), cell(j, rings));
      if (j === 0) b.face(key, at(i, 0), at(i + 1, 1), at(i, 1));
      else if (j === rings - 1) b.face(key, at(i, j), at(i + 1, j), at(i, rings));
      else b.face(key, at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1));
    }
  return b.mesh();
}

/** A sphere from a divided cube: quads only, sized evenly by spreading the grid with the tangent. */
export function cubeSphere(o: { radius: number; cuts: number; names?: Names }, id: number): Mesh {
  const n = count(o.cuts, 1);
  const cube = box(
    { width: 2, height: 2, depth: 2, cutX: n, cutY: n, cutZ: n, onGround: false, names: o.names },
    key2(id, keyOf('cube sphere')),
  );
  const positions = cube.positions.slice();
  for (let i = 0; i < positions.length; i += 3) {
    const x = Math.tan((positions[i] * Math.PI) / 4);
    const y = Math.tan((positions[i + 1] * Math.PI) / 4);
    const z = Math.tan((positions[i + 2] * Math.PI) / 4);
    const k = o.radius / Math.hypot(x, y, z);
    positions[i] = x * k;
    positions[i + 1] = y * k;
    positions[i + 2] = z * k;
  }
  // It belongs where the cube's grid has it: halfway between two lines there is halfway whatever the count.
  return cube.with({ positions });
}
