import { weld as weldVertices } from '../edit/weld';
import { verticesOf } from '../mesh/picks';
import { length } from '../recipe/values';
import { ANY_KIND, defineTool } from './define';

export const weld = defineTool({
  id: 'weld',
  title: 'Weld',
  sentence: ' {pick} closer than {distance}',
  help: 'Makes one vertex of those that stand close together',
  words: 'merge join vertices collapse doubles',
  key: 'W',
  family: 'join',
  icon: 'M4 6l8 6-8 6 M20 6l-8 6 8 6 M12 9.5a2.5 2.5 0 1 0 0 5a2.5 2.5 0 1 0 0-5',
  strip: ['vertex'],
  picks: ANY_KIND,
  values: { distance: length('closer than', 0.0001, { min: 0, max: 100 }) },
  begins: 'at once',
  run: (mesh, { kind, indices }, v) => weldVertices(mesh, v.distance, verticesOf(mesh, kind, indices)),
});
