/** The moves of "shape by hand". */
import { extrude } from '../edit/extrude';
import { fill } from '../edit/fill';
import { loopCut } from '../edit/loopcut';
import { remove } from '../edit/remove';
import { about, centreOf, rotation, scaling, transformVertices, translation } from '../edit/transform';
import { weld } from '../edit/weld';
import type { Mesh } from '../mesh/mesh';
import { verticesOf, type PickKind } from '../mesh/picks';
import { defineMove, type MoveDef } from './define';
import { angle, choice, count, length, number, toggle } from './values';

const ALL: readonly PickKind[] = ['vertex', 'edge', 'face'];
const AXES = [['x', 'X'], ['y', 'Y'], ['z', 'Z']] as const;
const ABOUT = [['pick', 'its middle'], ['origin', 'the origin']] as const;

const pivot = (mesh: Mesh, vertices: Uint32Array, where: string): [number, number, number] => (where === 'origin' ? [0, 0, 0] : centreOf(mesh, vertices));
type Picked = { kind: PickKind; indices: Uint32Array };

export const move = defineMove({
  tool: 'move', title: 'Move', sentence: ' {pick} by {x}, {y}, {z}', picks: ALL,
  values: { x: length('along x', 0), y: length('along y', 0), z: length('along z', 0) },
  merge: (a, b) => ({ x: a.x + b.x, y: a.y + b.y, z: a.z + b.z }),
  run: (mesh, p: Picked, v) => transformVertices(mesh, translation(v.x, v.y, v.z), verticesOf(mesh, p.kind, p.indices)),
});

export const turn = defineMove({
  tool: 'turn', title: 'Turn', sentence: ' {pick} by {angle} about {axis} through {about}', picks: ALL,
  values: { angle: angle('by', 0), axis: choice('axis', 'y', AXES), about: choice('through', 'pick', ABOUT) },
  merge: (a, b) => (a.axis === b.axis && a.about === b.about ? { ...a, angle: a.angle + b.angle } : undefined),
  run: (mesh, p: Picked, v) => {
    const vertices = verticesOf(mesh, p.kind, p.indices);
    return transformVertices(mesh, about(rotation(v.axis, v.angle), ...pivot(mesh, vertices, v.about)), vertices);
  },
});

export const size = defineMove({
  tool: 'size', title: 'Size', sentence: ' {pick} by {x} × {y} × {z} from {about}', picks: ALL,
  values: { x: number('along x', 1, { min: -1000, max: 1000 }), y: number('along y', 1, { min: -1000, max: 1000 }), z: number('along z', 1, { min: -1000, max: 1000 }), about: choice('from', 'pick', ABOUT) },
  merge: (a, b) => (a.about === b.about ? { ...a, x: a.x * b.x, y: a.y * b.y, z: a.z * b.z } : undefined),
  run: (mesh, p: Picked, v) => {
    const vertices = verticesOf(mesh, p.kind, p.indices);
    return transformVertices(mesh, about(scaling(v.x, v.y, v.z), ...pivot(mesh, vertices, v.about)), vertices);
  },
});

export const extrudeMove = defineMove({
  tool: 'extrude', title: 'Extrude', sentence: ' {pick} by {by} along {along}, insetting {inset}, {each}', picks: ['face'],
  values: {
    by: length('by', 0.01), along: choice('along', 'normals', [['normals', 'their normals'], ...AXES] as const),
    inset: length('insetting', 0), each: toggle('each alone', false, 'each alone', 'as one'),
  },
  run: (mesh, p: Picked, v, id) => extrude(mesh, p.indices, { by: v.by, along: v.along, each: v.each, inset: v.inset }, id),
});

export const insetMove = defineMove({
  tool: 'inset', title: 'Inset', sentence: ' {pick} by {inset}, {each}', picks: ['face'],
  values: { inset: length('by', 0.005), each: toggle('each alone', false, 'each alone', 'as one') },
  run: (mesh, p: Picked, v, id) => extrude(mesh, p.indices, { by: 0, along: 'normals', each: v.each, inset: v.inset }, id),
});

export const loopMove = defineMove({
  tool: 'loop', title: 'Loop cuts', sentence: ' through {pick}: {count}, slid by {slide}', picks: ['edge'],
  values: { count: count('how many', 1, { min: 1, max: 100, noun: ['cut', 'cuts'] }), slide: number('slide', 0, { min: -1, max: 1 }) },
  run: (mesh, p: Picked, v, id) => loopCut(mesh, p.indices, { count: v.count, slide: v.slide }, id),
});

export const deleteMove = defineMove({
  tool: 'delete', title: 'Delete', sentence: ' {pick}', picks: ALL, values: {},
  run: (mesh, p: Picked) => remove(mesh, p.kind, p.indices),
});

export const fillMove = defineMove({
  tool: 'fill', title: 'Fill', sentence: ' between {pick}', picks: ['vertex', 'edge'], values: {},
  run: (mesh, p: Picked, _v, id) => fill(mesh, p.kind, p.indices, id),
});

export const weldMove = defineMove({
  tool: 'weld', title: 'Weld', sentence: ' {pick} closer than {distance}', picks: ALL,
  values: { distance: length('closer than', 0.0001, { min: 0, max: 100 }) },
  run: (mesh, p: Picked, v) => weld(mesh, v.distance, verticesOf(mesh, p.kind, p.indices)),
});

const all = [move, turn, size, extrudeMove, insetMove, loopMove, deleteMove, fillMove, weldMove] as unknown as MoveDef[];
const byTool = new Map(all.map((m) => [m.tool, m]));

export const moveDefs = (): readonly MoveDef[] => all;
export const moveDef = (tool: string): MoveDef | undefined => byTool.get(tool);
