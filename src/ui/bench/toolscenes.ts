/** What tools show that they do: a small block before and after, made by the tool's own code. */
import { ellipse, type Curves } from '../../core/curve/curves';
import { curveThrough } from '../../core/curve/through';
import { box } from '../../core/make/primitives';
import { toTriangles } from '../../core/edit/triangles';
import { remove } from '../../core/edit/remove';
import { convert } from '../../core/mesh/walks';
import { marksOf } from '../../core/mesh/marks';
import type { Mesh } from '../../core/mesh/mesh';
import { placeNear } from '../../core/mesh/surfaceplace';
import { topologyOf } from '../../core/mesh/topology';
import { defaultsOf } from '../../core/recipe/values';
import { elementsBy } from '../../core/rules';
import { toolDef, type Around, type ToolDef } from '../../core/tools';

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

export const at = (m: Mesh, v: number): [number, number, number] => [
  m.positions[3 * v],
  m.positions[3 * v + 1],
  m.positions[3 * v + 2],
];
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
  /** Another piece that it goes by. */
  other?: { mesh?: Mesh; before?: Mesh; curves?: Curves };
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

const top = Uint32Array.from(elementsBy(BLOCK, 'face', { id: 'looks', values: { way: 'up', angle: 0.1 } }));
const all = { kind: 'face' as const, indices: Uint32Array.from({ length: BLOCK.faceCount }, (_, f) => f) };
/** The top with its inner corners at different heights. */
const uneven = (): Shown => {
  const inner = Uint32Array.from({ length: BLOCK.vertexCount }, (_, v) => v).filter(
    (v) => at(BLOCK, v)[1] === 1 && Math.max(Math.abs(at(BLOCK, v)[0]), Math.abs(at(BLOCK, v)[2])) < 0.5,
  );
  const positions = BLOCK.positions.slice();
  inner.forEach((v, i) => {
    positions[3 * v + 1] += [0.9, 0.2, 0.5, -0.3][i];
  });
  return { mesh: BLOCK.moved(positions), pick: { kind: 'vertex', indices: inner } };
};
const rim = { kind: 'face' as const, indices: top };
/** The edges across the top, a row of them, put out of line or out of step. */
function row(by: (x: number) => readonly [number, number]): Shown {
  const on = (v: number) => BLOCK.positions[3 * v + 1] === 1 && Math.abs(BLOCK.positions[3 * v + 2] - 1 / 3) < 0.01;
  const vertices = Array.from({ length: BLOCK.vertexCount }, (_, v) => v).filter(on);
  const positions = BLOCK.positions.slice();
  for (const v of vertices) {
    const [x, z] = by(BLOCK.positions[3 * v]);
    positions[3 * v] += x;
    positions[3 * v + 2] += z;
  }
  const mesh = BLOCK.moved(positions);
  return { mesh, pick: { kind: 'edge', indices: convert(mesh, 'vertex', vertices, 'edge') } };
}
const arc = curveThrough(
  [
    [0, 1, 0],
    [0.3, 1.5, 0],
    [1, 1.9, 0],
  ],
  { smooth: true, closed: false },
  1,
);
const wide = box({ width: 2.2, height: 2.2, depth: 2.2, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 8);
const edgesOnTop = (): Shown => ({
  mesh: BLOCK,
  pick: { kind: 'edge', indices: convert(BLOCK, 'face', top, 'edge') },
});

/** What is picked and set for tools to which any one element of a whole block means nothing. */
const SCENES: Readonly<Record<string, (def: ToolDef) => Shown>> = {
  bridge: (def) => {
    const side = elementsBy(BLOCK, 'face', { id: 'looks', values: { way: 'front', angle: 0.1 } });
    const middle = (faces: ArrayLike<number>) => faces[Math.floor(faces.length / 2)];
    const indices = Uint32Array.of(middle(top), middle(side)).sort();
    return { mesh: BLOCK, pick: { kind: 'face', indices }, values: { ...defaultsOf(def.values), count: 1 } };
  },
  circle: () => ({ mesh: BLOCK, pick: rim }),
  straighten: () => row((x) => [0, 0.35 * Math.sin(3 * x)]),
  space: () => row((x) => [0.5 * (1 - x * x), 0]),
  crease: edgesOnTop,
  harden: edgesOnTop,
  'extrude-along': (def) => ({ mesh: BLOCK, pick: picked(def), other: { curves: arc }, values: { steps: 4 } }),
  'lay-along': (def) => ({ mesh: BLOCK, pick: picked(def), other: { curves: arc }, values: { fit: false } }),
  'onto-curve': () => ({ mesh: BLOCK, pick: rim, other: { curves: ellipse(1.25, 1.25, 'xz', 1) } }),
  'by-cage': (def) => ({
    mesh: BLOCK,
    pick: { ...picked(def), indices: Uint32Array.from({ length: BLOCK.faceCount }, (_, f) => f), kind: 'face' },
    other: {
      before: wide,
      mesh: wide.moved(wide.positions.map((x, i) => (i % 3 === 1 && x > 0 && wide.positions[i - 1] > 0 ? x + 0.9 : x))),
    },
  }),
  ...Object.fromEntries(
    ['ball', 'bend', 'twist', 'taper', 'stretch'].map((id) => [id, () => ({ mesh: BLOCK, pick: all })]),
  ),
  ...Object.fromEntries(['align-vertices', 'relax'].map((id) => [id, uneven])),
  open: () => row(() => [0, 0]),
  'plane-cut': () => ({ mesh: BLOCK, pick: all, values: { at: 0.1, tilt: 0.5, keep: 'back', fill: true } }),
  quads: () => {
    const mesh = toTriangles(BLOCK, all.indices, 'short', 7);
    return { mesh, pick: { kind: 'face', indices: Uint32Array.from({ length: mesh.faceCount }, (_, f) => f) } };
  },
  clean: (def) => ({ ...holed(def), values: { holes: 8 } }),
  flatten: () => ({ ...uneven(), values: { onto: 'y' } }),
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
  'draw-strip': (def) => ({
    mesh: BLOCK,
    pick: picked(def),
    values: {
      line: [-1.5, -0.5, 0.5, 1.5].map((x) => ({ on: 'free', key: 0, at: [x, 1.3, 0.4 * x * x - 0.3] })),
      width: 0.7,
    },
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

export interface Scene {
  before: Mesh;
  after: Mesh;
  /** Of what is picked: its vertices, round it. */
  picked: readonly (readonly number[])[];
  /** Vertices of edges that are marked afterwards. */
  marked: readonly (readonly [number, number])[];
}

function ringsOf(mesh: Mesh, kind: string, indices: ArrayLike<number>): number[][] {
  return Array.from(indices, (i) => {
    if (kind === 'vertex') return [i];
    if (kind === 'edge') return Array.from(topologyOf(mesh).edgeVertex.slice(2 * i, 2 * i + 2));
    return Array.from(mesh.cornerVertex.slice(mesh.faceStart[i], mesh.faceStart[i + 1]));
  });
}

/** Null for a tool that has nothing to do on a whole block. */
export function sceneOf(id: string): Scene | null {
  const def = toolDef(id);
  if (!def) return null;
  const scene: Shown = SCENES[id]?.(def) ?? { mesh: BLOCK, pick: picked(def) };
  const { mesh: before, pick, other } = scene;
  const values: Record<string, unknown> = { ...defaultsOf(def.values) };
  for (const [name, value] of Object.entries(SHOWN)) if (typeof values[name] === typeof value) values[name] = value;
  if (other) values.other = 'other';
  Object.assign(values, scene.values);
  const handed = other && { geometry: other, before: other.before && { mesh: other.before }, name: '' };
  const around: Around | undefined = handed && { other: () => handed };
  try {
    const after = def.run(before, pick, values, 9, undefined, around);
    const { edgeVertex } = topologyOf(after);
    const said = marksOf(after, 'crease') ?? marksOf(after, 'hard');
    const marked = said
      ? Array.from(said.keys())
          .filter((e) => said[e] !== 0)
          .map((e): [number, number] => [edgeVertex[2 * e], edgeVertex[2 * e + 1]])
      : [];
    return { before, after, picked: def.whole ? [] : ringsOf(before, pick.kind, pick.indices), marked };
  } catch {
    return null;
  }
}
