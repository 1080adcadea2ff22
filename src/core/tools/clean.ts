import { cleanUp } from '../edit/cleanup';
import { count, length, toggle } from '../recipe/values';
import { defineTool } from './define';

export const clean = defineTool({
  id: 'clean',
  title: 'Clean up',
  sentence:
    ' all of it: touching within {distance}; borders {borders}, flat faces {flat}, doubled ones {doubled}, ' +
    'inner ones {inner}, corners on edges {tees}, holes of up to {holes} edges closed, loose vertices {loose}',
  help: 'Puts right what came in broken: near borders, flat, doubled and inner faces, corners on edges, small holes',
  words: 'repair fix mend heal tidy doubles degenerate hole t-junction',
  family: 'join',
  icon: 'M5 19l9-9 M13 5l6 6-3 3-6-6z M4 14h3 M17 17h3 M18.500 15.500v3',
  picks: ['face', 'edge', 'vertex'],
  empty: 'all',
  whole: true,
  begins: 'at once',
  rare: true,
  values: {
    distance: length('touching within', 0.0001, { min: 0, max: 100 }),
    borders: toggle('borders', true, 'joined', 'as they are'),
    flat: toggle('flat faces', true, 'out', 'left'),
    doubled: toggle('doubled faces', true, 'out', 'left'),
    inner: toggle('inner faces', false, 'out', 'left'),
    tees: toggle('corners on edges', true, 'taken in', 'left'),
    holes: count('holes of up to', 0, { min: 0, max: 4096, zero: 'no' }),
    loose: toggle('loose vertices', true, 'out', 'left'),
  },
  run: (mesh, _, v, id, tell) => cleanUp(mesh, v, id, tell),
});
