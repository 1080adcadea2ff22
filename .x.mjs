var __defProp = Object.defineProperty;
var __export = (target, all) => {
  for (var name in all)
    __defProp(target, name, { get: all[name], enumerable: true });
};

// src/core/testing/organic.ts
var organic_exports = {};
__export(organic_exports, {
  animal: () => animal,
  coral: () => coral,
  gears: () => gears,
  lumpyBall: () => lumpyBall,
  rings: () => rings,
  rocks: () => rocks,
  scanned: () => scanned,
  surfaceOf: () => surfaceOf,
  thrown: () => thrown
});

// src/core/math/hash.ts
var { imul } = Math;
var TWO32 = 4294967296;
function mix(h) {
  h = imul(h ^ h >>> 16, 2246822507);
  h = imul(h ^ h >>> 13, 3266489909);
  return h ^ h >>> 16;
}
function key2(a, b) {
  const al = a >>> 0;
  const ah = a / TWO32 >>> 0;
  const bl = b >>> 0;
  const bh = b / TWO32 >>> 0;
  let h1 = mix(al ^ 2654435769);
  let h2 = mix(ah ^ imul(al, 668265263) ^ 2135587861);
  h1 = mix(imul(h1, 31) ^ bl ^ imul(h2, 374761393));
  h2 = mix(imul(h2, 37) ^ bh ^ imul(h1, 625341585));
  return (h2 & 2097151) * TWO32 + (h1 >>> 0);
}

// src/core/mesh/keys.ts
function countedKeys(vertices, faces, seed) {
  const run = (count2, role) => () => {
    const keys = new Float64Array(count2);
    const base = key2(seed, role);
    for (let i = 0; i < count2; i++) keys[i] = key2(base, i);
    return keys;
  };
  return { vertexKey: run(vertices, 1), faceKey: run(faces, 2) };
}

// src/core/mesh/bounds.ts
function boundsOfPoints(positions, points) {
  if (points.length === 0) return null;
  const min18 = [Infinity, Infinity, Infinity];
  const max19 = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < points.length; i++)
    for (let k = 0; k < 3; k++) {
      const x = positions[3 * points[i] + k];
      if (x < min18[k]) min18[k] = x;
      if (x > max19[k]) max19[k] = x;
    }
  return { min: min18, max: max19 };
}

// src/core/mesh/moved.ts
var nodes = /* @__PURE__ */ new WeakMap();
var MOST = 1 / 8;
function nodeOf(positions) {
  let node = nodes.get(positions);
  if (!node) nodes.set(positions, node = { vertices: [], was: null, is: null });
  return node;
}
function noteMoved(before, after, vertices) {
  if (before === after || vertices.length > MOST * after.length / 3) return;
  const parent = nodeOf(before);
  const was = boundsOfPoints(before, vertices);
  nodes.set(after, { parent, vertices, was, is: boundsOfPoints(after, vertices) });
}

// src/core/math/pulse.ts
var look;
function pulse() {
  if (look) look();
}
var EVERY = 8191;

// src/core/mesh/places.ts
var Later = class {
  constructor(make) {
    this.make = make;
  }
  make;
  value;
  get() {
    if (this.make) {
      this.value = this.make();
      this.make = void 0;
    }
    return this.value;
  }
};
function placesInBounds(positions) {
  const n = positions.length / 3;
  const lo = [Infinity, Infinity, Infinity];
  const hi = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i++) {
    const k = i % 3;
    if (positions[i] < lo[k]) lo[k] = positions[i];
    if (positions[i] > hi[k]) hi[k] = positions[i];
  }
  const half = Math.max(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]) / 2;
  const scale = half > 0 ? 1 / half : 1;
  const at = new Float32Array(4 * n);
  for (let v = 0; v < n; v++) {
    if ((v & EVERY) === 0) pulse();
    for (let k = 0; k < 3; k++) at[4 * v + k] = (positions[3 * v + k] - (lo[k] + hi[k]) / 2) * scale;
  }
  return { at, role: new Uint32Array(n) };
}

// src/core/mesh/mesh.ts
var Mesh = class _Mesh {
  positions;
  faceStart;
  cornerVertex;
  attributes;
  slots;
  groups;
  lineage;
  textures;
  marks;
  vertexKeys;
  faceKeys;
  placed;
  constructor(parts) {
    this.positions = parts.positions;
    this.faceStart = parts.faceStart;
    this.cornerVertex = parts.cornerVertex;
    this.vertexKeys = parts.vertexKey;
    this.faceKeys = parts.faceKey;
    this.attributes = parts.attributes ?? {};
    this.slots = parts.slots ?? [];
    this.groups = parts.groups ?? [];
    this.lineage = parts.lineage ?? [];
    this.textures = parts.textures;
    this.marks = parts.marks;
    this.placed = parts.places;
  }
  get vertexCount() {
    return this.positions.length / 3;
  }
  get faceCount() {
    return this.faceStart.length - 1;
  }
  get cornerCount() {
    return this.cornerVertex.length;
  }
  get vertexKey() {
    if (typeof this.vertexKeys === "function") this.vertexKeys = this.vertexKeys();
    return this.vertexKeys;
  }
  get faceKey() {
    if (typeof this.faceKeys === "function") this.faceKeys = this.faceKeys();
    return this.faceKeys;
  }
  /** Where its vertices belong, as something that is worked out when it is asked for. */
  get whereabouts() {
    if (!this.placed) {
      const { positions } = this;
      this.placed = new Later(() => placesInBounds(positions));
    }
    return this.placed;
  }
  get places() {
    const p = this.whereabouts.get();
    return p.role.length === this.vertexCount ? p : placesInBounds(this.positions);
  }
  /** A new mesh with some parts exchanged; all others, keys not yet computed among them, are shared. */
  with(changes) {
    return new _Mesh({
      positions: this.positions,
      faceStart: this.faceStart,
      cornerVertex: this.cornerVertex,
      vertexKey: changes.vertexKey ?? (() => this.vertexKey),
      faceKey: changes.faceKey ?? (() => this.faceKey),
      attributes: this.attributes,
      slots: this.slots,
      groups: this.groups,
      lineage: this.lineage,
      textures: this.textures,
      marks: this.marks,
      places: this.whereabouts,
      ...stripUndefinedKeys(changes)
    });
  }
  withAttribute(name, attribute) {
    const attributes = { ...this.attributes };
    if (attribute) attributes[name] = attribute;
    else delete attributes[name];
    return this.with({ attributes });
  }
  /**
   * With other places for its vertices. Normals that a file brought told how the old surface looked: they go, and are
   * worked out from the new one where they are wanted. Whoever turns them along puts them back. `vertices`: those that
   * are elsewhere, where that is known.
   */
  moved(positions, vertices) {
    if (vertices) noteMoved(this.positions, positions, vertices);
    const out = this.with({ positions });
    return this.attributes[NORMAL] ? out.withAttribute(NORMAL, void 0) : out;
  }
  /** Every array it holds so far; pictures of textures stand as what they will take. */
  arrays() {
    const out = [this.positions, this.faceStart, this.cornerVertex];
    if (typeof this.vertexKeys !== "function") out.push(this.vertexKeys);
    if (typeof this.faceKeys !== "function") out.push(this.faceKeys);
    for (const a of Object.values(this.attributes)) out.push(a.data);
    return out;
  }
};
function stripUndefinedKeys(changes) {
  const { vertexKey, faceKey, ...rest } = changes;
  return { ...rest, ...vertexKey ? { vertexKey } : {}, ...faceKey ? { faceKey } : {} };
}
var UV = "uv";
var NORMAL = "normal";
function meshFrom(positions, faces, seed = 1) {
  const faceStart = new Uint32Array(faces.length + 1);
  let n = 0;
  faces.forEach((f, i) => {
    n += f.length;
    faceStart[i + 1] = n;
  });
  const cornerVertex = new Uint32Array(n);
  let c = 0;
  for (const f of faces) for (const v of f) cornerVertex[c++] = v;
  return new Mesh({
    positions: Float32Array.from(positions),
    faceStart,
    cornerVertex,
    ...countedKeys(positions.length / 3, faces.length, seed)
  });
}

// src/core/testing/organic.ts
function thrown(seed) {
  let s = seed * 2654435761 >>> 0 || 1;
  return () => {
    s ^= s << 13;
    s ^= s >>> 17;
    s ^= s << 5;
    return (s >>> 0) / 4294967296;
  };
}
var CORNERS = [
  [0, 0, 0],
  [1, 0, 0],
  [1, 1, 0],
  [0, 1, 0],
  [0, 0, 1],
  [1, 0, 1],
  [1, 1, 1],
  [0, 1, 1]
];
var TETS = [
  [0, 5, 1, 6],
  [0, 1, 2, 6],
  [0, 2, 3, 6],
  [0, 3, 7, 6],
  [0, 7, 4, 6],
  [0, 4, 5, 6]
];
function surfaceOf(field, n, size = 1) {
  const m = n + 1;
  const values = new Float64Array(m * m * m);
  const at = (i, j, k) => (i * m + j) * m + k;
  const place = (i) => size * (2 * i / n - 1);
  for (let i = 0; i < m; i++)
    for (let j = 0; j < m; j++)
      for (let k = 0; k < m; k++) values[at(i, j, k)] = field(place(i), place(j), place(k)) || 1e-9;
  const positions = [];
  const cut = /* @__PURE__ */ new Map();
  const faces = [];
  const between2 = (a, b) => {
    const lo = Math.min(a, b);
    const hi = Math.max(a, b);
    const name = lo * m * m * m + hi;
    const had = cut.get(name);
    if (had !== void 0) return had;
    const t = values[lo] / (values[lo] - values[hi]);
    const spot = (x) => [Math.floor(x / (m * m)), Math.floor(x / m) % m, x % m];
    const [p, q] = [spot(lo), spot(hi)];
    const v = positions.length / 3;
    for (let k = 0; k < 3; k++) positions.push(place(p[k]) + (place(q[k]) - place(p[k])) * t);
    cut.set(name, v);
    return v;
  };
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++)
      for (let k = 0; k < n; k++) {
        const c = CORNERS.map(([x, y, z]) => at(i + x, j + y, k + z));
        for (const tet of TETS) {
          const v = tet.map((x) => c[x]);
          const inside = v.filter((x) => values[x] < 0);
          const outside = v.filter((x) => values[x] >= 0);
          if (inside.length === 0 || outside.length === 0) continue;
          const ring = inside.length === 2 ? [
            between2(inside[0], outside[0]),
            between2(inside[0], outside[1]),
            between2(inside[1], outside[1]),
            between2(inside[1], outside[0])
          ] : (inside.length === 1 ? outside : inside).map(
            (x) => between2(x, (inside.length === 1 ? inside : outside)[0])
          );
          const out = turnedOutwards(ring, positions, inside, m, place);
          for (let q = 2; q < out.length; q++) faces.push([out[0], out[q - 1], out[q]]);
        }
      }
  return meshFrom(Float32Array.from(positions), faces);
}
function turnedOutwards(ring, p, inside, m, place) {
  const [a, b, c] = ring.map((v) => p.slice(3 * v, 3 * v + 3));
  const u = [0, 1, 2].map((k) => b[k] - a[k]);
  const w = [0, 1, 2].map((k) => c[k] - a[k]);
  const n = [u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]];
  const s = [Math.floor(inside[0] / (m * m)), Math.floor(inside[0] / m) % m, inside[0] % m].map(place);
  const away = [0, 1, 2].reduce((sum, k) => sum + n[k] * (a[k] - s[k]), 0);
  return away >= 0 ? ring : [...ring].reverse();
}
var smoothLeast = (a, b, k) => {
  const h = Math.max(k - Math.abs(a - b), 0) / k;
  return Math.min(a, b) - h * h * k / 4;
};
var lumpyBall = (n, seed = 1) => {
  const r = thrown(seed);
  const waves = Array.from({ length: 5 }, () => [2 + 4 * r(), 2 + 4 * r(), 2 + 4 * r(), 6 * r()]);
  return surfaceOf((x, y, z) => {
    let lump = 0;
    for (const [a, b, c, d] of waves) lump += Math.sin(a * x + d) * Math.cos(b * y) * Math.sin(c * z + d);
    return Math.hypot(x, y, z) - 0.7 - 0.06 * lump;
  }, n);
};
var capsules = (list, blend) => (x, y, z) => {
  let d = Infinity;
  for (const [ax, ay, az, bx, by, bz, ra, rb] of list) {
    const [ux, uy, uz] = [bx - ax, by - ay, bz - az];
    const t = Math.max(
      0,
      Math.min(1, ((x - ax) * ux + (y - ay) * uy + (z - az) * uz) / (ux * ux + uy * uy + uz * uz))
    );
    const own2 = Math.hypot(x - ax - t * ux, y - ay - t * uy, z - az - t * uz) - (ra + (rb - ra) * t);
    d = d === Infinity ? own2 : smoothLeast(d, own2, blend);
  }
  return d;
};
var coral = (n, seed = 3) => {
  const r = thrown(seed);
  const list = [];
  const grow = (at, way, long, thick, left) => {
    const to = at.map((x, k) => x + way[k] * long);
    list.push([at[0], at[1], at[2], to[0], to[1], to[2], thick, thick * 0.8]);
    if (left === 0) return;
    for (let i = 0; i < (left > 2 ? 3 : 2); i++) {
      const next = way.map((x) => x + 1.3 * (r() - 0.5));
      const l = Math.hypot(...next);
      grow(
        to,
        next.map((x) => x / l),
        long * (0.7 + 0.2 * r()),
        thick * 0.75,
        left - 1
      );
    }
  };
  grow([0, -0.85, 0], [0, 1, 0], 0.42, 0.16, 4);
  return surfaceOf(capsules(list, 0.06), n);
};
var animal = (n) => surfaceOf(
  capsules(
    [
      [-0.4, 0, 0, 0.4, 0.05, 0, 0.22, 0.26],
      [0.45, 0.1, 0, 0.65, 0.5, 0, 0.13, 0.1],
      [0.65, 0.5, 0, 0.85, 0.48, 0, 0.13, 0.07],
      [0.35, -0.1, 0.14, 0.38, -0.7, 0.16, 0.09, 0.05],
      [0.35, -0.1, -0.14, 0.38, -0.7, -0.16, 0.09, 0.05],
      [-0.4, -0.1, 0.14, -0.42, -0.7, 0.16, 0.1, 0.05],
      [-0.4, -0.1, -0.14, -0.42, -0.7, -0.16, 0.1, 0.05],
      [-0.6, 0.1, 0, -0.9, 0.3, 0.1, 0.05, 0.02]
    ],
    0.08
  ),
  n
);
var rings = (n) => surfaceOf((x, y, z) => {
  const ring = (cx, cy) => Math.hypot(Math.hypot(x - cx, y - cy) - 0.3, z) - 0.1;
  return smoothLeast(smoothLeast(ring(-0.4, 0), ring(0.1, 0.1), 0.1), ring(0.55, -0.1), 0.1);
}, n);
var rocks = (n, seed = 5) => {
  const r = thrown(seed);
  const stones = Array.from(
    { length: 6 },
    () => [r() - 0.5, 0.6 * (r() - 0.5), r() - 0.5, 0.16 + 0.2 * r()].map((x) => 1.1 * x)
  );
  return surfaceOf((x, y, z) => {
    let d = Infinity;
    for (const [cx, cy, cz, s] of stones)
      d = Math.min(d, Math.max(Math.abs(x - cx), Math.abs(y - cy) * 1.3, Math.hypot(x - cx, z - cz)) - s);
    return d + 0.03 * Math.sin(17 * x + 3 * y) * Math.sin(13 * y + 5 * z) * Math.sin(19 * z + 2 * x);
  }, n);
};
function scanned(mesh, seed, noise, broken) {
  const r = thrown(seed);
  const p = mesh.positions.map((x) => x + noise * (r() - 0.5));
  const faces = [];
  for (let f = 0; f < mesh.faceCount; f++) {
    const ring = [...mesh.cornerVertex.subarray(mesh.faceStart[f], mesh.faceStart[f + 1])];
    const dice = r();
    if (dice > broken) faces.push(ring);
    else if (dice < broken / 4) faces.push([...ring].reverse());
    else if (dice < broken / 2)
      faces.push(
        ring,
        ring.map((v, i) => i === 0 ? Math.floor(r() * mesh.vertexCount) : v)
      );
  }
  return meshFrom(
    p,
    faces.filter((f) => new Set(f).size === f.length)
  );
}
function gears(count2, seed = 7) {
  const r = thrown(seed);
  const positions = [];
  const faces = [];
  for (let g = 0; g < count2; g++) {
    const teeth = 5 + Math.floor(8 * r());
    const size = 0.02 + 0.05 * r();
    const high = size * (0.1 + 0.5 * r());
    const n = 4 * teeth;
    const base = positions.length / 3;
    const [x, z] = [g % 20 * 0.2, Math.floor(g / 20) * 0.2];
    for (let k = 0; k < 2; k++)
      for (let i = 0; i < n; i++) {
        const a = 2 * Math.PI * i / n;
        const far = size * (i % 4 < 2 ? 1 : 0.75);
        positions.push(x + far * Math.cos(a), k * high, z + far * Math.sin(a));
      }
    const ring = Array.from({ length: n }, (_, i) => base + i);
    faces.push(ring, ring.map((v) => v + n).reverse());
    for (let i = 0; i < n; i++) {
      const j = (i + 1) % n;
      faces.push([base + j, base + i, base + n + i, base + n + j]);
    }
  }
  return meshFrom(Float32Array.from(positions), faces);
}

// src/core/mesh/triangulate.ts
import earcut from "earcut";

// src/core/mesh/longpolygon.ts
var { abs, atan2, PI } = Math;
function longPolygon(flat) {
  const cuts = diagonals(flat);
  if (!cuts) return void 0;
  const n = flat.length / 2;
  const out = new Uint32Array(3 * (n - 2));
  let count2 = 0;
  let area = 0;
  let whole = true;
  const emit = (a, b, c) => {
    const turn2 = orient(flat, a, b, c);
    area += abs(turn2);
    if (count2 === n - 2) whole = false;
    else {
      out[3 * count2] = a;
      out[3 * count2 + 1] = turn2 < 0 ? c : b;
      out[3 * count2 + 2] = turn2 < 0 ? b : c;
    }
    count2++;
  };
  for (const ring of pieces(flat, cuts)) cutMonotone(flat, ring, emit);
  let own2 = 0;
  for (let i = 0, j = n - 1; i < n; j = i++) own2 += flat[2 * j] * flat[2 * i + 1] - flat[2 * i] * flat[2 * j + 1];
  return whole && count2 === n - 2 && abs(area - own2) <= 1e-9 * abs(own2) ? out : void 0;
}
function orient(p, a, b, c) {
  const x = p[2 * a];
  const y = p[2 * a + 1];
  return (p[2 * b] - x) * (p[2 * c + 1] - y) - (p[2 * b + 1] - y) * (p[2 * c] - x);
}
var isAbove = (p, a, b) => p[2 * a + 1] > p[2 * b + 1] || p[2 * a + 1] === p[2 * b + 1] && p[2 * a] < p[2 * b];
function diagonals(p) {
  const n = p.length / 2;
  const order = Uint32Array.from({ length: n }, (_, i) => i);
  order.sort((a, b) => p[2 * b + 1] - p[2 * a + 1] || p[2 * a] - p[2 * b]);
  const sides = [];
  const helper = new Int32Array(n).fill(-1);
  const isMerge = new Uint8Array(n);
  const out = [];
  const next = (i) => i + 1 < n ? i + 1 : 0;
  const leftOf = (v) => {
    let lo = 0;
    let hi = sides.length;
    while (lo < hi) {
      const mid = lo + hi >> 1;
      if (orient(p, sides[mid], next(sides[mid]), v) > 0) lo = mid + 1;
      else hi = mid;
    }
    return lo;
  };
  const close = (side, v) => {
    if (isMerge[helper[side]]) out.push([v, helper[side]]);
  };
  const drop = (side, v) => {
    let i = leftOf(v);
    if (sides[i] !== side) i = sides.indexOf(side);
    if (i < 0) return false;
    sides.splice(i, 1);
    return true;
  };
  const put = (side, v) => {
    sides.splice(leftOf(v), 0, side);
    helper[side] = v;
  };
  for (let k = 0; k < n; k++) {
    if ((k & EVERY) === 0) pulse();
    const v = order[k];
    const before = v > 0 ? v - 1 : n - 1;
    const after = next(v);
    const fromAbove = isAbove(p, before, v);
    const toAbove = isAbove(p, after, v);
    const convex = orient(p, before, v, after) > 0;
    if (fromAbove) {
      close(before, v);
      if (!drop(before, v)) return void 0;
    }
    const merges = fromAbove && toAbove && !convex;
    if (!fromAbove && (toAbove || !convex) || merges) {
      const i = leftOf(v) - 1;
      if (i < 0) return void 0;
      const side = sides[i];
      if (!fromAbove && !toAbove) out.push([v, helper[side]]);
      else close(side, v);
      helper[side] = v;
      if (merges) isMerge[v] = 1;
    }
    if (!toAbove) put(v, v);
  }
  return out;
}
function* pieces(p, cuts) {
  const n = p.length / 2;
  const ways = /* @__PURE__ */ new Map();
  const add = (a, b) => {
    const had = ways.get(a);
    if (had) had.push(b);
    else ways.set(a, [(a + 1) % n, b]);
  };
  for (const [a, b] of cuts) {
    add(a, b);
    add(b, a);
  }
  const angle = (a, b) => atan2(p[2 * b + 1] - p[2 * a + 1], p[2 * b] - p[2 * a]);
  const doneSide = new Uint8Array(n);
  const doneCut = /* @__PURE__ */ new Set();
  const isDone = (a, b) => (a + 1) % n === b ? doneSide[a] === 1 : doneCut.has(a * n + b);
  const mark = (a, b) => {
    if ((a + 1) % n === b) doneSide[a] = 1;
    else doneCut.add(a * n + b);
  };
  const goOn = (v, w) => {
    const choice = ways.get(w);
    if (!choice) return (w + 1) % n;
    const back = angle(w, v);
    let best = -1;
    let least = Infinity;
    for (const to of choice) {
      if (to === v) continue;
      let turn2 = back - angle(w, to);
      while (turn2 <= 0) turn2 += 2 * PI;
      if (turn2 < least) [least, best] = [turn2, to];
    }
    return best;
  };
  const starts = [[0, 1], ...cuts, ...cuts.map(([a, b]) => [b, a])];
  for (const [a, b] of starts) {
    if (isDone(a, b)) continue;
    const ring = [];
    let [v, w] = [a, b];
    while (!isDone(v, w) && ring.length <= n) {
      mark(v, w);
      ring.push(v);
      [v, w] = [w, goOn(v, w)];
      if (w < 0) break;
    }
    yield ring;
  }
}
function cutMonotone(p, ring, emit) {
  const n = ring.length;
  if (n < 3) return;
  let top = 0;
  for (let i2 = 1; i2 < n; i2++) if (isAbove(p, ring[i2], ring[top])) top = i2;
  const order = new Uint32Array(n);
  const left = new Uint8Array(n);
  order[0] = ring[top];
  let i = (top + 1) % n;
  let j = (top + n - 1) % n;
  for (let k = 1; k < n; k++) {
    const fromLeft = k === n - 1 || isAbove(p, ring[i], ring[j]);
    order[k] = fromLeft ? ring[i] : ring[j];
    left[k] = fromLeft ? 1 : 0;
    if (fromLeft) i = (i + 1) % n;
    else j = (j + n - 1) % n;
  }
  const stack = [0, 1];
  for (let k = 2; k < n - 1; k++) {
    let last2 = stack.pop();
    if (left[k] !== left[last2]) {
      const beside = last2;
      while (stack.length > 0) {
        const s = stack.pop();
        emit(order[k], order[s], order[last2]);
        last2 = s;
      }
      stack.push(beside, k);
      continue;
    }
    while (stack.length > 0) {
      const s = stack[stack.length - 1];
      const turn2 = orient(p, order[s], order[last2], order[k]);
      if (left[k] ? turn2 <= 0 : turn2 >= 0) break;
      emit(order[s], order[last2], order[k]);
      last2 = stack.pop();
    }
    stack.push(last2, k);
  }
  let last = stack.pop();
  while (stack.length > 0) {
    const s = stack.pop();
    emit(order[n - 1], order[s], order[last]);
    last = s;
  }
}

// src/core/mesh/topology.ts
var known = /* @__PURE__ */ new WeakMap();
function topologyOf(mesh) {
  let t = known.get(mesh.cornerVertex);
  if (!t) {
    t = derive(mesh);
    known.set(mesh.cornerVertex, t);
  }
  return t;
}
function bucket(of, buckets) {
  const start = new Uint32Array(buckets + 1);
  for (let i = 0; i < of.length; i++) start[of[i] + 1]++;
  for (let b = 0; b < buckets; b++) start[b + 1] += start[b];
  const items = new Uint32Array(of.length);
  const fill = start.slice(0, buckets);
  for (let i = 0; i < of.length; i++) items[fill[of[i]]++] = i;
  return { start, items };
}
function cornerFaces(mesh) {
  const { faceStart } = mesh;
  const of = new Uint32Array(mesh.cornerVertex.length);
  for (let f = 0; f + 1 < faceStart.length; f++) for (let c = faceStart[f]; c < faceStart[f + 1]; c++) of[c] = f;
  return of;
}
var MANY = 48;
function derive(mesh) {
  const { faceStart, cornerVertex, faceCount, cornerCount, vertexCount } = mesh;
  const low = new Uint32Array(cornerCount);
  const high = new Uint32Array(cornerCount);
  for (let f = 0; f < faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    const end = faceStart[f + 1];
    for (let c = faceStart[f]; c < end; c++) {
      const a = cornerVertex[c];
      const b = cornerVertex[c + 1 < end ? c + 1 : faceStart[f]];
      if (a < b) {
        low[c] = a;
        high[c] = b;
      } else {
        low[c] = b;
        high[c] = a;
      }
    }
  }
  const byLow = bucket(low, vertexCount);
  const cornerEdge = new Uint32Array(cornerCount);
  const edgeVertex = new Uint32Array(2 * cornerCount);
  let edges = 0;
  let byEnd;
  for (let v = 0; v < vertexCount; v++) {
    if ((v & EVERY) === 0) pulse();
    const first = edges;
    const many = byLow.start[v + 1] - byLow.start[v] > MANY;
    if (many) byEnd ??= new Int32Array(vertexCount).fill(-1);
    for (let i = byLow.start[v]; i < byLow.start[v + 1]; i++) {
      const c = byLow.items[i];
      const h = high[c];
      let e = first;
      if (many) {
        e = byEnd[h] >= first ? byEnd[h] : edges;
        byEnd[h] = e;
      } else while (e < edges && edgeVertex[2 * e + 1] !== h) e++;
      if (e === edges) {
        edgeVertex[2 * e] = v;
        edgeVertex[2 * e + 1] = h;
        edges++;
      }
      cornerEdge[c] = e;
    }
  }
  const byEdge = bucket(cornerEdge, edges);
  const byVertex = bucket(cornerVertex, vertexCount);
  return {
    edgeCount: edges,
    edgeVertex: edgeVertex.slice(0, 2 * edges),
    cornerEdge,
    cornerFace: cornerFaces(mesh),
    edgeCornerStart: byEdge.start,
    edgeCorner: byEdge.items,
    vertexCornerStart: byVertex.start,
    vertexCorner: byVertex.items
  };
}
function nextCorner(mesh, face, corner) {
  return corner + 1 < mesh.faceStart[face + 1] ? corner + 1 : mesh.faceStart[face];
}
function edgeValence(t, edge2) {
  return t.edgeCornerStart[edge2 + 1] - t.edgeCornerStart[edge2];
}

