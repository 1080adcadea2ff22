import { detach as detachFaces } from '../edit/detach';
import { defineTool } from './define';

export const detach = defineTool({
  id: 'detach',
  title: 'Detach',
  sentence: ' {pick} from the rest',
  help: 'Cuts faces loose from what they hang on, where they are',
  words: 'separate split loose cut free',
  key: 'D',
  family: 'join',
  icon: 'M4 10h8v10H4z M15 4h6v8h-6z M12 14l2-1 M13 9l1.5-1',
  rare: true,
  picks: ['face'],
  values: {},
  begins: 'at once',
  run: (mesh, { indices }, _, id) => detachFaces(mesh, indices, false, id),
});

export const copyOut = defineTool({
  id: 'copy-out',
  title: 'Copy faces out',
  sentence: ' {pick} in the same place',
  help: 'Makes a loose copy of faces in the same place',
  words: 'duplicate double faces',
  family: 'join',
  icon: 'M4 8h10v12H4z M8 8V4h12v12h-6',
  picks: ['face'],
  values: {},
  begins: 'at once',
  rare: true,
  run: (mesh, { indices }, _, id) => detachFaces(mesh, indices, true, id),
});
