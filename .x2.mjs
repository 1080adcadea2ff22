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
  const run = (count, role) => () => {
    const keys = new Float64Array(count);
    const base = key2(seed, role);
    for (let i = 0; i < count; i++) keys[i] = key2(base, i);
    return keys;
  };
  return { vertexKey: run(vertices, 1), faceKey: run(faces, 2) };
}

// src/core/mesh/bounds.ts
function boundsOfPoints(positions, points) {
  if (points.length === 0) return null;
  const min6 = [Infinity, Infinity, Infinity];
  const max7 = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < points.length; i++)
    for (let k = 0; k < 3; k++) {
      const x = positions[3 * points[i] + k];
      if (x < min6[k]) min6[k] = x;
      if (x > max7[k]) max7[k] = x;
    }
  return { min: min6, max: max7 };
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
    const p2 = this.whereabouts.get();
    return p2.role.length === this.vertexCount ? p2 : placesInBounds(this.positions);
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
   * With other places for its vertices. Normals that a file brought told how the old surface looked: they go, and are worked out from the new
   * one where they are wanted. Whoever turns them along puts them back. `vertices`: those that are elsewhere, where that is known.
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
  const { vertexKey, faceKey, ...rest2 } = changes;
  return { ...rest2, ...vertexKey ? { vertexKey } : {}, ...faceKey ? { faceKey } : {} };
}
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
function gears(count, seed = 7) {
  const r = thrown(seed);
  const positions = [];
  const faces = [];
  for (let g = 0; g < count; g++) {
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

// src/core/uv/cells.ts
var { abs, acos, ceil, max, min, sqrt } = Math;
var MOST_CELLS = 6e3;
var LEAST_FACES = 4;
var ALIKE = 0.6;
function cellsOf(parting, facts2, soft2) {
  const { mesh, t } = parting;
  const { faceCount, faceStart } = mesh;
  const most = max(LEAST_FACES, ceil(faceCount / MOST_CELLS));
  const of = new Int32Array(faceCount).fill(-1);
  const queue = new Int32Array(faceCount);
  let count = 0;
  const seeds = new Int32Array(2 * faceCount + 1);
  const { normal } = facts2;
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
      of[seed] = count;
      while (read < write) {
        const f = queue[read++];
        for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
          const o = parting.across(c);
          if (o < 0) continue;
          const g = t.cornerFace[o];
          if (of[g] >= 0) continue;
          if (soft2[t.cornerEdge[c]]) {
            if (tail < seeds.length) seeds[tail++] = g;
            continue;
          }
          const like = normal[3 * seed] * normal[3 * g] + normal[3 * seed + 1] * normal[3 * g + 1] + normal[3 * seed + 2] * normal[3 * g + 2];
          if (write < most && like > ALIKE) {
            of[g] = count;
            queue[write++] = g;
          } else if (tail < seeds.length) seeds[tail++] = g;
        }
      }
      count++;
    }
  }
  return measured(parting, facts2, of, count);
}
function measured(parting, facts2, of, count) {
  const { mesh, t } = parting;
  const { positions: p2, faceStart, cornerVertex, faceCount } = mesh;
  const area = new Float64Array(count);
  const normal = new Float64Array(3 * count);
  const centre = new Float64Array(3 * count);
  const faces = new Int32Array(count);
  for (let f = 0; f < faceCount; f++) {
    const i = of[f];
    const a = facts2.area[f];
    area[i] += a;
    faces[i]++;
    for (let k = 0; k < 3; k++) {
      normal[3 * i + k] += a * facts2.normal[3 * f + k];
      centre[3 * i + k] += (a + 1e-30) * facts2.centre[3 * f + k];
    }
  }
  for (let i = 0; i < count; i++) {
    const l = sqrt(normal[3 * i] ** 2 + normal[3 * i + 1] ** 2 + normal[3 * i + 2] ** 2) || 1;
    for (let k = 0; k < 3; k++) {
      normal[3 * i + k] /= l;
      centre[3 * i + k] /= area[i] + 1e-30 * faces[i];
    }
  }
  const { inner: bent, ridge: between, joints } = curvatureOf(parting, of, count);
  const rim = new Float64Array(count);
  const holes = smallHoles(parting);
  holes.at.forEach((c, i) => {
    bent[of[t.cornerFace[c]]] += holes.bent[i];
  });
  const pairs = /* @__PURE__ */ new Map();
  const away = (i, x, y, z) => sqrt((centre[3 * i] - x) ** 2 + (centre[3 * i + 1] - y) ** 2 + (centre[3 * i + 2] - z) ** 2);
  for (let f = 0; f < faceCount; f++)
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const o = parting.across(c);
      if (o >= 0 && (o < c || of[t.cornerFace[o]] === of[f])) continue;
      const a = 3 * cornerVertex[c];
      const b = 3 * cornerVertex[parting.next(c)];
      const long = sqrt((p2[a] - p2[b]) ** 2 + (p2[a + 1] - p2[b + 1]) ** 2 + (p2[a + 2] - p2[b + 2]) ** 2);
      if (o < 0 && holes.small[c]) continue;
      if (o < 0) {
        const off = away(of[f], (p2[a] + p2[b]) / 2, (p2[a + 1] + p2[b + 1]) / 2, (p2[a + 2] + p2[b + 2]) / 2);
        rim[of[f]] += long / (off || long || 1);
        continue;
      }
      const g = t.cornerFace[o];
      const n = normal;
      const [i, j] = [of[f], of[g]];
      const dot = n[3 * i] * n[3 * j] + n[3 * i + 1] * n[3 * j + 1] + n[3 * i + 2] * n[3 * j + 2];
      const name = min(of[f], of[g]) * count + max(of[f], of[g]);
      const had = pairs.get(name);
      const bend = acos(max(-1, min(1, dot))) * long;
      if (had) {
        had[0] += long;
        had[1] += bend;
      } else pairs.set(name, [long, bend]);
    }
  const start = new Int32Array(count + 1);
  for (const name of pairs.keys()) {
    start[Math.floor(name / count) + 1]++;
    start[name % count + 1]++;
  }
  for (let i = 0; i < count; i++) start[i + 1] += start[i];
  const fill = start.slice(0, count);
  const to = new Int32Array(start[count]);
  const lead = new Float64Array(start[count]);
  const longs = new Float64Array(start[count]);
  const bends = new Float64Array(start[count]);
  const ridge = new Float64Array(start[count]);
  for (const [name, [long, bend]] of pairs) {
    const i = Math.floor(name / count);
    const j = name % count;
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
      ridge[at] = (between.get(name) ?? 0) / 2;
    }
  }
  return {
    count,
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
  const { positions: p2, cornerVertex } = parting.mesh;
  const o = 3 * cornerVertex[c];
  const a = 3 * cornerVertex[parting.next(c)];
  const b = 3 * cornerVertex[parting.before(c)];
  const [ax, ay, az] = [p2[a] - p2[o], p2[a + 1] - p2[o + 1], p2[a + 2] - p2[o + 2]];
  const [bx, by, bz] = [p2[b] - p2[o], p2[b + 1] - p2[o + 1], p2[b + 2] - p2[o + 2]];
  const size = (ax * ax + ay * ay + az * az) * (bx * bx + by * by + bz * bz);
  return size > 0 ? acos(max(-1, min(1, (ax * bx + ay * by + az * bz) / sqrt(size)))) : 0;
}
function curvatureOf(parting, of, count) {
  const { mesh, t } = parting;
  const { vertexCount } = mesh;
  const inner = new Float64Array(count);
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
      const name = min(own2[0], own2[1]) * count + max(own2[0], own2[1]);
      ridge.set(name, (ridge.get(name) ?? 0) + lacks);
    } else {
      bent.push(lacks);
      for (const c of own2) members.push(c);
      begins.push(members.length);
    }
  }
  const ofStart = new Int32Array(count + 1);
  for (const c of members) ofStart[c + 1]++;
  for (let i = 0; i < count; i++) ofStart[i + 1] += ofStart[i];
  const fill = ofStart.slice(0, count);
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
var SWEEPS = 60;
var SETTLED = 0.01;
var Foretelling = class {
  constructor(cells2) {
    this.cells = cells2;
    this.u = new Float64Array(cells2.count);
    this.patch = new Int32Array(cells2.count);
    this.load = new Float64Array(cells2.count);
  }
  cells;
  u;
  patch;
  /** Curvature of each cell as a part of the patch that is asked for. */
  load;
  stamp = 0;
  /** Largest over smallest scale that a patch of cells will have; infinite for what is closed. */
  spread(list) {
    const { start, to, lead, rim, bent, ridge, joints } = this.cells;
    const { u, patch, load } = this;
    const own2 = ++this.stamp;
    const n = list.length;
    for (let i = 0; i < n; i++) {
      patch[list[i]] = own2;
      u[list[i]] = 0;
    }
    let open = false;
    for (let i = 0; i < n && !open; i++) {
      const c = list[i];
      if (rim[c] > 0) open = true;
      for (let k = start[c]; k < start[c + 1] && !open; k++) if (patch[to[k]] !== own2) open = true;
    }
    if (!open) return Infinity;
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
    }
    let [lo, hi] = [0, 0];
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
        moved = max(moved, abs(next - u[c]));
        u[c] = next;
      }
      if (moved < SETTLED) break;
    }
    for (let i = 0; i < n; i++) {
      lo = min(lo, u[list[i]]);
      hi = max(hi, u[list[i]]);
    }
    return Math.exp(min(50, hi - lo));
  }
};
var SMALL = 0.04;
var CORNERED = 1.35;
function planned(cells2, o) {
  const { count, start, to, long, bend, facts: facts2 } = cells2;
  const fore2 = new Foretelling(cells2);
  const members = Array.from({ length: count }, (_, i) => [i]);
  const area = facts2.area.slice();
  const near = Array.from({ length: count }, () => /* @__PURE__ */ new Map());
  const whole = wholeAreas(cells2);
  for (let i = 0; i < count; i++)
    for (let k = start[i]; k < start[i + 1]; k++) near[i].set(to[k], [long[k], bend[k] * long[k]]);
  const version = new Int32Array(count);
  const queue = new Queue();
  const offers = [];
  let left = count;
  const offer = (a, b) => {
    const [l, turned] = near[a].get(b);
    const bends = l > 0 ? turned / l : 0;
    const small = min(area[a], area[b]) <= SMALL * whole[a];
    const limit = left > o.islands && o.islands > 0 ? Math.PI : o.bend;
    if (bends > (small ? CORNERED * limit : limit)) return;
    const worth = l / sqrt(min(area[a], area[b]) || 1e-30);
    queue.push(
      offers.push([a, b, version[a], version[b]]) - 1,
      bends * 2 - min(4, worth) + 2 * sqrt((area[a] + area[b]) / (whole[a] || 1))
    );
  };
  for (let i = 0; i < count; i++) for (const j of near[i].keys()) if (i < j) offer(i, j);
  let tried = 0;
  while (queue.size > 0) {
    const [a, b, va, vb] = offers[queue.pop()[0]];
    if (version[a] !== va || version[b] !== vb || !members[a] || !members[b]) continue;
    if ((++tried & 255) === 0) pulse();
    const both = [...members[a], ...members[b]];
    const border = near[a].get(b);
    const most = CORNERED * o.bend * border[0];
    if (o.islands > 0 && left <= o.islands && border[1] > most) continue;
    if (fore2.spread(both) > o.spread) continue;
    const [keep, gone] = members[a].length >= members[b].length ? [a, b] : [b, a];
    members[keep] = both;
    members[gone] = void 0;
    area[keep] += area[gone];
    version[keep]++;
    version[gone]++;
    left--;
    near[keep].delete(gone);
    for (const [c, [l, turned]] of near[gone]) {
      near[c].delete(gone);
      if (c === keep) continue;
      const had = near[keep].get(c);
      const sum = had ? [had[0] + l, had[1] + turned] : [l, turned];
      near[keep].set(c, sum);
      near[c].set(keep, sum);
    }
    for (const c of near[keep].keys()) offer(keep, c);
  }
  const label = new Int32Array(count);
  let n = 0;
  for (const list of members) {
    if (!list) continue;
    for (const c of list) label[c] = n;
    n++;
  }
  return { cells: cells2, label, count: left };
}
function wholeAreas({ count, start, to, facts: facts2 }) {
  const out = new Float64Array(count);
  const seen = new Uint8Array(count);
  for (let i = 0; i < count; i++) {
    if (seen[i]) continue;
    const list = [i];
    seen[i] = 1;
    let sum = 0;
    for (let q = 0; q < list.length; q++) {
      sum += facts2.area[list[q]];
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

// src/core/uv/part.ts
var { abs: abs2, hypot, max: max2, min: min2, sqrt: sqrt2 } = Math;
function faceFacts(mesh) {
  const { faceStart, cornerVertex, positions: p2, faceCount } = mesh;
  const normal = new Float64Array(3 * faceCount);
  const area = new Float64Array(faceCount);
  const centre = new Float64Array(3 * faceCount);
  for (let f = 0; f < faceCount; f++) {
    const s = faceStart[f];
    const e = faceStart[f + 1];
    const o = 3 * cornerVertex[s];
    let [x, y, z, cx, cy, cz] = [0, 0, 0, p2[o], p2[o + 1], p2[o + 2]];
    for (let c = s + 1; c < e; c++) {
      const a = 3 * cornerVertex[c];
      cx += p2[a];
      cy += p2[a + 1];
      cz += p2[a + 2];
      if (c + 1 === e) break;
      const b = 3 * cornerVertex[c + 1];
      const [ux, uy, uz] = [p2[a] - p2[o], p2[a + 1] - p2[o + 1], p2[a + 2] - p2[o + 2]];
      const [wx, wy, wz] = [p2[b] - p2[o], p2[b + 1] - p2[o + 1], p2[b + 2] - p2[o + 2]];
      x += uy * wz - uz * wy;
      y += uz * wx - ux * wz;
      z += ux * wy - uy * wx;
    }
    const long = hypot(x, y, z);
    area[f] = long / 2;
    if (long > 0) normal.set([x / long, y / long, z / long], 3 * f);
    centre.set([cx / (e - s), cy / (e - s), cz / (e - s)], 3 * f);
  }
  return { normal, area, centre };
}

// src/core/mesh/triangulate.ts
import earcut from "earcut";

// src/core/mesh/longpolygon.ts
var { abs: abs3, atan2, PI } = Math;
function longPolygon(flat) {
  const cuts = diagonals(flat);
  if (!cuts) return void 0;
  const n = flat.length / 2;
  const out = new Uint32Array(3 * (n - 2));
  let count = 0;
  let area = 0;
  let whole = true;
  const emit = (a, b, c) => {
    const turn2 = orient(flat, a, b, c);
    area += abs3(turn2);
    if (count === n - 2) whole = false;
    else {
      out[3 * count] = a;
      out[3 * count + 1] = turn2 < 0 ? c : b;
      out[3 * count + 2] = turn2 < 0 ? b : c;
    }
    count++;
  };
  for (const ring of pieces(flat, cuts)) cutMonotone(flat, ring, emit);
  let own2 = 0;
  for (let i = 0, j = n - 1; i < n; j = i++) own2 += flat[2 * j] * flat[2 * i + 1] - flat[2 * i] * flat[2 * j + 1];
  return whole && count === n - 2 && abs3(area - own2) <= 1e-9 * abs3(own2) ? out : void 0;
}
function orient(p2, a, b, c) {
  const x = p2[2 * a];
  const y = p2[2 * a + 1];
  return (p2[2 * b] - x) * (p2[2 * c + 1] - y) - (p2[2 * b + 1] - y) * (p2[2 * c] - x);
}
var isAbove = (p2, a, b) => p2[2 * a + 1] > p2[2 * b + 1] || p2[2 * a + 1] === p2[2 * b + 1] && p2[2 * a] < p2[2 * b];
function diagonals(p2) {
  const n = p2.length / 2;
  const order = Uint32Array.from({ length: n }, (_, i) => i);
  order.sort((a, b) => p2[2 * b + 1] - p2[2 * a + 1] || p2[2 * a] - p2[2 * b]);
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
      if (orient(p2, sides[mid], next(sides[mid]), v) > 0) lo = mid + 1;
      else hi = mid;
    }
    return lo;
  };
  const close = (side2, v) => {
    if (isMerge[helper[side2]]) out.push([v, helper[side2]]);
  };
  const drop = (side2, v) => {
    let i = leftOf(v);
    if (sides[i] !== side2) i = sides.indexOf(side2);
    if (i < 0) return false;
    sides.splice(i, 1);
    return true;
  };
  const put = (side2, v) => {
    sides.splice(leftOf(v), 0, side2);
    helper[side2] = v;
  };
  for (let k = 0; k < n; k++) {
    if ((k & EVERY) === 0) pulse();
    const v = order[k];
    const before = v > 0 ? v - 1 : n - 1;
    const after = next(v);
    const fromAbove = isAbove(p2, before, v);
    const toAbove = isAbove(p2, after, v);
    const convex = orient(p2, before, v, after) > 0;
    if (fromAbove) {
      close(before, v);
      if (!drop(before, v)) return void 0;
    }
    const merges = fromAbove && toAbove && !convex;
    if (!fromAbove && (toAbove || !convex) || merges) {
      const i = leftOf(v) - 1;
      if (i < 0) return void 0;
      const side2 = sides[i];
      if (!fromAbove && !toAbove) out.push([v, helper[side2]]);
      else close(side2, v);
      helper[side2] = v;
      if (merges) isMerge[v] = 1;
    }
    if (!toAbove) put(v, v);
  }
  return out;
}
function* pieces(p2, cuts) {
  const n = p2.length / 2;
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
  const angle = (a, b) => atan2(p2[2 * b + 1] - p2[2 * a + 1], p2[2 * b] - p2[2 * a]);
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
function cutMonotone(p2, ring, emit) {
  const n = ring.length;
  if (n < 3) return;
  let top = 0;
  for (let i2 = 1; i2 < n; i2++) if (isAbove(p2, ring[i2], ring[top])) top = i2;
  const order = new Uint32Array(n);
  const left = new Uint8Array(n);
  order[0] = ring[top];
  let i = (top + 1) % n;
  let j = (top + n - 1) % n;
  for (let k = 1; k < n; k++) {
    const fromLeft = k === n - 1 || isAbove(p2, ring[i], ring[j]);
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
      const turn2 = orient(p2, order[s], order[last2], order[k]);
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
function edgeValence(t, edge) {
  return t.edgeCornerStart[edge + 1] - t.edgeCornerStart[edge];
}

// src/core/mesh/normals.ts
var { acos: acos2, cos, max: max3, min: min3, sqrt: sqrt3 } = Math;
function faceNormals(mesh, scaled = false) {
  const out = new Float32Array(3 * mesh.faceCount);
  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    faceNormal(mesh, f, out, 3 * f, scaled);
  }
  return out;
}
function faceNormal(mesh, f, out, at, scaled = false) {
  const { positions: p2, faceStart, cornerVertex } = mesh;
  const s = faceStart[f];
  const e = faceStart[f + 1];
  let x = 0;
  let y = 0;
  let z = 0;
  const o = 3 * cornerVertex[s];
  const ox = p2[o];
  const oy = p2[o + 1];
  const oz = p2[o + 2];
  for (let c = s + 1; c + 1 < e; c++) {
    const a = 3 * cornerVertex[c];
    const b = 3 * cornerVertex[c + 1];
    const ax = p2[a] - ox;
    const ay = p2[a + 1] - oy;
    const az = p2[a + 2] - oz;
    const bx = p2[b] - ox;
    const by = p2[b + 1] - oy;
    const bz = p2[b + 2] - oz;
    x += ay * bz - az * by;
    y += az * bx - ax * bz;
    z += ax * by - ay * bx;
  }
  const k = scaled ? 0.5 : 1 / (sqrt3(x * x + y * y + z * z) || Infinity);
  out[at] = x * k;
  out[at + 1] = y * k;
  out[at + 2] = z * k;
}

// src/core/mesh/triangulate.ts
var { abs: abs4 } = Math;
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
  const { positions: p2, faceStart, cornerVertex } = mesh;
  const s = faceStart[f];
  const size = faceStart[f + 1] - s;
  const o = 3 * n;
  if (size === 3) {
    corners[o] = s;
    corners[o + 1] = s + 1;
    corners[o + 2] = s + 2;
  } else if (size === 4) {
    const cut = quadCut(
      p2,
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
function quadCut(p2, a, b, c, d) {
  const acx = p2[c] - p2[a];
  const acy = p2[c + 1] - p2[a + 1];
  const acz = p2[c + 2] - p2[a + 2];
  const bdx = p2[d] - p2[b];
  const bdy = p2[d + 1] - p2[b + 1];
  const bdz = p2[d + 2] - p2[b + 2];
  const nx = acy * bdz - acz * bdy;
  const ny = acz * bdx - acx * bdz;
  const nz = acx * bdy - acy * bdx;
  const side2 = (ux, uy, uz, o, q) => {
    const vx = p2[q] - p2[o];
    const vy = p2[q + 1] - p2[o + 1];
    const vz = p2[q + 2] - p2[o + 2];
    return (uy * vz - uz * vy) * nx + (uz * vx - ux * vz) * ny + (ux * vy - uy * vx) * nz;
  };
  const goodAC = side2(acx, acy, acz, a, b) <= 0 && side2(acx, acy, acz, a, d) >= 0;
  const goodBD = side2(bdx, bdy, bdz, b, c) <= 0 && side2(bdx, bdy, bdz, b, a) >= 0;
  if (goodAC !== goodBD) return goodAC ? 0 : 1;
  return acx * acx + acy * acy + acz * acz <= bdx * bdx + bdy * bdy + bdz * bdz ? 0 : 1;
}
function cutPolygon(mesh, f, normal, corners, n) {
  const { positions: p2, cornerVertex, faceStart } = mesh;
  const s = faceStart[f];
  const size = faceStart[f + 1] - s;
  const x = abs4(normal[0]);
  const y = abs4(normal[1]);
  const z = abs4(normal[2]);
  let drop = y >= z ? 1 : 2;
  if (x >= y && x >= z) drop = 0;
  const flip = normal[drop] < 0;
  const iu = (drop + (flip ? 2 : 1)) % 3;
  const iv = (drop + (flip ? 1 : 2)) % 3;
  const flat = new Array(2 * size);
  for (let i = 0; i < size; i++) {
    const v = 3 * cornerVertex[s + i];
    flat[2 * i] = p2[v + iu];
    flat[2 * i + 1] = p2[v + iv];
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
  /** Lists of faces that hang together without crossing a seam or going from one label to another, among some. Relabelled from `first` on. */
  components(faces, first) {
    const { label, mesh } = this;
    const { cornerFace } = this.t;
    const out = [];
    const { seen } = this;
    const stamp = ++this.stamp;
    const stack = [];
    for (let i = 0; i < faces.length; i++) {
      if (seen[faces[i]] === stamp) continue;
      const was = label[faces[i]];
      const found = [];
      stack.push(faces[i]);
      seen[faces[i]] = stamp;
      for (let f = stack.pop(); f !== void 0; f = stack.pop()) {
        found.push(f);
        if ((found.length & EVERY) === 0) pulse();
        for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
          const o = this.across(c);
          const g = o < 0 ? -1 : cornerFace[o];
          if (g >= 0 && seen[g] !== stamp && label[g] === was) {
            seen[g] = stamp;
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

// src/core/math/hermitian.ts
var { max: max4 } = Math;
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
    for (let e = 0; e < this.count; e++) start[max4(position[this.rows[e]], position[this.cols[e]]) + 1]++;
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
    for (let p2 = a.start[k]; p2 < a.start[k + 1]; p2++) {
      for (let i = a.row[p2]; flag[i] !== k; i = parent[i]) {
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
    for (let p2 = a.start[k]; p2 < a.start[k + 1]; p2++) {
      let i = a.row[p2];
      yr[i] += a.re[p2];
      ym[i] += a.im[p2];
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
      for (let p2 = lp[i]; p2 < end; p2++) {
        const r = li[p2];
        yr[r] -= lr[p2] * xr - lm[p2] * xm;
        ym[r] -= lr[p2] * xm + lm[p2] * xr;
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
        for (let p2 = lp[j]; p2 < lp[j + 1]; p2++) {
          const r = li[p2];
          xr[r] -= lr[p2] * xr[j] - lm[p2] * xm[j];
          xm[r] -= lr[p2] * xm[j] + lm[p2] * xr[j];
        }
      for (let j = 0; j < n; j++) {
        if ((j & SOME) === 0) pulse();
        xr[j] /= d[j];
        xm[j] /= d[j];
      }
      for (let j = n - 1; j >= 0; j--)
        for (let p2 = lp[j]; p2 < lp[j + 1]; p2++) {
          const r = li[p2];
          xr[j] -= lr[p2] * xr[r] + lm[p2] * xm[r];
          xm[j] -= lr[p2] * xm[r] - lm[p2] * xr[r];
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
  const side2 = new Int32Array(n).fill(-1);
  let stamp = 0;
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
    const right = ++stamp;
    let rights = 0;
    for (const v of list)
      if (points[3 * v + k] >= middle) {
        side2[v] = right;
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
      if (side2[v] === right) {
        r.push(v);
        continue;
      }
      let touches = false;
      for (let p2 = neighbourStart[v]; p2 < neighbourStart[v + 1] && !touches; p2++)
        touches = side2[neighbour[p2]] === right;
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
var { hypot: hypot2, sqrt: sqrt4 } = Math;
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
  let m2 = 0;
  for (let v = 0; v < n; v++) if (!pinned[v]) index[v] = m2++;
  const out = new Float64Array(2 * n);
  for (let v = 0; v < n; v++)
    if (pinned[v]) {
      out[2 * v] = pinU[v];
      out[2 * v + 1] = pinV[v];
    }
  if (m2 === 0) return out;
  const matrix = new HermitianBuilder(m2, triangles.length);
  const br = new Float64Array(m2);
  const bm = new Float64Array(m2);
  const degree = new Int32Array(m2 + 1);
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
  const start = new Int32Array(m2 + 1);
  for (let i = 0; i < m2; i++) start[i + 1] = start[i] + degree[i];
  const fill = start.slice(0, m2);
  const neighbour = new Int32Array(start[m2]);
  for (let t = 0; t < triangles.length; t += 3)
    for (let e = 0; e < 3; e++) {
      const a = index[triangles[t + e]];
      const b = index[triangles[t + (e + 1) % 3]];
      if (a >= 0 && b >= 0) {
        neighbour[fill[a]++] = b;
        neighbour[fill[b]++] = a;
      }
    }
  const at = new Float64Array(3 * m2);
  for (let v = 0; v < n; v++) if (index[v] >= 0) for (let k = 0; k < 3; k++) at[3 * index[v] + k] = points[3 * v + k];
  const factor = factorHermitian(matrix, dissectionOrder(m2, at, start, neighbour));
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
function cotangents(p2, i, j, k) {
  const cot = (o, a2, b2) => {
    const ax = p2[3 * a2] - p2[3 * o];
    const ay = p2[3 * a2 + 1] - p2[3 * o + 1];
    const az = p2[3 * a2 + 2] - p2[3 * o + 2];
    const bx = p2[3 * b2] - p2[3 * o];
    const by = p2[3 * b2 + 1] - p2[3 * o + 1];
    const bz = p2[3 * b2 + 2] - p2[3 * o + 2];
    const x = ay * bz - az * by;
    const y = az * bx - ax * bz;
    const z = ax * by - ay * bx;
    const cross = sqrt4(x * x + y * y + z * z);
    const dot = ax * bx + ay * by + az * bz;
    return cross > 1e-9 * sqrt4((ax * ax + ay * ay + az * az) * (bx * bx + by * by + bz * bz)) ? dot / cross : NaN;
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
      const d = hypot2(
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
var { abs: abs5, max: max5, min: min4, sqrt: sqrt5 } = Math;
var THIN = 1e-7;
function restOf({ points: p2, triangles }) {
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
    const ex = p2[b] - p2[a];
    const ey = p2[b + 1] - p2[a + 1];
    const ez = p2[b + 2] - p2[a + 2];
    const fx = p2[c] - p2[a];
    const fy = p2[c + 1] - p2[a + 1];
    const fz = p2[c + 2] - p2[a + 2];
    const [x, y, z] = [ey * fz - ez * fy, ez * fx - ex * fz, ex * fy - ey * fx];
    const cross = sqrt5(x * x + y * y + z * z);
    const long = sqrt5(ex * ex + ey * ey + ez * ez);
    const most = max5(long, sqrt5(fx * fx + fy * fy + fz * fz));
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
function flatnessOf({ triangles }, rest2, uv, bound) {
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
    if (!(rest2.area[i] > 0)) continue;
    if (!(det2 > 0)) {
      flips++;
      drawn[i] = Infinity;
      continue;
    }
    flat += det2 / 2;
    const m00 = u1 / rest2.l[i];
    const m10 = v1 / rest2.l[i];
    const m01 = (u2 - m00 * rest2.g[i]) / rest2.h[i];
    const m11 = (v2 - m10 * rest2.g[i]) / rest2.h[i];
    const q = (m00 * m00 + m10 * m10 + m01 * m01 + m11 * m11) / 2;
    const det = m00 * m11 - m01 * m10;
    const big = q + sqrt5(max5(0, q * q - det * det));
    drawn[i] = big / det;
    scales[i] = sqrt5(det);
  }
  const { total } = rest2;
  const around = total > 0 && flat > 0 ? sqrt5(flat / total) : 1;
  const bins = new Float64Array(BINS);
  let mean = 0;
  let off = 0;
  for (let i = 0; i < n; i++) {
    if (!(rest2.area[i] > 0)) continue;
    if (drawn[i] > bound) off += rest2.area[i];
    if (drawn[i] === Infinity) continue;
    mean += rest2.area[i] * min4(drawn[i], 100);
    const at = (Math.log(scales[i] / around) / REACH + 1) * (BINS / 2);
    bins[max5(0, min4(BINS - 1, Math.floor(at)))] += rest2.area[i];
  }
  const edge = (from, step) => {
    let sum = 0;
    let k = from;
    for (; k >= 0 && k < BINS; k += step) {
      sum += bins[k];
      if (sum > TAIL * total) break;
    }
    return around * Math.exp(REACH * ((2 * k + 1) / BINS - 1));
  };
  const lo = edge(0, 1);
  const hi = edge(BINS - 1, -1);
  const scale = sqrt5(lo * hi);
  for (let i = 0; i < n; i++)
    if (rest2.area[i] > 0 && drawn[i] <= bound && (scales[i] > scale * bound || scales[i] < scale / bound))
      off += rest2.area[i];
  return { flips, beyond: total > 0 ? off / total : 0, spread: hi / lo, mean: total > 0 ? mean / total : 1, scale };
}
function turn(ax, ay, bx, by, cx, cy) {
  const left = (ax - cx) * (by - cy);
  const right = (ay - cy) * (bx - cx);
  const det = left - right;
  return abs5(det) >= 33306690738754716e-32 * (abs5(left) + abs5(right)) ? det : turnExactly(ax, ay, bx, by, cx, cy);
}
var SPLIT = 134217729;
function product(x, y) {
  const p2 = x * y;
  const cx = SPLIT * x;
  const xh = cx - (cx - x);
  const xl = x - xh;
  const cy = SPLIT * y;
  const yh = cy - (cy - y);
  const yl = y - yh;
  return [p2, xl * yl - (p2 - xh * yh - xl * yh - xh * yl)];
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
    x0 = min4(x0, uv[2 * v]);
    x1 = max5(x1, uv[2 * v]);
    y0 = min4(y0, uv[2 * v + 1]);
    y1 = max5(y1, uv[2 * v + 1]);
  }
  if (!(x1 - x0 < Infinity && y1 - y0 < Infinity)) return true;
  const n = max5(1, min4(1024, Math.ceil(sqrt5(sides))));
  const wide = (x1 - x0 || 1) * (1 + 1e-9);
  const high = (y1 - y0 || 1) * (1 + 1e-9);
  const column = (x) => Math.floor((x - x0) / wide * n);
  const row = (y) => Math.floor((y - y0) / high * n);
  const cells2 = /* @__PURE__ */ new Map();
  for (let s = 0; s < sides; s++) {
    if ((s & EVERY) === 0) pulse();
    const a = rim[2 * s];
    const b = rim[2 * s + 1];
    const [ax, ay, bx, by] = [uv[2 * a], uv[2 * a + 1], uv[2 * b], uv[2 * b + 1]];
    const [ca, cb] = [column(min4(ax, bx)), column(max5(ax, bx))];
    const [ra, rb] = [row(min4(ay, by)), row(max5(ay, by))];
    for (let i = ca; i <= cb; i++)
      for (let j = ra; j <= rb; j++) {
        const name = i * 2048 + j;
        const list = cells2.get(name);
        if (!list) {
          cells2.set(name, [s]);
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
  return max5(min4(ax, bx), min4(cx, dx)) <= min4(max5(ax, bx), max5(cx, dx)) && max5(min4(ay, by), min4(cy, dy)) <= min4(max5(ay, by), max5(cy, dy));
}

// src/core/math/exact.ts
var { abs: abs6, floor, sqrt: sqrt6 } = Math;
var PIO2_1 = 1.5707963267341256;
var PIO2_1T = 6077100506506192e-26;
function kernelSin(x) {
  const z = x * x;
  const r = 0.00833333333332249 + z * (-1984126982985795e-19 + z * (27557313707070068e-22 + z * (-25050760253406863e-24 + z * 158969099521155e-24)));
  return x + z * x * (-0.16666666666666632 + z * r);
}
function kernelCos(x) {
  const z = x * x;
  const r = z * (0.0416666666666666 + z * (-0.001388888888887411 + z * (2480158728947673e-20 + z * (-27557314351390663e-23 + z * (2087572321298175e-24 + z * -11359647557788195e-27)))));
  const half = 0.5 * z;
  const w = 1 - half;
  return w + (1 - w - half + z * r);
}
var quarters = (x) => floor(x * 0.6366197723675814 + 0.5);
var rest = (x, n) => x - n * PIO2_1 - n * PIO2_1T;
function sin(x) {
  if (x < 0.78 && x > -0.78) return kernelSin(x);
  const n = quarters(x);
  const r = rest(x, n);
  const q = n & 3;
  if (q === 0) return kernelSin(r);
  if (q === 1) return kernelCos(r);
  return q === 2 ? -kernelSin(r) : -kernelCos(r);
}
function cos2(x) {
  if (x < 0.78 && x > -0.78) return kernelCos(x);
  const n = quarters(x);
  const r = rest(x, n);
  const q = n & 3;
  if (q === 0) return kernelCos(r);
  if (q === 1) return -kernelSin(r);
  return q === 2 ? -kernelCos(r) : kernelSin(r);
}

// src/core/uv/refine.ts
var { abs: abs7, max: max6, min: min5, sqrt: sqrt7 } = Math;
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
function weigh(triangles, rest2, side2) {
  const add = (a, b, w) => side2(a, b, min5(MOST2, max6(LEAST, w)));
  for (let i = 0; i < triangles.length / 3; i++) {
    const [a, b, c] = [triangles[3 * i], triangles[3 * i + 1], triangles[3 * i + 2]];
    const [l, g, h] = [rest2.l[i], rest2.g[i], rest2.h[i]];
    if (!(rest2.area[i] > 0)) {
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
function laplacian({ points, triangles }, rest2) {
  const n = points.length / 3;
  const m2 = new HermitianBuilder(n, triangles.length);
  weigh(triangles, rest2, (a, b, w) => {
    m2.diagonal[a] += w;
    m2.diagonal[b] += w;
    m2.add(a, b, -w, 0);
  });
  for (let v = 0; v < n; v++) m2.diagonal[v] += 1e-5;
  const { start, list } = neighboursOf(n, triangles);
  return factorHermitian(m2, dissectionOrder(n, points, start, list));
}
function energy(triangles, rest2, uv) {
  let sum = 0;
  for (let i = 0; i < triangles.length / 3; i++) {
    const w = rest2.area[i];
    if (!(w > 0)) continue;
    const a = 2 * triangles[3 * i];
    const b = 2 * triangles[3 * i + 1];
    const c = 2 * triangles[3 * i + 2];
    const m00 = (uv[b] - uv[a]) / rest2.l[i];
    const m10 = (uv[b + 1] - uv[a + 1]) / rest2.l[i];
    const m01 = (uv[c] - uv[a] - m00 * rest2.g[i]) / rest2.h[i];
    const m11 = (uv[c + 1] - uv[a + 1] - m10 * rest2.g[i]) / rest2.h[i];
    const det = m00 * m11 - m01 * m10;
    if (!(det > 0)) return Infinity;
    const q = m00 * m00 + m10 * m10 + m01 * m01 + m11 * m11;
    sum += w * q * (1 + 1 / (det * det));
  }
  return sum;
}
function descent(triangles, rest2, uv, x, y) {
  x.fill(0);
  y.fill(0);
  for (let i = 0; i < triangles.length / 3; i++) {
    const w = rest2.area[i];
    if (!(w > 0)) continue;
    const [va, vb, vc] = [triangles[3 * i], triangles[3 * i + 1], triangles[3 * i + 2]];
    const [a, b, c] = [2 * va, 2 * vb, 2 * vc];
    const [l, g, h] = [rest2.l[i], rest2.g[i], rest2.h[i]];
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
  if (abs7(c2) < 1e-14 * (abs7(c1) + c0)) return c1 < 0 ? -c0 / c1 : Infinity;
  const d = c1 * c1 - 4 * c2 * c0;
  if (d < 0) return Infinity;
  const q = -0.5 * (c1 + (c1 < 0 ? -1 : 1) * sqrt7(d));
  const [r1, r2] = [q / c2, q === 0 ? Infinity : c0 / q];
  const [a, b] = [min5(r1, r2), max6(r1, r2)];
  if (a > 0) return a;
  return b > 0 ? b : Infinity;
}
var HALVINGS = 20;
function refine(patch, rest2, uv, rounds, enough) {
  const { triangles } = patch;
  const n = uv.length / 2;
  const factor = laplacian(patch, rest2);
  if (!factor) return 0;
  toScale(triangles, rest2, uv);
  let now = energy(triangles, rest2, uv);
  if (!Number.isFinite(now)) return 0;
  let step = 1 / 8;
  const x = new Float64Array(n);
  const y = new Float64Array(n);
  const next = new Float64Array(2 * n);
  for (let round = 1; round <= rounds; round++) {
    pulse();
    descent(triangles, rest2, uv, x, y);
    let slope = 0;
    const gx = x.slice();
    const gy = y.slice();
    factor.solve(x, y);
    for (let v = 0; v < n; v++) slope += gx[v] * x[v] + gy[v] * y[v];
    let t = min5(2 * step, 0.8 * farthest(triangles, uv, x, y));
    let better = Infinity;
    for (let k = 0; k < HALVINGS; k++, t /= 2) {
      for (let v = 0; v < n; v++) {
        next[2 * v] = uv[2 * v] + t * x[v];
        next[2 * v + 1] = uv[2 * v + 1] + t * y[v];
      }
      better = energy(triangles, rest2, next);
      if (better <= now - 1e-4 * t * slope) break;
    }
    if (!(better < now)) return round;
    step = t;
    uv.set(next);
    const gained = (now - better) / now;
    now = better;
    if (enough(round) || gained < 1e-6) return round;
  }
  return rounds;
}
function toScale(triangles, rest2, uv) {
  let flat = 0;
  for (let i = 0; i < triangles.length / 3; i++) {
    if (!(rest2.area[i] > 0)) continue;
    const [a, b, c] = [2 * triangles[3 * i], 2 * triangles[3 * i + 1], 2 * triangles[3 * i + 2]];
    flat += ((uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[b + 1] - uv[a + 1]) * (uv[c] - uv[a])) / 2;
  }
  const k = flat > 0 ? sqrt7(rest2.total / flat) : 1;
  for (let i = 0; i < uv.length; i++) uv[i] *= k;
}
function tutte(patch, rest2, uv) {
  const { points, triangles, rim } = patch;
  const n = points.length / 3;
  const out = uv ? uv.slice() : new Float64Array(2 * n);
  if (patch.borders !== 1 || patch.euler !== 1) return void 0;
  const held = new Uint8Array(n);
  for (const v of rim) held[v] = 1;
  if (!uv && !onCircle(rim, points, out)) return void 0;
  const index = new Int32Array(n).fill(-1);
  let m2 = 0;
  for (let v = 0; v < n; v++) if (!held[v]) index[v] = m2++;
  if (m2 === 0) return out;
  const matrix = new HermitianBuilder(m2, triangles.length);
  const x = new Float64Array(m2);
  const y = new Float64Array(m2);
  weigh(triangles, rest2, (a, b, w) => {
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
  const at = new Float64Array(3 * m2);
  for (let v = 0; v < n; v++) if (index[v] >= 0) at.set(points.subarray(3 * v, 3 * v + 3), 3 * index[v]);
  const own2 = [];
  for (let t = 0; t < triangles.length; t += 3) {
    const k = [index[triangles[t]], index[triangles[t + 1]], index[triangles[t + 2]]];
    if (k[0] >= 0 && k[1] >= 0) own2.push(k[0], k[1]);
    if (k[1] >= 0 && k[2] >= 0) own2.push(k[1], k[2]);
    if (k[2] >= 0 && k[0] >= 0) own2.push(k[2], k[0]);
  }
  const { start, list } = pairsByVertex(m2, own2);
  const factor = factorHermitian(matrix, dissectionOrder(m2, at, start, list));
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
  let all2 = 0;
  for (let v = rim[0]; ring.length < next.size; ) {
    const to = next.get(v);
    if (to === void 0) return false;
    ring.push(v);
    const long = Math.hypot(...[0, 1, 2].map((k) => points[3 * to + k] - points[3 * v + k]));
    lengths.push(long);
    all2 += long;
    v = to;
  }
  const least = all2 > 0 ? all2 / ring.length / 100 : 1;
  const whole = lengths.reduce((sum, x) => sum + max6(x, least), 0);
  let at = 0;
  ring.forEach((v, i) => {
    const a = 2 * Math.PI * at / whole;
    out[2 * v] = cos2(a);
    out[2 * v + 1] = sin(a);
    at += max6(lengths[i], least);
  });
  return true;
}

// src/core/uv/layflat.ts
var SPARE = 3e-3;
var HOPELESS = 1.9;
var ROUNDS = 12;
var ROUNDS_FROM_CIRCLE = 40;
function layFlat(given, bound, hard2 = false) {
  const patch = filled(given);
  const rest2 = restOf(patch);
  if (!(rest2.total > 0)) {
    const uv2 = flattened(given.points);
    return { uv: uv2, rest: rest2, figures: { flips: 0, beyond: 0, spread: 1, mean: 1, scale: 1 }, good: true, sound: true };
  }
  const own2 = given === patch ? rest2 : restOf(given);
  const judge = (uv2) => flatnessOf(given, own2, uv2, bound);
  let uv = conformal({ points: patch.points, triangles: patch.triangles }) ?? flattened(patch.points);
  let figures = judge(uv);
  const fits = () => figures.flips === 0 && figures.beyond <= SPARE;
  const folds = (at) => flipsFrom(patch, rest2, at, given.triangles.length);
  const turned = figures.flips + folds(uv);
  if (turned > 0 && (hard2 || turned * 3 * 15 < patch.triangles.length)) {
    const mended = tutte(patch, rest2, uv);
    const now = mended && judge(mended);
    if (mended && now && now.flips + folds(mended) < turned) {
      uv = mended;
      figures = now;
    }
  }
  if (figures.flips > 0 && hard2) {
    const round = tutte(patch, rest2);
    const now = round && judge(round);
    if (round && now && now.flips === 0) {
      uv = round;
      refine(patch, rest2, uv, ROUNDS_FROM_CIRCLE, (k) => {
        if (k % 4 !== 0) return false;
        figures = judge(uv);
        return fits();
      });
      figures = judge(uv);
    }
  }
  if (figures.flips === 0 && !fits() && (hard2 || figures.spread < HOPELESS * bound * bound)) {
    refine(patch, rest2, uv, ROUNDS, () => {
      figures = judge(uv);
      return fits();
    });
    figures = judge(uv);
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
function flipsFrom({ triangles }, rest2, uv, first) {
  let flips = 0;
  for (let t = first; t < triangles.length; t += 3) {
    const [a, b, c] = [2 * triangles[t], 2 * triangles[t + 1], 2 * triangles[t + 2]];
    const det = (uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[b + 1] - uv[a + 1]) * (uv[c] - uv[a]);
    if (rest2.area[t / 3] > 0 && !(det > 0)) flips++;
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
function flattened(p2) {
  const lo = [Infinity, Infinity, Infinity];
  const hi = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < p2.length; i++) {
    lo[i % 3] = Math.min(lo[i % 3], p2[i]);
    hi[i % 3] = Math.max(hi[i % 3], p2[i]);
  }
  const size = lo.map((x, k) => hi[k] - x);
  const drop = size.indexOf(Math.min(...size));
  const out = new Float64Array(2 * p2.length / 3);
  for (let v = 0; v < p2.length / 3; v++) {
    out[2 * v] = p2[3 * v + (drop + 1) % 3];
    out[2 * v + 1] = p2[3 * v + (drop + 2) % 3];
  }
  return out;
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

// ../../tmp/g.ts
var m = gears(1);
var hard = seamEdges(m, { cut: /* @__PURE__ */ new Set(), hold: /* @__PURE__ */ new Set(), angle: Infinity });
var all = seamEdges(m, { cut: /* @__PURE__ */ new Set(), hold: /* @__PURE__ */ new Set(), angle: Math.PI / 3 });
var soft = all.map((x, e) => x && !hard[e] ? 1 : 0);
var p = new Parting(m, hard);
p.label.fill(0);
var facts = faceFacts(m);
var cells = cellsOf(p, facts, soft);
var plan = planned(cells, { spread: 1.69, bend: Math.PI / 3, islands: 0 });
console.log(m.faceCount, cells.count, plan.count, [...plan.label].join(), [...cells.bend].map((x) => (x * 57).toFixed(0)).join());
for (let f = 0; f < m.faceCount; f++) p.label[f] = plan.label[cells.of[f]];
var comps = p.components(Uint32Array.from({ length: m.faceCount }, (_, f) => f), plan.count);
for (const c of comps) {
  const pa = p.patch(c);
  const l = layFlat(pa, 1.3);
  console.log(c.length, [...c].join(), "b", pa.borders, "e", pa.euler, JSON.stringify(l.figures), l.good);
}
var fore = new Foretelling(cells);
var side = [...Array(cells.count).keys()].filter((c) => Math.abs(cells.facts.normal[3 * c + 1]) < 0.5);
console.log("strip", fore.spread(side), side.length);
