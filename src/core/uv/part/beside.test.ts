import { box, plane } from '../../make/primitives';
import { topologyOf } from '../../mesh/topology';
import { layFlat } from '../flatten/layflat';
import { Parting } from '../flatten/patch';
import { rings } from '../../testing/organic';
import { UNWRAPPING, uvOf } from '../../testing/unwrapping';
import { uvFigures } from '../measure';
import { unwrapMesh } from '../unwrap';
import { besideEachOther } from './beside';
import { seamEdges } from './charts';
import type { Island } from './island';

const sheet = plane({ width: 4, depth: 2, cutX: 8, cutZ: 4 }, 1);
const parting = new Parting(sheet, seamEdges(sheet, { cut: new Set(), hold: new Set(), angle: Infinity }));
const middleOf = (f: number): number => {
  let sum = 0;
  for (let c = sheet.faceStart[f]; c < sheet.faceStart[f + 1]; c++) sum += sheet.positions[3 * sheet.cornerVertex[c]];
  return sum / (sheet.faceStart[f + 1] - sheet.faceStart[f]);
};
const all = Uint32Array.from({ length: sheet.faceCount }, (_, f) => f);

/** The faces of which the middle is somewhere, laid flat by themselves and then turned and sized. */
function islandWhere(is: (x: number) => boolean, turn: number, size: number): Island {
  for (const f of all) parting.label[f] = is(middleOf(f)) ? 1 : 0;
  const patch = parting.patch(all.filter((f) => is(middleOf(f))));
  const laid = layFlat(patch, 1.3);
  const { uv } = laid;
  const [c, s] = [size * Math.cos(turn), size * Math.sin(turn)];
  for (let i = 0; i < uv.length; i += 2)
    [uv[i], uv[i + 1]] = [c * uv[i] - s * uv[i + 1] + 7, s * uv[i] + c * uv[i + 1]];
  laid.figures.scale *= size;
  return { patch, laid };
}

test('what is held all round is cut all the same, and told', () => {
  const crate = box({ width: 1, height: 1, depth: 1, cutX: 2, cutY: 2, cutZ: 2, onGround: false }, 3);
  const hold = new Set(Array.from({ length: topologyOf(crate).edgeCount }, (_, e) => e));
  expect(unwrapMesh(crate, { ...UNWRAPPING, hold }).heldCut).toBeGreaterThan(4);
  expect(unwrapMesh(crate, { ...UNWRAPPING, hold, cut: hold }).heldCut).toBe(0);
  const [one] = hold;
  expect(unwrapMesh(crate, { ...UNWRAPPING, hold: new Set([one]) }).heldCut).toBe(0);
});

describe('two islands beside each other', () => {
  it('lie as the surface does, however each was turned and sized', () => {
    const [a, b] = [islandWhere((x) => x < 0, 0.4, 3), islandWhere((x) => x > 0, 2, 0.2)];
    for (const f of all) parting.label[f] = 1;
    const both = parting.patch(all);
    const uv = besideEachOther(sheet, both, a, b)!;
    const far = (v: number, w: number, p: Float64Array, wide: number): number =>
      Math.hypot(...Array.from({ length: wide }, (_, k) => p[wide * v + k] - p[wide * w + k]));
    const n = both.points.length / 3;
    for (let v = 0; v < n; v++)
      for (let w = 0; w < v; w++) {
        const as = far(v, w, both.points, 3);
        // The scale of an island is known within a hundredth.
        expect(Math.abs(far(v, w, uv, 2) - as)).toBeLessThan(0.02 * as);
      }
  });

  it('are told of where they do not meet', () => {
    const [a, b] = [islandWhere((x) => x < -1, 0, 1), islandWhere((x) => x > 1, 0, 1)];
    for (const f of all) parting.label[f] = Math.abs(middleOf(f)) > 1 ? 1 : 0;
    const apart = parting.patch(all.filter((f) => Math.abs(middleOf(f)) > 1));
    expect(besideEachOther(sheet, apart, a, b)).toBeUndefined();
  });

  it('hang together by edges that are held, without a stretch: no neck between them draws them out', () => {
    const body = rings(14);
    const t = topologyOf(body);
    const first = unwrapMesh(body, UNWRAPPING);
    const uv = uvOf(first.mesh);
    const cut: number[] = [];
    for (let e = 0; e < t.edgeCount; e++) {
      const [c, d] = [t.edgeCorner[t.edgeCornerStart[e]], t.edgeCorner[t.edgeCornerStart[e] + 1]];
      const f = t.cornerFace[d];
      const there = d + 1 === body.faceStart[f + 1] ? body.faceStart[f] : d + 1;
      if (uv[2 * c] !== uv[2 * there] || uv[2 * c + 1] !== uv[2 * there + 1]) cut.push(e);
    }
    const hold = new Set(cut.filter((_, i) => i % 20 === 0));
    const made = unwrapMesh(body, { ...UNWRAPPING, hold });
    expect(uvFigures(made.mesh, uvOf(made.mesh))).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
    expect(made.beyond).toBeLessThan(0.005);
    // Some would lie on what is beside them.
    expect(made.heldCut).toBeLessThan(hold.size / 2);
  });
});