// src/core/mesh/normals.ts
var { acos, cos, max, min, sqrt } = Math;
function faceNormals(mesh, scaled = false) {
  const out = new Float32Array(3 * mesh.faceCount);
  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    faceNormal(mesh, f, out, 3 * f, scaled);
  }
  return out;
}
function faceNormal(mesh, f, out, at, scaled = false) {
  const { positions: p, faceStart, cornerVertex } = mesh;
  const s = faceStart[f];
  const e = faceStart[f + 1];
  let x = 0;
  let y = 0;
  let z = 0;
  const o = 3 * cornerVertex[s];
  const ox = p[o];
  const oy = p[o + 1];
  const oz = p[o + 2];
  for (let c = s + 1; c + 1 < e; c++) {
    const a = 3 * cornerVertex[c];
    const b = 3 * cornerVertex[c + 1];
    const ax = p[a] - ox;
    const ay = p[a + 1] - oy;
    const az = p[a + 2] - oz;
    const bx = p[b] - ox;
    const by = p[b + 1] - oy;
    const bz = p[b + 2] - oz;
    x += ay * bz - az * by;
    y += az * bx - ax * bz;
    z += ax * by - ay * bx;
  }
  const k = scaled ? 0.5 : 1 / (sqrt(x * x + y * y + z * z) || Infinity);
  out[at] = x * k;
  out[at + 1] = y * k;
  out[at + 2] = z * k;
}

// src/core/mesh/triangulate.ts
var { abs: abs2 } = Math;
var LONG = 1e3;
function triangleCount(mesh) {
  return mesh.cornerCount - 2 * mesh.faceCount;
}
function triangulate(mesh) {
  const { faceStart, faceCount } = mesh;
  const total = triangleCount(mesh);
  const corners = new Uint32Array(3 * total);
  const face = new Uint32Array(total);
  let n = 0;
  for (let f = 0; f < faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    const end = n + faceStart[f + 1] - faceStart[f] - 2;
    trianglesOf(mesh, f, corners, n);
    for (; n < end; n++) face[n] = f;
  }
  return { corners, face };
}
var own = new Float32Array(3);
function trianglesOf(mesh, f, corners, n) {
  const { positions: p, faceStart, cornerVertex } = mesh;
  const s = faceStart[f];
  const size = faceStart[f + 1] - s;
  const o = 3 * n;
  if (size === 3) {
    corners[o] = s;
    corners[o + 1] = s + 1;
    corners[o + 2] = s + 2;
  } else if (size === 4) {
    const cut = quadCut(
      p,
      cornerVertex[s] * 3,
      cornerVertex[s + 1] * 3,
      cornerVertex[s + 2] * 3,
      cornerVertex[s + 3] * 3
    );
    corners[o] = s;
    corners[o + 1] = s + 1;
    corners[o + 2] = s + 2 + cut;
    corners[o + 3] = s + cut;
    corners[o + 4] = s + 2;
    corners[o + 5] = s + 3;
  } else {
    faceNormal(mesh, f, own, 0);
    cutPolygon(mesh, f, own, corners, n);
  }
}
function quadCut(p, a, b, c, d) {
  const acx = p[c] - p[a];
  const acy = p[c + 1] - p[a + 1];
  const acz = p[c + 2] - p[a + 2];
  const bdx = p[d] - p[b];
  const bdy = p[d + 1] - p[b + 1];
  const bdz = p[d + 2] - p[b + 2];
  const nx = acy * bdz - acz * bdy;
  const ny = acz * bdx - acx * bdz;
  const nz = acx * bdy - acy * bdx;
  const side = (ux, uy, uz, o, q) => {
    const vx = p[q] - p[o];
    const vy = p[q + 1] - p[o + 1];
    const vz = p[q + 2] - p[o + 2];
    return (uy * vz - uz * vy) * nx + (uz * vx - ux * vz) * ny + (ux * vy - uy * vx) * nz;
  };
  const goodAC = side(acx, acy, acz, a, b) <= 0 && side(acx, acy, acz, a, d) >= 0;
  const goodBD = side(bdx, bdy, bdz, b, c) <= 0 && side(bdx, bdy, bdz, b, a) >= 0;
  if (goodAC !== goodBD) return goodAC ? 0 : 1;
  return acx * acx + acy * acy + acz * acz <= bdx * bdx + bdy * bdy + bdz * bdz ? 0 : 1;
}
function cutPolygon(mesh, f, normal, corners, n) {
  const { positions: p, cornerVertex, faceStart } = mesh;
  const s = faceStart[f];
  const size = faceStart[f + 1] - s;
  const x = abs2(normal[0]);
  const y = abs2(normal[1]);
  const z = abs2(normal[2]);
  let drop = y >= z ? 1 : 2;
  if (x >= y && x >= z) drop = 0;
  const flip = normal[drop] < 0;
  const iu = (drop + (flip ? 2 : 1)) % 3;
  const iv = (drop + (flip ? 1 : 2)) % 3;
  const flat = new Array(2 * size);
  for (let i = 0; i < size; i++) {
    const v = 3 * cornerVertex[s + i];
    flat[2 * i] = p[v + iu];
    flat[2 * i + 1] = p[v + iv];
  }
  const cut = (size > LONG ? longPolygon(flat) : void 0) ?? earcut(flat);
  const want = size - 2;
  const whole = cut.length === 3 * want;
  for (let i = 0; i < want; i++) {
    let a = 0;
    let b = i + 1;
    let c = i + 2;
    if (whole) {
      a = cut[3 * i];
      b = cut[3 * i + 1];
      c = cut[3 * i + 2];
    }
    const area = (flat[2 * b] - flat[2 * a]) * (flat[2 * c + 1] - flat[2 * a + 1]) - (flat[2 * b + 1] - flat[2 * a + 1]) * (flat[2 * c] - flat[2 * a]);
    if (whole && area < 0) {
      const q = b;
      b = c;
      c = q;
    }
    corners[3 * n] = s + a;
    corners[3 * n + 1] = s + b;
    corners[3 * n + 2] = s + c;
    n++;
  }
}

// src/core/math/queue.ts
var Queue = class {
  items = [];
  costs = [];
  get size() {
    return this.items.length;
  }
  push(item, cost) {
    let i = this.items.length;
    this.items.push(item);
    this.costs.push(cost);
    while (i > 0) {
      const up = i - 1 >> 1;
      if (this.costs[up] <= cost) break;
      this.items[i] = this.items[up];
      this.costs[i] = this.costs[up];
      i = up;
    }
    this.items[i] = item;
    this.costs[i] = cost;
  }
  pop() {
    const out = [this.items[0], this.costs[0]];
    const item = this.items.pop();
    const cost = this.costs.pop();
    const n = this.items.length;
    if (n === 0) return out;
    let i = 0;
    for (; ; ) {
      let down = 2 * i + 1;
      if (down >= n) break;
      if (down + 1 < n && this.costs[down + 1] < this.costs[down]) down++;
      if (this.costs[down] >= cost) break;
      this.items[i] = this.items[down];
      this.costs[i] = this.costs[down];
      i = down;
    }
    this.items[i] = item;
    this.costs[i] = cost;
    return out;
  }
};

// src/core/math/unionfind.ts
var UnionFind = class {
  parent;
  constructor(count2) {
    this.parent = new Uint32Array(count2);
    for (let i = 0; i < count2; i++) this.parent[i] = i;
  }
  find(i) {
    const { parent } = this;
    while (parent[i] !== i) {
      parent[i] = parent[parent[i]];
      i = parent[i];
    }
    return i;
  }
  join(a, b) {
    this.parent[this.find(a)] = this.find(b);
  }
  /** Parts numbered from 0 in the order of their first members, and how many there are. */
  parts() {
    const n = this.parent.length;
    const number = new Int32Array(n).fill(-1);
    const of = new Uint32Array(n);
    let count2 = 0;
    for (let i = 0; i < n; i++) {
      if ((i & EVERY) === 0) pulse();
      const r = this.find(i);
      if (number[r] < 0) number[r] = count2++;
      of[i] = number[r];
    }
    return { of, count: count2 };
  }
};

// src/core/uv/cells.ts
var { acos: acos2, ceil, max: max2, min: min2, sqrt: sqrt2 } = Math;
var MOST_CELLS = 6e3;
var LEAST_FACES = 4;
var ALIKE = 0.6;
function cellsOf(parting, facts, soft) {
  const { mesh, t } = parting;
  const { faceCount, faceStart } = mesh;
  const most = max2(LEAST_FACES, ceil(faceCount / MOST_CELLS));
  const of = new Int32Array(faceCount).fill(-1);
  const queue = new Int32Array(faceCount);
  let count2 = 0;
  const seeds = new Int32Array(2 * faceCount + 1);
  const { normal } = facts;
  for (let from = 0; from < faceCount; from++) {
    if (of[from] >= 0) continue;
    let head = 0;
    let tail = 0;
    seeds[tail++] = from;
    while (head < tail) {
      const seed = seeds[head++];
      if (of[seed] >= 0) continue;
      let read = 0;
      let write = 0;
      queue[write++] = seed;
      of[seed] = count2;
      while (read < write) {
        const f = queue[read++];
        for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
          const o = parting.across(c);
          if (o < 0) continue;
          const g = t.cornerFace[o];
          if (of[g] >= 0) continue;
          if (soft[t.cornerEdge[c]]) {
            if (tail < seeds.length) seeds[tail++] = g;
            continue;
          }
          const like = normal[3 * seed] * normal[3 * g] + normal[3 * seed + 1] * normal[3 * g + 1] + normal[3 * seed + 2] * normal[3 * g + 2];
          if (write < most && like > ALIKE) {
            of[g] = count2;
            queue[write++] = g;
          } else if (tail < seeds.length) seeds[tail++] = g;
        }
      }
      count2++;
    }
  }
  return measured(parting, facts, of, count2);
}
function measured(parting, facts, of, count2) {
  const { mesh, t } = parting;
  const { positions: p, faceStart, cornerVertex, faceCount } = mesh;
  const area = new Float64Array(count2);
  const normal = new Float64Array(3 * count2);
  const centre = new Float64Array(3 * count2);
  const faces = new Int32Array(count2);
  for (let f = 0; f < faceCount; f++) {
    const i = of[f];
    const a = facts.area[f];
    area[i] += a;
    faces[i]++;
    for (let k = 0; k < 3; k++) {
      normal[3 * i + k] += a * facts.normal[3 * f + k];
      centre[3 * i + k] += (a + 1e-30) * facts.centre[3 * f + k];
    }
  }
  for (let i = 0; i < count2; i++) {
    const l = sqrt2(normal[3 * i] ** 2 + normal[3 * i + 1] ** 2 + normal[3 * i + 2] ** 2) || 1;
    for (let k = 0; k < 3; k++) {
      normal[3 * i + k] /= l;
      centre[3 * i + k] /= area[i] + 1e-30 * faces[i];
    }
  }
  const { inner: bent, ridge: between2, joints } = curvatureOf(parting, of, count2);
  const rim = new Float64Array(count2);
  const holes = smallHoles(parting);
  holes.at.forEach((c, i) => {
    bent[of[t.cornerFace[c]]] += holes.bent[i];
  });
  const pairs = /* @__PURE__ */ new Map();
  const away = (i, x, y, z) => sqrt2((centre[3 * i] - x) ** 2 + (centre[3 * i + 1] - y) ** 2 + (centre[3 * i + 2] - z) ** 2);
  for (let f = 0; f < faceCount; f++)
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const o = parting.across(c);
      if (o >= 0 && (o < c || of[t.cornerFace[o]] === of[f])) continue;
      const a = 3 * cornerVertex[c];
      const b = 3 * cornerVertex[parting.next(c)];
      const long = sqrt2((p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2);
      if (o < 0 && holes.small[c]) continue;
      if (o < 0) {
        const off = away(of[f], (p[a] + p[b]) / 2, (p[a + 1] + p[b + 1]) / 2, (p[a + 2] + p[b + 2]) / 2);
        rim[of[f]] += long / (off || long || 1);
        continue;
      }
      const g = t.cornerFace[o];
      const n = normal;
      const [i, j] = [of[f], of[g]];
      const dot = n[3 * i] * n[3 * j] + n[3 * i + 1] * n[3 * j + 1] + n[3 * i + 2] * n[3 * j + 2];
      const name = min2(of[f], of[g]) * count2 + max2(of[f], of[g]);
      const had = pairs.get(name);
      const bend = acos2(max2(-1, min2(1, dot))) * long;
      if (had) {
        had[0] += long;
        had[1] += bend;
      } else pairs.set(name, [long, bend]);
    }
  const start = new Int32Array(count2 + 1);
  for (const name of pairs.keys()) {
    start[Math.floor(name / count2) + 1]++;
    start[name % count2 + 1]++;
  }
  for (let i = 0; i < count2; i++) start[i + 1] += start[i];
  const fill = start.slice(0, count2);
  const to = new Int32Array(start[count2]);
  const lead = new Float64Array(start[count2]);
  const longs = new Float64Array(start[count2]);
  const bends = new Float64Array(start[count2]);
  const ridge = new Float64Array(start[count2]);
  for (const [name, [long, bend]] of pairs) {
    const i = Math.floor(name / count2);
    const j = name % count2;
    const apart = away(i, centre[3 * j], centre[3 * j + 1], centre[3 * j + 2]);
    for (const [a, b] of [
      [i, j],
      [j, i]
    ]) {
      const at = fill[a]++;
      to[at] = b;
      lead[at] = long / (apart || long || 1);
      longs[at] = long;
      bends[at] = long > 0 ? bend / long : 0;
      ridge[at] = (between2.get(name) ?? 0) / 2;
    }
  }
  return {
    count: count2,
    of,
    facts: { normal, area, centre },
    bent,
    ridge,
    joints,
    start,
    to,
    lead,
    long: longs,
    bend: bends,
    rim
  };
}
var HOLE_SIDES = 16;
function smallHoles(parting) {
  const { mesh } = parting;
  const small = new Uint8Array(mesh.cornerCount);
  const done = new Uint8Array(mesh.cornerCount);
  const at = [];
  const bent = [];
  for (let first = 0; first < mesh.cornerCount; first++) {
    if (done[first] || parting.across(first) >= 0) continue;
    const ring = [];
    let turns = 2 * Math.PI;
    for (let c = first; !done[c]; ) {
      done[c] = 1;
      ring.push(c);
      let n = parting.next(c);
      let inside = angleAt(parting, n);
      for (let o = parting.across(n), k = 0; o >= 0 && k < 1e3; o = parting.across(n), k++) {
        n = parting.next(o);
        inside += angleAt(parting, n);
      }
      turns += Math.PI - inside;
      c = n;
    }
    if (ring.length > HOLE_SIDES || turns > 3.5) continue;
    for (const c of ring) small[c] = 1;
    at.push(first);
    bent.push(turns);
  }
  return { small, at, bent };
}
function angleAt(parting, c) {
  const { positions: p, cornerVertex } = parting.mesh;
  const o = 3 * cornerVertex[c];
  const a = 3 * cornerVertex[parting.next(c)];
  const b = 3 * cornerVertex[parting.before(c)];
  const [ax, ay, az] = [p[a] - p[o], p[a + 1] - p[o + 1], p[a + 2] - p[o + 2]];
  const [bx, by, bz] = [p[b] - p[o], p[b + 1] - p[o + 1], p[b + 2] - p[o + 2]];
  const size = (ax * ax + ay * ay + az * az) * (bx * bx + by * by + bz * bz);
  return size > 0 ? acos2(max2(-1, min2(1, (ax * bx + ay * by + az * bz) / sqrt2(size)))) : 0;
}
function curvatureOf(parting, of, count2) {
  const { mesh, t } = parting;
  const { vertexCount } = mesh;
  const inner = new Float64Array(count2);
  const ridge = /* @__PURE__ */ new Map();
  const bent = [];
  const members = [];
  const begins = [0];
  const own2 = [];
  for (let v = 0; v < vertexCount; v++) {
    const s = t.vertexCornerStart[v];
    const e = t.vertexCornerStart[v + 1];
    let sum = 0;
    let whole = e > s;
    own2.length = 0;
    for (let i = s; i < e && whole; i++) {
      const c = t.vertexCorner[i];
      if (parting.across(c) < 0 || parting.across(parting.before(c)) < 0) whole = false;
      sum += angleAt(parting, c);
      const cell = of[t.cornerFace[c]];
      if (!own2.includes(cell)) own2.push(cell);
    }
    if (!whole || !(sum > 0)) continue;
    const lacks = 2 * Math.PI - sum;
    if (own2.length === 1) inner[own2[0]] += lacks;
    else if (own2.length === 2) {
      const name = min2(own2[0], own2[1]) * count2 + max2(own2[0], own2[1]);
      ridge.set(name, (ridge.get(name) ?? 0) + lacks);
    } else {
      bent.push(lacks);
      for (const c of own2) members.push(c);
      begins.push(members.length);
    }
  }
  const ofStart = new Int32Array(count2 + 1);
  for (const c of members) ofStart[c + 1]++;
  for (let i = 0; i < count2; i++) ofStart[i + 1] += ofStart[i];
  const fill = ofStart.slice(0, count2);
  const list = new Int32Array(members.length);
  for (let q = 0; q < bent.length; q++) for (let k = begins[q]; k < begins[q + 1]; k++) list[fill[members[k]]++] = q;
  return {
    inner,
    ridge,
    joints: {
      bent: Float64Array.from(bent),
      start: Int32Array.from(begins),
      cells: Int32Array.from(members),
      ofStart,
      of: list
    }
  };
}

// src/core/math/hermitian.ts
var { max: max3 } = Math;
var SOME = 255;
var HermitianBuilder = class {
  n;
  diagonal;
  rows;
  cols;
  re;
  im;
  count = 0;
  constructor(n, expected = 64) {
    this.n = n;
    this.diagonal = new Float64Array(n);
    this.rows = new Int32Array(expected);
    this.cols = new Int32Array(expected);
    this.re = new Float64Array(expected);
    this.im = new Float64Array(expected);
  }
  /** Adds re + i·im at (row, column) and its conjugate at (column, row). */
  add(row, col, re, im) {
    if (this.count === this.rows.length) {
      const g = (a, b) => {
        b.set(a);
        return b;
      };
      const n = 2 * this.count;
      this.rows = g(this.rows, new Int32Array(n));
      this.cols = g(this.cols, new Int32Array(n));
      this.re = g(this.re, new Float64Array(n));
      this.im = g(this.im, new Float64Array(n));
    }
    this.rows[this.count] = row;
    this.cols[this.count] = col;
    this.re[this.count] = re;
    this.im[this.count++] = im;
  }
  /** Columns of the strictly upper triangle after renumbering: entry (i, k), i < k, in column k. */
  upper(position) {
    const n = this.n;
    const start = new Int32Array(n + 1);
    for (let e = 0; e < this.count; e++) start[max3(position[this.rows[e]], position[this.cols[e]]) + 1]++;
    for (let k = 0; k < n; k++) start[k + 1] += start[k];
    const fill = start.slice(0, n);
    const row = new Int32Array(this.count);
    const re = new Float64Array(this.count);
    const im = new Float64Array(this.count);
    for (let e = 0; e < this.count; e++) {
      const i = position[this.rows[e]];
      const j = position[this.cols[e]];
      const flip = i > j;
      const at = fill[flip ? i : j]++;
      row[at] = flip ? j : i;
      re[at] = this.re[e];
      im[at] = flip ? -this.im[e] : this.im[e];
    }
    return { start, row, re, im };
  }
};
function factorHermitian(matrix, order) {
  const n = matrix.n;
  const position = new Int32Array(n);
  for (let i = 0; i < n; i++) position[order[i]] = i;
  const a = matrix.upper(position);
  const parent = new Int32Array(n).fill(-1);
  const flag = new Int32Array(n);
  const counts = new Int32Array(n);
  for (let k = 0; k < n; k++) {
    if ((k & SOME) === 0) pulse();
    flag[k] = k;
    for (let p = a.start[k]; p < a.start[k + 1]; p++) {
      for (let i = a.row[p]; flag[i] !== k; i = parent[i]) {
        if (parent[i] < 0) parent[i] = k;
        counts[i]++;
        flag[i] = k;
      }
    }
  }
  const lp = new Int32Array(n + 1);
  for (let k = 0; k < n; k++) lp[k + 1] = lp[k] + counts[k];
  const li = new Int32Array(lp[n]);
  const lr = new Float64Array(lp[n]);
  const lm = new Float64Array(lp[n]);
  const d = new Float64Array(n);
  const yr = new Float64Array(n);
  const ym = new Float64Array(n);
  const pattern = new Int32Array(n);
  const filled2 = new Int32Array(n);
  flag.fill(-1);
  for (let k = 0; k < n; k++) {
    if ((k & SOME) === 0) pulse();
    let top = n;
    flag[k] = k;
    for (let p = a.start[k]; p < a.start[k + 1]; p++) {
      let i = a.row[p];
      yr[i] += a.re[p];
      ym[i] += a.im[p];
      let len = 0;
      for (; flag[i] !== k; i = parent[i]) {
        pattern[len++] = i;
        flag[i] = k;
      }
      while (len > 0) pattern[--top] = pattern[--len];
    }
    let dk = matrix.diagonal[order[k]];
    for (; top < n; top++) {
      const i = pattern[top];
      const xr = yr[i];
      const xm = ym[i];
      yr[i] = 0;
      ym[i] = 0;
      const end = lp[i] + filled2[i];
      for (let p = lp[i]; p < end; p++) {
        const r = li[p];
        yr[r] -= lr[p] * xr - lm[p] * xm;
        ym[r] -= lr[p] * xm + lm[p] * xr;
      }
      const inv = 1 / d[i];
      dk -= (xr * xr + xm * xm) * inv;
      li[end] = k;
      lr[end] = xr * inv;
      lm[end] = -xm * inv;
      filled2[i]++;
    }
    if (!(dk > 0)) return void 0;
    d[k] = dk;
  }
  return {
    solve(re, im) {
      const xr = new Float64Array(n);
      const xm = new Float64Array(n);
      for (let i = 0; i < n; i++) {
        xr[i] = re[order[i]];
        xm[i] = im[order[i]];
      }
      for (let j = 0; j < n; j++)
        for (let p = lp[j]; p < lp[j + 1]; p++) {
          const r = li[p];
          xr[r] -= lr[p] * xr[j] - lm[p] * xm[j];
          xm[r] -= lr[p] * xm[j] + lm[p] * xr[j];
        }
      for (let j = 0; j < n; j++) {
        if ((j & SOME) === 0) pulse();
        xr[j] /= d[j];
        xm[j] /= d[j];
      }
      for (let j = n - 1; j >= 0; j--)
        for (let p = lp[j]; p < lp[j + 1]; p++) {
          const r = li[p];
          xr[j] -= lr[p] * xr[r] + lm[p] * xm[r];
          xm[j] -= lr[p] * xm[r] - lm[p] * xr[r];
        }
      for (let i = 0; i < n; i++) {
        if ((i & SOME) === 0) pulse();
        re[order[i]] = xr[i];
        im[order[i]] = xm[i];
      }
    }
  };
}
function dissectionOrder(n, points, neighbourStart, neighbour) {
  const order = new Int32Array(n);
  const side = new Int32Array(n).fill(-1);
  let stamp2 = 0;
  const work = (list, end) => {
    if (list.length <= 24) {
      order.set(list, end - list.length);
      return;
    }
    const lo = [Infinity, Infinity, Infinity];
    const hi = [-Infinity, -Infinity, -Infinity];
    for (const v of list)
      for (let k2 = 0; k2 < 3; k2++) {
        const x = points[3 * v + k2];
        if (x < lo[k2]) lo[k2] = x;
        if (x > hi[k2]) hi[k2] = x;
      }
    const d = [hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]];
    const k = d.indexOf(Math.max(...d));
    const sorted = Float64Array.from(list, (v) => points[3 * v + k]).sort();
    const middle = sorted[list.length >> 1];
    const right = ++stamp2;
    let rights = 0;
    for (const v of list)
      if (points[3 * v + k] >= middle) {
        side[v] = right;
        rights++;
      }
    if (rights === list.length || rights === 0) {
      order.set(list, end - list.length);
      return;
    }
    const l = [];
    const r = [];
    const s = [];
    for (const v of list) {
      if (side[v] === right) {
        r.push(v);
        continue;
      }
      let touches = false;
      for (let p = neighbourStart[v]; p < neighbourStart[v + 1] && !touches; p++)
        touches = side[neighbour[p]] === right;
      (touches ? s : l).push(v);
    }
    order.set(s, end - s.length);
    work(Int32Array.from(r), end - s.length);
    work(Int32Array.from(l), end - s.length - r.length);
  };
  work(
    Int32Array.from({ length: n }, (_, i) => i),
    n
  );
  return order;
}

// src/core/uv/lscm.ts
var { hypot, sqrt: sqrt3 } = Math;
function conformal(input) {
  const { points, triangles } = input;
  const n = points.length / 3;
  if (n < 3 || triangles.length === 0) return void 0;
  const free = !input.pins || input.pins.size < 2;
  const pins = free ? farPins(points, n, input.pins) : input.pins;
  const index = new Int32Array(n).fill(-1);
  const pinU = new Float64Array(n);
  const pinV = new Float64Array(n);
  const pinned = new Uint8Array(n);
  for (const [v, [x, y]] of pins) {
    pinned[v] = 1;
    pinU[v] = x;
    pinV[v] = y;
  }
  let m = 0;
  for (let v = 0; v < n; v++) if (!pinned[v]) index[v] = m++;
  const out = new Float64Array(2 * n);
  for (let v = 0; v < n; v++)
    if (pinned[v]) {
      out[2 * v] = pinU[v];
      out[2 * v + 1] = pinV[v];
    }
  if (m === 0) return out;
  const matrix = new HermitianBuilder(m, triangles.length);
  const br = new Float64Array(m);
  const bm = new Float64Array(m);
  const degree = new Int32Array(m + 1);
  const add = (i, j, w) => {
    const a = index[i];
    const b = index[j];
    if (a >= 0) matrix.diagonal[a] += w;
    if (b >= 0) matrix.diagonal[b] += w;
    if (a >= 0 && b >= 0) {
      matrix.add(a, b, -w, 0.25);
      degree[a]++;
      degree[b]++;
    } else if (a >= 0) {
      br[a] += w * pinU[j] + 0.25 * pinV[j];
      bm[a] += w * pinV[j] - 0.25 * pinU[j];
    } else if (b >= 0) {
      br[b] += w * pinU[i] - 0.25 * pinV[i];
      bm[b] += w * pinV[i] + 0.25 * pinU[i];
    }
  };
  for (let t = 0; t < triangles.length; t += 3) {
    const i = triangles[t];
    const j = triangles[t + 1];
    const k = triangles[t + 2];
    const [ci, cj, ck] = cotangents(points, i, j, k);
    add(i, j, ck / 4);
    add(j, k, ci / 4);
    add(k, i, cj / 4);
  }
  const start = new Int32Array(m + 1);
  for (let i = 0; i < m; i++) start[i + 1] = start[i] + degree[i];
  const fill = start.slice(0, m);
  const neighbour = new Int32Array(start[m]);
  for (let t = 0; t < triangles.length; t += 3)
    for (let e = 0; e < 3; e++) {
      const a = index[triangles[t + e]];
      const b = index[triangles[t + (e + 1) % 3]];
      if (a >= 0 && b >= 0) {
        neighbour[fill[a]++] = b;
        neighbour[fill[b]++] = a;
      }
    }
  const at = new Float64Array(3 * m);
  for (let v = 0; v < n; v++) if (index[v] >= 0) for (let k = 0; k < 3; k++) at[3 * index[v] + k] = points[3 * v + k];
  const factor = factorHermitian(matrix, dissectionOrder(m, at, start, neighbour));
  if (!factor) return void 0;
  factor.solve(br, bm);
  for (let v = 0; v < n; v++)
    if (index[v] >= 0) {
      out[2 * v] = br[index[v]];
      out[2 * v + 1] = bm[index[v]];
    }
  for (let i = 0; i < out.length; i++) if (!Number.isFinite(out[i])) return void 0;
  return out;
}
function cotangents(p, i, j, k) {
  const cot = (o, a2, b2) => {
    const ax = p[3 * a2] - p[3 * o];
    const ay = p[3 * a2 + 1] - p[3 * o + 1];
    const az = p[3 * a2 + 2] - p[3 * o + 2];
    const bx = p[3 * b2] - p[3 * o];
    const by = p[3 * b2 + 1] - p[3 * o + 1];
    const bz = p[3 * b2 + 2] - p[3 * o + 2];
    const x = ay * bz - az * by;
    const y = az * bx - ax * bz;
    const z = ax * by - ay * bx;
    const cross = sqrt3(x * x + y * y + z * z);
    const dot = ax * bx + ay * by + az * bz;
    return cross > 1e-9 * sqrt3((ax * ax + ay * ay + az * az) * (bx * bx + by * by + bz * bz)) ? dot / cross : NaN;
  };
  const a = cot(i, j, k);
  const b = cot(j, k, i);
  const c = cot(k, i, j);
  if (Number.isNaN(a + b + c)) return [0.57735026919, 0.57735026919, 0.57735026919];
  return [a, b, c];
}
function farPins(points, n, given) {
  const far = (from) => {
    let best = from;
    let most = -1;
    for (let v2 = 0; v2 < n; v2++) {
      if ((v2 & EVERY) === 0) pulse();
      const d = hypot(
        points[3 * v2] - points[3 * from],
        points[3 * v2 + 1] - points[3 * from + 1],
        points[3 * v2 + 2] - points[3 * from + 2]
      );
      if (d > most) {
        most = d;
        best = v2;
      }
    }
    return [best, most];
  };
  const held = given && given.size === 1 ? [...given][0] : void 0;
  const a = held ? held[0] : far(0)[0];
  const [b, length] = far(a);
  const [u, v] = held ? held[1] : [0, 0];
  return /* @__PURE__ */ new Map([
    [a, [u, v]],
    [b, [u + (length || 1), v]]
  ]);
}

