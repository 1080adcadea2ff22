'use client';
/** What a tool does, drawn by doing it: a small block before and after, made by the tool's own code. */
import { useMemo } from 'react';
import { box } from '../../core/make/primitives';
import { remove } from '../../core/edit/remove';
import type { Mesh } from '../../core/mesh/mesh';
import { placeNear } from '../../core/mesh/surfaceplace';
import { faceNormals } from '../../core/mesh/normals';
import { topologyOf } from '../../core/mesh/topology';
import { defaultsOf } from '../../core/recipe/values';
import { toolDef, type ToolDef } from '../../core/tools';

const BLOCK = box({ width: 2, height: 2, depth: 2, cutX: 3, cutY: 3, cutZ: 3, onGround: false }, 7);
/** Values that show at this size what a tool does. */
const SHOWN: Readonly<Record<string, number | boolean>> = {
  by: 0.9,
  inset: 0.22,
  x: 0.7,
  y: 0.9,
  angle: 0.7,
  distance: 0.9,
  count: 2,
};

const at = (m: Mesh, v: number): [number, number, number] => [
  m.positions[3 * v],
  m.positions[3 * v + 1],
  m.positions[3 * v + 2],
];
const SCALE = 13;
/** Seen from the front, right and above; parallel. */
const flat = ([x, y, z]: readonly number[]): [number, number] => [
  32 + SCALE * 0.72 * (x - z),
  36 + SCALE * (0.36 * (x + z) - 0.86 * y),
];
const depth = ([x, y, z]: readonly number[]) => 0.6 * (x + z) + 0.5 * y;

/** An element in the middle of the top, of the kind the tool likes best. */
function picked(def: ToolDef): { kind: (typeof def.picks)[number]; indices: Uint32Array } {
  const kind = def.picks[0];
  const goal = [0, 1, 0];
  const near = (p: readonly number[]) => -Math.hypot(p[0] - goal[0], p[1] - goal[1], p[2] - goal[2]);
  const best = (count: number, place: (i: number) => readonly number[]) => {
    let found = 0;
    for (let i = 1; i < count; i++) if (near(place(i)) > near(place(found))) found = i;
    return Uint32Array.of(found);
  };
  const mean = (list: readonly (readonly number[])[]) =>
    [0, 1, 2].map((k) => list.reduce((n, p) => n + p[k], 0) / list.length);
  const corners = (f: number) =>
    Array.from(BLOCK.cornerVertex.slice(BLOCK.faceStart[f], BLOCK.faceStart[f + 1]), (v) => at(BLOCK, v));
  if (kind === 'face') return { kind, indices: best(BLOCK.faceCount, (f) => mean(corners(f))) };
  const t = topologyOf(BLOCK);
  if (kind === 'edge')
    return {
      kind,
      indices: best(t.edgeCount, (e) => mean([at(BLOCK, t.edgeVertex[2 * e]), at(BLOCK, t.edgeVertex[2 * e + 1])])),
    };
  return { kind, indices: best(BLOCK.vertexCount, (v) => at(BLOCK, v)) };
}

interface Shown {
  mesh: Mesh;
  pick: ReturnType<typeof picked>;
  values?: Record<string, unknown>;
}

const nearestVertices = (mesh: Mesh, goals: readonly (readonly number[])[]): Uint32Array =>
  Uint32Array.from(
    goals.map((goal) => {
      let found = 0;
      const far = (v: number) => Math.hypot(...at(mesh, v).map((x, k) => x - goal[k]));
      for (let v = 1; v < mesh.vertexCount; v++) if (far(v) < far(found)) found = v;
      return found;
    }),
  ).sort();

/** The block with the middle of its top taken out, and an edge of that hole. */
function holed(def: ToolDef): Shown {
  const face = picked({ ...def, picks: ['face'] });
  const mesh = remove(BLOCK, 'face', face.indices);
  const t = topologyOf(mesh);
  const edge = Array.from({ length: t.edgeCount }, (_, e) => e).find(
    (e) => t.edgeCornerStart[e + 1] - t.edgeCornerStart[e] === 1,
  )!;
  return { mesh, pick: { kind: 'edge', indices: Uint32Array.of(edge) } };
}

