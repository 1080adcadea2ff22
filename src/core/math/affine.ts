/** Affine maps of space as row-major 3 × 4 arrays, in double precision, and the placement a piece has in its parent. */

export type Axis = 'x' | 'y' | 'z';
export const axisIndex = (axis: Axis): number => 'xyz'.indexOf(axis);

export type Triple = readonly [number, number, number];

/** Row-major 3 × 4. */
export type Affine = readonly [
  number,
  number,
  number,
  number,
  number,
  number,
  number,
  number,
  number,
  number,
  number,
  number,
];
export const IDENTITY: Affine = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];

export const translation = (x: number, y: number, z: number): Affine => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];

/** Turn about an axis by an angle in radians, counter-clockwise seen against the axis. */
export function rotation(axis: Axis, angle: number): Affine {
  const c = Math.cos(angle);
  const s = Math.sin(angle);
  if (axis === 'x') return [1, 0, 0, 0, 0, c, -s, 0, 0, s, c, 0];
  if (axis === 'y') return [c, 0, s, 0, 0, 1, 0, 0, -s, 0, c, 0];
  return [c, -s, 0, 0, s, c, 0, 0, 0, 0, 1, 0];
}

/** Turn about any direction (unit length) by an angle in radians, after Rodrigues. */
export function rotationAbout(d: Triple, angle: number): Affine {
  const c = Math.cos(angle);
  const s = Math.sin(angle);
  const t = 1 - c;
  const [x, y, z] = d;
  return [
    t * x * x + c,
    t * x * y - s * z,
    t * x * z + s * y,
    0,
    t * x * y + s * z,
    t * y * y + c,
    t * y * z - s * x,
    0,
    t * x * z - s * y,
    t * y * z + s * x,
    t * z * z + c,
    0,
  ];
}

export const scaling = (x: number, y: number, z: number): Affine => [x, 0, 0, 0, 0, y, 0, 0, 0, 0, z, 0];

/** First b, then a. */
export function compose(a: Affine, b: Affine): Affine {
  const out = new Array<number>(12);
  for (let r = 0; r < 3; r++) {
    for (let c = 0; c < 4; c++) {
      out[4 * r + c] =
        a[4 * r] * b[c] + a[4 * r + 1] * b[4 + c] + a[4 * r + 2] * b[8 + c] + (c === 3 ? a[4 * r + 3] : 0);
    }
  }
  return out as unknown as Affine;
}

export const about = (m: Affine, x: number, y: number, z: number): Affine =>
  compose(translation(x, y, z), compose(m, translation(-x, -y, -z)));

/** Determinant of the linear part: negative where the map mirrors. */
export const determinant = (m: Affine): number =>
  m[0] * (m[5] * m[10] - m[6] * m[9]) - m[1] * (m[4] * m[10] - m[6] * m[8]) + m[2] * (m[4] * m[9] - m[5] * m[8]);

export const applyPoint = (m: Affine, p: ArrayLike<number>): [number, number, number] => [
  m[0] * p[0] + m[1] * p[1] + m[2] * p[2] + m[3],
  m[4] * p[0] + m[5] * p[1] + m[6] * p[2] + m[7],
  m[8] * p[0] + m[9] * p[1] + m[10] * p[2] + m[11],
];

export const applyVector = (m: Affine, p: ArrayLike<number>): [number, number, number] => [
  m[0] * p[0] + m[1] * p[1] + m[2] * p[2],
  m[4] * p[0] + m[5] * p[1] + m[6] * p[2],
  m[8] * p[0] + m[9] * p[1] + m[10] * p[2],
];

/** The map that undoes m. Where m flattens space the answer is the identity: nothing can be undone. */
export function invert(m: Affine): Affine {
  const d = determinant(m);
  if (!(Math.abs(d) > 1e-300)) return IDENTITY;
  const k = 1 / d;
  const a = (m[5] * m[10] - m[6] * m[9]) * k;
  const b = (m[2] * m[9] - m[1] * m[10]) * k;
  const c = (m[1] * m[6] - m[2] * m[5]) * k;
  const e = (m[6] * m[8] - m[4] * m[10]) * k;
  const f = (m[0] * m[10] - m[2] * m[8]) * k;
  const g = (m[2] * m[4] - m[0] * m[6]) * k;
  const i = (m[4] * m[9] - m[5] * m[8]) * k;
  const j = (m[1] * m[8] - m[0] * m[9]) * k;
  const l = (m[0] * m[5] - m[1] * m[4]) * k;
  return [
    a,
    b,
    c,
    -(a * m[3] + b * m[7] + c * m[11]),
    e,
    f,
    g,
    -(e * m[3] + f * m[7] + g * m[11]),
    i,
    j,
    l,
    -(i * m[3] + j * m[7] + l * m[11]),
  ];
}