// src/core/uv/flatness.ts
var { abs: abs3, max: max4, min: min3, sqrt: sqrt4 } = Math;
var THIN = 1e-7;
function restOf({ points: p, triangles }) {
  const n = triangles.length / 3;
  const l = new Float64Array(n);
  const g = new Float64Array(n);
  const h = new Float64Array(n);
  const area = new Float64Array(n);
  let total = 0;
  for (let i = 0; i < n; i++) {
    const a = 3 * triangles[3 * i];
    const b = 3 * triangles[3 * i + 1];
    const c = 3 * triangles[3 * i + 2];
    const ex = p[b] - p[a];
    const ey = p[b + 1] - p[a + 1];
    const ez = p[b + 2] - p[a + 2];
    const fx = p[c] - p[a];
    const fy = p[c + 1] - p[a + 1];
    const fz = p[c + 2] - p[a + 2];
    const [x, y, z] = [ey * fz - ez * fy, ez * fx - ex * fz, ex * fy - ey * fx];
    const cross = sqrt4(x * x + y * y + z * z);
    const long = sqrt4(ex * ex + ey * ey + ez * ez);
    const most = max4(long, sqrt4(fx * fx + fy * fy + fz * fz));
    if (!(cross > THIN * most * most)) continue;
    l[i] = long;
    g[i] = (ex * fx + ey * fy + ez * fz) / long;
    h[i] = cross / long;
    area[i] = cross / 2;
    total += area[i];
  }
  return { l, g, h, area, total };
}
var BINS = 512;
var REACH = 4;
var TAIL = 25e-4;
function flatnessOf({ triangles }, rest, uv, bound) {
  const n = triangles.length / 3;
  const scales = new Float64Array(n);
  const drawn = new Float64Array(n);
  let flips = 0;
  let flat = 0;
  for (let i = 0; i < n; i++) {
    const a = 2 * triangles[3 * i];
    const b = 2 * triangles[3 * i + 1];
    const c = 2 * triangles[3 * i + 2];
    const u1 = uv[b] - uv[a];
    const v1 = uv[b + 1] - uv[a + 1];
    const u2 = uv[c] - uv[a];
    const v2 = uv[c + 1] - uv[a + 1];
    const det2 = u1 * v2 - v1 * u2;
    if (!(rest.area[i] > 0)) continue;
    if (!(det2 > 0)) {
      flips++;
      drawn[i] = Infinity;
      continue;
    }
    flat += det2 / 2;
    const m00 = u1 / rest.l[i];
    const m10 = v1 / rest.l[i];
    const m01 = (u2 - m00 * rest.g[i]) / rest.h[i];
    const m11 = (v2 - m10 * rest.g[i]) / rest.h[i];
    const q = (m00 * m00 + m10 * m10 + m01 * m01 + m11 * m11) / 2;
    const det = m00 * m11 - m01 * m10;
    const big = q + sqrt4(max4(0, q * q - det * det));
    drawn[i] = big / det;
    scales[i] = sqrt4(det);
  }
  const { total } = rest;
  const around = total > 0 && flat > 0 ? sqrt4(flat / total) : 1;
  const bins = new Float64Array(BINS);
  let mean = 0;
  let off = 0;
  for (let i = 0; i < n; i++) {
    if (!(rest.area[i] > 0)) continue;
    if (drawn[i] > bound) off += rest.area[i];
    if (drawn[i] === Infinity) continue;
    mean += rest.area[i] * min3(drawn[i], 100);
    const at = (Math.log(scales[i] / around) / REACH + 1) * (BINS / 2);
    bins[max4(0, min3(BINS - 1, Math.floor(at)))] += rest.area[i];
  }
  const edge2 = (from, step) => {
    let sum = 0;
    let k = from;
    for (; k >= 0 && k < BINS; k += step) {
      sum += bins[k];
      if (sum > TAIL * total) break;
    }
    return around * Math.exp(REACH * ((2 * k + 1) / BINS - 1));
  };
  const lo = edge2(0, 1);
  const hi = edge2(BINS - 1, -1);
  const scale = sqrt4(lo * hi);
  for (let i = 0; i < n; i++)
    if (rest.area[i] > 0 && drawn[i] <= bound && (scales[i] > scale * bound || scales[i] < scale / bound))
      off += rest.area[i];
  return { flips, beyond: total > 0 ? off / total : 0, spread: hi / lo, mean: total > 0 ? mean / total : 1, scale };
}
function turn(ax, ay, bx, by, cx, cy) {
  const left = (ax - cx) * (by - cy);
  const right = (ay - cy) * (bx - cx);
  const det = left - right;
  return abs3(det) >= 33306690738754716e-32 * (abs3(left) + abs3(right)) ? det : turnExactly(ax, ay, bx, by, cx, cy);
}
var SPLIT = 134217729;
function product(x, y) {
  const p = x * y;
  const cx = SPLIT * x;
  const xh = cx - (cx - x);
  const xl = x - xh;
  const cy = SPLIT * y;
  const yh = cy - (cy - y);
  const yl = y - yh;
  return [p, xl * yl - (p - xh * yh - xl * yh - xh * yl)];
}
function turnExactly(ax, ay, bx, by, cx, cy) {
  const terms = [
    product(ax, by),
    product(-ay, bx),
    product(bx, cy),
    product(-by, cx),
    product(cx, ay),
    product(-cy, ax)
  ].flat();
  const parts = [];
  for (const term of terms) {
    let q = term;
    let kept = 0;
    for (const x of parts) {
      const sum = q + x;
      const b = sum - q;
      const low = q - (sum - b) + (x - b);
      q = sum;
      if (low !== 0) parts[kept++] = low;
    }
    parts.length = kept;
    if (q !== 0) parts.push(q);
  }
  return parts.length > 0 ? parts[parts.length - 1] : 0;
}
function rimCrosses(rim, uv) {
  const sides = rim.length / 2;
  if (sides < 4) return false;
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const v of rim) {
    x0 = min3(x0, uv[2 * v]);
    x1 = max4(x1, uv[2 * v]);
    y0 = min3(y0, uv[2 * v + 1]);
    y1 = max4(y1, uv[2 * v + 1]);
  }
  if (!(x1 - x0 < Infinity && y1 - y0 < Infinity)) return true;
  const n = max4(1, min3(1024, Math.ceil(sqrt4(sides))));
  const wide = (x1 - x0 || 1) * (1 + 1e-9);
  const high = (y1 - y0 || 1) * (1 + 1e-9);
  const column = (x) => Math.floor((x - x0) / wide * n);
  const row = (y) => Math.floor((y - y0) / high * n);
  const cells = /* @__PURE__ */ new Map();
  for (let s = 0; s < sides; s++) {
    if ((s & EVERY) === 0) pulse();
    const a = rim[2 * s];
    const b = rim[2 * s + 1];
    const [ax, ay, bx, by] = [uv[2 * a], uv[2 * a + 1], uv[2 * b], uv[2 * b + 1]];
    const [ca, cb] = [column(min3(ax, bx)), column(max4(ax, bx))];
    const [ra, rb] = [row(min3(ay, by)), row(max4(ay, by))];
    for (let i = ca; i <= cb; i++)
      for (let j = ra; j <= rb; j++) {
        const name = i * 2048 + j;
        const list = cells.get(name);
        if (!list) {
          cells.set(name, [s]);
          continue;
        }
        for (const o of list) if (sidesMeet(uv, a, b, rim[2 * o], rim[2 * o + 1])) return true;
        list.push(s);
      }
  }
  return false;
}
function sidesMeet(uv, a, b, c, d) {
  if (a === c || b === d) return true;
  const [ax, ay, bx, by] = [uv[2 * a], uv[2 * a + 1], uv[2 * b], uv[2 * b + 1]];
  const [cx, cy, dx, dy] = [uv[2 * c], uv[2 * c + 1], uv[2 * d], uv[2 * d + 1]];
  if (a === d || b === c) {
    const [px, py, sx, sy, ex, ey] = a === d ? [ax, ay, bx, by, cx, cy] : [bx, by, ax, ay, dx, dy];
    return turn(px, py, sx, sy, ex, ey) === 0 && (sx - px) * (ex - px) + (sy - py) * (ey - py) > 0;
  }
  const o1 = turn(ax, ay, bx, by, cx, cy);
  const o2 = turn(ax, ay, bx, by, dx, dy);
  if (o1 > 0 && o2 > 0 || o1 < 0 && o2 < 0) return false;
  const o3 = turn(cx, cy, dx, dy, ax, ay);
  const o4 = turn(cx, cy, dx, dy, bx, by);
  if (o3 > 0 && o4 > 0 || o3 < 0 && o4 < 0) return false;
  if (o1 !== 0 || o2 !== 0) return true;
  return max4(min3(ax, bx), min3(cx, dx)) <= min3(max4(ax, bx), max4(cx, dx)) && max4(min3(ay, by), min3(cy, dy)) <= min3(max4(ay, by), max4(cy, dy));
}

// src/core/math/exact.ts
var { abs: abs4, floor, sqrt: sqrt5 } = Math;
var PIO2 = 1.5707963267948966;
var PIO2_1 = 1.5707963267341256;
var PIO2_1T = 6077100506506192e-26;
var TURN = 2 * Math.PI;
var FARAWAY = 2 ** 28;
var PI_1 = 2 * PIO2_1;
var PI_1T = 2 * PIO2_1T;
function halfTurn(x) {
  const z = x * x;
  const w = z * z;
  const q = w * w;
  const low = -1984126984126984e-19 + z * 27557319223985893e-22;
  const middle = -2505210838544172e-23 + z * 16059043836821613e-26;
  const high = -7647163731819816e-28 + z * 28114572543455206e-31;
  const last = -822063524662433e-32 + z * 19572941063391263e-36;
  const r = -0.16666666666666666 + z * (0.008333333333333333 + z * (low + w * middle + q * (high + w * last)));
  return x + x * z * r;
}
function sin(phase) {
  const x = abs4(phase) < FARAWAY ? phase : phase % TURN;
  const n = floor(x * 0.3183098861837907 + 0.5);
  return (1 - 2 * (n & 1)) * halfTurn(x - n * PI_1 - n * PI_1T);
}
function cos2(phase) {
  const x = abs4(phase) < FARAWAY ? phase : phase % TURN;
  const n = floor(x * 0.3183098861837907 + 1);
  const h = n - 0.5;
  return (1 - 2 * (n & 1)) * halfTurn(x - h * PI_1 - h * PI_1T);
}
var ATAN = [
  0.3333333333333293,
  -0.19999999999876483,
  0.14285714272503466,
  -0.11111110405462356,
  0.09090887133436507,
  -0.0769187620504483,
  0.06661073137387531,
  -0.058335701337905735,
  0.049768779946159324,
  -0.036531572744216916,
  0.016285820115365782
];
var HIGH = [0.4636476090008061, 0.7853981633974483, 0.982793723247329, PIO2];
var LOW = [
  22698777452961687e-33,
  3061616997868383e-32,
  13903311031230998e-33,
  6123233995736766e-32
];
function atan(v) {
  if (Number.isNaN(v)) return NaN;
  let x = abs4(v);
  if (x > 1e19) return v < 0 ? -PIO2 : PIO2;
  let id = -1;
  if (x >= 0.4375) {
    if (x < 0.6875) {
      id = 0;
      x = (2 * x - 1) / (2 + x);
    } else if (x < 1.1875) {
      id = 1;
      x = (x - 1) / (x + 1);
    } else if (x < 2.4375) {
      id = 2;
      x = (x - 1.5) / (1 + 1.5 * x);
    } else {
      id = 3;
      x = -1 / x;
    }
  }
  const z = x * x;
  const w = z * z;
  const odd = z * (ATAN[0] + w * (ATAN[2] + w * (ATAN[4] + w * (ATAN[6] + w * (ATAN[8] + w * ATAN[10])))));
  const even = w * (ATAN[1] + w * (ATAN[3] + w * (ATAN[5] + w * (ATAN[7] + w * ATAN[9]))));
  const out = id < 0 ? x - x * (odd + even) : HIGH[id] - (x * (odd + even) - LOW[id] - x);
  return v < 0 ? -out : out;
}
function atan22(y, x) {
  if (x === 0 && y === 0) return 0;
  if (x > 0) return atan(y / x);
  if (x < 0) return y >= 0 ? atan(y / x) + 2 * PIO2 : atan(y / x) - 2 * PIO2;
  if (x === 0) return y > 0 ? PIO2 : -PIO2;
  return NaN;
}
var acos3 = (x) => atan22(sqrt5(Math.max(0, (1 - x) * (1 + x))), x);

// src/core/uv/refine.ts
var { abs: abs5, max: max5, min: min4, sqrt: sqrt6 } = Math;
function neighboursOf(n, triangles) {
  const start = new Int32Array(n + 1);
  for (const v of triangles) start[v + 1] += 2;
  for (let v = 0; v < n; v++) start[v + 1] += start[v];
  const fill = start.slice(0, n);
  const list = new Int32Array(start[n]);
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const a = triangles[t + k];
      list[fill[a]++] = triangles[t + (k + 1) % 3];
      list[fill[a]++] = triangles[t + (k + 2) % 3];
    }
  return { start, list };
}
var LEAST = 0.02;
var MOST2 = 20;
function weigh(triangles, rest, side) {
  const add = (a, b, w) => side(a, b, min4(MOST2, max5(LEAST, w)));
  for (let i = 0; i < triangles.length / 3; i++) {
    const [a, b, c] = [triangles[3 * i], triangles[3 * i + 1], triangles[3 * i + 2]];
    const [l, g, h] = [rest.l[i], rest.g[i], rest.h[i]];
    if (!(rest.area[i] > 0)) {
      add(a, b, 0.3);
      add(b, c, 0.3);
      add(c, a, 0.3);
      continue;
    }
    add(b, c, g / h / 2);
    add(c, a, (l - g) / h / 2);
    add(a, b, (h - g * (l - g) / h) / l / 2);
  }
}
function laplacian({ points, triangles }, rest) {
  const n = points.length / 3;
  const m = new HermitianBuilder(n, triangles.length);
  weigh(triangles, rest, (a, b, w) => {
    m.diagonal[a] += w;
    m.diagonal[b] += w;
    m.add(a, b, -w, 0);
  });
  for (let v = 0; v < n; v++) m.diagonal[v] += 1e-5;
  const { start, list } = neighboursOf(n, triangles);
  return factorHermitian(m, dissectionOrder(n, points, start, list));
}
function energy(triangles, rest, uv) {
  let sum = 0;
  for (let i = 0; i < triangles.length / 3; i++) {
    const w = rest.area[i];
    if (!(w > 0)) continue;
    const a = 2 * triangles[3 * i];
    const b = 2 * triangles[3 * i + 1];
    const c = 2 * triangles[3 * i + 2];
    const m00 = (uv[b] - uv[a]) / rest.l[i];
    const m10 = (uv[b + 1] - uv[a + 1]) / rest.l[i];
    const m01 = (uv[c] - uv[a] - m00 * rest.g[i]) / rest.h[i];
    const m11 = (uv[c + 1] - uv[a + 1] - m10 * rest.g[i]) / rest.h[i];
    const det = m00 * m11 - m01 * m10;
    if (!(det > 0)) return Infinity;
    const q = m00 * m00 + m10 * m10 + m01 * m01 + m11 * m11;
    sum += w * q * (1 + 1 / (det * det));
  }
  return sum;
}
function descent(triangles, rest, uv, x, y) {
  x.fill(0);
  y.fill(0);
  for (let i = 0; i < triangles.length / 3; i++) {
    const w = rest.area[i];
    if (!(w > 0)) continue;
    const [va, vb, vc] = [triangles[3 * i], triangles[3 * i + 1], triangles[3 * i + 2]];
    const [a, b, c] = [2 * va, 2 * vb, 2 * vc];
    const [l, g, h] = [rest.l[i], rest.g[i], rest.h[i]];
    const m00 = (uv[b] - uv[a]) / l;
    const m10 = (uv[b + 1] - uv[a + 1]) / l;
    const m01 = (uv[c] - uv[a] - m00 * g) / h;
    const m11 = (uv[c + 1] - uv[a + 1] - m10 * g) / h;
    const det = m00 * m11 - m01 * m10;
    const q = m00 * m00 + m10 * m10 + m01 * m01 + m11 * m11;
    const k = 2 * (1 + 1 / (det * det));
    const r = 2 * q / (det * det * det);
    const p00 = w * (k * m00 - r * m11);
    const p01 = w * (k * m01 + r * m10);
    const p10 = w * (k * m10 + r * m01);
    const p11 = w * (k * m11 - r * m00);
    const xb = p00 / l - p01 * g / (h * l);
    const yb = p10 / l - p11 * g / (h * l);
    const xc = p01 / h;
    const yc = p11 / h;
    x[vb] -= xb;
    y[vb] -= yb;
    x[vc] -= xc;
    y[vc] -= yc;
    x[va] += xb + xc;
    y[va] += yb + yc;
  }
}
function farthest(triangles, uv, x, y) {
  let most = Infinity;
  for (let i = 0; i < triangles.length; i += 3) {
    const [a, b, c] = [triangles[i], triangles[i + 1], triangles[i + 2]];
    const [u1, v1] = [uv[2 * b] - uv[2 * a], uv[2 * b + 1] - uv[2 * a + 1]];
    const [u2, v2] = [uv[2 * c] - uv[2 * a], uv[2 * c + 1] - uv[2 * a + 1]];
    const [s1, t1, s2, t2] = [x[b] - x[a], y[b] - y[a], x[c] - x[a], y[c] - y[a]];
    const c0 = u1 * v2 - v1 * u2;
    if (!(c0 > 0)) continue;
    const c1 = u1 * t2 + s1 * v2 - v1 * s2 - t1 * u2;
    const c2 = s1 * t2 - t1 * s2;
    const root = firstRoot(c2, c1, c0);
    if (root < most) most = root;
  }
  return most;
}
function firstRoot(c2, c1, c0) {
  if (abs5(c2) < 1e-14 * (abs5(c1) + c0)) return c1 < 0 ? -c0 / c1 : Infinity;
  const d = c1 * c1 - 4 * c2 * c0;
  if (d < 0) return Infinity;
  const q = -0.5 * (c1 + (c1 < 0 ? -1 : 1) * sqrt6(d));
  const [r1, r2] = [q / c2, q === 0 ? Infinity : c0 / q];
  const [a, b] = [min4(r1, r2), max5(r1, r2)];
  if (a > 0) return a;
  return b > 0 ? b : Infinity;
}
var HALVINGS = 20;
function refine(patch, rest, uv, rounds, enough, little = 2e-6) {
  const factor = laplacian(patch, rest);
  if (!factor) return void 0;
  bettered(patch, rest, factor, uv, rounds, enough, little);
  return (heavier, more) => bettered(patch, heavier, factor, uv, more, enough, little);
}
function bettered({ triangles }, rest, factor, uv, rounds, enough, little) {
  const n = uv.length / 2;
  toScale(triangles, rest, uv);
  let now = energy(triangles, rest, uv);
  if (!Number.isFinite(now)) return;
  let step = 1 / 8;
  let before = Infinity;
  const x = new Float64Array(n);
  const y = new Float64Array(n);
  const next = new Float64Array(2 * n);
  for (let round4 = 1; round4 <= rounds; round4++) {
    pulse();
    descent(triangles, rest, uv, x, y);
    let slope = 0;
    const gx = x.slice();
    const gy = y.slice();
    factor.solve(x, y);
    for (let v = 0; v < n; v++) slope += gx[v] * x[v] + gy[v] * y[v];
    let t = min4(2 * step, 0.8 * farthest(triangles, uv, x, y));
    let better = Infinity;
    for (let k = 0; k < HALVINGS; k++, t /= 2) {
      for (let v = 0; v < n; v++) {
        next[2 * v] = uv[2 * v] + t * x[v];
        next[2 * v + 1] = uv[2 * v + 1] + t * y[v];
      }
      better = energy(triangles, rest, next);
      if (better <= now - 1e-4 * t * slope) break;
    }
    if (!(better < now)) return;
    step = t;
    uv.set(next);
    const gained = (now - better) / now;
    now = better;
    if (enough(round4) || gained + before < little) return;
    before = gained;
  }
}
function heavierWhere({ triangles }, rest, uv, bound, by) {
  const area = rest.area.slice();
  for (let i = 0; i < area.length; i++) {
    if (!(area[i] > 0)) continue;
    const [a, b, c] = [2 * triangles[3 * i], 2 * triangles[3 * i + 1], 2 * triangles[3 * i + 2]];
    const m00 = (uv[b] - uv[a]) / rest.l[i];
    const m10 = (uv[b + 1] - uv[a + 1]) / rest.l[i];
    const m01 = (uv[c] - uv[a] - m00 * rest.g[i]) / rest.h[i];
    const m11 = (uv[c + 1] - uv[a + 1] - m10 * rest.g[i]) / rest.h[i];
    const det = m00 * m11 - m01 * m10;
    const q = (m00 * m00 + m10 * m10 + m01 * m01 + m11 * m11) / 2;
    const root = sqrt6(max5(0, q * q - det * det));
    const [large, small] = [sqrt6(q + root), sqrt6(max5(1e-30, q - root))];
    if (large > bound * small || det > bound * bound || det * bound * bound < 1) area[i] *= by;
  }
  return { ...rest, area };
}
function toScale(triangles, rest, uv) {
  let flat = 0;
  for (let i = 0; i < triangles.length / 3; i++) {
    if (!(rest.area[i] > 0)) continue;
    const [a, b, c] = [2 * triangles[3 * i], 2 * triangles[3 * i + 1], 2 * triangles[3 * i + 2]];
    flat += ((uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[b + 1] - uv[a + 1]) * (uv[c] - uv[a])) / 2;
  }
  const k = flat > 0 ? sqrt6(rest.total / flat) : 1;
  for (let i = 0; i < uv.length; i++) uv[i] *= k;
}
function tutte(patch, rest, uv) {
  const { points, triangles, rim } = patch;
  const n = points.length / 3;
  const out = uv ? uv.slice() : new Float64Array(2 * n);
  if (patch.borders !== 1 || patch.euler !== 1) return void 0;
  const held = new Uint8Array(n);
  for (const v of rim) held[v] = 1;
  if (!uv && !onCircle(rim, points, out)) return void 0;
  const index = new Int32Array(n).fill(-1);
  let m = 0;
  for (let v = 0; v < n; v++) if (!held[v]) index[v] = m++;
  if (m === 0) return out;
  const matrix = new HermitianBuilder(m, triangles.length);
  const x = new Float64Array(m);
  const y = new Float64Array(m);
  weigh(triangles, rest, (a, b, w) => {
    const [i, j] = [index[a], index[b]];
    if (i >= 0) matrix.diagonal[i] += w;
    if (j >= 0) matrix.diagonal[j] += w;
    if (i >= 0 && j >= 0) matrix.add(i, j, -w, 0);
    else if (i >= 0 || j >= 0) {
      const [inner, outer] = i >= 0 ? [i, b] : [j, a];
      x[inner] += w * out[2 * outer];
      y[inner] += w * out[2 * outer + 1];
    }
  });
  const at = new Float64Array(3 * m);
  for (let v = 0; v < n; v++) if (index[v] >= 0) at.set(points.subarray(3 * v, 3 * v + 3), 3 * index[v]);
  const own2 = [];
  for (let t = 0; t < triangles.length; t += 3) {
    const k = [index[triangles[t]], index[triangles[t + 1]], index[triangles[t + 2]]];
    if (k[0] >= 0 && k[1] >= 0) own2.push(k[0], k[1]);
    if (k[1] >= 0 && k[2] >= 0) own2.push(k[1], k[2]);
    if (k[2] >= 0 && k[0] >= 0) own2.push(k[2], k[0]);
  }
  const { start, list } = pairsByVertex(m, own2);
  const factor = factorHermitian(matrix, dissectionOrder(m, at, start, list));
  if (!factor) return void 0;
  factor.solve(x, y);
  for (let v = 0; v < n; v++)
    if (index[v] >= 0) {
      out[2 * v] = x[index[v]];
      out[2 * v + 1] = y[index[v]];
    }
  return out;
}
function pairsByVertex(n, pairs) {
  const start = new Int32Array(n + 1);
  for (const v of pairs) start[v + 1]++;
  for (let v = 0; v < n; v++) start[v + 1] += start[v];
  const fill = start.slice(0, n);
  const list = new Int32Array(start[n]);
  for (let i = 0; i < pairs.length; i += 2) {
    list[fill[pairs[i]]++] = pairs[i + 1];
    list[fill[pairs[i + 1]]++] = pairs[i];
  }
  return { start, list };
}
function onCircle(rim, points, out) {
  const next = /* @__PURE__ */ new Map();
  for (let i = 0; i < rim.length; i += 2) next.set(rim[i], rim[i + 1]);
  if (next.size !== rim.length / 2) return false;
  const ring = [];
  const lengths = [];
  let all = 0;
  for (let v = rim[0]; ring.length < next.size; ) {
    const to = next.get(v);
    if (to === void 0) return false;
    ring.push(v);
    const long = Math.hypot(...[0, 1, 2].map((k) => points[3 * to + k] - points[3 * v + k]));
    lengths.push(long);
    all += long;
    v = to;
  }
  const least = all > 0 ? all / ring.length / 100 : 1;
  const whole = lengths.reduce((sum, x) => sum + max5(x, least), 0);
  let at = 0;
  ring.forEach((v, i) => {
    const a = 2 * Math.PI * at / whole;
    out[2 * v] = cos2(a);
    out[2 * v + 1] = sin(a);
    at += max5(lengths[i], least);
  });
  return true;
}

