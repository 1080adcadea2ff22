/** The moves of "shape by hand". */
import { extrude } from '../edit/extrude';
import { fill } from '../edit/fill';
import { loopCut } from '../edit/loopcut';
import { detach } from '../edit/detach';
import { remove } from '../edit/remove';
import { weld } from '../edit/weld';
import { verticesOf, type PickKind } from '../mesh/picks';
import { defineMove, type MoveDef } from './define';
import { move, size, turn } from './transforms';
import { choice, count, length, number, toggle } from './values';

const ALL: readonly PickKind[] = ['vertex', 'edge', 'face'];
const AXES = [
  ['x', 'X'],
  ['y', 'Y'],
  ['z', 'Z'],
] as const;
type Picked = { kind: PickKind; indices: Uint32Array };

export const extrudeMove = defineMove({
  tool: 'extrude',
  title: 'Extrude',
  sentence: ' {pick} by {by} along {along}, insetting {inset}, {each}',
  picks: ['face'],
  values: {
    by: length('by', 0.01),
    along: choice('along', 'normals', [['normals', 'their normals'], ...AXES] as const),
    inset: length('insetting', 0),
    each: toggle('each alone', false, 'each alone', 'as one'),
  },
  run: (mesh, p: Picked, v, id) =>
    extrude(mesh, p.indices, { by: v.by, along: v.along, each: v.each, inset: v.inset }, id),
});

export const insetMove = defineMove({
  tool: 'inset',
  title: 'Inset',
  sentence: ' {pick} by {inset}, {each}',
  picks: ['face'],
  values: { inset: length('by', 0.005), each: toggle('each alone', false, 'each alone', 'as one') },
  run: (mesh, p: Picked, v, id) =>
    extrude(mesh, p.indices, { by: 0, along: 'normals', each: v.each, inset: v.inset }, id),
});

export const loopMove = defineMove({
  tool: 'loop',
  title: 'Loop cuts',
  sentence: ' through {pick}: {count}, slid by {slide}',
  picks: ['edge'],
  values: {
    count: count('how many', 1, { min: 1, max: 100, noun: ['cut', 'cuts'] }),
    slide: number('slide', 0, { min: -1, max: 1 }),
  },
  run: (mesh, p: Picked, v, id) => loopCut(mesh, p.indices, { count: v.count, slide: v.slide }, id),
});

export const deleteMove = defineMove({
  tool: 'delete',
  title: 'Delete',
  sentence: ' {pick}',
  picks: ALL,
  values: {},
  run: (mesh, p: Picked) => remove(mesh, p.kind, p.indices),
});

export const fillMove = defineMove({
  tool: 'fill',
  title: 'Fill',
  sentence: ' between {pick}',
  picks: ['vertex', 'edge'],
  values: {},
  run: (mesh, p: Picked, _v, id) => fill(mesh, p.kind, p.indices, id),
});

export const weldMove = defineMove({
  tool: 'weld',
  title: 'Weld',
  sentence: ' {pick} closer than {distance}',
  picks: ALL,
  values: { distance: length('closer than', 0.0001, { min: 0, max: 100 }) },
  run: (mesh, p: Picked, v) => weld(mesh, v.distance, verticesOf(mesh, p.kind, p.indices)),
});

export const detachMove = defineMove({
  tool: 'detach',
  title: 'Detach',
  sentence: ' {pick} from the rest',
  picks: ['face'],
  values: {},
  run: (mesh, p: Picked, _v, id) => detach(mesh, p.indices, false, id),
});

export const copyOutMove = defineMove({
  tool: 'copy-out',
  title: 'Copy out',
  sentence: ' {pick} in the same place',
  picks: ['face'],
  values: {},
  run: (mesh, p: Picked, _v, id) => detach(mesh, p.indices, true, id),
});

const all = [
  move,
  turn,
  size,
  extrudeMove,
  insetMove,
  loopMove,
  deleteMove,
  fillMove,
  weldMove,
  detachMove,
  copyOutMove,
] as unknown as MoveDef[];
const byTool = new Map(all.map((m) => [m.tool, m]));

export const moveDefs = (): readonly MoveDef[] => all;
export const moveDef = (tool: string): MoveDef | undefined => byTool.get(tool);
