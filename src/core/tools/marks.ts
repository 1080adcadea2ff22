/** What is said of edges: how sharp a subdivision keeps them, and whether shading breaks there. */
import { ALWAYS, marked } from '../mesh/marks';
import { choice, number } from '../recipe/values';
import { defineTool } from './define';

export const crease = defineTool({
  id: 'crease',
  title: 'Crease',
  sentence: ' {pick}: sharp for {levels} levels of subdivision',
  help: 'Says how sharp a subdivision after this keeps edges; 10 is for good, 0 takes it away',
  words: 'sharp hard edge subdivision weight uncrease soft',
  family: 'form',
  icon: 'M4 18L12 6l8 12 M12 6v12 M8 18h8',
  picks: ['edge'],
  rare: true,
  begins: 'at once',
  values: { levels: number('levels', ALWAYS, { min: 0, max: ALWAYS }) },
  run: (mesh, { indices }, v) => marked(mesh, 'crease', indices, v.levels),
});

export const harden = defineTool({
  id: 'harden',
  title: 'Shade',
  sentence: ' {pick} {how}',
  help: 'Lets shading break at edges, or never, whatever they bend by',
  words: 'hard soft smooth sharp edges normals smoothing groups shading',
  family: 'form',
  icon: 'M4 19L12 5l8 14 M4 19h16 M12 5v14 M15 12l3 6',
  picks: ['edge'],
  rare: true,
  begins: 'at once',
  values: {
    how: choice('how', 'hard', [
      ['hard', 'hard'],
      ['soft', 'soft'],
      ['bend', 'by how far they bend'],
    ]),
  },
  run: (mesh, { indices }, v) => marked(mesh, 'hard', indices, { hard: 1, soft: -1, bend: 0 }[v.how]),
});