// src/core/uv/layflat.ts
var SPARE = 3e-3;
var HOPELESS = 1.9;
var ROUNDS = 12;
var LITTLE = 4e-4;
var FEW = 0.03;
var HEAVIER = 4;
var TURNS = 4;
var ROUNDS_FROM_CIRCLE = 40;
function layFlat(given, bound, hard = false) {
  const patch = filled(given);
  const rest = restOf(patch);
  if (!(rest.total > 0)) {
    const uv2 = flattened(given.points);
    return { uv: uv2, rest, figures: { flips: 0, beyond: 0, spread: 1, mean: 1, scale: 1 }, good: true, sound: true };
  }
  const own2 = given === patch ? rest : restOf(given);
  const judge = (uv2) => flatnessOf(given, own2, uv2, bound);
  let uv = conformal({ points: patch.points, triangles: patch.triangles }) ?? flattened(patch.points);
  let figures = judge(uv);
  const fits = () => figures.flips === 0 && figures.beyond <= SPARE;
  const folds = (at) => flipsFrom(patch, rest, at, given.triangles.length);
  const turned2 = figures.flips + folds(uv);
  if (turned2 > 0 && (hard || turned2 * 3 * 15 < patch.triangles.length)) {
    const mended = tutte(patch, rest, uv);
    const now = mended && judge(mended);
    if (mended && now && now.flips + folds(mended) < turned2) {
      uv = mended;
      figures = now;
    }
  }
  if (figures.flips > 0 && hard) {
    const round4 = tutte(patch, rest);
    const now = round4 && judge(round4);
    if (round4 && now && now.flips === 0) {
      uv = round4;
      refine(patch, rest, uv, ROUNDS_FROM_CIRCLE, (k) => {
        if (k % 4 !== 0) return false;
        figures = judge(uv);
        return fits();
      });
      figures = judge(uv);
    }
  }
  if (figures.flips === 0 && !fits() && (hard || figures.spread < HOPELESS * bound * bound)) {
    const judged = () => {
      figures = judge(uv);
      return fits();
    };
    const goOn = refine(patch, rest, uv, ROUNDS, judged, LITTLE);
    figures = judge(uv);
    let heavier = rest;
    for (let k = 0; k < TURNS && goOn && !fits() && figures.beyond < FEW && figures.spread < bound * bound; k++) {
      heavier = heavierWhere(patch, heavier, uv, bound, HEAVIER);
      goOn(heavier, 4);
      figures = judge(uv);
    }
  }
  const once = figures.flips === 0 && !rimCrosses(given.rim, uv);
  return {
    uv: uv.length > 2 * given.points.length / 3 ? uv.slice(0, 2 * given.points.length / 3) : uv,
    rest: own2,
    figures,
    good: once && fits(),
    sound: once
  };
}
function flipsFrom({ triangles }, rest, uv, first) {
  let flips = 0;
  for (let t = first; t < triangles.length; t += 3) {
    const [a, b, c] = [2 * triangles[t], 2 * triangles[t + 1], 2 * triangles[t + 2]];
    const det = (uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[b + 1] - uv[a + 1]) * (uv[c] - uv[a]);
    if (rest.area[t / 3] > 0 && !(det > 0)) flips++;
  }
  return flips;
}
function filled(patch) {
  if (patch.borders < 2 || patch.euler !== 2 - patch.borders) return patch;
  const { rim, points } = patch;
  const n = points.length / 3;
  const next = new Int32Array(n).fill(-1);
  for (let i = 0; i < rim.length; i += 2) next[rim[i]] = rim[i + 1];
  const seen = new Uint8Array(n);
  const loops = [];
  for (let i = 0; i < rim.length; i += 2) {
    if (seen[rim[i]]) continue;
    const ring = [];
    let long = 0;
    for (let v = rim[i]; v >= 0 && !seen[v]; v = next[v]) {
      seen[v] = 1;
      ring.push(v);
      const to = next[v];
      if (to >= 0) long += Math.hypot(...[0, 1, 2].map((k) => points[3 * to + k] - points[3 * v + k]));
    }
    loops.push({ ring, long });
  }
  loops.sort((a, b) => b.long - a.long);
  const [main, ...holes] = loops;
  const more = new Float64Array(points.length + 3 * holes.length);
  more.set(points);
  const fans = [];
  holes.forEach(({ ring }, h) => {
    for (const v of ring) for (let k = 0; k < 3; k++) more[3 * (n + h) + k] += points[3 * v + k] / ring.length;
    ring.forEach((v, i) => fans.push(ring[(i + 1) % ring.length], v, n + h));
  });
  const triangles = new Uint32Array(patch.triangles.length + fans.length);
  triangles.set(patch.triangles);
  triangles.set(fans, patch.triangles.length);
  const outer = main.ring.flatMap((v, i) => [v, main.ring[(i + 1) % main.ring.length]]);
  return { ...patch, points: more, triangles, rim: Uint32Array.from(outer), borders: 1, euler: 1 };
}
function flattened(p) {
  const lo = [Infinity, Infinity, Infinity];
  const hi = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < p.length; i++) {
    lo[i % 3] = Math.min(lo[i % 3], p[i]);
    hi[i % 3] = Math.max(hi[i % 3], p[i]);
  }
  const size = lo.map((x, k) => hi[k] - x);
  const drop = size.indexOf(Math.min(...size));
  const out = new Float64Array(2 * p.length / 3);
  for (let v = 0; v < p.length / 3; v++) {
    out[2 * v] = p[3 * v + (drop + 1) % 3];
    out[2 * v + 1] = p[3 * v + (drop + 2) % 3];
  }
  return out;
}

// src/core/uv/part.ts
var { abs: abs6, hypot: hypot2, max: max6, min: min5, sqrt: sqrt7 } = Math;
function faceFacts(mesh) {
  const { faceStart, cornerVertex, positions: p, faceCount } = mesh;
  const normal = new Float64Array(3 * faceCount);
  const area = new Float64Array(faceCount);
  const centre = new Float64Array(3 * faceCount);
  for (let f = 0; f < faceCount; f++) {
    const s = faceStart[f];
    const e = faceStart[f + 1];
    const o = 3 * cornerVertex[s];
    let [x, y, z, cx, cy, cz] = [0, 0, 0, p[o], p[o + 1], p[o + 2]];
    for (let c = s + 1; c < e; c++) {
      const a = 3 * cornerVertex[c];
      cx += p[a];
      cy += p[a + 1];
      cz += p[a + 2];
      if (c + 1 === e) break;
      const b = 3 * cornerVertex[c + 1];
      const [ux, uy, uz] = [p[a] - p[o], p[a + 1] - p[o + 1], p[a + 2] - p[o + 2]];
      const [wx, wy, wz] = [p[b] - p[o], p[b + 1] - p[o + 1], p[b + 2] - p[o + 2]];
      x += uy * wz - uz * wy;
      y += uz * wx - ux * wz;
      z += ux * wy - uy * wx;
    }
    const long = hypot2(x, y, z);
    area[f] = long / 2;
    if (long > 0) normal.set([x / long, y / long, z / long], 3 * f);
    centre.set([cx / (e - s), cy / (e - s), cz / (e - s)], 3 * f);
  }
  return { normal, area, centre };
}
function normalSpread(faces, { normal, area }) {
  const m = [0, 0, 0];
  const c = [0, 0, 0, 0, 0, 0];
  let total = 0;
  for (let i = 0; i < faces.length; i++) {
    const f = faces[i];
    const a = area[f];
    const [x, y, z] = [normal[3 * f], normal[3 * f + 1], normal[3 * f + 2]];
    total += a;
    m[0] += a * x;
    m[1] += a * y;
    m[2] += a * z;
    c[0] += a * x * x;
    c[1] += a * y * y;
    c[2] += a * z * z;
    c[3] += a * x * y;
    c[4] += a * x * z;
    c[5] += a * y * z;
  }
  if (!(total > 0)) return { least: 0, way: [1, 0, 0] };
  const [mx, my, mz] = m.map((x) => x / total);
  const s = [
    [c[0] / total - mx * mx, c[3] / total - mx * my, c[4] / total - mx * mz],
    [c[3] / total - mx * my, c[1] / total - my * my, c[5] / total - my * mz],
    [c[4] / total - mx * mz, c[5] / total - my * mz, c[2] / total - mz * mz]
  ];
  const { values, vectors } = jacobi(s);
  const order = [0, 1, 2].sort((a, b) => values[a] - values[b]);
  return { least: values[order[0]], way: vectors[order[2]] };
}
function jacobi(a) {
  const v = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1]
  ];
  for (let sweep = 0; sweep < 12; sweep++)
    for (const [p, q] of [
      [0, 1],
      [0, 2],
      [1, 2]
    ]) {
      if (abs6(a[p][q]) < 1e-15) continue;
      const theta = (a[q][q] - a[p][p]) / (2 * a[p][q]);
      const t = (theta < 0 ? -1 : 1) / (abs6(theta) + sqrt7(theta * theta + 1));
      const c = 1 / sqrt7(t * t + 1);
      const s = t * c;
      for (let k = 0; k < 3; k++) {
        const [x, y] = [a[k][p], a[k][q]];
        a[k][p] = c * x - s * y;
        a[k][q] = s * x + c * y;
      }
      for (let k = 0; k < 3; k++) {
        const [x, y] = [a[p][k], a[q][k]];
        a[p][k] = c * x - s * y;
        a[q][k] = s * x + c * y;
        const [i, j] = [v[p][k], v[q][k]];
        v[p][k] = c * i - s * j;
        v[q][k] = s * i + c * j;
      }
    }
  return { values: [a[0][0], a[1][1], a[2][2]], vectors: v };
}
var PLACE = 0.35;
var LLOYD = 5;
var SMOOTHINGS = 6;
function inTwo(faces, facts, parting, weigh2) {
  const n = faces.length;
  const { normal, area, centre } = facts;
  const { way } = normalSpread(faces, facts);
  const lo = [Infinity, Infinity, Infinity];
  const hi = [-Infinity, -Infinity, -Infinity];
  for (const f of faces)
    for (let k = 0; k < 3; k++) {
      lo[k] = min5(lo[k], centre[3 * f + k]);
      hi[k] = max6(hi[k], centre[3 * f + k]);
    }
  const size = hypot2(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]) || 1;
  const wide = PLACE * (2 / size);
  const feature = (f, k) => k < 3 ? normal[3 * f + k] : wide * centre[3 * f + k - 3];
  const along = (f) => normal[3 * f] * way[0] + normal[3 * f + 1] * way[1] + normal[3 * f + 2] * way[2];
  let mean = 0;
  let total = 0;
  for (const f of faces) {
    mean += area[f] * along(f);
    total += area[f];
  }
  mean /= total || 1;
  const side = new Uint8Array(n);
  for (let i = 0; i < n; i++) side[i] = along(faces[i]) > mean ? 1 : 0;
  const lean = new Float64Array(n);
  for (let round4 = 0; round4 < LLOYD; round4++) {
    pulse();
    const c = [new Float64Array(6), new Float64Array(6)];
    const w = [0, 0];
    for (let i = 0; i < n; i++) {
      const f = faces[i];
      const a = area[f] + 1e-30;
      w[side[i]] += a;
      for (let k = 0; k < 6; k++) c[side[i]][k] += a * feature(f, k);
    }
    if (w[0] === 0 || w[1] === 0) break;
    for (let q = 0; q < 2; q++) for (let k = 0; k < 6; k++) c[q][k] /= w[q];
    for (let i = 0; i < n; i++) {
      let d = 0;
      for (let k = 0; k < 6; k++) {
        const x = feature(faces[i], k);
        d += (x - c[0][k]) ** 2 - (x - c[1][k]) ** 2;
      }
      lean[i] = d;
      side[i] = d > 0 ? 1 : 0;
    }
  }
  smoothed(faces, side, lean, parting, weigh2);
  return side;
}
function smoothed(faces, side, lean, parting, weigh2) {
  const { mesh, t } = parting;
  const at = /* @__PURE__ */ new Map();
  faces.forEach((f, i) => at.set(f, i));
  let scale = 0;
  for (const x of lean) scale += abs6(x);
  scale = scale / (lean.length || 1) || 1;
  for (let round4 = 0; round4 < SMOOTHINGS; round4++) {
    let moved = 0;
    for (let i = 0; i < faces.length; i++) {
      const f = faces[i];
      const pull = [0, 0];
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const o = parting.across(c);
        const j = o < 0 ? void 0 : at.get(t.cornerFace[o]);
        if (j !== void 0) pull[side[j]] += weigh2(t.cornerEdge[c]);
      }
      const own2 = side[i];
      const gain = pull[1 - own2] - pull[own2];
      if (gain <= 0) continue;
      const held = (own2 === 1 ? lean[i] : -lean[i]) / scale;
      if (gain / (pull[0] + pull[1]) > 0.6 * held) {
        side[i] = 1 - own2;
        moved++;
      }
    }
    if (moved === 0) break;
  }
}
var TURNS2 = 1;
var HOLE = 0.2;
function slit(parting, patch, weigh2) {
  const { mesh, t } = parting;
  const loop = loopOf(patch);
  const n = patch.points.length / 3;
  const start = new Int32Array(n + 1);
  const sides = [];
  let at = 0;
  for (const f of patch.faces) {
    const first = at;
    const many = mesh.faceStart[f + 1] - mesh.faceStart[f];
    for (let k = 0; k < many; k++, at++) {
      const a = patch.corners[at];
      const b = patch.corners[first + (k + 1) % many];
      const c = mesh.faceStart[f] + k;
      const o = parting.across(c);
      if (o < 0 || parting.label[t.cornerFace[o]] !== parting.label[f] || o < c) continue;
      sides.push(a, b, t.cornerEdge[c]);
      start[a + 1]++;
      start[b + 1]++;
    }
  }
  for (let v = 0; v < n; v++) start[v + 1] += start[v];
  const fill = start.slice(0, n);
  const to = new Int32Array(start[n]);
  const via = new Int32Array(start[n]);
  for (let i = 0; i < sides.length; i += 3)
    for (const [a, b] of [
      [sides[i], sides[i + 1]],
      [sides[i + 1], sides[i]]
    ]) {
      to[fill[a]] = b;
      via[fill[a]++] = sides[i + 2];
    }
  const main = loop.long.indexOf(Math.max(...loop.long));
  const wanted = loop.long.map(
    (x, i) => i === main || abs6(loop.turns[i]) > (x >= HOLE * loop.long[main] ? TURNS2 / 3 : TURNS2)
  );
  const left = wanted.filter((w) => w).length;
  const joined2 = /* @__PURE__ */ new Set([main]);
  const from = [];
  for (let v = 0; v < n; v++) if (loop.of[v] === main) from.push(v);
  let any = false;
  while (joined2.size < left) {
    const dist = new Float64Array(n).fill(Infinity);
    const back = new Int32Array(n).fill(-1);
    const queue = new Queue();
    for (const v of from) {
      dist[v] = 0;
      queue.push(v, 0);
    }
    let hit = -1;
    while (queue.size > 0 && hit < 0) {
      const [v, d] = queue.pop();
      if (d > dist[v]) continue;
      if (loop.of[v] >= 0 && wanted[loop.of[v]] && !joined2.has(loop.of[v])) {
        hit = v;
        break;
      }
      for (let p = start[v]; p < start[v + 1]; p++) {
        const next = d + weigh2(via[p]);
        if (next < dist[to[p]]) {
          dist[to[p]] = next;
          back[to[p]] = v;
          queue.push(to[p], next);
        }
      }
    }
    if (hit < 0) return any;
    joined2.add(loop.of[hit]);
    for (let v = 0; v < n; v++) if (loop.of[v] === loop.of[hit]) from.push(v);
    for (let v = hit; back[v] >= 0; v = back[v]) {
      for (let p = start[v]; p < start[v + 1]; p++)
        if (to[p] === back[v]) {
          parting.seam[via[p]] = 1;
          any = true;
          break;
        }
      from.push(v);
    }
  }
  return any;
}
function loopOf({ rim, points, triangles }) {
  const n = points.length / 3;
  const next = new Int32Array(n).fill(-1);
  for (let i = 0; i < rim.length; i += 2) next[rim[i]] = rim[i + 1];
  const of = new Int32Array(n).fill(-1);
  const long = [];
  const turns = [];
  const inside = anglesOf(points, triangles);
  for (let i = 0; i < rim.length; i += 2) {
    if (of[rim[i]] >= 0) continue;
    let sum = 0;
    let turn2 = 2 * Math.PI;
    for (let v = rim[i]; v >= 0 && of[v] < 0; v = next[v]) {
      of[v] = long.length;
      turn2 += Math.PI - inside[v];
      if (next[v] >= 0) sum += hypot2(...[0, 1, 2].map((k) => points[3 * next[v] + k] - points[3 * v + k]));
    }
    long.push(sum);
    turns.push(turn2);
  }
  return { of, long, turns };
}
function anglesOf(p, triangles) {
  const out = new Float64Array(p.length / 3);
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const [o, a, b] = [0, 1, 2].map((q) => 3 * triangles[t + (k + q) % 3]);
      let [dot, aa, bb] = [0, 0, 0];
      for (let q = 0; q < 3; q++) {
        const x = p[a + q] - p[o + q];
        const y = p[b + q] - p[o + q];
        dot += x * y;
        aa += x * x;
        bb += y * y;
      }
      if (aa > 0 && bb > 0) out[o / 3] += Math.acos(max6(-1, min5(1, dot / sqrt7(aa * bb))));
    }
  return out;
}

// src/core/uv/patch.ts
var Parting = class {
  constructor(mesh, seam) {
    this.mesh = mesh;
    this.seam = seam;
    this.t = topologyOf(mesh);
    this.triangles = triangulate(mesh);
    this.triStart = new Uint32Array(mesh.faceCount + 1);
    for (const f of this.triangles.face) this.triStart[f + 1]++;
    for (let f = 0; f < mesh.faceCount; f++) this.triStart[f + 1] += this.triStart[f];
    this.label = new Int32Array(mesh.faceCount).fill(-1);
    this.local = new Int32Array(mesh.cornerCount).fill(-1);
    this.seen = new Int32Array(mesh.faceCount);
  }
  mesh;
  seam;
  t;
  triangles;
  triStart;
  label;
  seen;
  stamp = 0;
  /** Vertex of the patch at a corner, or −1. */
  local;
  /** The corner on the other side of the edge that begins at a corner, or −1 at a seam. */
  across(c) {
    const { cornerEdge, edgeCornerStart, edgeCorner } = this.t;
    const e = cornerEdge[c];
    if (this.seam[e]) return -1;
    const s = edgeCornerStart[e];
    return edgeCorner[s] === c ? edgeCorner[s + 1] : edgeCorner[s];
  }
  next(c) {
    const f = this.t.cornerFace[c];
    return c + 1 === this.mesh.faceStart[f + 1] ? this.mesh.faceStart[f] : c + 1;
  }
  before(c) {
    const f = this.t.cornerFace[c];
    return c === this.mesh.faceStart[f] ? this.mesh.faceStart[f + 1] - 1 : c - 1;
  }
  /**
   * Lists of faces that hang together without crossing a seam or going from one label to another, among some.
   * Relabelled from `first` on.
   */
  components(faces, first) {
    const { label, mesh } = this;
    const { cornerFace } = this.t;
    const out = [];
    const { seen } = this;
    const stamp2 = ++this.stamp;
    const stack = [];
    for (let i = 0; i < faces.length; i++) {
      if (seen[faces[i]] === stamp2) continue;
      const was = label[faces[i]];
      const found = [];
      stack.push(faces[i]);
      seen[faces[i]] = stamp2;
      for (let f = stack.pop(); f !== void 0; f = stack.pop()) {
        found.push(f);
        if ((found.length & EVERY) === 0) pulse();
        for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
          const o = this.across(c);
          const g = o < 0 ? -1 : cornerFace[o];
          if (g >= 0 && seen[g] !== stamp2 && label[g] === was) {
            seen[g] = stamp2;
            stack.push(g);
          }
        }
      }
      out.push(Uint32Array.from(found).sort());
    }
    out.forEach((list, k) => {
      for (const f of list) label[f] = first + k;
    });
    return out;
  }
  /** Faces of one label as a patch. */
  patch(faces) {
    const { mesh, label, local, triangles, triStart } = this;
    const { cornerFace } = this.t;
    const { faceStart, cornerVertex, positions } = mesh;
    const own2 = label[faces[0]];
    let cornerTotal = 0;
    let triTotal = 0;
    for (const f of faces) {
      cornerTotal += faceStart[f + 1] - faceStart[f];
      triTotal += triStart[f + 1] - triStart[f];
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) local[c] = -1;
    }
    const of = new Uint32Array(cornerTotal);
    const vertex = new Uint32Array(cornerTotal);
    let n = 0;
    const inner = (c) => {
      const o = this.across(c);
      return o >= 0 && label[cornerFace[o]] === own2 ? o : -1;
    };
    let at = 0;
    let sides = 0;
    const rim = [];
    for (const f of faces)
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
        if (local[c] < 0) {
          vertex[n] = cornerVertex[c];
          this.round(c, n++, inner);
        }
        of[at++] = local[c];
      }
    for (const f of faces)
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++)
        if (inner(c) < 0) {
          rim.push(local[c], local[this.next(c)]);
          sides += 2;
        } else sides++;
    const there = /* @__PURE__ */ new Set();
    for (let i = 0; i < rim.length; i += 2) there.add(rim[i] * n + rim[i + 1]);
    let kept = 0;
    for (let i = 0; i < rim.length; i += 2) {
      if (there.has(rim[i + 1] * n + rim[i])) {
        sides--;
        continue;
      }
      rim[kept++] = rim[i];
      rim[kept++] = rim[i + 1];
    }
    rim.length = kept;
    const tri = new Uint32Array(3 * triTotal);
    let q = 0;
    for (const f of faces)
      for (let i = 3 * triStart[f]; i < 3 * triStart[f + 1]; i++) tri[q++] = local[triangles.corners[i]];
    const points = new Float64Array(3 * n);
    for (let v = 0; v < n; v++) for (let k = 0; k < 3; k++) points[3 * v + k] = positions[3 * vertex[v] + k];
    return {
      faces,
      points,
      triangles: tri,
      corners: of,
      euler: n - sides / 2 + faces.length,
      rim: Uint32Array.from(rim),
      borders: loopsOf(rim, n)
    };
  }
  /** Gives all corners round a vertex that hang together one number. */
  round(c, n, inner) {
    const { local } = this;
    local[c] = n;
    for (let at = c; ; ) {
      const o = inner(this.before(at));
      if (o < 0 || local[o] >= 0) break;
      local[o] = n;
      at = o;
    }
    for (let at = c; ; ) {
      const o = inner(at);
      if (o < 0) break;
      const there = this.next(o);
      if (local[there] >= 0) break;
      local[there] = n;
      at = there;
    }
  }
};
function loopsOf(rim, n) {
  const next = new Int32Array(n).fill(-1);
  for (let i = 0; i < rim.length; i += 2) next[rim[i]] = rim[i + 1];
  let loops = 0;
  for (let i = 0; i < rim.length; i += 2) {
    let v = rim[i];
    if (next[v] < 0) continue;
    loops++;
    while (v >= 0 && next[v] >= 0) {
      const to = next[v];
      next[v] = -1;
      v = to;
    }
  }
  return loops;
}

// src/core/uv/plan.ts
var { abs: abs7, max: max7, min: min6, sqrt: sqrt8 } = Math;
var SWEEPS = 60;
var SETTLED = 0.01;
var LOOK = 4;
var FAR_OFF = 1.25;
var FLAT = 0.12;
var Foretelling = class {
  constructor(cells) {
    this.cells = cells;
    this.u = new Float64Array(cells.count);
    this.kept = new Float64Array(cells.count);
    this.patch = new Int32Array(cells.count);
    this.load = new Float64Array(cells.count);
  }
  cells;
  u;
  kept;
  patch;
  /** Curvature of each cell as a part of the patch that is asked for. */
  load;
  stamp = 0;
  /** What was found last of a patch is where the next one that it is a part of begins. */
  keep(list) {
    for (let i = 0; i < list.length; i++) this.kept[list[i]] = this.u[list[i]];
  }
  /**
   * Largest over smallest scale that a patch of cells will have; infinite for what is closed. Beyond `most` by enough it
   * is not followed to the end: scales grow from those of the parts, so what is off already will not come back.
   */
  spread(list, most = Infinity) {
    const { start, to, lead, rim, bent, ridge, joints } = this.cells;
    const { u, kept, patch, load } = this;
    const own2 = ++this.stamp;
    const n = list.length;
    for (let i = 0; i < n; i++) {
      patch[list[i]] = own2;
      u[list[i]] = kept[list[i]];
    }
    let open = false;
    for (let i = 0; i < n && !open; i++) {
      const c = list[i];
      if (rim[c] > 0) open = true;
      for (let k = start[c]; k < start[c + 1] && !open; k++) if (patch[to[k]] !== own2) open = true;
    }
    if (!open) return Infinity;
    let all = 0;
    for (let i = 0; i < n; i++) {
      const c = list[i];
      let sum = bent[c];
      for (let k = start[c]; k < start[c + 1]; k++) if (patch[to[k]] === own2) sum += ridge[k];
      for (let q = joints.ofStart[c]; q < joints.ofStart[c + 1]; q++) {
        const j = joints.of[q];
        let whole = true;
        const [from, end] = [joints.start[j], joints.start[j + 1]];
        for (let k = from; k < end && whole; k++) whole = patch[joints.cells[k]] === own2;
        if (whole) sum += joints.bent[j] / (end - from);
      }
      load[c] = sum;
      all += abs7(sum);
    }
    if (all < FLAT) return 1;
    let [lo, hi] = [0, 0];
    const farOff = FAR_OFF * Math.log(most);
    const over = n > 30 ? 1.7 : 1.3;
    for (let sweep = 0; sweep < SWEEPS; sweep++) {
      let moved = 0;
      for (let q = 0; q < n; q++) {
        const c = list[(sweep & 1) === 0 ? q : n - 1 - q];
        let sum = load[c];
        let weight = 2 * rim[c];
        for (let k = start[c]; k < start[c + 1]; k++) {
          const w = patch[to[k]] === own2 ? lead[k] : 2 * lead[k];
          weight += w;
          if (patch[to[k]] === own2) sum += w * u[to[k]];
        }
        if (!(weight > 0)) continue;
        const next = u[c] + over * (sum / weight - u[c]);
        moved = max7(moved, abs7(next - u[c]));
        u[c] = next;
      }
      if (moved < SETTLED) break;
      if (sweep % LOOK !== LOOK - 1) continue;
      lo = 0;
      hi = 0;
      for (let i = 0; i < n; i++) {
        lo = min6(lo, u[list[i]]);
        hi = max7(hi, u[list[i]]);
      }
      if (hi - lo > farOff) return Infinity;
    }
    lo = 0;
    hi = 0;
    for (let i = 0; i < n; i++) {
      lo = min6(lo, u[list[i]]);
      hi = max7(hi, u[list[i]]);
    }
    return Math.exp(min6(50, hi - lo));
  }
};
var SMALL = 0.04;
var CORNERED = 1.35;
function planned(cells, o) {
  const { count: count2, start, to, long, bend, facts } = cells;
  const fore = new Foretelling(cells);
  const members = Array.from({ length: count2 }, (_, i) => [i]);
  const area = facts.area.slice();
  const near = Array.from({ length: count2 }, () => /* @__PURE__ */ new Map());
  const whole = wholeAreas(cells);
  for (let i = 0; i < count2; i++)
    for (let k = start[i]; k < start[i + 1]; k++) near[i].set(to[k], [long[k], bend[k] * long[k]]);
  const version = new Int32Array(count2);
  const queue = new Queue();
  const offers = [];
  let left = count2;
  const offer = (a, b) => {
    const [l, turned2] = near[a].get(b);
    const bends = l > 0 ? turned2 / l : 0;
    const small = min6(area[a], area[b]) <= SMALL * whole[a];
    const limit = left > o.islands && o.islands > 0 ? Math.PI : o.bend;
    if (bends > (small ? CORNERED * limit : limit)) return;
    const worth = l / sqrt8(min6(area[a], area[b]) || 1e-30);
    queue.push(
      offers.push([a, b, version[a], version[b]]) - 1,
      bends * 2 - min6(4, worth) + 2 * sqrt8((area[a] + area[b]) / (whole[a] || 1))
    );
  };
  for (let i = 0; i < count2; i++) for (const j of near[i].keys()) if (i < j) offer(i, j);
  let tried2 = 0;
  while (queue.size > 0) {
    const [a, b, va, vb] = offers[queue.pop()[0]];
    if (version[a] !== va || version[b] !== vb || !members[a] || !members[b]) continue;
    if ((++tried2 & 255) === 0) pulse();
    const both = [...members[a], ...members[b]];
    const border = near[a].get(b);
    const most = CORNERED * o.bend * border[0];
    if (o.islands > 0 && left <= o.islands && border[1] > most) continue;
    if (fore.spread(both, o.spread) > o.spread) continue;
    fore.keep(both);
    const [keep, gone] = members[a].length >= members[b].length ? [a, b] : [b, a];
    members[keep] = both;
    members[gone] = void 0;
    area[keep] += area[gone];
    version[keep]++;
    version[gone]++;
    left--;
    near[keep].delete(gone);
    for (const [c, [l, turned2]] of near[gone]) {
      near[c].delete(gone);
      if (c === keep) continue;
      const had = near[keep].get(c);
      const sum = had ? [had[0] + l, had[1] + turned2] : [l, turned2];
      near[keep].set(c, sum);
      near[c].set(keep, sum);
    }
    for (const c of near[keep].keys()) offer(keep, c);
  }
  const label = new Int32Array(count2);
  let n = 0;
  for (const list of members) {
    if (!list) continue;
    for (const c of list) label[c] = n;
    n++;
  }
  return { cells, label, count: left };
}
function wholeAreas({ count: count2, start, to, facts }) {
  const out = new Float64Array(count2);
  const seen = new Uint8Array(count2);
  for (let i = 0; i < count2; i++) {
    if (seen[i]) continue;
    const list = [i];
    seen[i] = 1;
    let sum = 0;
    for (let q = 0; q < list.length; q++) {
      sum += facts.area[list[q]];
      for (let k = start[list[q]]; k < start[list[q] + 1]; k++)
        if (!seen[to[k]]) {
          seen[to[k]] = 1;
          list.push(to[k]);
        }
    }
    for (const c of list) out[c] = sum;
  }
  return out;
}

