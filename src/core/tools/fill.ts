import { fill as fillBetween } from '../edit/fill';
import { defineTool } from './define';

export const fill = defineTool({
  id: 'fill',
  title: 'Fill',
  sentence: ' between {pick}',
  help: 'Closes a hole, or lays faces between two edges or around vertices',
  words: 'join close cap bridge face make',
  key: 'F',
  family: 'grow',
  icon: 'M5 5l14 1-2 13-13-2z M5 5l12 14 M19 6L4 17',
  picks: ['edge', 'vertex'],
  values: {},
  begins: 'at once',
  run: (mesh, { kind, indices }, _, id) => fillBetween(mesh, kind, indices, id),
});
