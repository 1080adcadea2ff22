import { loopCut } from '../edit/loopcut';
import { choice, count, number } from '../recipe/values';
import { defineTool } from './define';

export const loop = defineTool({
  id: 'loop',
  title: 'Loop cuts',
  sentence: ' through {pick}: {count}, slid by {slide}, spaced {spacing}, {curve} along the curve there',
  help: 'Cuts all round, across the edges of a ring',
  words: 'edge ring divide slice insert split',
  key: 'L',
  family: 'cut',
  icon: 'M4 6h16v12H4z M12 6v12 M8 3v3 M8 18v3 M16 3v3 M16 18v3',
  picks: ['edge'],
  values: {
    count: count('how many', 1, { min: 1, max: 100, noun: ['cut', 'cuts'] }),
    slide: number('slide', 0, { min: -1, max: 1 }),
    curve: number('along the curve', 0, { min: 0, max: 1, zero: 'not' }),
    spacing: choice('spaced', 'share', [
      ['share', 'by shares'],
      ['low', 'evenly from the lower side'],
      ['high', 'evenly from the upper side'],
    ]),
    names: choice('names', 'shares', [
      ['shares', 'by their share'],
      ['ranks', 'by their rank'],
    ]),
  },
  run: (mesh, { indices }, v, id) => loopCut(mesh, indices, v, id),
});