// src/core/uv/smooth.ts
var SLOTS = 3;
function smoothBorders(parting, rounds, weigh2, shut) {
  const { mesh, label } = parting;
  const { faceCount } = mesh;
  const band = bandOf(parting, Math.ceil(1.5 * Math.sqrt(rounds)) + 1);
  if (band.length === 0) return;
  const names = new Int32Array(SLOTS * faceCount).fill(-1);
  const values = new Float32Array(SLOTS * faceCount);
  for (let f = 0; f < faceCount; f++) {
    names[SLOTS * f] = label[f];
    values[SLOTS * f] = 1;
  }
  const { start, to, weight } = neighbours(parting, band, weigh2, shut);
  const nextNames = new Int32Array(SLOTS * band.length);
  const nextValues = new Float32Array(SLOTS * band.length);
  const found = new Int32Array(64);
  const sums = new Float64Array(64);
  for (let round4 = 0; round4 < rounds; round4++) {
    for (let i = 0; i < band.length; i++) {
      if ((i & EVERY) === 0) pulse();
      let n = 0;
      let all = 0;
      for (let p = start[i]; p < start[i + 1]; p++) {
        const w = weight[p];
        all += w;
        for (let k = SLOTS * to[p], end = k + SLOTS; k < end && names[k] >= 0; k++) {
          let at = 0;
          while (at < n && found[at] !== names[k]) at++;
          if (at === n) {
            if (n === found.length) continue;
            found[n] = names[k];
            sums[n++] = 0;
          }
          sums[at] += w * values[k];
        }
      }
      for (let k = SLOTS * i; k < SLOTS * i + SLOTS; k++) {
        let best = -1;
        for (let at = 0; at < n; at++) if (sums[at] > 0 && (best < 0 || sums[at] > sums[best])) best = at;
        nextNames[k] = best < 0 ? -1 : found[best];
        nextValues[k] = best < 0 ? 0 : sums[best] / all;
        if (best >= 0) sums[best] = 0;
      }
    }
    for (let i = 0; i < band.length; i++)
      for (let k = 0; k < SLOTS; k++) {
        names[SLOTS * band[i] + k] = nextNames[SLOTS * i + k];
        values[SLOTS * band[i] + k] = nextValues[SLOTS * i + k];
      }
  }
  for (const f of band) label[f] = names[SLOTS * f];
}
function neighbours(parting, band, weigh2, shut) {
  const { mesh, t } = parting;
  const { faceStart } = mesh;
  const start = new Int32Array(band.length + 1);
  band.forEach((f, i) => start[i + 1] = start[i] + faceStart[f + 1] - faceStart[f] + 1);
  const to = new Int32Array(start[band.length]);
  const weight = new Float64Array(to.length);
  let n = 0;
  band.forEach((f, i) => {
    let all = 0;
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const o = parting.across(c);
      const e = t.cornerEdge[c];
      if (o < 0) continue;
      to[n] = shut[e] ? f : t.cornerFace[o];
      weight[n] = weigh2(e);
      all += weight[n++];
    }
    to[n] = f;
    weight[n++] = all > 0 ? all : 1;
    start[i + 1] = n;
  });
  return { start, to, weight };
}
function bandOf(parting, steps) {
  const { mesh, t, label } = parting;
  const seen = new Uint8Array(mesh.faceCount);
  const out = [];
  for (let f = 0; f < mesh.faceCount; f++)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1] && !seen[f]; c++) {
      const o = parting.across(c);
      if (o >= 0 && label[t.cornerFace[o]] !== label[f]) {
        seen[f] = 1;
        out.push(f);
      }
    }
  let from = 0;
  for (let step = 1; step < steps; step++) {
    const end = out.length;
    for (; from < end; from++)
      for (let c = mesh.faceStart[out[from]]; c < mesh.faceStart[out[from] + 1]; c++) {
        const o = parting.across(c);
        const g = o < 0 ? -1 : t.cornerFace[o];
        if (g >= 0 && !seen[g]) {
          seen[g] = 1;
          out.push(g);
        }
      }
  }
  return out;
}

// src/core/uv/auto.ts
var LARGE = 6e3;
var ROUND = 0.125;
var MOST_FACES = 15e4;
function autoIslands(mesh, o) {
  const seam = o.seam.slice();
  const parting = new Parting(mesh, seam);
  const facts = faceFacts(mesh);
  let labels = 0;
  const all = Uint32Array.from({ length: mesh.faceCount }, (_, f) => f);
  parting.label.fill(0);
  const parts = (faces) => {
    const found = parting.components(faces, labels);
    labels += found.length;
    return found;
  };
  const cells = cellsOf(parting, facts, o.soft);
  const plan = planned(cells, { spread: o.bound * o.bound, bend: o.bend, islands: o.islands });
  for (let f = 0; f < mesh.faceCount; f++) parting.label[f] = plan.label[cells.of[f]];
  labels = plan.count;
  const rounds = Math.min(40, Math.max(12, Math.ceil(4 * mesh.faceCount / cells.count)));
  smoothBorders(parting, rounds, (e) => o.weigh(e) + 1e-12, firm(parting, facts, o.soft));
  const stack = parts(all);
  const firstParted = labels;
  const islands = /* @__PURE__ */ new Map();
  let settled = 0;
  const settle = (patch, laid) => {
    const label = parting.label[patch.faces[0]];
    islands.set(label, { patch, laid, ...label < firstParted ? { planned: true } : {} });
    settled += patch.faces.length;
    o.progress?.(0.7 * settled / mesh.faceCount);
  };
  const split = (faces) => {
    if (faces.length < 2) return void 0;
    const side = inTwo(faces, facts, parting, (e) => o.hold.has(e) ? 1e6 : o.weigh(e));
    const halves = [0, 1].map((q) => faces.filter((_, i) => side[i] === q));
    if (halves[0].length === 0 || halves[1].length === 0) {
      const half = faces.length >> 1;
      halves[0] = faces.slice(0, half);
      halves[1] = faces.slice(half);
    }
    const [a, b] = [parting.label[faces[0]], labels++];
    for (const f of halves[0]) parting.label[f] = a;
    for (const f of halves[1]) parting.label[f] = b;
    const found = parting.components(faces, labels);
    labels += found.length;
    return found.length > 2 ? withoutCrumbs(parting, facts, found) : found;
  };
  for (let faces = stack.pop(); faces; faces = stack.pop()) {
    pulse();
    const large = faces.length > LARGE;
    if (faces.length > MOST_FACES || large && normalSpread(faces, facts).least > ROUND) {
      const halves2 = split(faces);
      if (halves2) {
        stack.push(...halves2);
        continue;
      }
    }
    let patch = parting.patch(faces);
    const whole = patch.borders > 0 && patch.euler === 2 - patch.borders;
    let laid;
    if (whole) {
      if (patch.borders > 1 && slit(parting, patch, o.weigh)) patch = parting.patch(faces);
      laid = layFlat(patch, o.bound);
      if (laid.good) {
        settle(patch, laid);
        continue;
      }
    }
    const halves = split(faces);
    if (halves && halves.length > 1) stack.push(...halves);
    else settle(patch, layFlat(patch, o.bound, true));
  }
  joined(parting, islands, facts, cells, o);
  const { edgeCount, edgeCorner, edgeCornerStart, cornerFace } = parting.t;
  for (let e = 0; e < edgeCount; e++) {
    const s = edgeCornerStart[e];
    const two = edgeCornerStart[e + 1] - s === 2;
    if (two && parting.label[cornerFace[edgeCorner[s]]] !== parting.label[cornerFace[edgeCorner[s + 1]]]) seam[e] = 1;
  }
  return { islands: [...islands.values()], seam };
}
var ROUGH = 1e-3;
function firm(parting, facts, soft) {
  const { mesh, t, seam } = parting;
  const { edgeCount, edgeCorner, edgeCornerStart, cornerFace } = t;
  const whole = new UnionFind(mesh.faceCount);
  const part = new UnionFind(mesh.faceCount);
  const sides = (e) => {
    const s = edgeCornerStart[e];
    return [cornerFace[edgeCorner[s]], cornerFace[edgeCorner[s + 1]]];
  };
  for (let e = 0; e < edgeCount; e++) {
    if (seam[e]) continue;
    whole.join(...sides(e));
    if (!soft[e]) part.join(...sides(e));
  }
  const areas2 = [whole, part].map((joined2) => {
    const sums = new Float64Array(mesh.faceCount);
    for (let f = 0; f < mesh.faceCount; f++) sums[joined2.find(f)] += facts.area[f];
    return sums;
  });
  const scrap = (f) => areas2[1][part.find(f)] < ROUGH * areas2[0][whole.find(f)];
  return soft.map((x, e) => x && !sides(e).some(scrap) ? 1 : 0);
}
var CRUMB = 0.25;
function withoutCrumbs(parting, facts, parts) {
  const { mesh, t, label } = parting;
  const areas2 = parts.map((list) => list.reduce((sum, f) => sum + facts.area[f], 0));
  const total = areas2.reduce((sum, x) => sum + x, 0);
  const order = parts.map((_, i) => i).sort((i, j) => areas2[i] - areas2[j]);
  const index = new Map(parts.map((list, i) => [label[list[0]], i]));
  const lists = [...parts];
  let left = parts.length;
  for (const i of order) {
    const own2 = lists[i];
    if (left <= 2 || areas2[i] > CRUMB * total) break;
    const borders = /* @__PURE__ */ new Map();
    for (const f of own2)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const o = parting.across(c);
        const j = o < 0 ? void 0 : index.get(label[t.cornerFace[o]]);
        if (j !== void 0 && j !== i) borders.set(j, (borders.get(j) ?? 0) + 1);
      }
    const to = [...borders].sort((x, y) => y[1] - x[1])[0]?.[0];
    if (to === void 0) continue;
    const mark = label[lists[to][0]];
    for (const f of own2) label[f] = mark;
    const both = new Uint32Array(own2.length + lists[to].length);
    both.set(lists[to]);
    both.set(own2, lists[to].length);
    lists[to] = both.sort();
    areas2[to] += areas2[i];
    lists[i] = void 0;
    left--;
  }
  return lists.filter((x) => x !== void 0);
}
var MOST_JOINED = 3e4;
function joined(parting, islands, facts, cells, o) {
  const { mesh, t, label } = parting;
  const { cornerFace, edgeCount, edgeCorner, edgeCornerStart } = t;
  const areaOf2 = (i) => i.laid.rest.total;
  const around = wholes(parting, islands, o);
  const near = /* @__PURE__ */ new Map();
  const note = (a, b, long, bend) => {
    for (const [x, y] of [
      [a, b],
      [b, a]
    ]) {
      let list = near.get(x);
      if (!list) near.set(x, list = /* @__PURE__ */ new Map());
      const had = list.get(y);
      if (had) {
        had.bend = (had.bend * had.long + bend * long) / (had.long + long);
        had.long += long;
      } else list.set(y, { a: x, b: y, long, bend });
    }
  };
  const lengthOf = (e) => {
    const [a, b] = [3 * t.edgeVertex[2 * e], 3 * t.edgeVertex[2 * e + 1]];
    const p = mesh.positions;
    return Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
  };
  for (let e = 0; e < edgeCount; e++) {
    if (o.seam[e]) continue;
    const s = edgeCornerStart[e];
    const [f, g] = [cornerFace[edgeCorner[s]], cornerFace[edgeCorner[s + 1]]];
    if (label[f] === label[g]) continue;
    const n = cells.facts.normal;
    const [i, j] = [3 * cells.of[f], 3 * cells.of[g]];
    const dot = n[i] * n[j] + n[i + 1] * n[j + 1] + n[i + 2] * n[j + 2];
    note(label[f], label[g], lengthOf(e) || 1e-30, Math.acos(Math.max(-1, Math.min(1, dot))));
  }
  const queue = new Queue();
  const waiting = [];
  const offer = (b) => {
    const [x, y] = [islands.get(b.a), islands.get(b.b)];
    const least = Math.min(areaOf2(x), areaOf2(y));
    const small = least <= SMALL * around(x.patch.faces[0]);
    const limit = o.islands > 0 && islands.size > o.islands ? Math.PI : o.bend;
    if (b.bend > (small ? CORNERED * limit : limit)) return;
    if (x.planned && y.planned && !small) return;
    if (x.patch.faces.length + y.patch.faces.length > MOST_JOINED) return;
    const worth = b.long / Math.sqrt(least || 1e-30);
    queue.push(waiting.push(b) - 1, b.bend * 2 - Math.min(4, worth) + (small ? -1 : 0));
  };
  for (const list of near.values()) for (const b of list.values()) if (b.a < b.b) offer(b);
  const total = Math.max(1, queue.size);
  let tried2 = 0;
  let budget = mesh.faceCount + 6e3;
  while (queue.size > 0 && budget > 0) {
    const b = waiting[queue.pop()[0]];
    const [x, y] = [islands.get(b.a), islands.get(b.b)];
    if (!x || !y || near.get(b.a)?.get(b.b) !== b) continue;
    if ((++tried2 & 15) === 0) {
      pulse();
      o.progress?.(0.7 + 0.3 * Math.min(1, tried2 / total));
    }
    budget -= x.patch.faces.length + y.patch.faces.length;
    const one = tryJoin(parting, x, y, facts, o);
    if (!one) continue;
    const [keep, gone] = label[one.patch.faces[0]] === b.a ? [b.a, b.b] : [b.b, b.a];
    islands.delete(gone);
    islands.set(keep, one);
    const theirs = near.get(gone);
    near.delete(gone);
    near.get(keep).delete(gone);
    for (const [other, border] of theirs) {
      near.get(other)?.delete(gone);
      if (other !== keep) note(keep, other, border.long, border.bend);
    }
    for (const [other, border] of near.get(keep)) {
      const fresh = { ...border, a: Math.min(keep, other), b: Math.max(keep, other) };
      near.get(keep).set(other, fresh);
      near.get(other).set(keep, fresh);
      offer(fresh);
    }
  }
}
function wholes(parting, islands, o) {
  const { mesh, t } = parting;
  const joinedFaces = new UnionFind(mesh.faceCount);
  for (let e = 0; e < t.edgeCount; e++) {
    if (o.seam[e]) continue;
    const s = t.edgeCornerStart[e];
    joinedFaces.join(t.cornerFace[t.edgeCorner[s]], t.cornerFace[t.edgeCorner[s + 1]]);
  }
  const sums = /* @__PURE__ */ new Map();
  for (const { patch, laid } of islands.values()) {
    const root = joinedFaces.find(patch.faces[0]);
    sums.set(root, (sums.get(root) ?? 0) + laid.rest.total);
  }
  return (face) => sums.get(joinedFaces.find(face)) ?? 0;
}
function tryJoin(parting, x, y, facts, o) {
  const { label, seam, mesh, t } = parting;
  const [big, small] = x.patch.faces.length >= y.patch.faces.length ? [x, y] : [y, x];
  const faces = new Uint32Array(big.patch.faces.length + small.patch.faces.length);
  faces.set(big.patch.faces);
  faces.set(small.patch.faces, big.patch.faces.length);
  faces.sort();
  if (faces.length > 200 && normalSpread(faces, facts).least > ROUND) return void 0;
  const keep = label[big.patch.faces[0]];
  const gone = label[small.patch.faces[0]];
  for (const f of small.patch.faces) label[f] = keep;
  const healed = [];
  for (const f of faces)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const e = t.cornerEdge[c];
      if (!seam[e] || o.seam[e]) continue;
      const s = t.edgeCornerStart[e];
      if (label[t.cornerFace[t.edgeCorner[s]]] !== keep || label[t.cornerFace[t.edgeCorner[s + 1]]] !== keep) continue;
      seam[e] = 0;
      healed.push(e);
    }
  let patch = parting.patch(faces);
  let laid;
  const cut = patch.borders > 1 && patch.euler === 2 - patch.borders;
  if (patch.borders > 0 && patch.euler === 2 - patch.borders) {
    if (cut && slit(parting, patch, o.weigh)) patch = parting.patch(faces);
    laid = layFlat(patch, o.bound);
  }
  if (laid?.good) return { patch, laid };
  for (const f of faces)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      if (!o.seam[t.cornerEdge[c]] && label[f] === keep) {
        const e = t.cornerEdge[c];
        const s = t.edgeCornerStart[e];
        if (label[t.cornerFace[t.edgeCorner[s]]] === keep && label[t.cornerFace[t.edgeCorner[s + 1]]] === keep)
          seam[e] = 0;
      }
  for (const e of healed) seam[e] = 1;
  for (const f of small.patch.faces) label[f] = gone;
  return void 0;
}

// src/core/uv/charts.ts
function seamEdges(mesh, marks) {
  const t = topologyOf(mesh);
  const seam = new Uint8Array(t.edgeCount);
  const normals = faceNormals(mesh);
  const limit = marks.angle < Math.PI ? Math.cos(marks.angle) : -2;
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    if (edgeValence(t, e) !== 2 || marks.cut.has(e)) {
      seam[e] = 1;
      continue;
    }
    const a = t.edgeCorner[t.edgeCornerStart[e]];
    const b = t.edgeCorner[t.edgeCornerStart[e] + 1];
    if (mesh.cornerVertex[a] === mesh.cornerVertex[b]) {
      seam[e] = 1;
      continue;
    }
    if (marks.hold.has(e)) continue;
    const f = 3 * t.cornerFace[a];
    const g = 3 * t.cornerFace[b];
    if (normals[f] * normals[g] + normals[f + 1] * normals[g + 1] + normals[f + 2] * normals[g + 2] < limit - 1e-7)
      seam[e] = 1;
  }
  return seam;
}
function charts(mesh, seam) {
  const t = topologyOf(mesh);
  const ofFace = new Uint32Array(mesh.faceCount).fill(4294967295);
  let count2 = 0;
  const queue = new Uint32Array(mesh.faceCount);
  for (let first = 0; first < mesh.faceCount; first++) {
    if ((first & EVERY) === 0) pulse();
    if (ofFace[first] !== 4294967295) continue;
    let head = 0;
    let tail = 0;
    queue[tail++] = first;
    ofFace[first] = count2;
    while (head < tail) {
      const f = queue[head++];
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const e = t.cornerEdge[c];
        if (seam[e]) continue;
        const s = t.edgeCornerStart[e];
        const g = t.cornerFace[t.edgeCorner[s] === c ? t.edgeCorner[s + 1] : t.edgeCorner[s]];
        if (ofFace[g] === 4294967295) {
          ofFace[g] = count2;
          queue[tail++] = g;
        }
      }
    }
    count2++;
  }
  const { of, count: uvCount } = joinCorners(mesh, seam);
  return { ofFace, count: count2, cornerUv: of, uvCount, seam };
}
function joinCorners(mesh, seam) {
  const t = topologyOf(mesh);
  const joined2 = new UnionFind(mesh.cornerCount);
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    if (seam[e]) continue;
    const a = t.edgeCorner[t.edgeCornerStart[e]];
    const b = t.edgeCorner[t.edgeCornerStart[e] + 1];
    joined2.join(a, nextCorner(mesh, t.cornerFace[b], b));
    joined2.join(nextCorner(mesh, t.cornerFace[a], a), b);
  }
  return joined2.parts();
}
function facesByChart(ch) {
  const start = new Uint32Array(ch.count + 1);
  for (const c of ch.ofFace) start[c + 1]++;
  for (let i = 0; i < ch.count; i++) start[i + 1] += start[i];
  const fill = start.slice();
  const face = new Uint32Array(ch.ofFace.length);
  for (let f = 0; f < ch.ofFace.length; f++) face[fill[ch.ofFace[f]]++] = f;
  return { start, face };
}
function chartShapes(mesh, ch) {
  const t = topologyOf(mesh);
  const v = new Int32Array(ch.count);
  const e = new Int32Array(ch.count);
  const f = new Int32Array(ch.count);
  const seen = new Uint8Array(ch.uvCount);
  const loop = new Int32Array(ch.uvCount).fill(-1);
  const starts = [];
  for (let face = 0; face < mesh.faceCount; face++) {
    if ((face & EVERY) === 0) pulse();
    const k = ch.ofFace[face];
    f[k]++;
    for (let c = mesh.faceStart[face]; c < mesh.faceStart[face + 1]; c++) {
      const u = ch.cornerUv[c];
      if (!seen[u]) {
        seen[u] = 1;
        v[k]++;
      }
      const edge2 = t.cornerEdge[c];
      if (ch.seam[edge2]) {
        e[k] += 2;
        loop[u] = ch.cornerUv[nextCorner(mesh, face, c)];
        starts.push(u, k);
      } else e[k] += 1;
    }
  }
  const borders = new Int32Array(ch.count);
  const walked = new Uint8Array(ch.uvCount);
  for (let i = 0; i < starts.length; i += 2) {
    let u = starts[i];
    if (walked[u]) continue;
    borders[starts[i + 1]]++;
    while (u >= 0 && !walked[u]) {
      walked[u] = 1;
      u = loop[u];
    }
  }
  return Array.from({ length: ch.count }, (_, k) => ({ euler: v[k] - e[k] / 2 + f[k], borders: borders[k] }));
}
function partByDirection(mesh, ch, chosen, hold) {
  const t = topologyOf(mesh);
  const normals = faceNormals(mesh);
  const look2 = (f) => {
    let best = 0;
    let most = -1;
    for (let k = 0; k < 3; k++)
      if (Math.abs(normals[3 * f + k]) > most + 1e-6) {
        most = Math.abs(normals[3 * f + k]);
        best = 2 * k + (normals[3 * f + k] < 0 ? 1 : 0);
      }
    return best;
  };
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    if (ch.seam[e] || hold.has(e)) continue;
    const a = t.cornerFace[t.edgeCorner[t.edgeCornerStart[e]]];
    const b = t.cornerFace[t.edgeCorner[t.edgeCornerStart[e] + 1]];
    if (chosen[ch.ofFace[a]] && look2(a) !== look2(b)) ch.seam[e] = 1;
  }
}
function linkBorders(mesh, ch, faces) {
  const t = topologyOf(mesh);
  const p = mesh.positions;
  const border = /* @__PURE__ */ new Map();
  const inner = /* @__PURE__ */ new Map();
  for (let i = 0; i < faces.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const f = faces[i];
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const e = t.cornerEdge[c];
      const a = mesh.cornerVertex[c];
      const b = mesh.cornerVertex[nextCorner(mesh, f, c)];
      if (ch.seam[e]) {
        push(border, a, b);
        push(border, b, a);
      } else {
        push(inner, a, [b, e]);
        push(inner, b, [a, e]);
      }
    }
  }
  if (border.size === 0) return;
  const loop = /* @__PURE__ */ new Map();
  let loops = 0;
  for (const s of border.keys()) {
    if (loop.has(s)) continue;
    const stack = [s];
    loop.set(s, loops);
    while (stack.length)
      for (const n of border.get(stack.pop()))
        if (!loop.has(n)) {
          loop.set(n, loops);
          stack.push(n);
        }
    loops++;
  }
  const joined2 = /* @__PURE__ */ new Set([0]);
  const from = new Set([...loop].filter(([, l]) => l === 0).map(([v]) => v));
  while (joined2.size < loops) {
    const dist = /* @__PURE__ */ new Map();
    const via = /* @__PURE__ */ new Map();
    const queue = new Queue();
    for (const v of from) {
      dist.set(v, 0);
      queue.push(v, 0);
    }
    let hit = -1;
    while (queue.size > 0) {
      const [v, d] = queue.pop();
      if (d > dist.get(v)) continue;
      const l = loop.get(v);
      if (l !== void 0 && !joined2.has(l)) {
        hit = v;
        joined2.add(l);
        break;
      }
      for (const [w, e] of inner.get(v) ?? []) {
        const nd = d + Math.hypot(p[3 * v] - p[3 * w], p[3 * v + 1] - p[3 * w + 1], p[3 * v + 2] - p[3 * w + 2]);
        if (nd < (dist.get(w) ?? Infinity)) {
          dist.set(w, nd);
          via.set(w, [v, e]);
          queue.push(w, nd);
        }
      }
    }
    if (hit < 0) return;
    for (const [v, l] of loop) if (l === loop.get(hit)) from.add(v);
    for (let v = hit; via.has(v); ) {
      const [w, e] = via.get(v);
      ch.seam[e] = 1;
      from.add(v);
      v = w;
    }
  }
}
function push(map, key, value) {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}

