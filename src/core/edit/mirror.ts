/**
 * Mirror across a plane through the origin: what lies behind the plane is cut away (if asked), the rest is copied to
 * the other side, and vertices within the weld distance of the plane are put on it and shared. Keys: originals keep
 * theirs; a mirrored element's is made from its original's.
 */
import { EVERY, pulse } from '../math/pulse';
import { edgeKey, key2, keyOf } from '../math/hash';
import { MeshDraft } from '../mesh/draft';
import { gatherAttributes } from '../mesh/gather';
import { marksAs, type Marks } from '../mesh/marks';
import { Mesh, NORMAL } from '../mesh/mesh';
import { copiedRole, gatherPlaces, Later } from '../mesh/places';
import { axisIndex, type Axis } from '../math/affine';
import { slice, type Cut } from './slice';

const MIRROR = keyOf('mirror');

export interface MirrorOptions {
  axis: Axis;
  /** Which side is kept and copied. */
  keep: 'positive' | 'negative';
  /** Metres. */
  weld: number;
  /** Cut away what lies beyond the plane. */
  clip: boolean;
}

export function mirrorMesh(mesh: Mesh, options: MirrorOptions, id: number): Mesh {
  const k = axisIndex(options.axis);
  const sign = options.keep === 'positive' ? 1 : -1;
  let half = snapToPlane(mesh, k, options.weld);
  if (options.clip) half = slice(half, planeOfAxis(half, k, sign), { both: false }, id);
  const onPlane = new Uint8Array(half.vertexCount);
  for (let v = 0; v < half.vertexCount; v++) if (half.positions[3 * v + k] === 0) onPlane[v] = 1;
  // A face that lies wholly in the plane would become an inner wall between the halves.
  const draft = new MeshDraft(half);
  for (let f = 0; f < half.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    let all = true;
    for (let c = half.faceStart[f]; c < half.faceStart[f + 1] && all; c++) all = onPlane[half.cornerVertex[c]] === 1;
    if (all) draft.drop(f);
  }
  half = draft.finish();
  return copyAcross(half, k, id);
}

function snapToPlane(mesh: Mesh, k: number, weld: number): Mesh {
  const positions = mesh.positions.slice();
  for (let i = k; i < positions.length; i += 3) if (Math.abs(positions[i]) <= weld) positions[i] = 0;
  let same = true;
  for (let i = k; i < positions.length && same; i += 3) same = positions[i] === mesh.positions[i];
  return same ? mesh : mesh.moved(positions);
}

function copyAcross(half: Mesh, k: number, id: number): Mesh {
  const n = half.vertexCount;
  const corners = half.cornerCount;
  const faces = half.faceCount;
  const to = new Uint32Array(n);
  let extra = 0;
  for (let v = 0; v < n; v++) to[v] = half.positions[3 * v + k] === 0 ? v : n + extra++;
  const positions = new Float32Array(3 * (n + extra));
  positions.set(half.positions);
  for (let v = 0; v < n; v++)
    if (to[v] >= n)
      for (let a = 0; a < 3; a++) positions[3 * to[v] + a] = half.positions[3 * v + a] * (a === k ? -1 : 1);
  const cornerVertex = new Uint32Array(2 * corners);
  const source = new Uint32Array(2 * corners);
  const faceStart = new Uint32Array(2 * faces + 1);
  cornerVertex.set(half.cornerVertex);
  faceStart.set(half.faceStart);
  for (let c = 0; c < corners; c++) source[c] = c;
  for (let f = 0; f < faces; f++) {
    if ((f & EVERY) === 0) pulse();
    const s = half.faceStart[f];
    const e = half.faceStart[f + 1];
    faceStart[faces + f + 1] = corners + e;
    for (let c = s; c < e; c++) {
      const from = c === s ? s : e - (c - s); // turned round, so that it still looks outwards
      source[corners + c] = from;
      cornerVertex[corners + c] = to[half.cornerVertex[from]];
    }
  }
  const seed = key2(id, MIRROR);
  const faceFrom = Uint32Array.from({ length: 2 * faces }, (_, f) => f % faces);
  const vertexFrom = new Uint32Array(n + extra);
  for (let v = 0; v < n; v++) vertexFrom[v] = v;
  for (let v = 0; v < n; v++) vertexFrom[to[v]] = v;
  const attributes = gatherAttributes(half.attributes, { corner: source, face: faceFrom, vertex: vertexFrom });
  const normal = attributes[NORMAL];
  if (normal) for (let i = 3 * corners + k; i < normal.data.length; i += 3) normal.data[i] = -normal.data[i];
  return new Mesh({
    positions,
    faceStart,
    cornerVertex,
    attributes,
    vertexKey: () => {
      const keys = new Float64Array(n + extra);
      keys.set(half.vertexKey);
      for (let v = 0; v < n; v++) if (to[v] >= n) keys[to[v]] = key2(seed, half.vertexKey[v]);
      return keys;
    },
    faceKey: () => {
      const keys = new Float64Array(2 * faces);
      keys.set(half.faceKey);
      for (let f = 0; f < faces; f++) keys[faces + f] = key2(seed, half.faceKey[f]);
      return keys;
    },
    places: new Later(() => {
      const out = gatherPlaces(half.places, vertexFrom);
      const plane = planeOf(out.at, half, to, k);
      for (let v = 0; v < n; v++) {
        if (to[v] < n) continue;
        out.role[to[v]] = copiedRole(out.role[v], seed);
        if (plane !== undefined) out.at[4 * to[v] + k] = 2 * plane - out.at[4 * to[v] + k];
      }
      return out;
    }),
    slots: half.slots,
    groups: half.groups,
    lineage: half.lineage,
    textures: half.textures,
    marks: half.marks && new Later(() => copiedMarks(half, to, seed)),
  });
}

