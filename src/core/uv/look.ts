/** A layout looked at face by face: how far each is stretched, how dense it is, and which want a second look. */
import { UV, type Mesh } from '../mesh/mesh';
import { triangulate } from '../mesh/triangulate';
import { islandsOf, triangleFigures } from './measure';
import { onOthers } from './raster';

export interface FaceLook {
  /** Larger over smaller scale, by area; 1 keeps all angles. */
  stretch: Float32Array;
  /** Sheet units per metre; 0 for what has no area. */
  density: Float32Array;
}

export function lookOfFaces(mesh: Mesh): FaceLook {
  const uv = mesh.attributes[UV].data as Float32Array;
  const t = triangulate(mesh);
  const f = triangleFigures(mesh, uv, t);
  const n = mesh.faceCount;
  const area = new Float64Array(n);
  const sheet = new Float64Array(n);
  const sum = new Float64Array(n);
  for (let i = 0; i < t.face.length; i++) {
    const k = t.face[i];
    area[k] += f.area[i];
    sheet[k] += Math.abs(f.uvArea[i]);
    sum[k] += f.area[i] * Math.min(f.stretch[i], MOST);
  }
  return {
    stretch: Float32Array.from(sum, (x, k) => (area[k] > 0 ? x / area[k] : 1)),
    density: Float32Array.from(sheet, (x, k) => (area[k] > 0 ? Math.sqrt(x / area[k]) : 0)),
  };
}

/** What is stretched more counts as so much. */
const MOST = 1000;

export const FAULTS = ['flipped', 'stretched', 'uneven', 'small', 'overlapping'] as const;
export type Fault = (typeof FAULTS)[number];

export interface FaultOptions {
  /** Larger over smaller scale that is too much. */
  stretch: number;
  /** Along the side of the sheet. */
  texels: number;
}

/** Off by more than this share from the middle of all densities. */
const UNEVEN = 0.2;
/** Islands that are narrower than so many texels. */
const SMALL = 4;

/** Faces with a fault, by number. */
export function facesWith(mesh: Mesh, fault: Fault, o: FaultOptions): number[] {
  const uv = mesh.attributes[UV]?.data as Float32Array | undefined;
  if (!uv) return [];
  const all = Array.from({ length: mesh.faceCount }, (_, f) => f);
  if (fault === 'flipped') return flipped(mesh, uv);
  if (fault === 'overlapping') return overlapping(mesh, uv, Math.min(2048, Math.max(256, o.texels)));
  if (fault === 'small') {
    const { ofFace, count } = islandsOf(mesh, uv);
    const box = new Float64Array(4 * count).map((_, i) => (i % 4 < 2 ? Infinity : -Infinity));
    for (const f of all)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
        for (let k = 0; k < 2; k++) {
          const at = 4 * ofFace[f] + k;
          box[at] = Math.min(box[at], uv[2 * c + k]);
          box[at + 2] = Math.max(box[at + 2], uv[2 * c + k]);
        }
    const narrow = (i: number) => Math.min(box[4 * i + 2] - box[4 * i], box[4 * i + 3] - box[4 * i + 1]);
    return all.filter((f) => narrow(ofFace[f]) * o.texels < SMALL);
  }
  const look = lookOfFaces(mesh);
  if (fault === 'stretched') return all.filter((f) => look.stretch[f] > o.stretch);
  const sorted = look.density.filter((x) => x > 0).sort();
  const middle = sorted[sorted.length >> 1] ?? 0;
  return all.filter((f) => look.density[f] > 0 && Math.abs(look.density[f] / middle - 1) > UNEVEN);
}

/** Those that lie the other way round than most of their island. */
function flipped(mesh: Mesh, uv: Float32Array): number[] {
  const t = triangulate(mesh);
  const f = triangleFigures(mesh, uv, t);
  const { ofFace, count } = islandsOf(mesh, uv);
  const side = new Float64Array(count);
  for (let i = 0; i < t.face.length; i++) side[ofFace[t.face[i]]] += Math.sign(f.uvArea[i]) * f.area[i];
  const out = new Set<number>();
  for (let i = 0; i < t.face.length; i++)
    if (f.area[i] > 1e-14 && f.uvArea[i] * side[ofFace[t.face[i]]] < 0) out.add(t.face[i]);
  return [...out].sort((a, b) => a - b);
}

/** Faces of which a pixel lies under another face as well. */
function overlapping(mesh: Mesh, uv: Float32Array, size: number): number[] {
  const out = new Set<number>();
  onOthers(triangulate(mesh), uv, size, 1, (a, b) => out.add(a).add(b));
  return [...out].sort((a, b) => a - b);
}