// src/core/uv/pixels.ts
var { abs: abs8, atan2: atan23, cos: cos3, floor: floor2, hypot: hypot3, max: max8, min: min7, PI: PI2, round, sin: sin2 } = Math;
var RIGHT = 0.97;
var STRAIGHT = 0.035;
var ONE_LINE = 0.05;
var ONE_SHARE = 0.02;
function onTexels(points, outline) {
  const rim = outline.rim ?? [];
  const turn2 = levelling(outline.points, rim);
  const level = turned(points, turn2);
  const border = turned(outline.points, turn2);
  const right = rightShare(border, rim) >= RIGHT;
  const out = new Float64Array(level.length);
  for (const axis of [0, 1]) {
    const lines = right ? linesOf(border, rim, axis) : endsOf(level, axis);
    for (let v = axis; v < level.length; v += 2) out[v] = between(lines, level[v]);
  }
  return out;
}
function levelling(points, rim) {
  let [x, y] = [0, 0];
  for (let i = 0; i < rim.length; i += 2) {
    const [a, b] = [2 * rim[i], 2 * rim[i + 1]];
    const [dx, dy] = [points[b] - points[a], points[b + 1] - points[a + 1]];
    const long = hypot3(dx, dy);
    const angle = 4 * atan23(dy, dx);
    x += long * long * cos3(angle);
    y += long * long * sin2(angle);
  }
  return x === 0 && y === 0 ? 0 : -atan23(y, x) / 4;
}
function turned(points, turn2) {
  if (abs8(turn2) < 1e-9) return points;
  const [c, s] = [cos3(turn2), sin2(turn2)];
  const out = new Float64Array(points.length);
  for (let v = 0; v < points.length; v += 2) {
    out[v] = points[v] * c - points[v + 1] * s;
    out[v + 1] = points[v] * s + points[v + 1] * c;
  }
  return out;
}
function rightShare(points, rim) {
  let all = 0;
  let right = 0;
  for (let i = 0; i < rim.length; i += 2) {
    const [a, b] = [2 * rim[i], 2 * rim[i + 1]];
    const long = hypot3(points[b] - points[a], points[b + 1] - points[a + 1]);
    const angle = atan23(points[b + 1] - points[a + 1], points[b] - points[a]);
    const off = abs8(angle - round(angle / (PI2 / 2)) * PI2 / 2);
    all += long;
    if (off < STRAIGHT) right += long;
  }
  return all > 0 ? right / all : 0;
}
function linesOf(points, rim, axis) {
  const at = [];
  for (let i = 0; i < rim.length; i++) at.push(points[2 * rim[i] + axis]);
  at.sort((a, b) => a - b);
  const from = [];
  const near = min7(ONE_LINE, ONE_SHARE * (at[at.length - 1] - at[0]));
  for (let i = 0; i < at.length; ) {
    let j = i;
    let sum = 0;
    while (j < at.length && at[j] - at[i] <= near) sum += at[j++];
    from.push(sum / (j - i));
    i = j;
  }
  return { from, to: wholes2(from) };
}
function endsOf(points, axis) {
  let [lo, hi] = [Infinity, -Infinity];
  for (let v = axis; v < points.length; v += 2) {
    lo = min7(lo, points[v]);
    hi = max8(hi, points[v]);
  }
  return hi > lo ? { from: [lo, hi], to: wholes2([lo, hi]) } : { from: [lo], to: [0] };
}
var wholes2 = (from) => {
  const to = [0];
  for (let i = 1; i < from.length; i++) to.push(max8(to[i - 1] + 1, round(from[i] - from[0])));
  return to;
};
function between({ from, to }, x) {
  const n = from.length;
  if (n < 2) return to[0];
  let [lo, hi] = [0, n - 1];
  while (hi - lo > 1) {
    const mid = floor2((lo + hi) / 2);
    if (from[mid] <= x) lo = mid;
    else hi = mid;
  }
  const share = (x - from[lo]) / (from[hi] - from[lo]);
  const near = min7(ONE_LINE, ONE_SHARE * (from[n - 1] - from[0]));
  if (x - from[lo] <= near) return to[lo];
  if (from[hi] - x <= near) return to[hi];
  return to[lo] + share * (to[hi] - to[lo]);
}

// src/core/uv/runs.ts
var { PI: PI3, abs: abs9, acos: acos4, max: max9, min: min8, sqrt: sqrt9 } = Math;
var EVEN = 0.02;
function runsOf(parting) {
  const { t, seam, label, mesh } = parting;
  const own2 = [];
  const index = /* @__PURE__ */ new Map();
  const at = /* @__PURE__ */ new Map();
  for (let e = 0; e < t.edgeCount; e++) {
    const s = t.edgeCornerStart[e];
    if (!seam[e]) continue;
    for (let k = 0; k < 2; k++) {
      const v = t.edgeVertex[2 * e + k];
      const list = at.get(v);
      if (list) list.push(e);
      else at.set(v, [e]);
    }
    if (t.edgeCornerStart[e + 1] - s === 2) index.set(e, own2.push(e) - 1);
  }
  const sides = (e) => {
    const s = t.edgeCornerStart[e];
    const [f, g] = [label[t.cornerFace[t.edgeCorner[s]]], label[t.cornerFace[t.edgeCorner[s + 1]]]];
    return [min8(f, g), max9(f, g)];
  };
  const turn2 = turnsAt(parting, at);
  const joined2 = new UnionFind(own2.length);
  for (const [v, edges] of at) {
    if (edges.length !== 2 || abs9(turn2.get(v)) > EVEN) continue;
    const [i, j] = edges.map((e) => index.get(e));
    if (i === void 0 || j === void 0) continue;
    const [p2, q] = [sides(edges[0]), sides(edges[1])];
    if (p2[0] === q[0] && p2[1] === q[1]) joined2.join(i, j);
  }
  const runs = /* @__PURE__ */ new Map();
  const p = mesh.positions;
  own2.forEach((e, i) => {
    const root = joined2.find(i);
    let run = runs.get(root);
    if (!run) {
      const [a, b] = sides(e);
      runs.set(root, run = { a, b, edges: [], long: 0 });
    }
    run.edges.push(e);
    const [v, w] = [3 * t.edgeVertex[2 * e], 3 * t.edgeVertex[2 * e + 1]];
    run.long += Math.hypot(p[v] - p[w], p[v + 1] - p[w + 1], p[v + 2] - p[w + 2]);
  });
  return [...runs.values()].sort((x, y) => y.long - x.long || x.edges[0] - y.edges[0]);
}
function turnsAt({ mesh, t }, at) {
  const p = mesh.positions;
  const out = /* @__PURE__ */ new Map();
  for (const v of at.keys()) {
    let sum = 0;
    for (let k = t.vertexCornerStart[v]; k < t.vertexCornerStart[v + 1]; k++) {
      const c = t.vertexCorner[k];
      const f = t.cornerFace[c];
      const next = 3 * mesh.cornerVertex[c + 1 === mesh.faceStart[f + 1] ? mesh.faceStart[f] : c + 1];
      const before = 3 * mesh.cornerVertex[c === mesh.faceStart[f] ? mesh.faceStart[f + 1] - 1 : c - 1];
      let [dot, aa, bb] = [0, 0, 0];
      for (let q = 0; q < 3; q++) {
        const [x, y] = [p[next + q] - p[3 * v + q], p[before + q] - p[3 * v + q]];
        dot += x * y;
        aa += x * x;
        bb += y * y;
      }
      if (aa > 0 && bb > 0) sum += acos4(max9(-1, min8(1, dot / sqrt9(aa * bb))));
    }
    out.set(v, 2 * PI3 - sum);
  }
  return out;
}
var isDisc = (patch) => patch.borders > 0 && patch.euler === 2 - patch.borders;
function closeRun(parting, a, b, edges, bound, keep) {
  const faces = new Uint32Array(a.length + (b?.length ?? 0));
  faces.set(a);
  if (b) faces.set(b, a.length);
  faces.sort();
  const [one, other] = [parting.label[a[0]], b ? parting.label[b[0]] : 0];
  for (const f of b ?? []) parting.label[f] = one;
  for (const e of edges) parting.seam[e] = 0;
  const patch = parting.patch(faces);
  const laid = isDisc(patch) ? layFlat(patch, bound) : void 0;
  if (laid && keep(laid, patch)) return { patch, laid };
  for (const e of edges) parting.seam[e] = 1;
  for (const f of b ?? []) parting.label[f] = other;
  return laid && { patch, laid };
}

// src/core/uv/joinruns.ts
var { max: max10, min: min9 } = Math;
var FLAT2 = 1.002;
var EVEN2 = 1.04;
var MOST3 = 3e3;
var SPRAWLING = 0.49;
function boxFill({ rim }, { uv, rest, figures }) {
  const turn2 = levelling(uv, rim);
  const [c, s] = [cos2(turn2), sin(turn2)];
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < uv.length; i += 2) {
    const [x, y] = [c * uv[i] - s * uv[i + 1], s * uv[i] + c * uv[i + 1]];
    x0 = min9(x0, x);
    x1 = max10(x1, x);
    y0 = min9(y0, y);
    y1 = max10(y1, y);
  }
  return rest.total * figures.scale ** 2 / ((x1 - x0) * (y1 - y0) || Infinity);
}
var SCRAP = 3e-3;
var SHARPER = 1.35;
var WORK = 2;
var LEAST_WORK = 1e4;
var THIN2 = 0.5;
function joinedOverRuns(mesh, islands, seam, { hard, bend, bound, flat }) {
  const parting = new Parting(mesh, seam.slice());
  const now = /* @__PURE__ */ new Map();
  let area = 0;
  islands.forEach((island, k) => {
    for (const f of island.patch.faces) parting.label[f] = k;
    now.set(k, island);
    area += island.laid.rest.total;
  });
  const is = new Int32Array(islands.length).map((_, k) => k);
  const found = (k) => {
    let at = k;
    while (is[at] !== at) at = is[at];
    return at;
  };
  const isFlat = ({ laid }) => laid.sound && laid.figures.spread < EVEN2 && laid.figures.mean < FLAT2;
  const keep = (laid, patch) => laid.good && boxFill(patch, laid) > (flat ? SPRAWLING : THIN2) && (!flat || isFlat({ laid, patch }));
  let budget = LEAST_WORK + WORK * mesh.faceCount;
  const bends = bendsOf(parting);
  for (const run of runsOf(parting)) {
    pulse();
    if (budget < 0) break;
    if (run.edges.some((e) => hard[e])) continue;
    const [a, b] = [found(run.a), found(run.b)];
    const [x, y] = [now.get(a), now.get(b)];
    const many = x.patch.faces.length + y.patch.faces.length;
    if (a === b || many > MOST3 || flat && !(isFlat(x) && isFlat(y))) continue;
    const small = min9(x.laid.rest.total, y.laid.rest.total) < SCRAP * area;
    if (bends(run.edges) > (small ? SHARPER * bend : bend)) continue;
    budget -= many;
    const one = closeRun(parting, x.patch.faces, y.patch.faces, run.edges, flat ? EVEN2 : bound, keep);
    if (!one || !keep(one.laid, one.patch)) continue;
    is[b] = a;
    now.delete(b);
    now.set(a, one);
  }
  return { islands: [...now.values()], seam: parting.seam };
}
function bendsOf({ mesh, t }) {
  const n = faceNormals(mesh);
  const p = mesh.positions;
  return (edges) => {
    let sum = 0;
    let all = 0;
    for (const e of edges) {
      const s = t.edgeCornerStart[e];
      const [f, g] = [3 * t.cornerFace[t.edgeCorner[s]], 3 * t.cornerFace[t.edgeCorner[s + 1]]];
      const dot = n[f] * n[g] + n[f + 1] * n[g + 1] + n[f + 2] * n[g + 2];
      const [v, w] = [3 * t.edgeVertex[2 * e], 3 * t.edgeVertex[2 * e + 1]];
      const long = Math.hypot(p[v] - p[w], p[v + 1] - p[w + 1], p[v + 2] - p[w + 2]);
      sum += long * acos3(max10(-1, min9(1, dot)));
      all += long;
    }
    return all > 0 ? sum / all : 0;
  };
}

// src/core/uv/hiding.ts
var { max: max11, min: min10, sqrt: sqrt10 } = Math;
var HIDDEN = 0.85;
function hidingCost(mesh, hide) {
  const t = topologyOf(mesh);
  const normals = faceNormals(mesh);
  const p = mesh.positions;
  const cost = new Float64Array(t.edgeCount).fill(-1);
  const weighed = (e) => {
    const [a, b] = [3 * t.edgeVertex[2 * e], 3 * t.edgeVertex[2 * e + 1]];
    const long = sqrt10((p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2);
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) return long;
    const [f, g] = [3 * t.cornerFace[t.edgeCorner[s]], 3 * t.cornerFace[t.edgeCorner[s + 1]]];
    const dot = normals[f] * normals[g] + normals[f + 1] * normals[g + 1] + normals[f + 2] * normals[g + 2];
    const crease = min10(1, max11(0, 1 - dot));
    const down = max11(0, -(normals[f + 1] + normals[g + 1]) / 2);
    return long * (1 - HIDDEN * hide * max11(crease, 0.7 * down));
  };
  return (e) => cost[e] >= 0 ? cost[e] : cost[e] = weighed(e);
}

// src/core/uv/outline.ts
function outlineOf(points, triangles) {
  const whole = { points, triangles };
  let up = 0;
  let down = 0;
  const open = /* @__PURE__ */ new Map();
  const n = points.length / 2;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [2 * triangles[t], 2 * triangles[t + 1], 2 * triangles[t + 2]];
    const area = (points[b] - points[a]) * (points[c + 1] - points[a + 1]) - (points[b + 1] - points[a + 1]) * (points[c] - points[a]);
    if (area > 0) up++;
    else if (area < 0) down++;
    else return whole;
    if (up > 0 && down > 0) return whole;
    for (let q = 0; q < 3; q++) {
      const [v, w] = [triangles[t + q], triangles[t + (q + 1) % 3]];
      const back = w * n + v;
      const had = open.get(back);
      if (had === void 0) open.set(v * n + w, (open.get(v * n + w) ?? 0) + 1);
      else if (had === 1) open.delete(back);
      else open.set(back, had - 1);
    }
  }
  const index = /* @__PURE__ */ new Map();
  const rim = [];
  const at = (v) => {
    let k = index.get(v);
    if (k === void 0) index.set(v, k = index.size);
    return k;
  };
  for (const [key, times] of open) for (let i = 0; i < times; i++) rim.push(at(Math.floor(key / n)), at(key % n));
  const own2 = new Float64Array(2 * index.size);
  for (const [v, k] of index) {
    own2[2 * k] = points[2 * v];
    own2[2 * k + 1] = points[2 * v + 1];
  }
  return { points: own2, rim: Uint32Array.from(rim) };
}

// src/core/uv/bits.ts
var { abs: abs10, ceil: ceil2, clz32, floor: floor3, max: max12, min: min11, sqrt: sqrt11 } = Math;
var Bits = class {
  constructor(width, height2) {
    this.width = width;
    this.height = height2;
    this.words = width + 31 >> 5;
    this.data = new Int32Array(this.words * height2);
  }
  width;
  height;
  words;
  data;
  found;
  /** The row with the longest run of cells, and how long that is. */
  widest() {
    if (this.found) return this.found;
    let best = { row: 0, long: 0 };
    for (let y = 0; y < this.height; y++) {
      const long = this.run(y, 1);
      if (long > best.long) best = { row: y, long };
    }
    this.found = best;
    return best;
  }
  /** The longest run of cells in a row that are taken (1) or free (0). */
  run(y, taken) {
    let best = 0;
    let now = 0;
    const row = y * this.words;
    for (let x = 0; x < this.width; x++) {
      const word = this.data[row + (x >> 5)];
      if ((x & 31) === 0 && x + 32 <= this.width && (word === 0 || word === -1)) {
        if (word === -1 === (taken === 1)) now += 32;
        else now = 0;
        x += 31;
      } else if ((word >>> (x & 31) & 1) === taken) now++;
      else now = 0;
      if (now > best) best = now;
    }
    return best;
  }
  fill(y, x0, x1) {
    const row = y * this.words;
    for (let w = x0 >> 5; w <= x1 >> 5; w++) {
      const lo = max12(0, x0 - 32 * w);
      const hi = min11(31, x1 - 32 * w);
      this.data[row + w] |= (hi === 31 ? -1 : (1 << hi + 1) - 1) & ~((1 << lo) - 1);
    }
  }
};
function sameBits(a, b) {
  if (a.width !== b.width || a.height !== b.height) return false;
  for (let i = 0; i < a.data.length; i++) if (a.data[i] !== b.data[i]) return false;
  return true;
}
function nameOf({ width, height: height2, data }) {
  let a = 2166136261;
  let b = 461845907;
  for (let i = 0; i < data.length; i++) {
    a = Math.imul(a ^ data[i], 16777619);
    b = Math.imul(b << 13 | b >>> 19, 5) + data[i];
  }
  return `${width} ${height2} ${a} ${b}`;
}
function count({ data }) {
  let taken = 0;
  for (let w = 0; w < data.length; w++) {
    let x = data[w];
    x -= x >>> 1 & 1431655765;
    x = (x & 858993459) + (x >>> 2 & 858993459);
    taken += (x + (x >>> 4) & 252645135) * 16843009 >>> 24;
  }
  return taken;
}
function rowFull(sheet, y) {
  for (let w = 0; w < sheet.words; w++) if (sheet.data[y * sheet.words + w] !== -1) return false;
  return true;
}
function maskOf({ points, rim, triangles }, cells, grow, onSheet) {
  let x0 = Infinity;
  let y0 = Infinity;
  let x1 = -Infinity;
  let y1 = -Infinity;
  for (let i = 0; i < points.length; i += 2) {
    x0 = min11(x0, points[i]);
    x1 = max12(x1, points[i]);
    y0 = min11(y0, points[i + 1]);
    y1 = max12(y1, points[i + 1]);
  }
  const ox = x0 * cells - grow;
  const oy = y0 * cells - grow;
  const baseX = onSheet ? floor3(ox) : ox;
  const baseY = onSheet ? floor3(oy) : oy;
  const w = max12(1, min11(2 * cells, ceil2(x1 * cells + grow - baseX - 1e-9)));
  const h = max12(1, min11(2 * cells, ceil2(y1 * cells + grow - baseY - 1e-9)));
  const bits = new Bits(w, h);
  const reach = ceil2(grow);
  const row = (y, a, b) => {
    for (let dy = -reach; dy <= reach; dy++) {
      const yy = y + dy;
      if (yy < 0 || yy >= h) continue;
      const k = grow > 0 ? grow * sqrt11(max12(0, 1 - (max12(0, abs10(dy) - 1) / grow) ** 2)) : 0;
      const lo = max12(0, floor3(a - k + 1e-7));
      const hi = min11(w - 1, floor3(b + k - 1e-7));
      if (lo <= hi) bits.fill(yy, lo, hi);
    }
  };
  if (rim) {
    for (let i = 0; i < rim.length; i += 2) {
      const ax = points[2 * rim[i]] * cells - baseX;
      const ay = points[2 * rim[i] + 1] * cells - baseY;
      const bx = points[2 * rim[i + 1]] * cells - baseX;
      const by = points[2 * rim[i + 1] + 1] * cells - baseY;
      spread(ax, ay, bx, by, bx, by, row);
    }
    fillWithin(bits, points, rim, cells, baseX, baseY);
  }
  for (let t = 0; triangles && t < triangles.length; t += 3) {
    spread(
      points[2 * triangles[t]] * cells - baseX,
      points[2 * triangles[t] + 1] * cells - baseY,
      points[2 * triangles[t + 1]] * cells - baseX,
      points[2 * triangles[t + 1] + 1] * cells - baseY,
      points[2 * triangles[t + 2]] * cells - baseX,
      points[2 * triangles[t + 2] + 1] * cells - baseY,
      row
    );
  }
  return { bits, x: floor3(baseX), y: floor3(baseY) };
}
function fillWithin(bits, points, rim, cells, baseX, baseY) {
  const { width: w, height: h } = bits;
  const rows = (i) => {
    const ay = points[2 * rim[i] + 1] * cells - baseY;
    const by = points[2 * rim[i + 1] + 1] * cells - baseY;
    return [max12(0, ceil2(min11(ay, by) - 0.5)), min11(h, ceil2(max12(ay, by) - 0.5))];
  };
  const start = new Int32Array(h + 1);
  for (let i = 0; i < rim.length; i += 2) {
    const [from, to] = rows(i);
    for (let y = from; y < to; y++) start[y + 1]++;
  }
  for (let y = 0; y < h; y++) start[y + 1] += start[y];
  const at = start.slice(0, h);
  const xs = new Float64Array(start[h]);
  const ways = new Int8Array(start[h]);
  for (let i = 0; i < rim.length; i += 2) {
    const [a, b] = [2 * rim[i], 2 * rim[i + 1]];
    const [ax, ay] = [points[a] * cells - baseX, points[a + 1] * cells - baseY];
    const [bx, by] = [points[b] * cells - baseX, points[b + 1] * cells - baseY];
    const [from, to] = rows(i);
    for (let y = from; y < to; y++) {
      const k = at[y]++;
      xs[k] = ax + (bx - ax) * (y + 0.5 - ay) / (by - ay);
      ways[k] = by > ay ? 1 : -1;
    }
  }
  for (let y = 0; y < h; y++) {
    const [s, e] = [start[y], start[y + 1]];
    for (let i = s + 1; i < e; i++)
      for (let j = i; j > s && xs[j] < xs[j - 1]; j--) {
        [xs[j], xs[j - 1]] = [xs[j - 1], xs[j]];
        [ways[j], ways[j - 1]] = [ways[j - 1], ways[j]];
      }
    let round4 = 0;
    for (let i = s; i + 1 < e; i++) {
      round4 += ways[i];
      if (round4 === 0) continue;
      const lo = max12(0, ceil2(xs[i] - 0.5));
      const hi = min11(w - 1, floor3(xs[i + 1] - 0.5));
      if (lo <= hi) bits.fill(y, lo, hi);
    }
  }
}
function spread(ax, ay, bx, by, cx, cy, row) {
  const xs = [ax, bx, cx, ax];
  const ys = [ay, by, cy, ay];
  const y0 = floor3(min11(ay, by, cy) + 1e-7);
  const y1 = max12(y0, ceil2(max12(ay, by, cy) - 1e-7) - 1);
  for (let y = y0; y <= y1; y++) {
    let lo = Infinity;
    let hi = -Infinity;
    for (let k = 0; k < 3; k++) {
      const px = xs[k];
      const py = ys[k];
      const qx = xs[k + 1];
      const qy = ys[k + 1];
      if (max12(py, qy) < y || min11(py, qy) > y + 1) continue;
      const d = qy - py;
      const s = d === 0 ? 0 : max12(0, min11(1, (y - py) / d));
      const e = d === 0 ? 1 : max12(0, min11(1, (y + 1 - py) / d));
      const u = px + (qx - px) * s;
      const v = px + (qx - px) * e;
      lo = min11(lo, u, v);
      hi = max12(hi, u, v);
    }
    if (lo <= hi) row(y, lo, hi);
  }
}
function stamp(sheet, bits, x, y) {
  const base = x >> 5;
  const shift = x & 31;
  const last = sheet.width & 31 ? (1 << (sheet.width & 31)) - 1 : -1;
  for (let r = max12(0, -y); r < bits.height && y + r < sheet.height; r++) {
    const row = (y + r) * sheet.words;
    const put = (w, cells) => {
      if (cells === 0 || w < 0 || w >= sheet.words) return;
      sheet.data[row + w] |= w + 1 === sheet.words ? cells & last : cells;
    };
    for (let w = 0; w < bits.words; w++) {
      const cells = bits.data[r * bits.words + w];
      put(base + w, cells << shift);
      if (shift > 0) put(base + w + 1, cells >>> 32 - shift);
    }
  }
}
function findPlace(sheet, bits, first, last, runs) {
  const maxX = sheet.width - bits.width;
  const { row, long } = bits.widest();
  met = row;
  for (let y = first; y <= last; y++) {
    if (runs[y + row] < 0) runs[y + row] = sheet.run(y + row, 0);
    if (runs[y + row] < long) continue;
    let x = 0;
    while (x <= maxX) {
      const skip = collision(sheet, bits, x, y, row, row + 1) || collision(sheet, bits, x, y, met, met + 1) || collision(sheet, bits, x, y, 0, bits.height);
      if (skip === 0) return { x, y };
      x += skip;
    }
  }
  return void 0;
}
var met = 0;
function collision(sheet, bits, x, y, from, to) {
  const shift = x & 31;
  const base = x >> 5;
  for (let r = from; r < to; r++) {
    const s = (y + r) * sheet.words + base;
    const b = r * bits.words;
    let carry = 0;
    for (let w = 0; w < bits.words; w++) {
      const m = bits.data[b + w];
      const low = shift ? m << shift | carry : m;
      carry = shift ? m >>> 32 - shift : 0;
      const hit = sheet.data[s + w] & low;
      if (hit) {
        met = r;
        return leave(sheet, y + r, hit, base + w);
      }
    }
    if (carry && base + bits.words < sheet.words) {
      const hit = sheet.data[s + bits.words] & carry;
      if (hit) {
        met = r;
        return 1;
      }
    }
  }
  return 0;
}
function leave(sheet, y, hit, word) {
  const cell = 32 * word + 31 - clz32(hit & -hit);
  const row = y * sheet.words;
  let w = cell >> 5;
  let free = ~sheet.data[row + w] & -1 << (cell & 31);
  while (free === 0 && ++w < sheet.words) free = ~sheet.data[row + w];
  const next = free === 0 ? sheet.width : 32 * w + 31 - clz32(free & -free);
  return max12(1, next - cell);
}

