/**
 * A mesh being edited. Tools drop faces, point corners at other vertices, add vertices and faces, and say where each
 * new corner takes its attributes from; `finish` copies what is kept in bulk and carries every attribute along. Kept
 * elements keep their keys.
 */
import { EVERY, pulse } from '../math/pulse';
import { GrowFloat, GrowInt } from '../math/grow';
import { blank, gatherAttribute, gatherAttributes } from './gather';
import { marksAlong, type Marks } from './marks';
import { Mesh, NORMAL, type Attribute, type LineageLayer } from './mesh';
import { drawnRole, extendPlaces, gatherPlaces, heaviest, Later, type Blend, type Places } from './places';

export class MeshDraft {
  readonly source: Mesh;
  /** Positions of the source's vertices; written only after `ownPositions`. */
  private moved: Float32Array | undefined;
  private cornerVertex: Uint32Array | undefined;
  private dropped: Uint8Array;
  private droppedCount = 0;
  private newPositions = new GrowFloat(64);
  private newKeys = new GrowFloat(64);
  private newFrom = new GrowInt(64);
  private newFromT = new GrowFloat(64);
  private faceSize = new GrowInt(64);
  private faceSource = new GrowInt(64);
  private faceKeys = new GrowFloat(64);
  private corner = new GrowInt(64);
  private cornerFrom = new GrowInt(64);
  private cornerT = new GrowFloat(64);
  private layer: Map<number, number[]> | undefined;
  private begun = 0;
  private blends: Blend[] = [];
  /** Vertex and face (−1 for none), and the move, of all that was drawn out. */
  private liftedVertex = new GrowInt(64);
  private liftedMove = new GrowFloat(32);

  constructor(source: Mesh) {
    this.source = source;
    this.dropped = new Uint8Array(source.faceCount);
  }

  /** Positions of the source's vertices, to be written to. */
  ownPositions(): Float32Array {
    return (this.moved ??= this.source.positions.slice());
  }

  /**
   * Something between many: to be given as `v0` or `c0` of what takes from these vertices or corners. Weights are
   * shares that sum to 1; evenly where not said.
   */
  blend(from: ArrayLike<number>, weights?: ArrayLike<number>): number {
    const of = Array.from(from);
    this.blends.push({ of, weights: weights ? Array.from(weights) : of.map(() => 1 / of.length) });
    return -1 - this.blends.length;
  }

  /** Adds a vertex that takes its vertex attributes from v0, or from between v0 and v1. */
  vertex(key: number, x: number, y: number, z: number, v0 = -1, v1 = v0, t = 0): number {
    this.newPositions.push(x);
    this.newPositions.push(y);
    this.newPositions.push(z);
    this.newKeys.push(key);
    this.newFrom.push(v0);
    this.newFrom.push(v1);
    this.newFromT.push(t);
    return this.source.vertexCount + this.newKeys.length - 1;
  }

  /**
   * Says that a vertex, new or old, was drawn out of the surface by a move (its id): it belongs beyond the place it
   * comes from, and, where a face of the source is given, a little towards the middle of that.
   */
  lift(vertex: number, move: number, towards = -1): void {
    this.liftedVertex.push(vertex);
    this.liftedVertex.push(towards);
    this.liftedMove.push(move);
  }

  /** Points a corner of the source at another vertex. */
  retarget(corner: number, vertex: number): void {
    (this.cornerVertex ??= this.source.cornerVertex.slice())[corner] = vertex;
  }

  drop(face: number): void {
    if (!this.dropped[face]) {
      this.dropped[face] = 1;
      this.droppedCount++;
    }
  }

  isDropped(face: number): boolean {
    return this.dropped[face] === 1;
  }

  /** Begins a face that takes its face attributes from a face of the source (-1 for none). */
  begin(key: number, from = -1): void {
    this.faceKeys.push(key);
    this.faceSource.push(from);
    this.begun = this.corner.length;
  }

  /** Adds a corner that takes its attributes from source corner c0, or from between c0 and c1. */
  at(vertex: number, c0 = -1, c1 = c0, t = 0): void {
    this.corner.push(vertex);
    this.cornerFrom.push(c0);
    this.cornerFrom.push(c1);
    this.cornerT.push(t);
  }

  end(): void {
    this.faceSize.push(this.corner.length - this.begun);
  }

  /** Says that an edge or face was split: its old key, and those of its parts. */
  split(key: number, parts: number[]): void {
    (this.layer ??= new Map()).set(key, parts);
  }

