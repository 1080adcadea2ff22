/**
 * Places for copies: in a row, in a grid, round a centre, along a curve, on elements of a mesh. What stands on
 * something has its key of that.
 */
import { railOf, type Rail, type Stop } from '../curve/rail';
import type { Curves } from '../curve/curves';
import {
  about,
  compose,
  IDENTITY,
  rotation,
  rotationAbout,
  scaling,
  translation,
  type Affine,
  type Axis,
  type Triple,
} from '../math/affine';
import { key2, key4 } from '../math/hash';
import { along, cross, dot, size, square, unit, type Vector } from '../math/vector';
import { elementPoint } from '../mesh/elements';
import type { Mesh } from '../mesh/mesh';
import { faceNormals } from '../mesh/normals';
import { edgeKeys, type PickKind } from '../mesh/picks';
import { topologyOf } from '../mesh/topology';
import { FACING } from '../mesh/points';
import { affordable, type Sites } from './copies';

interface Made extends Sites {
  readonly place: Affine[];
  readonly key: number[];
}
const none = (): Made => ({ place: [], key: [] });

/** `count` places, each so far from the one before; keys by number. */
export function rowSites(count: number, step: Triple, seed: number): Made {
  affordable(count, 1);
  const out = none();
  for (let i = 0; i < count; i++) {
    out.place.push(translation(i * step[0], i * step[1], i * step[2]));
    out.key.push(key2(seed, i));
  }
  return out;
}

export function gridSites(counts: Triple, step: Triple, seed: number, middle: boolean): Made {
  affordable(counts[0] * counts[1] * counts[2], 1);
  const out = none();
  const from = counts.map((n, k) => (middle ? (-(n - 1) * step[k]) / 2 : 0));
  for (let z = 0; z < counts[2]; z++)
    for (let y = 0; y < counts[1]; y++)
      for (let x = 0; x < counts[0]; x++) {
        out.place.push(translation(from[0] + x * step[0], from[1] + y * step[1], from[2] + z * step[2]));
        out.key.push(key4(seed, x, y, z));
      }
  return out;
}

/**
 * Round the axis through a centre: a whole turn is shared out, of a part of one both ends are taken. `turned`: each
 * looks the same way out.
 */
export function roundSites(
  count: number,
  axis: Axis,
  centre: Triple,
  over: number,
  seed: number,
  turned: boolean,
): Made {
  affordable(count, 1);
  const out = none();
  const whole = Math.abs(Math.abs(over) - 2 * Math.PI) < 1e-9;
  const parts = whole ? count : Math.max(1, count - 1);
  for (let i = 0; i < count; i++) {
    const turn = about(rotation(axis, (over * i) / parts), ...(centre as [number, number, number]));
    out.place.push(turned ? turn : translation(turn[3], turn[7], turn[11]));
    out.key.push(key2(seed, i));
  }
  return out;
}

const frame = (x: Triple, y: Triple, z: Triple, at: Triple): Affine =>
  [...[x[0], y[0], z[0], at[0]], ...[x[1], y[1], z[1], at[1]], ...[x[2], y[2], z[2], at[2]]] as unknown as Affine;

/** With y up as far as the way allows, and z along it. */
function upright({ place, z, x }: Stop): Affine {
  const up: Vector = along([0, 1, 0], z, -z[1]);
  const y = size(up) > 1e-6 ? unit(up) : unit(cross(z, x));
  return frame(unit(cross(y, z)), y, z, place);
}

/** Along a curve: so many, or one each `apart` metres. Keys by number from its beginning. */
export function curveSites(
  curves: Curves | undefined,
  how: { count: number; apart: number; aligned: 'upright' | 'turning' | 'free' },
  seed: number,
): Made {
  const rail: Rail | undefined = railOf(curves);
  if (!rail) throw new Error('There is no curve to copy along.');
  const by = how.apart > 0;
  const fits = by ? Math.floor(rail.length / how.apart + 1e-9) + (rail.closed ? 0 : 1) : how.count;
  affordable(fits, 1);
  const ends = rail.closed ? fits : Math.max(1, fits - 1);
  const apart = by ? how.apart : rail.length / ends;
  const out = none();
  for (let i = 0; i < fits; i++) {
    const stop = rail.at(i * apart);
    if (how.aligned === 'free') out.place.push(translation(...stop.place));
    else out.place.push(how.aligned === 'upright' ? upright(stop) : frame(stop.x, stop.y, stop.z, stop.place));
    out.key.push(key2(seed, i));
  }
  return out;
}