/** Column-major 4 × 4, as graphics libraries and glTF want it. */
export const toMatrix4 = (m: Affine): number[] => [
  m[0],
  m[4],
  m[8],
  0,
  m[1],
  m[5],
  m[9],
  0,
  m[2],
  m[6],
  m[10],
  0,
  m[3],
  m[7],
  m[11],
  1,
];
export const fromMatrix4 = (m: ArrayLike<number>): Affine => [
  m[0],
  m[4],
  m[8],
  m[12],
  m[1],
  m[5],
  m[9],
  m[13],
  m[2],
  m[6],
  m[10],
  m[14],
];

/**
 * Where a piece stands in its parent: p ↦ at + Turn · Lean · Size · (p − pivot). Every affine map that does not flatten
 * can be written so (Gram–Schmidt), so a piece that changes its parent keeps its place exactly, whatever was sized
 * unevenly above it.
 */
export interface Place {
  /** Of the pivot, in the parent's space, metres. */
  at: Triple;
  /** About x, then y, then z, radians. */
  turn: Triple;
  size: Triple;
  /** Shear of x by y, x by z, y by z; zeros for nearly everything. */
  lean: Triple;
  /** In the piece's own space, metres. */
  pivot: Triple;
  /** The pivot's own axes against the piece's, for handles; the piece itself is not turned by them. Radians. */
  axes?: Triple;
}

const ZERO: Triple = [0, 0, 0];
export const NO_PLACE: Place = { at: ZERO, turn: ZERO, size: [1, 1, 1], lean: ZERO, pivot: ZERO };

export const turned = (t: Triple): Affine =>
  compose(rotation('z', t[2]), compose(rotation('y', t[1]), rotation('x', t[0])));

export function placeMatrix(p: Place): Affine {
  const [a, b, c] = p.lean;
  const linear = compose(
    turned(p.turn),
    compose([1, a, b, 0, 0, 1, c, 0, 0, 0, 1, 0], scaling(p.size[0], p.size[1], p.size[2])),
  );
  const o = applyVector(linear, p.pivot);
  return [
    linear[0],
    linear[1],
    linear[2],
    p.at[0] - o[0],
    linear[4],
    linear[5],
    linear[6],
    p.at[1] - o[1],
    linear[8],
    linear[9],
    linear[10],
    p.at[2] - o[2],
  ];
}

/** Numbers that are a rounding error away from a plain one become it, so that sentences and files stay readable. */
const tidy = (x: number): number => {
  const r = Math.round(x * 1e9) / 1e9;
  return Math.abs(x - r) < 1e-11 ? r + 0 : x;
};

/** The placement that a map is, with a pivot in the piece's own space. */
export function placeOf(m: Affine, pivot: Triple = ZERO): Place {
  const col = (k: number): [number, number, number] => [m[k], m[4 + k], m[8 + k]];
  const dot = (a: readonly number[], b: readonly number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  const unit = (a: [number, number, number], otherwise: Triple): [number, [number, number, number]] => {
    const l = Math.hypot(...a);
    return l > 1e-150 ? [l, [a[0] / l, a[1] / l, a[2] / l]] : [0, [...otherwise]];
  };
  const [sx, x] = unit(col(0), [1, 0, 0]);
  const c1 = col(1);
  const u01 = dot(x, c1);
  const [sy, y] = unit(
    [c1[0] - u01 * x[0], c1[1] - u01 * x[1], c1[2] - u01 * x[2]],
    Math.abs(x[1]) < 0.9 ? [0, 1, 0] : [0, 0, 1],
  );
  const c2 = col(2);
  const u02 = dot(x, c2);
  const u12 = dot(y, c2);
  const z: [number, number, number] = [x[1] * y[2] - x[2] * y[1], x[2] * y[0] - x[0] * y[2], x[0] * y[1] - x[1] * y[0]];
  let sz = dot(z, c2);
  let size0 = sx;
  let lean0 = u01;
  let lean1 = u02;
  let r = [x[0], y[0], z[0], x[1], y[1], z[1], x[2], y[2], z[2]];
  if (sz < 0) {
    // mirrored: the first axis carries the sign
    r = [-x[0], y[0], -z[0], -x[1], y[1], -z[1], -x[2], y[2], -z[2]];
    size0 = -sx;
    lean0 = -u01;
    lean1 = -u02;
    sz = -sz;
  }
  const share = (u: number, s: number) => (Math.abs(s) > 1e-150 && Math.abs(u / s) > 1e-12 ? tidy(u / s) : 0);
  const turn: [number, number, number] =
    Math.abs(r[6]) < 1 - 1e-12
      ? [Math.atan2(r[7], r[8]), Math.asin(-r[6]), Math.atan2(r[3], r[0])]
      : [Math.atan2(-r[5], r[4]), r[6] < 0 ? Math.PI / 2 : -Math.PI / 2, 0];
  return {
    at: applyPoint(m, pivot).map(tidy) as unknown as Triple,
    turn: turn.map(tidy) as unknown as Triple,
    size: [tidy(size0), tidy(sy), tidy(sz)],
    lean: [share(lean0, sy), share(lean1, sz), share(u12, sz)],
    pivot,
  };
}