  /** The new mesh. Vertices that lost their last face are dropped; loose vertices of the source stay. */
  finish(): Mesh {
    const s = this.source;
    const keptFaces = s.faceCount - this.droppedCount;
    const oldCorners = this.cornerVertex ?? s.cornerVertex;
    let keptCorners = s.cornerCount;
    if (this.droppedCount)
      for (let f = 0; f < s.faceCount; f++) if (this.dropped[f]) keptCorners -= s.faceStart[f + 1] - s.faceStart[f];
    const faces = keptFaces + this.faceKeys.length;
    const corners = keptCorners + this.corner.length;
    const faceStart = new Uint32Array(faces + 1);
    const cornerVertex = new Uint32Array(corners);
    const faceFrom = new Int32Array(faces);
    const cornerKept = new Int32Array(keptCorners);
    let n = 0;
    let c = 0;
    for (let f = 0; f < s.faceCount; f++) {
      if ((f & EVERY) === 0) pulse();
      if (this.dropped[f]) continue;
      faceFrom[n] = f;
      for (let d = s.faceStart[f]; d < s.faceStart[f + 1]; d++) {
        cornerKept[c] = d;
        cornerVertex[c++] = oldCorners[d];
      }
      faceStart[++n] = c;
    }
    for (let f = 0, d = 0; f < this.faceKeys.length; f++) {
      if ((f & EVERY) === 0) pulse();
      if ((f & EVERY) === 0) pulse();
      faceFrom[n] = this.faceSource.data[f];
      for (let k = 0; k < this.faceSize.data[f]; k++) cornerVertex[c++] = this.corner.data[d++];
      faceStart[++n] = c;
    }
    const sourceKeys = s.faceKey;
    const faceKey = new Float64Array(faces);
    for (let f = 0; f < keptFaces; f++) faceKey[f] = sourceKeys[faceFrom[f]];
    for (let f = keptFaces; f < faces; f++) faceKey[f] = this.faceKeys.data[f - keptFaces];

    pulse();
    const vertices = s.vertexCount + this.newKeys.length;
    const positions = new Float32Array(3 * vertices);
    const vertexKey = new Float64Array(vertices);
    positions.set(this.moved ?? s.positions);
    positions.set(this.newPositions.data.subarray(0, this.newPositions.length), 3 * s.vertexCount);
    vertexKey.set(s.vertexKey);
    vertexKey.set(this.newKeys.data.subarray(0, this.newKeys.length), s.vertexCount);

    const attributes: Record<string, Attribute> = {};
    // What is new has no normal that a file brought, and what moved has another.
    const reshaped = this.moved !== undefined || this.faceKeys.length > 0 || this.cornerVertex !== undefined;
    for (const [name, a] of Object.entries(s.attributes))
      if (name !== NORMAL || !reshaped) attributes[name] = this.carry(a, faceFrom, cornerKept, corners);

    const mesh = new Mesh({
      positions,
      faceStart,
      cornerVertex,
      vertexKey,
      faceKey,
      attributes,
      slots: s.slots,
      groups: s.groups,
      textures: s.textures,
      marks: this.carryMarks(faceStart, cornerVertex, vertexKey, cornerKept),
      places: this.carryPlaces(),
      lineage: this.layer ? [...s.lineage, this.layer as LineageLayer] : s.lineage,
    });
    return this.droppedCount || this.cornerVertex ? dropUnused(mesh, s) : mesh;
  }

  private carryMarks(
    faceStart: Uint32Array,
    cornerVertex: Uint32Array,
    vertexKey: Float64Array,
    kept: Int32Array,
  ): Later<Marks> | undefined {
    const { source, cornerFrom, cornerT } = this;
    if (!source.marks) return undefined;
    const from = cornerFrom.data.slice(0, cornerFrom.length);
    const share = cornerT.data.slice(0, cornerT.length);
    return new Later(() =>
      marksAlong(source, faceStart, cornerVertex, vertexKey, (c) => {
        if (c < kept.length) return [kept[c], kept[c]];
        const i = c - kept.length;
        const [a, b] = [from[2 * i], from[2 * i + 1]];
        if (share[i] === 0) return [a, a];
        return share[i] === 1 ? [b, b] : [a, b];
      }),
    );
  }

  private carryPlaces(): Later<Places> {
    const before = this.source.whereabouts;
    const { newFrom, newFromT, liftedVertex, liftedMove, source } = this;
    if (newFromT.length === 0 && liftedMove.length === 0) return before;
    const lifted = liftedVertex.data.slice(0, liftedVertex.length);
    const moves = liftedMove.data.slice(0, liftedMove.length);
    const from = newFrom.data.slice(0, newFrom.length);
    const share = newFromT.data.slice(0, newFromT.length);
    const { faceStart, cornerVertex } = source;
    const { blends } = this;
    return new Later(() => {
      const old = before.get();
      const out = extendPlaces(old, from, share, blends);
      for (let i = 0; i < moves.length; i++) {
        const vertex = lifted[2 * i];
        const towards = lifted[2 * i + 1];
        if (towards >= 0)
          pull(out.at, vertex, old.at, cornerVertex.subarray(faceStart[towards], faceStart[towards + 1]));
        out.at[4 * vertex + 3] += 1;
        out.role[vertex] = drawnRole(out.role[vertex], moves[i]);
      }
      return out;
    });
  }