/** The way each element looks, 1 long; up where it has none. */
function looksOf(mesh: Mesh, kind: PickKind): (i: number) => Vector {
  const n = faceNormals(mesh);
  const of = (f: number): Vector => [n[3 * f], n[3 * f + 1], n[3 * f + 2]];
  const { vertexCornerStart, vertexCorner, cornerFace, edgeCornerStart, edgeCorner } = topologyOf(mesh);
  const sum = (start: Uint32Array, list: Uint32Array, i: number): Vector => {
    let all: Vector = [0, 0, 0];
    for (let k = start[i]; k < start[i + 1]; k++) all = along(all, of(cornerFace[list[k]]), 1);
    return size(all) > 1e-12 ? unit(all) : [0, 1, 0];
  };
  if (kind === 'face') return (f) => (size(of(f)) > 0.5 ? of(f) : [0, 1, 0]);
  const facing = mesh.faceCount === 0 ? mesh.attributes[FACING]?.data : undefined;
  if (facing && kind === 'vertex') return (v) => [facing[3 * v], facing[3 * v + 1], facing[3 * v + 2]];
  return kind === 'vertex'
    ? (v) => sum(vertexCornerStart, vertexCorner, v)
    : (e) => sum(edgeCornerStart, edgeCorner, e);
}

/** A direction along each element, for what is to lie along it: of a face its first side, of an edge itself. */
function waysOf(mesh: Mesh, kind: PickKind): (i: number) => Vector {
  const { positions: p } = mesh;
  const between = (a: number, b: number): Vector => [0, 1, 2].map((k) => p[3 * b + k] - p[3 * a + k]) as Vector;
  if (kind === 'face')
    return (f) => {
      const s = mesh.faceStart[f];
      return between(mesh.cornerVertex[s], mesh.cornerVertex[s + 1]);
    };
  const { edgeVertex } = topologyOf(mesh);
  return kind === 'edge' ? (e) => between(edgeVertex[2 * e], edgeVertex[2 * e + 1]) : () => [1, 0, 0];
}

export const ALIGNED = ['normal', 'along', 'free'] as const;

/**
 * On elements of a mesh, with y the way each looks (`normal`), with x along its first side as well (`along`), or as it
 * is (`free`). What looks along x has no x of its own: then it takes the nearest axis that is square to it.
 */
export function elementSites(
  mesh: Mesh,
  kind: PickKind,
  which: ArrayLike<number>,
  aligned: (typeof ALIGNED)[number],
  seed: number,
): Made {
  affordable(which.length, 1);
  const keys = { vertex: () => mesh.vertexKey, face: () => mesh.faceKey, edge: () => edgeKeys(mesh) }[kind]();
  const look = aligned === 'free' ? undefined : looksOf(mesh, kind);
  const way = aligned === 'along' ? waysOf(mesh, kind) : undefined;
  const out = none();
  for (let n = 0; n < which.length; n++) {
    const i = which[n];
    const at = elementPoint(mesh, kind, i);
    out.key.push(key2(seed, keys[i]));
    if (!look) {
      out.place.push(translation(at[0], at[1], at[2]));
      continue;
    }
    const y = look(i);
    const wanted = way?.(i) ?? [1, 0, 0];
    const flat = along(wanted, y, -dot(wanted, y));
    const x = size(flat) > 1e-6 * Math.max(1e-12, size(wanted)) ? unit(flat) : square(y);
    out.place.push(frame(x, y, unit(cross(x, y)), at));
  }
  return out;
}

/** Each turned about its own axis and sized, before it is put there. */
export function fashioned(
  sites: Sites,
  axis: Axis,
  turn: ArrayLike<number>,
  sizes: ArrayLike<number>,
  wide: 1 | 3,
): Made {
  const a: Triple = [axis === 'x' ? 1 : 0, axis === 'y' ? 1 : 0, axis === 'z' ? 1 : 0];
  const place = sites.place.map((m, i) => {
    const s = [0, 1, 2].map((k) => sizes[wide * i + (wide === 3 ? k : 0)]);
    if (turn[i] === 0 && s[0] === 1 && s[1] === 1 && s[2] === 1) return m;
    const own = compose(turn[i] === 0 ? IDENTITY : rotationAbout(a, turn[i]), scaling(s[0], s[1], s[2]));
    return compose(m, own);
  });
  return { place, key: [...sites.key] };
}

/** Those that are wanted. */
export function someSites(sites: Sites, kept: ArrayLike<number>): Made {
  const is = (_: unknown, i: number) => kept[i] !== 0;
  return { place: sites.place.filter(is), key: sites.key.filter(is) };
}
