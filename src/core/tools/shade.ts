import { shade as shadeMesh } from '../edit/shade';
import { mask } from '../mesh/picks';
import { angle, choice } from '../recipe/values';
import { defineTool } from './define';

export const shade = defineTool({
  id: 'normals',
  title: 'Set normals',
  sentence: ' of {pick}: hard where it bends over {angle}, weighted by {weight}',
  help: 'Normals that are kept and sent out: of edges, these are hard; of faces, theirs are set',
  words: 'hard soft smooth shading sharp normal weighted autosmooth',
  family: 'form',
  icon: 'M4 17c4-6 12-6 16 0 M12 12V4 M7 13.500L4.500 7 M17 13.500L19.500 7',
  picks: ['face', 'edge'],
  empty: 'all',
  begins: 'at once',
  rare: true,
  values: {
    angle: angle('over', 30, { min: 0, max: Math.PI }),
    weight: choice('by', 'angle', [
      ['angle', 'angle'],
      ['area', 'area'],
    ]),
  },
  run: (mesh, { kind, indices }, v) => {
    const o = { angle: v.angle, byArea: v.weight === 'area' };
    if (kind === 'edge') return shadeMesh(mesh, indices, o);
    const all = indices.length === mesh.faceCount;
    return shadeMesh(mesh, [], o, all ? undefined : mask(mesh.faceCount, indices));
  },
});