// src/core/uv/strip.ts
var { max: max13, min: min12, SQRT1_2 } = Math;
var [C8, S8] = [0.9238795325112867, 0.3826834323650898];
var TURNS3 = [
  [1, 0],
  [0, 1],
  [-1, 0],
  [0, -1],
  [SQRT1_2, SQRT1_2],
  [-SQRT1_2, SQRT1_2],
  [-SQRT1_2, -SQRT1_2],
  [SQRT1_2, -SQRT1_2],
  [C8, S8],
  [-S8, C8],
  [-C8, -S8],
  [S8, -C8],
  [S8, C8],
  [-C8, S8],
  [-S8, -C8],
  [C8, -S8]
];
var isHalf = (turn2) => (turn2 & 3) > 1;
function turnedBy(given, turn2, scale) {
  const [c, s] = TURNS3[turn2];
  const out = new Float64Array(given.length);
  for (let k = 0; k < given.length; k += 2) {
    out[k] = (given[k] * c - given[k + 1] * s) * scale;
    out[k + 1] = (given[k] * s + given[k + 1] * c) * scale;
  }
  return out;
}
var Masks = class {
  constructor(boxed, scale, cells, pad, turns) {
    this.boxed = boxed;
    this.scale = scale;
    this.cells = cells;
    this.pad = pad;
    this.turns = turns;
    this.list = new Array(boxed.length);
  }
  boxed;
  scale;
  cells;
  pad;
  turns;
  list;
  /** By island and turn; null where it is wider than the strip. */
  single = /* @__PURE__ */ new Map();
  shapes = /* @__PURE__ */ new Map();
  get shapeCount() {
    return this.shapes.size;
  }
  /** In all turns that differ; none where the island is wider than the strip. */
  of(i) {
    return this.list[i] ??= this.all(i);
  }
  all(i) {
    const b = this.boxed[i];
    const out = [];
    for (let turn2 = 0; turn2 < min12(b.turns, this.turns); turn2++) {
      if (b.even && isHalf(turn2)) continue;
      const mask = this.one(i, turn2);
      if (mask && !out.some((other) => other.shape === mask.shape && sameBits(other.bits, mask.bits))) out.push(mask);
    }
    return out;
  }
  /** In one turn alone. */
  one(i, turn2) {
    const key = i * TURNS3.length + turn2;
    let mask = this.single.get(key);
    if (mask === void 0) this.single.set(key, mask = this.made(this.boxed[i], turn2));
    return mask;
  }
  made(b, turn2) {
    const { cells, pad, scale } = this;
    const points = turnedBy(b.outline.points, turn2, scale);
    let [x0, y0, x1] = [Infinity, Infinity, -Infinity];
    for (let k = 0; k < points.length; k += 2) {
      x0 = min12(x0, points[k]);
      x1 = max13(x1, points[k]);
      y0 = min12(y0, points[k + 1]);
    }
    if ((x1 - x0) * cells + pad > cells + 1e-9) return null;
    for (let k = 0; k < points.length; k += 2) {
      points[k] -= x0;
      points[k + 1] -= y0;
    }
    const { bits } = maskOf({ ...b.outline, points }, cells, pad / 2, false);
    if (bits.width > cells) return null;
    const name = nameOf(bits);
    let shape = this.shapes.get(name);
    if (shape === void 0) this.shapes.set(name, shape = this.shapes.size);
    return { bits, turn: turn2, x: x0, y: y0, shape, cells: count(bits) };
  }
  /** Where an island's points are, its mask's lower left in a cell. The mask begins half a padding before the island. */
  placed(i, spot) {
    const { mask } = spot;
    const points = turnedBy(this.boxed[i].points, mask.turn, this.scale);
    const dx = (spot.x + this.pad / 2) / this.cells - mask.x;
    const dy = (spot.y + this.pad / 2) / this.cells - mask.y;
    for (let k = 0; k < points.length; k += 2) {
      points[k] += dx;
      points[k + 1] += dy;
    }
    return points;
  }
};
function fillStrip(masks, order, rows, taken, forced) {
  const { cells } = masks;
  const sheet = new Bits(cells, rows);
  if (taken) sheet.data.set(taken.data.subarray(0, sheet.data.length));
  let free = cells * rows - count(sheet);
  let wanted = 0;
  const lists = new Array(order.length);
  const least = new Int32Array(order.length);
  for (let k = 0; k < order.length; k++) {
    const i = order[k];
    const only = forced && forced[i] >= 0 ? masks.one(i, forced[i]) : null;
    const list = only ? [only] : masks.of(i);
    if (list.length === 0) return void 0;
    least[k] = list[0].cells;
    for (let m = 1; m < list.length; m++) least[k] = min12(least[k], list[m].cells);
    lists[k] = list;
    wanted += least[k];
  }
  if (wanted > free) return void 0;
  const spots = new Array(order.length);
  const runs = new Int32Array(rows).fill(-1);
  const tried2 = new Int32Array(masks.shapeCount);
  let top = 0;
  let lowest = 0;
  for (let k = 0; k < order.length; k++) {
    const i = order[k];
    if ((k & 7) === 0) pulse();
    if (wanted > free) return void 0;
    let best;
    let bestTop = rows + 1;
    for (const mask of lists[k]) {
      const { bits, shape } = mask;
      const last = min12(rows, bestTop - 1) - bits.height;
      const at = findPlace(sheet, bits, max13(lowest, tried2[shape]), last, runs);
      tried2[shape] = max13(at ? at.y : last + 1, tried2[shape]);
      if (!at) continue;
      best = { mask, x: at.x, y: at.y };
      bestTop = at.y + bits.height;
    }
    if (!best) return void 0;
    stamp(sheet, best.mask.bits, best.x, best.y);
    runs.fill(-1, best.y, bestTop);
    free -= best.mask.cells;
    wanted -= least[k];
    spots[i] = best;
    top = max13(top, bestTop);
    while (lowest < rows && rowFull(sheet, lowest)) lowest++;
  }
  return { top, spots };
}

// src/core/uv/pack.ts
var { abs: abs11, ceil: ceil3, hypot: hypot4, max: max14, min: min13, round: round2, sqrt: sqrt12 } = Math;
var HEAVY = 6e4;
var FEW2 = 60;
var SINGLE = 24;
var MEDIUM = 60;
var BOXY = 0.72;
var TALL = 1.6;
var TIME = { ms: 0, log: "" };
function pack(i, o) {
  const t = performance.now();
  TIME.log = "";
  const r = pack0(i, o);
  TIME.ms += performance.now() - t;
  return r;
}
function pack0(islands, options) {
  if (islands.length === 0) return { scale: options.scale || 1, fits: true, placed: [] };
  const boxed = islands.map(tightest);
  let area = 0;
  let widest = 0;
  let sides = 0;
  for (const { area: own2, outline: o, width, height: height2 } of boxed) {
    area += own2;
    widest = max14(widest, width, height2);
    sides += (o.rim?.length ?? 0) / 2 + (o.triangles?.length ?? 0) / 3;
  }
  if (!(widest > 0)) return { scale: 1, fits: true, placed: boxed.map((b) => b.points) };
  const n = boxed.length;
  const heavy = sides > HEAVY;
  const { fine, coarse } = options.whole ? wholeGrid(options.size) : gridsFor(n, heavy, options.size);
  const grid = ({ cells, turns }) => new Grid(boxed, cells, options, turns);
  const orders = ordersOf(boxed);
  const most = min13(1 / widest, sqrt12(1 / area)) * 1.02;
  const done = (found, fits) => ({
    scale: found.masks.scale,
    fits,
    placed: boxed.map((_, i) => found.masks.placed(i, found.filled.spots[i]))
  });
  const sharp = grid(fine);
  const wanted = options.scale || (options.maxScale && options.maxScale < most ? options.maxScale : 0);
  if (wanted > 0) {
    const found = sharp.at(wanted, { order: orders[0] }, fine.cells);
    if (found) return done(found, true);
    if (options.only) return { scale: 0, fits: false, placed: [] };
  }
  const highest = wanted > 0 ? min13(most, wanted) : most;
  const rough = grid(coarse);
  const few = n > 1 && n <= FEW2 && !heavy;
  const first = fitting(rough, { order: orders[0] }, min13(highest, sqrt12(0.62 / area)), highest, few ? 4 : 3);
  let best;
  let start = min13(highest, first.next * (few ? 1.03 : 1.06));
  if (few && first.near) {
    const way = { order: orders[0] };
    const rest = orders.slice(1);
    const search = tried(rough, way, first.near, rest, highest, TRIED);
    const of = search.best ?? search.near;
    start = min13(highest, of.masks.scale * min13(1, sqrt12(coarse.cells / of.filled.top)) * 1.03);
    const again = { order: search.way.order };
    for (const own2 of n > SINGLE ? [again, way] : [search.way, again]) {
      const next = fitting(sharp, own2, max14(start, best?.masks.scale ?? 0), highest, 3);
      if (!next.near) continue;
      const found = tried(sharp, own2, next.near, [], highest, TRIED_AGAIN).best ?? next.best;
      if (found && found.masks.scale > (best?.masks.scale ?? 0)) best = found;
    }
  } else best = fitting(sharp, { order: orders[0] }, start, highest, 3).best;
  best ??= smaller(sharp, { order: orders[0] }, start, highest);
  if (best) return done(best, options.scale <= 0);
  return { scale: 0, fits: false, placed: boxed.map((b) => b.points.map(() => 0)) };
}
function gridsFor(n, heavy, size) {
  const cells = min13(size, heavy || n <= MEDIUM ? 256 : 512);
  const grids = (most, fine, coarse) => ({
    fine: { cells, turns: fine },
    coarse: { cells: min13(cells, most), turns: coarse }
  });
  if (n > 600) return grids(256, 2, 2);
  if (heavy || n > 150) return grids(n > 400 ? 256 : 128, 4, 2);
  if (n > FEW2) return grids(128, 4, 8);
  return n > SINGLE ? grids(128, 8, 8) : grids(96, 16, 16);
}
var MOST_CELLS2 = 2048;
function wholeGrid(size) {
  const grid = { cells: min13(size, MOST_CELLS2), turns: 4 };
  return { fine: grid, coarse: grid };
}
function ordersOf(boxed) {
  const by = (size) => {
    const sizes = boxed.map(size);
    return sizes.map((_, i) => i).sort((a, b) => sizes[b] - sizes[a] || a - b);
  };
  return [by((b) => max14(b.width, b.height)), by((b) => b.area), by((b) => b.width + b.height)];
}
var Grid = class {
  constructor(boxed, cells, o, turns) {
    this.boxed = boxed;
    this.cells = cells;
    this.o = o;
    this.turns = turns;
    this.rows = round2(TALL * cells);
    const pad = o.padding / o.size * cells;
    this.pad = o.whole ? 2 * ceil3(pad / 2 - 1e-9) : pad;
    if (!o.taken?.length) return;
    this.taken = new Bits(cells, this.rows);
    for (const t of o.taken) {
      const { bits, x, y } = maskOf(t, cells, this.pad / 2, true);
      stamp(this.taken, bits, x, y);
    }
  }
  boxed;
  cells;
  o;
  turns;
  taken;
  last;
  rows;
  /** Cells between islands. */
  pad;
  turnsOf(island) {
    return min13(this.turns, this.boxed[island].turns);
  }
  masks(scale) {
    if (this.last?.scale !== scale) {
      this.last = new Masks(this.boxed, scale, this.cells, this.pad, this.o.turn ? this.turns : 1);
    }
    return this.last;
  }
  at(scale, way, rows) {
    const masks = this.masks(scale);
    const t0 = performance.now();
    const filled2 = fillStrip(masks, way.order, rows, this.taken, way.forced);
    const dt = performance.now() - t0;
    if (dt > 1e9) TIME.log += ` ${this.cells}/${scale.toFixed(4)}:${filled2?.top}:${dt.toFixed(0)}`;
    return filled2 && { masks, filled: filled2 };
  }
};
function fitting(grid, way, start, most, tries) {
  let best;
  let near;
  let below = 0;
  let above = Infinity;
  let scale = start;
  for (let k = 0; k < tries; k++) {
    const found = grid.at(scale, way, grid.rows);
    const fits = found !== void 0 && found.filled.top <= grid.cells;
    near = found ?? near;
    const by = found ? sqrt12(grid.cells / found.filled.top) : 0.8;
    if (fits) {
      best = found;
      below = scale;
      if (scale >= most) break;
    } else above = scale;
    if (above / below < 1.004) break;
    let next = min13(most, scale * (fits ? max14(by, 1.004) : min13(by, 0.996)));
    if (next <= below || next >= above) next = (below + above) / 2;
    scale = next;
  }
  return { best, near: best ?? near, next: scale };
}
function smaller(grid, way, start, most) {
  for (let scale = start * 0.93; scale > most * 1e-5; scale *= 0.93) {
    const found = grid.at(scale, way, grid.cells);
    if (found) return found;
  }
  return void 0;
}
var asLaid = ({ order }, { filled: filled2 }) => ({
  order,
  forced: Int8Array.from(filled2.spots, ({ mask }) => mask.turn)
});
var TRIED = 1500;
var TRIED_AGAIN = 150;
var LARGER = 1.01;
function height({ masks, filled: { top, spots } }) {
  let sum = 0;
  let all = 0;
  for (const { mask, y } of spots) {
    sum += mask.cells * (y + mask.bits.height / 2);
    all += mask.cells;
  }
  return top + sum / all / masks.cells;
}
function tried(grid, from, given, orders, most, many) {
  const n = from.order.length;
  let near = given;
  let way = asLaid(from, given);
  let best;
  let found = way;
  let seed = 1;
  const roll = (below) => {
    seed = Math.imul(seed, 1664525) + 1013904223 >>> 0;
    return Math.floor(seed / 4294967296 * below);
  };
  const rounds = Math.ceil(many / n);
  for (let k = 0; k < rounds; k++) {
    if (near.filled.top <= grid.cells && near.masks.scale > (best?.masks.scale ?? 0)) {
      best = near;
      found = way;
      if (near.masks.scale >= most) break;
      const scale = min13(most, near.masks.scale * max14(LARGER, sqrt12(grid.cells / near.filled.top)));
      near = grid.at(scale, way, grid.rows) ?? near;
      continue;
    }
    let next;
    if (k < orders.length) next = { order: orders[k] };
    else {
      const order = way.order.slice();
      const forced = way.forced.slice();
      const kind = roll(4);
      const i = roll(n);
      if (kind === 0) {
        const j = roll(n);
        [order[i], order[j]] = [order[j], order[i]];
      } else if (kind === 1) order.splice(roll(n), 0, order.splice(i, 1)[0]);
      else forced[i] = kind === 2 ? -1 : roll(grid.turnsOf(i));
      next = { order, forced };
    }
    const laid = grid.at(near.masks.scale, next, near.filled.top);
    if (!laid || height(laid) > height(near)) continue;
    near = laid;
    way = asLaid(next, near);
  }
  if (near.filled.top <= grid.cells && near.masks.scale > (best?.masks.scale ?? 0)) return { best: near, way, near };
  return { best, way: found, near };
}
function tightest(island) {
  const upright = island.upright === true;
  const asItLies = upright || island.level === true;
  const hull = asItLies ? [] : convexHull(island.points);
  let best = Infinity;
  let cos4 = 1;
  let sin3 = 0;
  for (let i = 0; i < hull.length; i += 2) {
    const j = (i + 2) % hull.length;
    let dx = hull[j] - hull[i];
    let dy = hull[j + 1] - hull[i + 1];
    const l = hypot4(dx, dy);
    if (l === 0) continue;
    dx /= l;
    dy /= l;
    let u0 = Infinity;
    let u1 = -Infinity;
    let v0 = Infinity;
    let v1 = -Infinity;
    for (let k = 0; k < hull.length; k += 2) {
      const u = hull[k] * dx + hull[k + 1] * dy;
      const v = hull[k + 1] * dx - hull[k] * dy;
      if (u < u0) u0 = u;
      if (u > u1) u1 = u;
      if (v < v0) v0 = v;
      if (v > v1) v1 = v;
    }
    const a = (u1 - u0) * (v1 - v0);
    if (a < best * (1 - 1e-9)) {
      best = a;
      cos4 = dx;
      sin3 = dy;
    }
  }
  const n = island.points.length;
  const points = new Float64Array(n);
  let x0 = Infinity;
  let y0 = Infinity;
  let x1 = -Infinity;
  let y1 = -Infinity;
  for (let i = 0; i < n; i += 2) {
    const x = island.points[i] * cos4 + island.points[i + 1] * sin3;
    const y = island.points[i + 1] * cos4 - island.points[i] * sin3;
    points[i] = x;
    points[i + 1] = y;
    x0 = min13(x0, x);
    x1 = max14(x1, x);
    y0 = min13(y0, y);
    y1 = max14(y1, y);
  }
  let area = 0;
  for (let i = 0; i < n; i += 2) {
    points[i] -= x0;
    points[i + 1] -= y0;
  }
  const t = island.triangles;
  for (let i = 0; i < t.length; i += 3) {
    const a = 2 * t[i];
    const b = 2 * t[i + 1];
    const c = 2 * t[i + 2];
    area += abs11(
      (points[b] - points[a]) * (points[c + 1] - points[a + 1]) - (points[b + 1] - points[a + 1]) * (points[c] - points[a])
    ) / 2;
  }
  const outline = outlineOf(points, t);
  const [width, height2] = [x1 - x0, y1 - y0];
  const most = area > BOXY * width * height2 || island.level ? 4 : 16;
  const turns = upright ? 1 : most;
  return { points, outline, width, height: height2, area, turns, even: looksEven(points, width, height2) };
}
function looksEven(p, w, h) {
  if (p.length > 400) return false;
  const near = max14(w, h) * 1e-3;
  for (let i = 0; i < p.length; i += 2) {
    let found = false;
    for (let j = 0; j < p.length && !found; j += 2)
      found = abs11(w - p[i] - p[j]) < near && abs11(h - p[i + 1] - p[j + 1]) < near;
    if (!found) return false;
  }
  return true;
}
function convexHull(p) {
  const order = Array.from({ length: p.length / 2 }, (_, i) => 2 * i).sort(
    (a, b) => p[a] - p[b] || p[a + 1] - p[b + 1]
  );
  const hull = [];
  const half = (list) => {
    const base = hull.length;
    for (const i of list) {
      while (hull.length - base >= 4) {
        const n = hull.length;
        const cross = (hull[n - 2] - hull[n - 4]) * (p[i + 1] - hull[n - 3]) - (hull[n - 1] - hull[n - 3]) * (p[i] - hull[n - 4]);
        if (cross > 0) break;
        hull.length -= 2;
      }
      hull.push(p[i], p[i + 1]);
    }
    hull.length -= 2;
  };
  half(order);
  half(order.reverse());
  return hull;
}
function tooNear(islands, taken, size, padding) {
  const cells = min13(size, 512);
  const grow = padding / size * cells / 2;
  const sheet = new Bits(cells, cells);
  for (const t of taken) {
    const { bits, x, y } = maskOf(t, cells, grow, true);
    stamp(sheet, bits, x, y);
  }
  for (const i of islands) {
    const { bits, x, y } = maskOf(i, cells, grow, true);
    for (let r = 0; r < bits.height; r++)
      for (let c = 0; c < bits.width; c++) {
        const xx = x + c;
        const yy = y + r;
        if (bits.data[r * bits.words + (c >> 5)] >>> (c & 31) & 1 && xx >= 0 && yy >= 0 && xx < cells && yy < cells && sheet.data[yy * sheet.words + (xx >> 5)] >>> (xx & 31) & 1)
          return true;
      }
  }
  return false;
}

// src/core/uv/sheets.ts
var { abs: abs12, min: min14 } = Math;
function layOut(free, held, heldScale, o) {
  const scale = o.density > 0 ? o.density / o.size : 0;
  const packing = { size: o.size, padding: o.padding, turn: o.turn, scale };
  if (o.pixels) return onWholeTexels(free, held, heldScale, packing, o);
  const all = held.length ? [...free, ...held.map((f) => ({ points: f.solved, triangles: f.triangles }))] : free;
  const packed = onSheets(all, packing, o.sheets);
  if (held.length === 0) return packed;
  const there = free.map((f, i) => ({ points: packed.placed[i], triangles: f.triangles }));
  if (!tooNear(there, held, o.size, o.padding)) return { ...packed, placed: packed.placed.slice(0, free.length) };
  const maxScale = scale > 0 ? void 0 : packed.scale || heldScale || void 0;
  return onSheets(free, { ...packing, maxScale, taken: held }, o.sheets);
}
function onSheets(islands, o, sheets) {
  if (sheets <= 1 || islands.length < 2) return pack(islands, o);
  const of = shared(islands, o.taken ?? [], sheets);
  const lists = Array.from({ length: sheets }, (_, k) => islands.flatMap((_island, i) => of[i] === k ? [i] : []));
  const onOne = (k, scale2) => pack(
    lists[k].map((i) => islands[i]),
    { ...o, scale: scale2, taken: k === 0 ? o.taken : void 0 }
  );
  let found = lists.map((_, k) => onOne(k, o.scale));
  for (let round4 = 0; round4 < 4; round4++) {
    const used2 = found.filter((_, k) => lists[k].length > 0);
    const scale2 = used2.reduce((s, p) => min14(s, p.scale), Infinity);
    if (!used2.some((p) => p.scale > scale2 * (1 + 1e-9)) || !(scale2 > 0)) break;
    found = lists.map((_, k) => onOne(k, scale2));
  }
  const placed = new Array(islands.length);
  lists.forEach(
    (list, k) => list.forEach((i, at) => {
      placed[i] = found[k].placed[at]?.map((x, q) => q % 2 === 0 ? x + k : x) ?? new Float64Array(0);
    })
  );
  const used = found.filter((_, k) => lists[k].length > 0);
  const scale = used.reduce((s, p) => min14(s, p.scale), Infinity);
  return { scale, fits: o.scale > 0 ? used.every((p) => p.fits && p.scale >= o.scale * (1 - 1e-9)) : true, placed };
}
function shared(islands, taken, sheets) {
  const areas2 = islands.map(areaOf);
  const all = areas2.reduce((sum, x) => sum + x, 0);
  const held = taken.reduce((sum, t) => sum + areaOf(t), 0);
  const full = new Float64Array(sheets);
  full[0] = held * (all / (0.65 * sheets));
  const out = new Int32Array(islands.length);
  for (const i of areas2.map((_, k) => k).sort((a, b) => areas2[b] - areas2[a] || a - b)) {
    const k = full.indexOf(min14(...full));
    out[i] = k;
    full[k] += areas2[i];
  }
  return out;
}
function areaOf({ points: p, triangles: t }) {
  let sum = 0;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [2 * t[i], 2 * t[i + 1], 2 * t[i + 2]];
    sum += abs12((p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a])) / 2;
  }
  return sum;
}
var COARSER = 0.98;
var TRIES = 80;
function onWholeTexels(free, held, heldScale, packing, o) {
  const taken = held.length ? held : void 0;
  const most = packing.scale > 0 ? packing.scale : onSheets(free, { ...packing, taken }, o.sheets).scale;
  const start = packing.scale > 0 || heldScale === 0 ? most : min14(most, heldScale);
  const outlines = free.map((f) => outlineOf(f.points, f.triangles));
  let density = start * o.size;
  for (let k = 0; k < TRIES; k++, density *= COARSER) {
    pulse();
    const by = density;
    const whole = free.map((f, i) => {
      const { points, rim } = outlines[i];
      const times = (p) => p.map((x) => x * by);
      return { ...f, points: onTexels(times(f.points), { points: times(points), rim }), level: true };
    });
    const found = onSheets(whole, { ...packing, scale: 1 / o.size, only: true, whole: true, taken }, o.sheets);
    if (found.fits && found.placed.every((p) => p.length > 0))
      return { scale: by / o.size, fits: k === 0 || packing.scale <= 0, placed: found.placed };
  }
  return { ...onSheets(free, { ...packing, scale: 0, taken }, o.sheets), fits: packing.scale <= 0 };
}

// src/core/uv/standing.ts
function standing(surface, triangles, uv) {
  let [x, y] = [0, 0];
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c2] = [triangles[t], triangles[t + 1], triangles[t + 2]];
    const [u1, v1] = [uv[2 * b] - uv[2 * a], uv[2 * b + 1] - uv[2 * a + 1]];
    const [u2, v2] = [uv[2 * c2] - uv[2 * a], uv[2 * c2 + 1] - uv[2 * a + 1]];
    const [h1, h2] = [surface[3 * b + 1] - surface[3 * a + 1], surface[3 * c2 + 1] - surface[3 * a + 1]];
    const side = u1 * v2 - v1 * u2 < 0 ? -1 : 1;
    x += side * (h1 * v2 - h2 * v1);
    y += side * (h2 * u1 - h1 * u2);
  }
  const long = Math.hypot(x, y);
  let area = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c2] = [2 * triangles[t], 2 * triangles[t + 1], 2 * triangles[t + 2]];
    area += Math.abs((uv[b] - uv[a]) * (uv[c2 + 1] - uv[a + 1]) - (uv[b + 1] - uv[a + 1]) * (uv[c2] - uv[a]));
  }
  if (!(long > 1e-3 * area)) return uv;
  const [c, s] = [y / long, x / long];
  const out = new Float64Array(uv.length);
  for (let i = 0; i < uv.length; i += 2) {
    out[i] = c * uv[i] - s * uv[i + 1];
    out[i + 1] = s * uv[i] + c * uv[i + 1];
  }
  return out;
}