/** What is picked and set for tools to which any one element of a whole block means nothing. */
const SCENES: Readonly<Record<string, (def: ToolDef) => Shown>> = {
  cap: (def) => ({ ...holed(def), values: { rule: 'fan' } }),
  fill: holed,
  connect: () => ({
    mesh: BLOCK,
    pick: {
      kind: 'vertex',
      indices: nearestVertices(BLOCK, [
        [-0.33, 1, -0.33],
        [0.33, 1, 0.33],
      ]),
    },
  }),
  'free-cut': (def) => ({
    mesh: BLOCK,
    pick: picked(def),
    values: { line: [placeNear(BLOCK, [-1, 1, 0.15], 'edge'), placeNear(BLOCK, [1, 1, -0.5], 'edge')] },
  }),
  'draw-face': (def) => {
    const { mesh } = holed(def);
    const corners = [-1, 1].flatMap((x) => [x, -x].map((z) => [0.33 * x, 1, 0.33 * z]));
    const ring = [corners[0], corners[1], corners[2], corners[3]];
    const outline = ring.map((p) => placeNear(mesh, p as [number, number, number], 'vertex'));
    return { mesh, pick: picked(def), values: { outline } };
  },
  brush: (def) => ({
    mesh: BLOCK,
    pick: picked(def),
    values: {
      radius: 1.1,
      dabs: [
        { at: [0, 1, 0], normal: [0, 1, 0], by: [0, 0, 0] },
        { at: [0, 1.8, 0], normal: [0, 1, 0], by: [0, 0.8, 0] },
      ],
    },
  }),
};

function facesOf(mesh: Mesh): string[] {
  const normals = faceNormals(mesh);
  const list: { d: string; depth: number }[] = [];
  for (let f = 0; f < mesh.faceCount; f++) {
    if (depth([normals[3 * f], normals[3 * f + 1], normals[3 * f + 2]]) <= 0) continue;
    const points = Array.from(mesh.cornerVertex.slice(mesh.faceStart[f], mesh.faceStart[f + 1]), (v) => at(mesh, v));
    const path = points
      .map((p) =>
        flat(p)
          .map((x) => x.toFixed(1))
          .join(),
      )
      .join('L');
    list.push({ d: `M${path}Z`, depth: points.reduce((n, p) => n + depth(p), 0) / points.length });
  }
  return list.sort((a, b) => a.depth - b.depth).map((x) => x.d);
}

function Block({ mesh, x, wash }: { mesh: Mesh; x: number; wash?: string }) {
  return (
    <g transform={`translate(${x} 0)`}>
      {facesOf(mesh).map((d, i) => (
        <path key={i} d={d} fill="var(--clay)" stroke="#2a2620" strokeWidth={0.6} strokeLinejoin="round" />
      ))}
      {wash && <path d={wash} fill="var(--picked)" fillOpacity={0.55} stroke="var(--picked)" strokeWidth={1.6} />}
    </g>
  );
}

export function ToolPicture({ id }: { id: string }) {
  const drawn = useMemo(() => {
    const def = toolDef(id);
    if (!def) return null;
    const scene = SCENES[id]?.(def) ?? { mesh: BLOCK, pick: picked(def) };
    const { mesh: before, pick } = scene;
    const values: Record<string, unknown> = { ...defaultsOf(def.values) };
    for (const [name, value] of Object.entries(SHOWN)) if (typeof values[name] === typeof value) values[name] = value;
    Object.assign(values, scene.values);
    let ends: number[] = Array.from(pick.indices);
    if (pick.kind === 'edge')
      ends = Array.from(topologyOf(before).edgeVertex.slice(2 * pick.indices[0], 2 * pick.indices[0] + 2));
    if (pick.kind === 'face')
      ends = Array.from(
        before.cornerVertex.slice(before.faceStart[pick.indices[0]], before.faceStart[pick.indices[0] + 1]),
      );
    const wash = `M${ends
      .map((v) =>
        flat(at(before, v))
          .map((x) => x.toFixed(1))
          .join(),
      )
      .join('L')}Z`;
    try {
      return { before, wash: def.whole ? undefined : wash, after: def.run(before, pick, values, 9) };
    } catch {
      return null; // a tool that has nothing to do on a whole block
    }
  }, [id]);
  if (!drawn) return null;
  return (
    <svg width={170} height={74} viewBox="0 0 150 66" className="mt-1.5 rounded bg-base-100" aria-hidden="true">
      <Block mesh={drawn.before} x={2} wash={drawn.wash} />
      <path d="M68 33h12m-4-4l4 4-4 4" fill="none" stroke="var(--ink-soft)" strokeWidth={1.4} />
      <Block mesh={drawn.after} x={86} />
    </svg>
  );
}
