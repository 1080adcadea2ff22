import { extrude as extrudeFaces, turnedOver } from '../edit/extrude';
import { faceNormals } from '../mesh/normals';
import type { Triple } from '../math/affine';
import { raysOf } from '../mesh/rays';
import type { Handed } from '../recipe/define';
import { choice, length, pieceName, toggle } from '../recipe/values';
import { defineTool, otherOf } from './define';
import { tellTurnedOver } from './inset';

const UNIT: Readonly<Record<string, Triple>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

/** How far it is to another piece, along a way or against it; counts what meets nothing. */
function meetsWith(other: Handed, sign: 1 | -1) {
  const ground = other.geometry.mesh;
  if (!ground || ground.faceCount === 0) throw new Error(`“${other.name}” has no surface to meet.`);
  const rays = raysOf(ground);
  let missed = 0;
  return {
    until: (place: Triple, [x, y, z]: Triple): number | undefined => {
      const hit = rays.cast(place, [sign * x, sign * y, sign * z]);
      if (!hit) missed++;
      return hit && sign * hit.t;
    },
    missed: () => missed,
  };
}

const counted = (n: number, one: string, many: string): string => `${n} ${n === 1 ? one : many}`;

export const extrude = defineTool({
  id: 'extrude',
  title: 'Extrude',
  sentence: ' {pick} by {by} along {along}, until it meets {until}, insetting {inset}, {each}',
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
    until: pieceName('until it meets', 'nothing'),
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
  run: (mesh, { indices }, v, id, tell, around) => {
    const meets = v.until === '' ? undefined : meetsWith(otherOf(v.until, around), v.by < 0 ? -1 : 1);
    const out = extrudeFaces(mesh, indices, { ...v, until: meets?.until }, id);
    if (meets && meets.missed() > 0)
      tell?.(`${counted(meets.missed(), 'vertex meets', 'vertices meet')} nothing of it and went the given length.`);
    if (v.inset !== 0) tellTurnedOver(turnedOver(mesh, out, indices), indices.length, tell);
    return out;
  },
});
