import { bevelEdges } from '../edit/bevel/bevel';
import { bevelVertices } from '../edit/bevel/vertices';
import { borderOf as borderEdges } from '../edit/chains';
import { choice, count, length, number, toggle } from '../recipe/values';
import { defineTool } from './define';

export const bevel = defineTool({
  id: 'bevel',
  title: 'Bevel',
  sentence: ' {pick} by {width} with {segments}, {shape} round, corners {corner}, {clamp}',
  help: 'Breaks sharp edges: makes strips of faces of them',
  words: 'chamfer round fillet soften edge corner offset',
  key: 'V',
  family: 'cut',
  icon: 'M4 20V11l7-7h9 M4 11h9v9 M13 11l7-7 M11 4v0',
  picks: ['edge', 'face'],
  values: {
    width: length('by', 0.005, { min: 0, max: 10000 }),
    share: number('share of the room', 0, { min: 0, max: 1, zero: 'by width' }),
    segments: count('faces across', 1, { min: 1, max: 64, noun: ['face across', 'faces across'] }),
    shape: number('round', 0.5, { min: 0, max: 1 }),
    corner: choice('corners', 'patch', [
      ['patch', 'going on round'],
      ['wedges', 'in wedges round a middle'],
      ['flat', 'cut off'],
    ]),
    clamp: toggle('wide', true, 'as wide as there is room', 'however wide'),
  },
  run: (mesh, { kind, indices }, v, id, tell) =>
    bevelEdges(mesh, kind === 'face' ? borderEdges(mesh, indices) : indices, v, id, tell),
});

export const corners = defineTool({
  id: 'bevel-vertices',
  title: 'Cut corners off',
  sentence: ' {pick} by {width}, {round} round',
  help: 'Cuts vertices off and lays a face where each was',
  words: 'bevel chamfer vertex corner truncate',
  family: 'cut',
  icon: 'M4 20V9l5-5h11v16z M4 9h0 M9 4v5H4',
  label: 'Bevel',
  picks: ['vertex'],
  rare: true,
  values: { width: length('by', 0.005, { min: 0, max: 10000 }), round: number('round', 0, { min: 0, max: 1 }) },
  run: (mesh, { indices }, v, id, tell) => bevelVertices(mesh, indices, v.width, v.round, id, tell),
});

export const beside = defineTool({
  id: 'loops-beside',
  title: 'Loops beside',
  sentence: ' {pick}, {width} to both sides',
  help: 'Lays a loop on both sides of edges, which stay where they are: it holds them sharp when subdivided',
  words: 'support holding offset edge loop parallel sharpen',
  family: 'cut',
  icon: 'M12 4v16 M8 4v16 M16 4v16 M3 8h18 M3 16h18',
  picks: ['edge', 'face'],
  rare: true,
  values: {
    width: length('by', 0.005, { min: 0, max: 10000 }),
    share: number('share of the room', 0, { min: 0, max: 1, zero: 'by width' }),
  },
  run: (mesh, { kind, indices }, v, id, tell) =>
    bevelEdges(
      mesh,
      kind === 'face' ? borderEdges(mesh, indices) : indices,
      { ...v, segments: 2, shape: 1, corner: 'patch', clamp: true },
      id,
      tell,
    ),
});
