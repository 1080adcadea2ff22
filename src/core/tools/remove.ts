import { remove as removeElements } from '../edit/remove';
import { ANY_KIND, defineTool } from './define';

export const remove = defineTool({
  id: 'delete',
  title: 'Delete',
  sentence: ' {pick}',
  help: 'Removes what is picked, and leaves a hole',
  words: 'remove erase clear',
  key: 'Delete',
  family: 'join',
  icon: 'M5 7h14 M9 7V4h6v3 M7 7l1 13h8l1-13 M10.5 10.5v6 M13.5 10.5v6',
  picks: ANY_KIND,
  values: {},
  begins: 'at once',
  clears: true,
  run: (mesh, { kind, indices }) => removeElements(mesh, kind, indices),
});