/** What is said of edges is said of their mirror images too. */
function copiedMarks(half: Mesh, to: Uint32Array, seed: number): Marks {
  const { vertexKey: key } = half;
  const image = (v: number) => (to[v] === v ? key[v] : key2(seed, key[v]));
  return marksAs(half, (a, b) => [edgeKey(key[a], key[b]), edgeKey(image(a), image(b))]);
}

const planeOfAxis = (mesh: Mesh, k: number, sign: number): Cut => ({
  side: (v) => sign * mesh.positions[3 * v + k],
  normal: [k === 0 ? sign : 0, k === 1 ? sign : 0, k === 2 ? sign : 0],
  level: k,
});

/** Of the vertices on the plane so many may lie elsewhere in natural coordinates: what was moved by hand does. */
const ASTRAY = 0.15;
/** What lies farther apart there does not stand at one place. */
const APART = 0.15;
/** Of how natural coordinates change, places must tell so much where nothing touches the plane. */
const ALIGNED = 0.8;

/**
 * Where the mirror stands in natural coordinates; undefined where it does not stand at one place in them. It was wherever
 * all vertices on the plane lay within a tenth, which one that was moved by hand could undo: with another count all
 * copies were elsewhere then.
 */
function planeOf(at: Float32Array, half: Mesh, to: Uint32Array, k: number): number | undefined {
  const on: number[] = [];
  for (let v = 0; v < to.length; v++) if (to[v] === v) on.push(at[4 * v + k]);
  if (on.length === 0) return planeAway(at, half, k);
  on.sort((a, b) => a - b);
  const share = (x: number): number => on[Math.round(x * (on.length - 1))];
  return share(1 - ASTRAY) - share(ASTRAY) <= APART ? share(0.5) : undefined;
}

/** Where nothing touches it: by the line along which natural coordinates go with places (least squares). */
function planeAway(at: Float32Array, { positions, vertexCount: n }: Mesh, k: number): number | undefined {
  let [x, y] = [0, 0];
  for (let v = 0; v < n; v++) {
    x += positions[3 * v + k] / n;
    y += at[4 * v + k] / n;
  }
  let [xx, xy, yy] = [0, 0, 0];
  for (let v = 0; v < n; v++) {
    const [a, b] = [positions[3 * v + k] - x, at[4 * v + k] - y];
    xx += a * a;
    xy += a * b;
    yy += b * b;
  }
  if (!(xx > 0 && yy > 0 && xy * xy >= ALIGNED * xx * yy)) return undefined;
  return y - (xy / xx) * x;
}
