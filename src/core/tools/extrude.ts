import { extrude as extrudeFaces, turnedOver } from '../edit/extrude';
import { faceNormals } from '../mesh/normals';
import type { Triple } from '../math/affine';
import { choice, length, toggle } from '../recipe/values';
import { defineTool } from './define';
import { tellTurnedOver } from './inset';

const UNIT: Readonly<Record<string, Triple>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

export const extrude = defineTool({
  id: 'extrude',
  title: 'Extrude',
  sentence: ' {pick} by {by} along {along}, insetting {inset}, {each}',
  help: 'Draws faces out, with walls behind them',
  words: 'pull push raise grow out',
  key: 'X',
  family: 'grow',
  icon: 'M5 15v4h14v-4 M5 15h14 M8 11h8v4H8z M12 8V3 M9.5 5.5L12 3l2.5 2.5',
  picks: ['face'],
  values: {
    by: length('by', 0.01),
    along: choice('along', 'normals', [
      ['normals', 'their normals'],
      ['x', 'X'],
      ['y', 'Y'],
      ['z', 'Z'],
    ]),
    inset: length('insetting', 0),
    each: toggle('each alone', false, 'each alone', 'as one'),
  },
  handle: {
    drives: 'by',
    along: (mesh, { indices }, { along }) => {
      if (along !== 'normals') return UNIT[along];
      const normals = faceNormals(mesh, true);
      const sum: [number, number, number] = [0, 0, 0];
      for (const f of indices) for (let k = 0; k < 3; k++) sum[k] += normals[3 * f + k];
      return Math.hypot(...sum) > 1e-12 ? sum : UNIT.y;
    },
  },
  run: (mesh, { indices }, v, id, tell) => {
    const out = extrudeFaces(mesh, indices, v, id);
    if (v.inset !== 0) tellTurnedOver(turnedOver(mesh, out, indices), indices.length, tell);
    return out;
  },
});
