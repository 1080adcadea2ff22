/**
 * Blueprints: pictures made true to scale. A picture's pixels (from its top left corner, y downwards) are mapped to the
 * plane of its piece (u to the right, v up, metres) by an origin, a turn that levels it, and metres for a pixel.
 */

export type Side = 'front' | 'back' | 'left' | 'right' | 'top' | 'bottom' | 'free';
export const SIDES: readonly Side[] = ['front', 'back', 'left', 'right', 'top', 'bottom', 'free'];

/** A marked position along the drawing's u or v, where a section belongs. */
export interface Station {
  id: string;
  name: string;
  along: 'u' | 'v';
  at: number;
}

/** A circle or ellipse laid on the drawing: middle and half axes in metres, turned by radians. */
export interface Round {
  id: string;
  u: number;
  v: number;
  a: number;
  b: number;
  turn: number;
}

export interface Blueprint {
  image: string;
  /** The part of the picture that is shown: left, top, right, bottom in pixels. */
  frame: [number, number, number, number];
  /** Radians by which the picture is turned, counter-clockwise, to be level. */
  level: number;
  /** Metres for a pixel. */
  scale: number;
  /** The pixel that lies at the piece's origin. */
  origin: [number, number];
  side: Side;
  opacity: number;
  /** −1..1, 0 as it is. */
  brightness: number;
  contrast: number;
  filter: 'smooth' | 'pixels';
  depth: 'behind' | 'in place' | 'in front';
  seen: 'always' | 'own view';
  /** Only then is it picked in the view. */
  pickable: boolean;
  stations: Station[];
  rounds: Round[];
}

export type Point = readonly [number, number];

export const newBlueprint = (image: string, width: number, height: number, long = 1): Blueprint => ({
  image,
  frame: [0, 0, width, height],
  level: 0,
  scale: long / Math.max(width, height),
  origin: [width / 2, height / 2],
  side: 'front',
  opacity: 1,
  brightness: 0,
  contrast: 0,
  filter: 'smooth',
  depth: 'in place',
  seen: 'always',
  pickable: false,
  stations: [],
  rounds: [],
});

type Calibration = Pick<Blueprint, 'level' | 'scale' | 'origin'>;

/** From a pixel to the plane, metres. */
export function toPlane(b: Calibration, [x, y]: Point): [number, number] {
  const c = Math.cos(b.level);
  const s = Math.sin(b.level);
  const dx = (x - b.origin[0]) * b.scale;
  const dy = (b.origin[1] - y) * b.scale;
  return [c * dx - s * dy, s * dx + c * dy];
}

/** From the plane back to a pixel. */
export function toPixel(b: Calibration, [u, v]: Point): [number, number] {
  const c = Math.cos(b.level);
  const s = Math.sin(b.level);
  return [b.origin[0] + (c * u + s * v) / b.scale, b.origin[1] - (c * v - s * u) / b.scale];
}

/**
 * The level that makes the line through two pixels run exactly across, or upright where it is nearer to that. Undefined
 * for one point.
 */
export function levelBy(p: Point, q: Point): number | undefined {
  const dx = q[0] - p[0];
  const dy = p[1] - q[1]; // up is positive
  if (Math.hypot(dx, dy) < 1e-9) return undefined;
  const angle = Math.atan2(dy, dx);
  const quarter = Math.PI / 2;
  return Math.round(angle / quarter) * quarter - angle;
}

/**
 * Metres for a pixel, from two pixels and what lies between them in reality. Undefined where they are one point or
 * nothing.
 */
export function scaleBy(p: Point, q: Point, metres: number): number | undefined {
  const pixels = Math.hypot(p[0] - q[0], p[1] - q[1]);
  return pixels > 1e-9 && metres > 0 ? metres / pixels : undefined;
}

/** How each side's plane is turned: what a view from that side shows upright. About x, y, z, radians. */
export function sideTurn(side: Side): [number, number, number] {
  const q = Math.PI / 2;
  switch (side) {
    case 'back':
      return [0, 2 * q, 0];
    case 'right':
      return [0, q, 0];
    case 'left':
      return [0, -q, 0];
    case 'top':
      return [-q, 0, 0];
    case 'bottom':
      return [q, 0, 0];
    default:
      return [0, 0, 0];
  }
}

/** The world axes that a side's u and v run along. */
const AXES: Readonly<Record<Exclude<Side, 'free'>, readonly ['x' | 'y' | 'z', 'x' | 'y' | 'z']>> = {
  front: ['x', 'y'],
  back: ['x', 'y'],
  left: ['z', 'y'],
  right: ['z', 'y'],
  top: ['x', 'z'],
  bottom: ['x', 'z'],
};

/**
 * The dimension that two views share, with the direction it has in each. Undefined where one is free or both show the
 * same plane.
 */
export function sharedAxis(a: Side, b: Side): { axis: 'x' | 'y' | 'z'; inA: 'u' | 'v'; inB: 'u' | 'v' } | undefined {
  if (a === 'free' || b === 'free') return undefined;
  const p = AXES[a];
  const q = AXES[b];
  const shared = p.filter((x) => q.includes(x));
  if (shared.length !== 1) return undefined;
  return { axis: shared[0], inA: p[0] === shared[0] ? 'u' : 'v', inB: q[0] === shared[0] ? 'u' : 'v' };
}

/** Two measures of the same thing on two views: how far the second is off. */
export function crossCheck(a: number, b: number): { error: number; share: number } {
  return { error: b - a, share: a !== 0 ? (b - a) / a : 0 };
}

/** A, B, … Z, AA …: the next name that is not taken. */
export function nextStation(stations: readonly Station[]): string {
  const taken = new Set(stations.map((s) => s.name));
  for (let i = 0; ; i++) {
    let name = '';
    let n = i;
    do {
      name = String.fromCharCode(65 + (n % 26)) + name;
      n = Math.floor(n / 26) - 1;
    } while (n >= 0);
    if (!taken.has(name)) return name;
  }
}