  private carry(a: Attribute, faceFrom: Int32Array, cornerKept: Int32Array, corners: number): Attribute {
    const w = a.width;
    const from = a.data;
    const lerp = (data: Float32Array | Int32Array, to: number, i: number, j: number, t: number) => {
      const among = i < -1 ? this.blends[-2 - i] : undefined;
      for (let k = 0; k < w; k++) {
        const x = i >= 0 ? from[i * w + k] : 0;
        const y = j >= 0 ? from[j * w + k] : x;
        data[to * w + k] = t === 0 ? x : x + (y - x) * t;
        if (among) data[to * w + k] = blended(from, w, k, among);
      }
    };
    if (a.domain === 'face') return gatherAttribute(a, faceFrom);
    if (a.domain === 'vertex') {
      const data = blank(from, (this.source.vertexCount + this.newKeys.length) * w);
      data.set(from);
      for (let v = 0; v < this.newKeys.length; v++)
        lerp(
          data,
          this.source.vertexCount + v,
          this.newFrom.data[2 * v],
          this.newFrom.data[2 * v + 1],
          this.newFromT.data[v],
        );
      return { ...a, data };
    }
    const data = blank(from, corners * w);
    for (let c = 0; c < cornerKept.length; c++)
      for (let k = 0; k < w; k++) data[c * w + k] = from[cornerKept[c] * w + k];
    for (let c = 0; c < this.corner.length; c++)
      lerp(
        data,
        cornerKept.length + c,
        this.cornerFrom.data[2 * c],
        this.cornerFrom.data[2 * c + 1],
        this.cornerT.data[c],
      );
    return { ...a, data };
  }
}

/** Numbers are mixed; names and counts, which have nothing between them, are those of the heaviest. */
function blended(from: Float32Array | Int32Array, width: number, k: number, { of, weights }: Blend): number {
  if (from instanceof Int32Array) return from[of[heaviest(weights)] * width + k];
  let sum = 0;
  for (let i = 0; i < of.length; i++) sum += weights[i] * from[of[i] * width + k];
  return sum;
}

/**
 * How far what each face draws out for itself belongs towards that face's middle: no count of faces changes which one
 * it is of.
 */
const TOWARDS = 0.25;

function pull(at: Float32Array, vertex: number, from: Float32Array, ring: Uint32Array): void {
  for (let k = 0; k < 3; k++) {
    let middle = 0;
    for (let i = 0; i < ring.length; i++) middle += from[4 * ring[i] + k] / ring.length;
    at[4 * vertex + k] += (middle - at[4 * vertex + k]) * TOWARDS;
  }
}

/** Removes vertices that no face uses, except those that were loose in `before` already. */
function dropUnused(mesh: Mesh, before: Mesh): Mesh {
  const keep = new Uint8Array(mesh.vertexCount);
  const was = new Uint8Array(before.vertexCount);
  pulse();
  for (const v of before.cornerVertex) was[v] = 1;
  for (let v = 0; v < before.vertexCount; v++) if (!was[v]) keep[v] = 1;
  pulse();
  for (const v of mesh.cornerVertex) keep[v] = 1;
  return keepVertices(mesh, keep);
}

/** A mesh of only the vertices marked; every vertex a face uses must be. */
export function keepVertices(mesh: Mesh, keep: Uint8Array): Mesh {
  const to = new Int32Array(mesh.vertexCount).fill(-1);
  let n = 0;
  for (let v = 0; v < mesh.vertexCount; v++) if (keep[v]) to[v] = n++;
  if (n === mesh.vertexCount) return mesh;
  const positions = new Float32Array(3 * n);
  const vertexKey = new Float64Array(n);
  const keys = mesh.vertexKey;
  for (let v = 0; v < mesh.vertexCount; v++) {
    if ((v & EVERY) === 0) pulse();
    const i = to[v];
    if (i < 0) continue;
    vertexKey[i] = keys[v];
    positions[3 * i] = mesh.positions[3 * v];
    positions[3 * i + 1] = mesh.positions[3 * v + 1];
    positions[3 * i + 2] = mesh.positions[3 * v + 2];
  }
  const from = new Uint32Array(n);
  for (let v = 0; v < to.length; v++) if (to[v] >= 0) from[to[v]] = v;
  const attributes = gatherAttributes(mesh.attributes, { vertex: from });
  const whole = mesh.whereabouts;
  return mesh.with({
    positions,
    vertexKey,
    cornerVertex: mesh.cornerVertex.map((v) => to[v]),
    attributes,
    places: new Later(() => gatherPlaces(whole.get(), from)),
  });
}
