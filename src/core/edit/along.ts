/**
 * Along curves: faces drawn out along one, vertices laid along one as if on a straight line before, chains of edges
 * brought onto one.
 */
import { axisIndex, type Affine, type Axis } from '../math/affine';
import { along, apart, at, minus, type Vector } from '../math/vector';
import { boundsOfPoints } from '../mesh/bounds';
import type { Mesh } from '../mesh/mesh';
import { fromTo, type Rail, type Stop } from '../curve/rail';
import type { Chain } from './chains';
import type { PlaceMap } from './reshape';

export interface Stations {
  /** Parts of equal length. */
  steps: number;
  /** How much of the way is gone, from its beginning. */
  share: number;
  /** Radians, over the whole way. */
  twist: number;
  /** Size at the end. */
  end: number;
  /** Turning with the way; else only moved. */
  turning: boolean;
}

/** Maps for `extrude`: the way is carried to where the faces are, so that it begins in their middle. */
export function stationsAlong(rail: Rail, middle: Vector, o: Stations): Affine[] {
  const first = rail.at(0);
  const here: Stop = { ...first, place: middle };
  const out: Affine[] = [];
  for (let i = 1; i <= o.steps; i++) {
    const t = i / o.steps;
    const stop = rail.at(rail.length * o.share * t);
    const place = along(middle, minus(stop.place, first.place), 1);
    const goal: Stop = o.turning ? { ...stop, place } : { ...first, place };
    out.push(fromTo(here, goal, o.twist * t, 1 + (o.end - 1) * t));
  }
  return out;
}

export interface Lay {
  axis: Axis;
  /** Drawn out to the whole length of the curve, or as long as it is. */
  fit: boolean;
  /** Where on the curve the lower end comes to lie, as a share of its length. */
  from: number;
  /** Radians, about the curve. */
  turn: number;
}

/** What runs along an axis now runs along the curve; what is beside it stands square to the curve. */
export function laidAlong(mesh: Mesh, vertices: ArrayLike<number>, rail: Rail, o: Lay): PlaceMap {
  const b = boundsOfPoints(mesh.positions, vertices);
  if (!b) return (p) => p;
  const k = axisIndex(o.axis);
  const [u, w] = [(k + 1) % 3, (k + 2) % 3];
  const span = b.max[k] - b.min[k];
  const middle = [0, 1, 2].map((i) => (b.min[i] + b.max[i]) / 2);
  const scale = o.fit && span > 0 ? rail.length / span : 1;
  const [c, s] = [Math.cos(o.turn), Math.sin(o.turn)];
  return (p) => {
    const stop = rail.at(o.from * rail.length + (p[k] - b.min[k]) * scale);
    const [a, d] = [p[u] - middle[u], p[w] - middle[w]];
    return along(along(stop.place, stop.x, a * c - d * s), stop.y, a * s + d * c);
  };
}

/** Chains onto a curve: along its whole length in equal parts, or each vertex to the nearest place. */
export function ontoRail(mesh: Mesh, chains: readonly Chain[], rail: Rail, even: boolean): Map<number, Vector> {
  const places = new Map<number, Vector>();
  for (const { vertices, closed } of chains) {
    const points = vertices.map((v) => at(mesh.positions, v));
    if (!even) {
      vertices.forEach((v, i) => places.set(v, rail.at(rail.nearest(points[i])).place));
      continue;
    }
    // Where it starts and which way it goes: whatever moves the vertices least.
    const n = vertices.length;
    const round = closed && rail.closed;
    const start = round ? rail.nearest(points[0]) : 0;
    const parts = round ? n : Math.max(1, closed ? n : n - 1);
    const ways = [1, -1].map((way) =>
      vertices.map(
        (_, i) =>
          rail.at(way > 0 || round ? start + (way * rail.length * i) / parts : rail.length - (rail.length * i) / parts)
            .place,
      ),
    );
    const far = ways.map((list) => list.reduce((sum, p, i) => sum + apart(p, points[i]), 0));
    const best = far[0] <= far[1] ? ways[0] : ways[1];
    vertices.forEach((v, i) => places.set(v, best[i]));
  }
  return places;
}
