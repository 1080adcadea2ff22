/**
 * The shortest way between two picked elements: along edges by their length (Dijkstra 1959), of faces from middle to
 * middle.
 */
import { Queue } from '../math/queue';
import type { Mesh } from '../mesh/mesh';
import { elementPoint } from '../mesh/elements';
import { edgeKeys, type PickKind } from '../mesh/picks';
import { topologyOf } from '../mesh/topology';

type Neighbours = (node: number, visit: (next: number, cost: number, over: number) => void) => void;

/** Nodes and what was passed over on the way, both ends included; empty where there is no way. */
function shortest(
  count: number,
  from: number,
  to: number,
  neighbours: Neighbours,
): { nodes: number[]; over: number[] } {
  const cost = new Float64Array(count).fill(Infinity);
  const before = new Int32Array(count).fill(-1);
  const passed = new Int32Array(count).fill(-1);
  const queue = new Queue();
  cost[from] = 0;
  queue.push(from, 0);
  while (queue.size > 0) {
    const [node, spent] = queue.pop();
    if (spent > cost[node]) continue;
    if (node === to) break;
    neighbours(node, (next, extra, over) => {
      const sum = spent + extra;
      if (sum >= cost[next]) return;
      cost[next] = sum;
      before[next] = node;
      passed[next] = over;
      queue.push(next, sum);
    });
  }
  if (from !== to && before[to] < 0) return { nodes: [], over: [] };
  const nodes = [to];
  const over: number[] = [];
  for (let v = to; v !== from; v = before[v]) {
    nodes.push(before[v]);
    over.push(passed[v]);
  }
  return { nodes: nodes.reverse(), over: over.reverse() };
}

function alongEdges(mesh: Mesh, costOf?: (edge: number) => number): Neighbours {
  const t = topologyOf(mesh);
  const { positions: p } = mesh;
  const start = new Uint32Array(mesh.vertexCount + 1);
  for (let i = 0; i < t.edgeVertex.length; i++) start[t.edgeVertex[i] + 1]++;
  for (let v = 0; v < mesh.vertexCount; v++) start[v + 1] += start[v];
  const at = start.slice();
  const edges = new Uint32Array(t.edgeVertex.length);
  for (let e = 0; e < t.edgeCount; e++) for (const k of [0, 1]) edges[at[t.edgeVertex[2 * e + k]]++] = e;
  return (v, visit) => {
    for (let i = start[v]; i < start[v + 1]; i++) {
      const e = edges[i];
      const w = t.edgeVertex[2 * e] === v ? t.edgeVertex[2 * e + 1] : t.edgeVertex[2 * e];
      const d = costOf
        ? costOf(e)
        : Math.hypot(p[3 * v] - p[3 * w], p[3 * v + 1] - p[3 * w + 1], p[3 * v + 2] - p[3 * w + 2]);
      visit(w, d, e);
    }
  };
}

function overEdges(mesh: Mesh): Neighbours {
  const t = topologyOf(mesh);
  return (f, visit) => {
    const here = elementPoint(mesh, 'face', f);
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const e = t.cornerEdge[c];
      for (let i = t.edgeCornerStart[e]; i < t.edgeCornerStart[e + 1]; i++) {
        const g = t.cornerFace[t.edgeCorner[i]];
        if (g === f) continue;
        const there = elementPoint(mesh, 'face', g);
        visit(g, Math.hypot(here[0] - there[0], here[1] - there[1], here[2] - there[2]), e);
      }
    }
  };
}

/** Edges on the cheapest way from one vertex to another; empty where none leads there. */
export const shortestWay = (mesh: Mesh, from: number, to: number, costOf: (edge: number) => number): number[] =>
  shortest(mesh.vertexCount, from, to, alongEdges(mesh, costOf)).over;

/** Elements of a kind on the shortest way from one to another, both included; empty where none leads there. */
export function pathBetween(mesh: Mesh, kind: PickKind, from: number, to: number): number[] {
  if (kind === 'vertex') return shortest(mesh.vertexCount, from, to, alongEdges(mesh)).nodes;
  if (kind === 'face') return shortest(mesh.faceCount, from, to, overEdges(mesh)).nodes;
  if (from === to) return [from];
  const { edgeVertex: ev } = topologyOf(mesh);
  const keys = edgeKeys(mesh);
  // From whichever ends are nearest to one another; of equals by their keys.
  let best: number[] | undefined;
  let least = Infinity;
  const neighbours = alongEdges(mesh);
  const lengthOf = (list: number[]) => {
    let sum = 0;
    for (const e of list) {
      const [a, b] = [elementPoint(mesh, 'vertex', ev[2 * e]), elementPoint(mesh, 'vertex', ev[2 * e + 1])];
      sum += Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
    }
    return sum;
  };
  for (const i of [0, 1])
    for (const j of [0, 1]) {
      const { nodes, over } = shortest(mesh.vertexCount, ev[2 * from + i], ev[2 * to + j], neighbours);
      if (nodes.length === 0) continue;
      const list = [...new Set([from, ...over, to])];
      const long = lengthOf(list);
      if (long < least - 1e-9 || (best && Math.abs(long - least) <= 1e-9 && keys[list[1]] < keys[best[1]])) {
        least = Math.min(least, long);
        best = list;
      }
    }
  return best ?? [];
}
