/** Soft falloff: how much of a move each vertex takes, by its distance from the nearest picked one. */
import { applyPoint, type Affine } from '../math/affine';
import { Queue } from '../math/queue';
import type { Mesh } from '../mesh/mesh';
import { nextCorner, previousCorner, topologyOf } from '../mesh/topology';

const { floor, imul, sqrt } = Math;

export type Falloff = 'smooth' | 'dome' | 'sharp' | 'straight';

/** 1 at the pick, 0 at the radius; x is the distance as a share of it. */
export function fade(x: number, shape: Falloff): number {
  const t = 1 - x;
  if (!(t > 0)) return 0;
  if (t >= 1) return 1;
  if (shape === 'straight') return t;
  if (shape === 'dome') return sqrt(1 - x * x);
  if (shape === 'sharp') return t * t;
  return t * t * (3 - 2 * t);
}

/** How far something is: straight through space, or along the edges of the surface. */
export type Reach = 'space' | 'surface';

/** A weight for every vertex: 1 for those listed. `radius` in metres, over 0. */
export function softWeights(
  mesh: Mesh,
  vertices: ArrayLike<number>,
  radius: number,
  shape: Falloff,
  reach: Reach = 'space',
): Float32Array {
  return reach === 'surface'
    ? alongSurface(mesh, vertices, radius, shape)
    : throughSpace(mesh, vertices, radius, shape);
}

/** By the shortest way along edges (Dijkstra 1959), no farther than the radius: the other lip of a mouth is far. */
function alongSurface(mesh: Mesh, vertices: ArrayLike<number>, radius: number, shape: Falloff): Float32Array {
  const t = topologyOf(mesh);
  const { positions: p, cornerVertex: cv } = mesh;
  const far = new Float64Array(mesh.vertexCount).fill(Infinity);
  const queue = new Queue();
  for (let i = 0; i < vertices.length; i++) {
    far[vertices[i]] = 0;
    queue.push(vertices[i], 0);
  }
  const step = (v: number, w: number, spent: number) => {
    const d = spent + Math.hypot(p[3 * v] - p[3 * w], p[3 * v + 1] - p[3 * w + 1], p[3 * v + 2] - p[3 * w + 2]);
    if (d >= far[w] || d >= radius) return;
    far[w] = d;
    queue.push(w, d);
  };
  while (queue.size > 0) {
    const [v, spent] = queue.pop();
    if (spent > far[v]) continue;
    for (let i = t.vertexCornerStart[v]; i < t.vertexCornerStart[v + 1]; i++) {
      const c = t.vertexCorner[i];
      const f = t.cornerFace[c];
      step(v, cv[nextCorner(mesh, f, c)], spent);
      step(v, cv[previousCorner(mesh, f, c)], spent);
    }
  }
  const out = new Float32Array(mesh.vertexCount);
  for (let v = 0; v < out.length; v++) if (far[v] < radius) out[v] = fade(far[v] / radius, shape);
  return out;
}

function throughSpace(mesh: Mesh, vertices: ArrayLike<number>, radius: number, shape: Falloff): Float32Array {
  const p = mesh.positions;
  const count = mesh.vertexCount;
  const weight = new Float32Array(count);
  let size = 16;
  while (size < 2 * vertices.length) size *= 2;
  const head = new Int32Array(size).fill(-1);
  const next = new Int32Array(count).fill(-1);
  const cell = (x: number, y: number, z: number) =>
    (imul(x, 73856093) ^ imul(y, 19349663) ^ imul(z, 83492791)) & (size - 1);
  for (let i = 0; i < vertices.length; i++) {
    const v = vertices[i];
    const c = cell(floor(p[3 * v] / radius), floor(p[3 * v + 1] / radius), floor(p[3 * v + 2] / radius));
    if (weight[v] === 1) continue;
    weight[v] = 1;
    next[v] = head[c];
    head[c] = v;
  }
  for (let v = 0; v < count; v++) {
    if (weight[v] === 1) continue;
    const x = p[3 * v];
    const y = p[3 * v + 1];
    const z = p[3 * v + 2];
    const i = floor(x / radius);
    const j = floor(y / radius);
    const k = floor(z / radius);
    let near = radius * radius;
    for (let a = -1; a <= 1; a++)
      for (let b = -1; b <= 1; b++)
        for (let c = -1; c <= 1; c++) {
          for (let w = head[cell(i + a, j + b, k + c)]; w >= 0; w = next[w]) {
            const d = (p[3 * w] - x) ** 2 + (p[3 * w + 1] - y) ** 2 + (p[3 * w + 2] - z) ** 2;
            if (d < near) near = d;
          }
        }
    weight[v] = fade(sqrt(near) / radius, shape);
  }
  return weight;
}

/** Puts a share of a map on every vertex: `map(1)` where the weight is 1, nothing where it is 0. */
export function blendVertices(mesh: Mesh, weight: Float32Array, map: (share: number) => Affine): Mesh {
  const positions = mesh.positions.slice();
  const touched: number[] = [];
  for (let v = 0; v < weight.length; v++) {
    if (!(weight[v] > 0)) continue;
    positions.set(applyPoint(map(weight[v]), mesh.positions.subarray(3 * v, 3 * v + 3)), 3 * v);
    touched.push(v);
  }
  return mesh.moved(positions, touched);
}