// src/core/uv/untangle.ts
var SWEEPS2 = 24;
var WAYS = [0.1, 0.25, 0.5, 0.75, 1];
function untangle(points, triangles, uv, movable) {
  const count2 = triangles.length / 3;
  const real = new Uint8Array(count2);
  let sides = 0;
  for (let t = 0; t < count2; t++) {
    if ((t & EVERY) === 0) pulse();
    const size = onSurface(points, triangles, 3 * t);
    real[t] = size > 1e-14 ? 1 : 0;
    if (real[t]) sides += size * Math.sign(twice(triangles, 3 * t, uv));
  }
  const sign = sides < 0 ? -1 : 1;
  const area = (t) => sign * twice(triangles, 3 * t, uv);
  let bad = [];
  for (let t = 0; t < count2; t++) if (real[t] && !(area(t) > 0)) bad.push(t);
  if (bad.length === 0) return 0;
  const round4 = trianglesAround(triangles, uv.length / 2);
  const around = (v) => round4.list.subarray(round4.start[v], round4.start[v + 1]);
  const least = (v) => {
    let min18 = Infinity;
    for (const t of around(v)) if (real[t]) min18 = Math.min(min18, area(t));
    return min18;
  };
  const bettered2 = (v) => {
    const [x, y] = [uv[2 * v], uv[2 * v + 1]];
    let [mx, my, n] = [0, 0, 0];
    for (const t of around(v))
      for (let q = 0; q < 3; q++) {
        const w = triangles[3 * t + q];
        if (w === v) continue;
        mx += uv[2 * w];
        my += uv[2 * w + 1];
        n++;
      }
    const before = least(v);
    let best = before;
    let at;
    for (const way of WAYS) {
      uv[2 * v] = x + way * (mx / n - x);
      uv[2 * v + 1] = y + way * (my / n - y);
      const now = least(v);
      if (now <= best) continue;
      best = now;
      at = [uv[2 * v], uv[2 * v + 1]];
      if (now > 0) break;
    }
    [uv[2 * v], uv[2 * v + 1]] = at ?? [x, y];
    return at !== void 0;
  };
  for (let sweep = 0; sweep < SWEEPS2 && bad.length > 0; sweep++) {
    pulse();
    let moved = false;
    const near = new Set(bad.flatMap((t) => [0, 1, 2].map((q) => triangles[3 * t + q])));
    if (sweep % 4 === 3)
      for (const v of [...near]) for (const t of around(v)) for (let q = 0; q < 3; q++) near.add(triangles[3 * t + q]);
    for (const v of near) if (movable[v] && bettered2(v)) moved = true;
    const touched = new Set([...near].flatMap((v) => [...around(v)]));
    bad = [...touched].filter((t) => real[t] && !(area(t) > 0));
    if (!moved && sweep % 4 === 3) break;
  }
  return bad.length;
}
var twice = (tri, o, uv) => {
  const [a, b, c] = [2 * tri[o], 2 * tri[o + 1], 2 * tri[o + 2]];
  return (uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[b + 1] - uv[a + 1]) * (uv[c] - uv[a]);
};
function onSurface(p, tri, o) {
  const [a, b, c] = [3 * tri[o], 3 * tri[o + 1], 3 * tri[o + 2]];
  const [ex, ey, ez] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [fx, fy, fz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  return Math.hypot(ey * fz - ez * fy, ez * fx - ex * fz, ex * fy - ey * fx) / 2;
}
function trianglesAround(triangles, vertices) {
  const start = new Uint32Array(vertices + 1);
  for (const v of triangles) start[v + 1]++;
  for (let v = 0; v < vertices; v++) start[v + 1] += start[v];
  const list = new Uint32Array(triangles.length);
  const at = start.slice();
  for (let i = 0; i < triangles.length; i++) list[at[triangles[i]]++] = i / 3;
  return { start, list };
}

// src/core/uv/upright.ts
var { hypot: hypot5, max: max15 } = Math;
var PASSES = 4;
var STEPS = [1, 2, 4, 8, 16, 64];
var FAR = 1e-5;
function uprightInSingle(points, triangles, uv) {
  let most = 0;
  for (let i = 0; i < uv.length; i++) {
    uv[i] = Math.fround(uv[i]);
    most = max15(most, Math.abs(uv[i]));
  }
  const turned2 = (t) => {
    const [a, b, c] = [2 * triangles[t], 2 * triangles[t + 1], 2 * triangles[t + 2]];
    return (uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[b + 1] - uv[a + 1]) * (uv[c] - uv[a]);
  };
  const bad = [];
  for (let t = 0; t < triangles.length; t += 3) {
    if ((t & EVERY) === 0) pulse();
    if (!(turned2(t) > 0) && hasArea(points, triangles, t)) bad.push(t);
  }
  if (bad.length === 0) return 0;
  const round4 = /* @__PURE__ */ new Map();
  for (const t of bad) for (let q = 0; q < 3; q++) round4.set(triangles[t + q], []);
  for (let t = 0; t < triangles.length; t += 3) for (let q = 0; q < 3; q++) round4.get(triangles[t + q])?.push(t);
  const last = 2 ** -24 * max15(most, 2 ** -10);
  const righted = (t) => {
    for (let q = 0; q < 3; q++) {
      const v = triangles[t + q];
      const [a, b] = [2 * triangles[t + (q + 1) % 3], 2 * triangles[t + (q + 2) % 3]];
      const [ex, ey] = [uv[b] - uv[a], uv[b + 1] - uv[a + 1]];
      const long = hypot5(ex, ey);
      if (!(long > 0)) continue;
      const [x, y] = [uv[2 * v], uv[2 * v + 1]];
      const under = -turned2(t) / long;
      if (under > FAR * most) continue;
      const around = round4.get(v).filter((s) => s === t || turned2(s) > 0);
      for (const step of STEPS) {
        const by = under + step * last;
        uv[2 * v] = Math.fround(x - ey / long * by);
        uv[2 * v + 1] = Math.fround(y + ex / long * by);
        if (around.every((s) => turned2(s) > 0)) return true;
      }
      uv[2 * v] = x;
      uv[2 * v + 1] = y;
    }
    return false;
  };
  let left = bad;
  for (let pass = 0; pass < PASSES && left.length > 0; pass++)
    left = left.filter((t) => !(turned2(t) > 0) && !righted(t));
  return left.length;
}
var NO_AREA = 1e-16;
function hasArea(p, triangles, t) {
  const [a, b, c] = [3 * triangles[t], 3 * triangles[t + 1], 3 * triangles[t + 2]];
  const [ex, ey, ez] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [fx, fy, fz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  return hypot5(ey * fz - ez * fy, ez * fx - ex * fz, ex * fy - ey * fx) / 2 > NO_AREA;
}

// src/core/uv/unwrap.ts
var { abs: abs13, hypot: hypot6, max: max16, min: min15, sqrt: sqrt13 } = Math;
function unwrapMesh(mesh, o) {
  const marked = seamEdges(mesh, { cut: o.cut, hold: o.hold, angle: o.seamAngle });
  const settled = o.pins?.size === mesh.cornerCount;
  const auto = o.stretch && !settled ? parted(mesh, marked, o, o.stretch) : void 0;
  const seam = auto ? auto.seam : marked.slice();
  const byHand = o.kept === true || settled && !!o.stretch;
  if (o.pins && (auto || byHand)) keptTogether(mesh, seam, marked, o.pins, o.kept === true);
  let ch = charts(mesh, seam);
  const shapes = chartShapes(mesh, ch);
  const chosen = Uint8Array.from(shapes, (s) => s.borders === 0 || s.euler < 2 - s.borders ? 1 : 0);
  if (!auto && !byHand && chosen.some((c) => c === 1)) {
    partByDirection(mesh, ch, chosen, o.hold);
    ch = charts(mesh, ch.seam);
  }
  let flat = unfoldAll(mesh, ch, o.pins, o.progress, auto);
  const uneven = flat.filter((f) => f.needsLink && !f.solvedBefore);
  if (uneven.length) {
    for (const f of uneven) linkBorders(mesh, ch, f.faces);
    ch = charts(mesh, ch.seam);
    flat = unfoldAll(mesh, ch, o.pins, o.progress, auto);
  }
  if (o.repack) {
    for (const f of flat)
      if (f.held && f.scaleOfHeld > 0 && !f.faces.some((x) => o.locked?.has(x))) {
        f.points = f.points.map((x) => x / f.scaleOfHeld);
        f.held = false;
      }
  }
  const held = flat.filter((f) => f.held);
  const stuck = o.soft?.size ? untangled(mesh, ch, held, o) : 0;
  const free = flat.filter((f) => !f.held);
  for (const f of free)
    if (f.faces.some((x) => o.upright?.has(x))) {
      f.points = standing(f.surface, f.triangles, f.points);
      f.upright = true;
    }
  let heldDensity = 0;
  for (const f of held) heldDensity = max16(heldDensity, f.scaleOfHeld);
  const packed = layOut(free, held, heldDensity, {
    ...o,
    pixels: o.pixels ?? false,
    sheets: max16(1, o.sheets ?? 1)
  });
  free.forEach((f, i) => {
    f.points = packed.placed[i];
    if (!o.pixels) uprightInSingle(f.surface, f.triangles, f.points);
  });
  const uv = new Float32Array(2 * mesh.cornerCount);
  const local = localNumbers(mesh, ch, flat);
  for (let c = 0; c < mesh.cornerCount; c++) {
    if ((c & EVERY) === 0) pulse();
    const k = local.chart[ch.cornerUv[c]];
    const v = local.number[ch.cornerUv[c]];
    uv[2 * c] = flat[k].points[2 * v];
    uv[2 * c + 1] = flat[k].points[2 * v + 1];
  }
  return {
    mesh: mesh.withAttribute(UV, { domain: "corner", width: 2, data: uv }),
    islands: ch.count,
    density: (free.length ? packed.scale : heldDensity) * o.size,
    beyond: auto?.beyond ?? 0,
    stuck,
    tooDense: !packed.fits
  };
}
function untangled(mesh, ch, held, { pins, soft }) {
  const hard = new Uint8Array(ch.uvCount);
  for (let c = 0; c < mesh.cornerCount; c++) if (pins?.has(c) && !soft.has(c)) hard[ch.cornerUv[c]] = 1;
  let left = 0;
  for (const f of held)
    left += untangle(
      f.surface,
      f.triangles,
      f.points,
      Uint8Array.from(f.uvVertices, (u) => 1 - hard[u])
    );
  return left;
}
function localNumbers(mesh, ch, flat) {
  const number = new Int32Array(ch.uvCount);
  const chart = new Int32Array(ch.uvCount);
  flat.forEach(
    (f, k) => f.uvVertices.forEach((u, i) => {
      number[u] = i;
      chart[u] = k;
    })
  );
  return { number, chart };
}
function parted(mesh, marked, o, bound) {
  const hard = seamEdges(mesh, { cut: o.cut, hold: o.hold, angle: Infinity });
  const soft = Uint8Array.from(marked, (x, e) => x && !hard[e] ? 1 : 0);
  const t = topologyOf(mesh);
  withoutLooseEnds(t, soft, hard);
  const found = autoIslands(mesh, {
    seam: hard,
    soft,
    hold: o.hold,
    bound,
    bend: min15(o.seamAngle, Math.PI),
    islands: o.islands ?? 0,
    weigh: hidingCost(mesh, o.hide ?? 0.5),
    progress: o.progress && ((share) => o.progress(0.8 * share))
  });
  const { islands, seam } = joinedOverRuns(mesh, found.islands, found.seam, {
    hard,
    bend: o.pixels || o.islands && found.islands.length > o.islands ? Math.PI : min15(o.seamAngle, Math.PI),
    bound,
    flat: o.pixels === true
  });
  const of = new Int32Array(mesh.faceCount).fill(-1);
  const uv = new Float64Array(2 * mesh.cornerCount);
  islands.forEach(({ patch, laid }, k) => {
    let at = 0;
    for (const f of patch.faces) {
      of[f] = k;
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++, at++) {
        uv[2 * c] = laid.uv[2 * patch.corners[at]];
        uv[2 * c + 1] = laid.uv[2 * patch.corners[at] + 1];
      }
    }
  });
  let area = 0;
  let off = 0;
  for (const { laid } of islands) {
    area += laid.rest.total;
    off += laid.rest.total * laid.figures.beyond;
  }
  const faces = Int32Array.from(islands, (i) => i.patch.faces.length);
  return { seam, of, faces, uv, beyond: area > 0 ? off / area : 0 };
}
function withoutLooseEnds(t, soft, hard) {
  const ends = /* @__PURE__ */ new Map();
  const note = (v, e) => {
    const list = ends.get(v);
    if (list) list.push(e);
    else ends.set(v, [e]);
  };
  const fixed = /* @__PURE__ */ new Set();
  for (let e = 0; e < t.edgeCount; e++)
    for (let k = 0; k < 2; k++) {
      if (soft[e]) note(t.edgeVertex[2 * e + k], e);
      if (hard[e]) fixed.add(t.edgeVertex[2 * e + k]);
    }
  const left = new Map([...ends].map(([v, list]) => [v, list.length]));
  const loose = [...left].filter(([v, n]) => n === 1 && !fixed.has(v)).map(([v]) => v);
  for (let v = loose.pop(); v !== void 0; v = loose.pop()) {
    const e = ends.get(v).find((x) => soft[x]);
    if (e === void 0) continue;
    soft[e] = 0;
    const other = t.edgeVertex[2 * e] === v ? t.edgeVertex[2 * e + 1] : t.edgeVertex[2 * e];
    const n = left.get(other) - 1;
    left.set(other, n);
    if (n === 1 && !fixed.has(other)) loose.push(other);
  }
}
function keptTogether(mesh, seam, marked, pins, kept) {
  const t = topologyOf(mesh);
  const whole = new Uint8Array(mesh.faceCount).fill(1);
  for (let c = 0; c < mesh.cornerCount; c++) if (!pins.has(c)) whole[t.cornerFace[c]] = 0;
  const same = (a, b) => {
    const [p, q] = [pins.get(a), pins.get(b)];
    return abs13(p[0] - q[0]) < 1e-6 && abs13(p[1] - q[1]) < 1e-6;
  };
  for (let e = 0; e < t.edgeCount; e++) {
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) continue;
    const [a, b] = [t.edgeCorner[s], t.edgeCorner[s + 1]];
    const [f, g] = [t.cornerFace[a], t.cornerFace[b]];
    if (kept && whole[f] !== whole[g]) seam[e] = 1;
    if (!whole[f] || !whole[g] || mesh.cornerVertex[a] === mesh.cornerVertex[b]) continue;
    const joined2 = same(a, nextCorner(mesh, g, b)) && same(nextCorner(mesh, f, a), b);
    if (!joined2) seam[e] = 1;
    else if (!marked[e]) seam[e] = 0;
  }
}
function unfoldAll(mesh, ch, pins, progress, auto) {
  const t = triangulate(mesh);
  const triStart = new Uint32Array(mesh.faceCount + 1);
  for (const f of t.face) triStart[f + 1]++;
  for (let f = 0; f < mesh.faceCount; f++) triStart[f + 1] += triStart[f];
  const byChart = facesByChart(ch);
  const shapes = chartShapes(mesh, ch);
  const number = new Int32Array(ch.uvCount).fill(-1);
  const out = [];
  for (let k = 0; k < ch.count; k++) {
    if ((k & EVERY) === 0) pulse();
    const faces = byChart.face.slice(byChart.start[k], byChart.start[k + 1]);
    let triangles = 0;
    for (const f of faces) triangles += triStart[f + 1] - triStart[f];
    const tri = new Uint32Array(3 * triangles);
    const uvs = [];
    const vertex = [];
    const pinAt = /* @__PURE__ */ new Map();
    let n = 0;
    let corners = 0;
    let pinned = 0;
    for (const f of faces) {
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const u = ch.cornerUv[c];
        if (number[u] < 0) {
          number[u] = uvs.length;
          uvs.push(u);
          vertex.push(mesh.cornerVertex[c]);
        }
        corners++;
        const at = pins?.get(c);
        if (at) {
          pinned++;
          pinAt.set(number[u], at);
        }
      }
      for (let i = triStart[f]; i < triStart[f + 1]; i++)
        for (let q = 0; q < 3; q++) tri[n++] = number[ch.cornerUv[t.corners[3 * i + q]]];
    }
    const p3 = new Float64Array(3 * vertex.length);
    for (let i = 0; i < vertex.length; i++)
      for (let q = 0; q < 3; q++) p3[3 * i + q] = mesh.positions[3 * vertex[i] + q];
    const held = pinned > 0 && 2 * pinned >= corners;
    const scaled = (p) => {
      const a = areas(p3, p, tri);
      if (a.uv > 0) {
        const k2 = sqrt13(a.surface / a.uv);
        for (let i = 0; i < p.length; i++) p[i] *= k2;
      }
      return p;
    };
    const solved = held ? scaled(conformal({ points: p3, triangles: tri }) ?? projected(p3)) : new Float64Array(0);
    const before = held ? void 0 : laidBefore(mesh, ch, faces, uvs, auto, number);
    const points = before ?? (held && pinAt.size === uvs.length ? fromPins(pinAt) : conformal({ points: p3, triangles: tri, pins: held ? pinAt : void 0 })) ?? projected(p3);
    const sums = areas(p3, points, tri);
    if (!held && sums.uv > 0) {
      const s = sqrt13(sums.surface / sums.uv);
      for (let i = 0; i < points.length; i++) points[i] *= s;
    }
    out.push({
      faces,
      points,
      surface: p3,
      solved,
      triangles: tri,
      uvVertices: Uint32Array.from(uvs),
      held,
      scaleOfHeld: held && sums.surface > 0 ? sqrt13(sums.uv / sums.surface) : 0,
      solvedBefore: before !== void 0,
      needsLink: !held && shapes[k].borders > 1 && sums.spread > 2
    });
    progress?.((k + 1) / ch.count);
  }
  return out;
}
function laidBefore(mesh, ch, faces, uvs, auto, number) {
  const island = auto?.of[faces[0]] ?? -1;
  if (!auto || island < 0 || auto.faces[island] !== faces.length) return void 0;
  const out = new Float64Array(2 * uvs.length);
  for (const f of faces) {
    if (auto.of[f] !== island) return void 0;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const v = number[ch.cornerUv[c]];
      out[2 * v] = auto.uv[2 * c];
      out[2 * v + 1] = auto.uv[2 * c + 1];
    }
  }
  return out;
}
function fromPins(pins) {
  const out = new Float64Array(2 * pins.size);
  for (const [i, [u, v]] of pins) {
    out[2 * i] = u;
    out[2 * i + 1] = v;
  }
  return out;
}
function projected(p) {
  const size = [0, 1, 2].map((k) => {
    let lo = Infinity;
    let hi = -Infinity;
    for (let i = k; i < p.length; i += 3) {
      lo = min15(lo, p[i]);
      hi = max16(hi, p[i]);
    }
    return hi - lo;
  });
  const drop = size.indexOf(min15(...size));
  const a = (drop + 1) % 3;
  const b = (drop + 2) % 3;
  const out = new Float64Array(p.length / 3 * 2);
  for (let i = 0; i < p.length / 3; i++) {
    if ((i & EVERY) === 0) pulse();
    out[2 * i] = p[3 * i + a];
    out[2 * i + 1] = p[3 * i + b];
  }
  return out;
}
function areas(p, uv, tri) {
  let surface = 0;
  let flat = 0;
  let lo = Infinity;
  let hi = 0;
  for (let t = 0; t < tri.length; t += 3) {
    const a = tri[t];
    const b = tri[t + 1];
    const c = tri[t + 2];
    const ux = p[3 * b] - p[3 * a];
    const uy = p[3 * b + 1] - p[3 * a + 1];
    const uz = p[3 * b + 2] - p[3 * a + 2];
    const vx = p[3 * c] - p[3 * a];
    const vy = p[3 * c + 1] - p[3 * a + 1];
    const vz = p[3 * c + 2] - p[3 * a + 2];
    const s = hypot6(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
    const f = abs13(
      (uv[2 * b] - uv[2 * a]) * (uv[2 * c + 1] - uv[2 * a + 1]) - (uv[2 * b + 1] - uv[2 * a + 1]) * (uv[2 * c] - uv[2 * a])
    ) / 2;
    surface += s;
    flat += f;
    if (s > 0) {
      const r = sqrt13(f / s);
      lo = min15(lo, r);
      hi = max16(hi, r);
    }
  }
  return { surface, uv: flat, spread: lo > 0 ? hi / lo : Infinity };
}

// src/core/uv/raster.ts
var { ceil: ceil4, floor: floor4, max: max17, min: min16, round: round3 } = Math;
var SUB = 256;
var MOST_REACH = 2 ** 30;
function fillTriangle(ax, ay, bx, by, cx, cy, width, height2, span) {
  let x0 = round3(ax * SUB);
  let y0 = round3(ay * SUB);
  let x1 = round3(bx * SUB);
  let y1 = round3(by * SUB);
  const x2 = round3(cx * SUB);
  const y2 = round3(cy * SUB);
  const area = (x1 - x0) * (y2 - y0) - (y1 - y0) * (x2 - x0);
  const reach = max17(x0, x1, x2, y0, y1, y2, -x0, -x1, -x2, -y0, -y1, -y2);
  if (area === 0 || !(reach < MOST_REACH)) return;
  if (area < 0) {
    let q = x0;
    x0 = x1;
    x1 = q;
    q = y0;
    y0 = y1;
    y1 = q;
  }
  const xs = [x0, x1, x2, x0];
  const ys = [y0, y1, y2, y0];
  const minY = max17(0, ceil4((min16(y0, y1, y2) - SUB / 2) / SUB));
  const maxY = min16(height2 - 1, floor4((max17(y0, y1, y2) - SUB / 2) / SUB));
  for (let y = minY; y <= maxY; y++) {
    const py = y * SUB + SUB / 2;
    let lo = -Infinity;
    let hi = Infinity;
    for (let k = 0; k < 3; k++) {
      const px = xs[k];
      const qx = xs[k + 1];
      const pY = ys[k];
      const qY = ys[k + 1];
      const dx = qx - px;
      const dy = qY - pY;
      const owns = dy < 0 || dy === 0 && dx > 0;
      const c = dx * (py - pY) + dy * px;
      if (dy === 0) {
        if (c < 0 || c === 0 && !owns) {
          lo = 1;
          hi = 0;
        }
        continue;
      }
      const at = (c / dy - SUB / 2) / SUB;
      if (dy > 0) {
        let b = floor4(at);
        while (edge(c, dy, b + 1, owns)) b++;
        while (!edge(c, dy, b, owns)) b--;
        if (b < hi) hi = b;
      } else {
        let b = ceil4(at);
        while (edge(c, dy, b - 1, owns)) b--;
        while (!edge(c, dy, b, owns)) b++;
        if (b > lo) lo = b;
      }
    }
    if (lo < 0) lo = 0;
    if (hi > width - 1) hi = width - 1;
    if (lo <= hi) span(y, lo, hi);
  }
}
function edge(c, dy, x, owns) {
  const v = c - dy * (x * SUB + SUB / 2);
  return v > 0 || v === 0 && owns;
}

// src/core/uv/measure.ts
var { abs: abs14, hypot: hypot7, max: max18, min: min17, sqrt: sqrt14 } = Math;
var MEASURE_RESOLUTION = 2048;
function uvFigures(mesh, uv, resolution = MEASURE_RESOLUTION, sheets = 1) {
  const t = triangulate(mesh);
  const each = triangleFigures(mesh, uv, t);
  let area = 0;
  let sum = 0;
  let max19 = 1;
  let lo = Infinity;
  let hi = 0;
  const faceArea = new Float64Array(mesh.faceCount);
  const faceUv = new Float64Array(mesh.faceCount);
  for (let i = 0; i < t.face.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const a = each.area[i];
    faceArea[t.face[i]] += a;
    faceUv[t.face[i]] += each.uvArea[i];
    if (!(a > 1e-14) || !Number.isFinite(each.stretch[i])) continue;
    area += a;
    sum += a * each.stretch[i];
    if (each.stretch[i] > max19) max19 = each.stretch[i];
  }
  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    if (!(faceArea[f] > 1e-14)) continue;
    const d = sqrt14(abs14(faceUv[f]) / faceArea[f]);
    if (d < lo) lo = d;
    if (d > hi) hi = d;
  }
  const cover = coverageOf(uv, t, resolution, sheets);
  const islands = islandsOf(mesh, uv);
  return {
    islands: islands.count,
    ...cover,
    stretchMean: area > 0 ? sum / area : 1,
    stretchMax: max19,
    flips: flipsOf(islands.ofFace, t, each),
    texelDensityMin: Number.isFinite(lo) ? lo : 0,
    texelDensityMax: hi
  };
}
function flipsOf(ofFace, t, { area, uvArea }) {
  const sides = /* @__PURE__ */ new Map();
  for (let i = 0; i < t.face.length; i++) {
    if (!(area[i] > 1e-14) || uvArea[i] === 0) continue;
    const k = ofFace[t.face[i]];
    let count2 = sides.get(k);
    if (!count2) sides.set(k, count2 = [0, 0]);
    count2[uvArea[i] > 0 ? 0 : 1]++;
  }
  let flips = 0;
  for (const [up, down] of sides.values()) flips += min17(up, down);
  return flips;
}
function triangleFigures(mesh, uv, t) {
  const n = t.face.length;
  const p = mesh.positions;
  const area = new Float64Array(n);
  const uvArea = new Float64Array(n);
  const stretch = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    if ((i & EVERY) === 0) pulse();
    const ca = t.corners[3 * i];
    const cb = t.corners[3 * i + 1];
    const cc = t.corners[3 * i + 2];
    const a = 3 * mesh.cornerVertex[ca];
    const b = 3 * mesh.cornerVertex[cb];
    const c = 3 * mesh.cornerVertex[cc];
    const ex = p[b] - p[a];
    const ey = p[b + 1] - p[a + 1];
    const ez = p[b + 2] - p[a + 2];
    const fx = p[c] - p[a];
    const fy = p[c + 1] - p[a + 1];
    const fz = p[c + 2] - p[a + 2];
    const cross = hypot7(ey * fz - ez * fy, ez * fx - ex * fz, ex * fy - ey * fx);
    area[i] = cross / 2;
    const l = hypot7(ex, ey, ez);
    const u1 = uv[2 * cb] - uv[2 * ca];
    const v1 = uv[2 * cb + 1] - uv[2 * ca + 1];
    const u2 = uv[2 * cc] - uv[2 * ca];
    const v2 = uv[2 * cc + 1] - uv[2 * ca + 1];
    uvArea[i] = (u1 * v2 - v1 * u2) / 2;
    if (!(cross > 0) || !(l > 0)) {
      stretch[i] = 1;
      continue;
    }
    const g = (ex * fx + ey * fy + ez * fz) / l;
    const h = cross / l;
    const m00 = u1 / l;
    const m10 = v1 / l;
    const m01 = (u2 - m00 * g) / h;
    const m11 = (v2 - m10 * g) / h;
    const q = (m00 * m00 + m10 * m10 + m01 * m01 + m11 * m11) / 2;
    const det = abs14(m00 * m11 - m01 * m10);
    const r = sqrt14(max18(0, q * q - det * det));
    const small = q - r > 1e-12 * q ? sqrt14(q - r) : det / sqrt14(q + r || 1);
    stretch[i] = small > 0 ? sqrt14(q + r) / small : Infinity;
  }
  return { area, uvArea, stretch };
}
function islandsOf(mesh, uv) {
  const t = topologyOf(mesh);
  const joined2 = new UnionFind(mesh.faceCount);
  const same = (a, b) => abs14(uv[2 * a] - uv[2 * b]) < 1e-6 && abs14(uv[2 * a + 1] - uv[2 * b + 1]) < 1e-6;
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    const s = t.edgeCornerStart[e];
    const end = t.edgeCornerStart[e + 1];
    for (let i = s + 1; i < end; i++) {
      const a = t.edgeCorner[s];
      const b = t.edgeCorner[i];
      const fa = t.cornerFace[a];
      const fb = t.cornerFace[b];
      const an = nextCorner(mesh, fa, a);
      const bn = nextCorner(mesh, fb, b);
      const turned2 = mesh.cornerVertex[a] !== mesh.cornerVertex[b];
      if (turned2 ? same(a, bn) && same(an, b) : same(a, b) && same(an, bn)) joined2.join(fa, fb);
    }
  }
  const { of, count: count2 } = joined2.parts();
  return { ofFace: of, count: count2 };
}
function coverageOf(uv, t, resolution, sheets = 1) {
  const cells = resolution * resolution;
  const hits = new Uint8Array(cells * sheets);
  let total = 0;
  let inside = 0;
  let base = 0;
  const span = (y, x0, x1) => {
    for (let i = base + y * resolution + x0, end = base + y * resolution + x1; i <= end; i++)
      if (hits[i] < 2) hits[i]++;
  };
  for (let i = 0; i < t.corners.length; i += 3) {
    const [a, b, c] = [2 * t.corners[i], 2 * t.corners[i + 1], 2 * t.corners[i + 2]];
    const sheet = sheets > 1 ? min17(sheets - 1, max18(0, Math.floor((uv[a] + uv[b] + uv[c]) / 3))) : 0;
    const [ax, ay, bx, by] = [uv[a] - sheet, uv[a + 1], uv[b] - sheet, uv[b + 1]];
    const [cx, cy] = [uv[c] - sheet, uv[c + 1]];
    const area = abs14((bx - ax) * (cy - ay) - (by - ay) * (cx - ax)) / 2;
    if (!Number.isFinite(area)) continue;
    total += area;
    const within = min17(ax, ay, bx, by, cx, cy) >= 0 && max18(ax, ay, bx, by, cx, cy) <= 1;
    inside += within ? area : clippedArea([ax, ay, bx, by, cx, cy]);
    base = sheet * cells;
    const r = resolution;
    fillTriangle(ax * r, ay * r, bx * r, by * r, cx * r, cy * r, r, r, span);
  }
  let covered = 0;
  let double = 0;
  for (const h of hits) {
    if (h > 0) covered++;
    if (h > 1) double++;
  }
  const n = hits.length;
  return { coverage: covered / n, overlap: double / n, outside: max18(0, total - inside) };
}
function clippedArea(polygon) {
  let now = polygon;
  for (let side = 0; side < 4 && now.length; side++) {
    const k = side & 1;
    const high = side > 1;
    const out = [];
    const d = (i) => high ? 1 - now[2 * i + k] : now[2 * i + k];
    for (let i = 0, n = now.length / 2; i < n; i++) {
      const j = (i + 1) % n;
      const a = d(i);
      const b = d(j);
      if (a >= 0) out.push(now[2 * i], now[2 * i + 1]);
      if (a * b < 0) {
        const s = a / (a - b);
        out.push(now[2 * i] + (now[2 * j] - now[2 * i]) * s, now[2 * i + 1] + (now[2 * j + 1] - now[2 * i + 1]) * s);
      }
    }
    now = out;
  }
  let sum = 0;
  for (let i = 0, n = now.length / 2; i < n; i++) {
    if ((i & EVERY) === 0) pulse();
    const j = (i + 1) % n;
    sum += now[2 * i] * now[2 * j + 1] - now[2 * j] * now[2 * i + 1];
  }
  return abs14(sum) / 2;
}

// ../../tmp/pk.ts
var O = { cut: /* @__PURE__ */ new Set(), hold: /* @__PURE__ */ new Set(), seamAngle: Math.PI / 3, stretch: 1.3, size: 1024, padding: 4, density: 0, turn: true };
for (const a of process.argv.slice(2)) {
  const [name, n] = a.split(":");
  const m = organic_exports[name](+n);
  for (let i = 0; i < 2; i++) {
    TIME.ms = 0;
    const t = performance.now();
    const out = unwrapMesh(m, O);
    const ms = performance.now() - t;
    const f = uvFigures(out.mesh, out.mesh.attributes.uv.data);
    console.log(a, m.faceCount, "all", ms.toFixed(0), "pack", TIME.ms.toFixed(0), TIME.log, "islands", f.islands, "fill", (100 * f.coverage).toFixed(1));
  }
}
