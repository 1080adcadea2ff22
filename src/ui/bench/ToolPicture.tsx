'use client';
/** What a tool does, drawn by doing it. */
import { useMemo } from 'react';
import type { Mesh } from '../../core/mesh/mesh';
import { faceNormals } from '../../core/mesh/normals';
import { at, sceneOf } from './toolscenes';

const SCALE = 13;
/** Seen from the front, right and above; parallel. */
const flat = ([x, y, z]: readonly number[]): [number, number] => [
  32 + SCALE * 0.72 * (x - z),
  36 + SCALE * (0.36 * (x + z) - 0.86 * y),
];
const depth = ([x, y, z]: readonly number[]) => 0.6 * (x + z) + 0.5 * y;
const onPaper = (p: readonly number[]): string =>
  flat(p)
    .map((x) => x.toFixed(1))
    .join();
const at2 = (mesh: Mesh, v: number): string => onPaper(at(mesh, v));

function facesOf(mesh: Mesh): string[] {
  const normals = faceNormals(mesh);
  const list: { d: string; depth: number }[] = [];
  for (let f = 0; f < mesh.faceCount; f++) {
    if (depth([normals[3 * f], normals[3 * f + 1], normals[3 * f + 2]]) <= 0) continue;
    const points = Array.from(mesh.cornerVertex.slice(mesh.faceStart[f], mesh.faceStart[f + 1]), (v) => at(mesh, v));
    list.push({
      d: `M${points.map(onPaper).join('L')}Z`,
      depth: points.reduce((n, p) => n + depth(p), 0) / points.length,
    });
  }
  return list.sort((a, b) => a.depth - b.depth).map((x) => x.d);
}

interface BlockProps {
  mesh: Mesh;
  x: number;
  wash?: readonly (readonly number[])[];
  marked?: readonly (readonly number[])[];
}

const pathOf = (mesh: Mesh, vertices: readonly number[]): string => `M${vertices.map((v) => at2(mesh, v)).join('L')}`;

function Block({ mesh, x, wash = [], marked = [] }: BlockProps) {
  return (
    <g transform={`translate(${x} 0)`}>
      {facesOf(mesh).map((d, i) => (
        <path key={i} d={d} fill="var(--clay)" stroke="#2a2620" strokeWidth={0.6} strokeLinejoin="round" />
      ))}
      {wash.map((ring, i) => (
        <path
          key={i}
          d={`${pathOf(mesh, ring)}Z`}
          fill="var(--picked)"
          fillOpacity={0.55}
          stroke="var(--picked)"
          strokeWidth={1.6}
          strokeLinecap="round"
        />
      ))}
      {marked.map((ends, i) => (
        <path key={i} d={pathOf(mesh, ends)} stroke="#2a2620" strokeWidth={2.2} strokeLinecap="round" />
      ))}
    </g>
  );
}

export function ToolPicture({ id }: { id: string }) {
  const drawn = useMemo(() => sceneOf(id), [id]);
  if (!drawn) return null;
  return (
    <svg width={170} height={74} viewBox="0 0 150 66" className="mt-1.5 rounded bg-base-100" aria-hidden="true">
      <Block mesh={drawn.before} x={2} wash={drawn.picked} />
      <path d="M68 33h12m-4-4l4 4-4 4" fill="none" stroke="var(--ink-soft)" strokeWidth={1.4} />
      <Block mesh={drawn.after} x={86} marked={drawn.marked} />
    </svg>
  );
}
