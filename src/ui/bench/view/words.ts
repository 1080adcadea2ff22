/** An element in words: what it is, and its measure. */
import { ALWAYS, marksOf } from '../../../core/mesh/marks';
import type { Mesh } from '../../../core/mesh/mesh';
import type { PickKind } from '../../../core/mesh/picks';
import { formatNumber, formatQuantity, type LengthUnit } from '../../../core/recipe/quantity';
import { topologyOf } from '../../../core/mesh/topology';
import { shortArea } from '../stages/short';

const SIDES: Readonly<Record<number, string>> = { 3: 'triangle', 4: 'quad' };

type P3 = [number, number, number];

/** “Face 12, quad, 3.1 cm²”; `toWorld` brings a place of the mesh to where it stands. */
export function wordsOf(mesh: Mesh, kind: PickKind, index: number, toWorld: (p: P3) => P3, units: LengthUnit): string {
  const at = (v: number) => toWorld([mesh.positions[3 * v], mesh.positions[3 * v + 1], mesh.positions[3 * v + 2]]);
  const length = (metres: number) => formatQuantity(metres, 'length', units, 2);
  if (kind === 'vertex') {
    const t = topologyOf(mesh);
    const edges = new Set<number>();
    for (let i = t.vertexCornerStart[index]; i < t.vertexCornerStart[index + 1]; i++) {
      const c = t.vertexCorner[i];
      const f = t.cornerFace[c];
      edges.add(t.cornerEdge[c]);
      edges.add(t.cornerEdge[c > mesh.faceStart[f] ? c - 1 : mesh.faceStart[f + 1] - 1]);
    }
    const n = edges.size;
    return `Vertex ${index}, ${n} ${n === 1 ? 'edge' : 'edges'}, at ${at(index).map(length).join(', ')}`;
  }
  if (kind === 'edge') {
    const t = topologyOf(mesh);
    const [a, b] = [at(t.edgeVertex[2 * index]), at(t.edgeVertex[2 * index + 1])];
    const faces = t.edgeCornerStart[index + 1] - t.edgeCornerStart[index];
    const open = faces === 1 ? ', open' : '';
    const many = faces > 2 ? `, on ${faces} faces` : '';
    const crease = marksOf(mesh, 'crease')?.[index] ?? 0;
    const hard = marksOf(mesh, 'hard')?.[index] ?? 0;
    const levels = crease >= ALWAYS ? ', creased for good' : `, creased for ${formatNumber(crease, 'number')} levels`;
    const said = `${crease > 0 ? levels : ''}${hard > 0 ? ', shaded hard' : ''}${hard < 0 ? ', shaded soft' : ''}`;
    return `Edge ${index}${open}${many}${said}, ${length(Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]))}`;
  }
  const ring = Array.from(mesh.cornerVertex.subarray(mesh.faceStart[index], mesh.faceStart[index + 1]), at);
  const n = [0, 0, 0];
  for (let i = 1; i + 1 < ring.length; i++) {
    const u = ring[i].map((x, k) => x - ring[0][k]);
    const v = ring[i + 1].map((x, k) => x - ring[0][k]);
    for (let k = 0; k < 3; k++) n[k] += u[(k + 1) % 3] * v[(k + 2) % 3] - u[(k + 2) % 3] * v[(k + 1) % 3];
  }
  const sides = SIDES[ring.length] ?? `${formatNumber(ring.length, 'number')} sides`;
  return `Face ${index}, ${sides}, ${shortArea(Math.hypot(...n) / 2, units)}`;
}
