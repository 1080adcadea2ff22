import { box, cubeSphere, cylinder } from '../../make/primitives';
import { faceNormals } from '../../mesh/normals';
import { edgeKeys } from '../../mesh/picks';
import { UV, type Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';
import { triangulate } from '../../mesh/triangulate';
import { UNWRAPPING, allFaces, uvOf } from '../../testing/unwrapping';
import { uvFigures, triangleFigures } from '../measure';
import { unwrapMesh } from '../unwrap';
import { editNames, editSheet, needsOf, type EditName } from '.';
import { bordersOf, SheetEdit } from './sheet';

const flat = (mesh: Mesh): Mesh => unwrapMesh(mesh, UNWRAPPING).mesh;
const cube = flat(box({ width: 1, height: 2, depth: 3, cutX: 3, cutY: 4, cutZ: 5, onGround: false }, 1));
const drum = flat(
  cylinder({ radius: 0.5, topRadius: 0.5, height: 2, sides: 24, rows: 6, cap: 'polygon', onGround: false }, 2),
);

/** The mesh with what an edit made of its layout. */
function after(m: Mesh, name: EditName, o: Partial<Parameters<typeof editSheet>[2]> = {}): Mesh {
  const { uv: data } = editSheet(m, name, { faces: allFaces(m), edges: [], texels: 1024, ...o });
  return m.withAttribute(UV, { domain: 'corner', width: 2, data });
}
const islandsOf = (m: Mesh) => {
  const s = new SheetEdit(m);
  return s
    .islandsWith(allFaces(m))
    .map((i) => ({ faces: [...s.facesOf(i)], ...s.boxOf(s.facesOf(i)), ...s.areasOf(s.facesOf(i)) }));
};
const densities = (m: Mesh): number[] => islandsOf(m).map((i) => 1024 * Math.sqrt(i.sheet / i.surface));

test('turned four times, and mirrored twice, all lies as it lay; islands stay islands', () => {
  for (const [name, times] of [
    ['turn left', 4],
    ['turn right', 4],
    ['flip across', 2],
    ['flip down', 2],
  ] as const) {
    let m = cube;
    for (let i = 0; i < times; i++) {
      m = after(m, name);
      expect(islandsOf(m)).toHaveLength(6);
    }
    uvOf(m).forEach((x, i) => expect(x).toBeCloseTo(uvOf(cube)[i], 5));
  }
});

test('lined up and spread, islands stand at one line with gaps alike', () => {
  const left = islandsOf(after(cube, 'left'));
  for (const i of left) expect(i.x0).toBeCloseTo(left[0].x0, 5);
  const middles = islandsOf(after(cube, 'middle down'));
  for (const i of middles) expect(i.y0 + i.y1).toBeCloseTo(middles[0].y0 + middles[0].y1, 5);
  const across = islandsOf(after(cube, 'spread across')).sort((a, b) => a.x0 + a.x1 - b.x0 - b.x1);
  const gaps = across.slice(1).map((b, i) => b.x0 - across[i].x1);
  for (const g of gaps) expect(g).toBeCloseTo(gaps[0], 4);
});

test('densities are set, doubled, and made even without one texel more', () => {
  const s = new SheetEdit(cube);
  const one = [...s.facesOf(s.of[0])];
  const uneven = after(cube, 'double', { faces: one });
  const before = densities(cube);
  const now = densities(uneven);
  expect(Math.max(...now) / Math.min(...now)).toBeCloseTo(2, 3);
  const even = after(uneven, 'even density');
  for (const d of densities(even)) expect(d).toBeCloseTo(densities(even)[0], 2);
  const sheet = (m: Mesh) => islandsOf(m).reduce((n, i) => n + i.sheet, 0);
  expect(sheet(even)).toBeCloseTo(sheet(uneven), 4);
  for (const d of densities(after(cube, 'density', { density: 200 }))) expect(d).toBeCloseTo(200, 1);
  expect(densities(after(uneven, 'halve', { faces: one }))[0]).toBeCloseTo(before[0], 2);
});

test('opposite sides of a box lie on each other, and nothing else does', () => {
  const m = after(cube, 'stack');
  const f = uvFigures(m, uvOf(m));
  // Three shapes, each twice: half of what lay there lies under the other half.
  const covered = uvFigures(cube, uvOf(cube)).coverage;
  expect(f.coverage).toBeCloseTo(covered / 2, 1);
  const boxes = islandsOf(m).map((i) => [i.x0, i.y0, i.x1, i.y1].map((x) => x.toFixed(4)).join());
  expect(new Set(boxes).size).toBe(3);
  expect(triangleFigures(m, uvOf(m), triangulate(m)).stretch.every((x) => x < 1.01)).toBe(true);
  expect(() => after(drum, 'stack', { faces: [0] })).toThrow('two islands');
});

test('a bent island of rows becomes a grid: upright, as large, every column as wide as on the surface', () => {
  const s = new SheetEdit(drum);
  const side = s.islandsWith(allFaces(drum)).find((i) => s.facesOf(i).length > 20)!;
  // Bent out of shape first.
  const bent = uvOf(drum).slice();
  for (const c of s.cornersOf(s.facesOf(side))) bent[2 * c + 1] += 0.1 * Math.sin(9 * bent[2 * c]);
  const m = drum.withAttribute(UV, { domain: 'corner', width: 2, data: bent });
  const out = after(m, 'straighten', { faces: [s.facesOf(side)[0]] });
  const t = new SheetEdit(out);
  const faces = t.facesOf(side);
  for (const f of faces)
    for (let q = 0; q < 4; q++) {
      const [a, b] = [out.faceStart[f] + q, out.faceStart[f] + ((q + 1) & 3)];
      const d = [0, 1].map((k) => Math.abs(uvOf(out)[2 * a + k] - uvOf(out)[2 * b + k]));
      expect(Math.min(...d)).toBeLessThan(1e-5);
    }
  expect(t.areasOf(faces).sheet).toBeCloseTo(new SheetEdit(m).areasOf(faces).sheet, 5);
  const f = uvFigures(out, uvOf(out));
  expect([f.flips, f.islands]).toEqual([0, 3]);
  expect(() => after(drum, 'straighten')).toThrow('rows and columns');
});

test('relaxed, what was bent lies flat again where it lay, as large as it was', () => {
  const s = new SheetEdit(drum);
  const side = s.islandsWith(allFaces(drum)).find((i) => s.facesOf(i).length > 20)!;
  const bent = uvOf(drum).slice();
  for (const c of s.cornersOf(s.facesOf(side))) bent[2 * c + 1] += 0.1 * Math.sin(9 * bent[2 * c]);
  const m = drum.withAttribute(UV, { domain: 'corner', width: 2, data: bent });
  const faces = [s.facesOf(side)[0]];
  const stretch = (x: Mesh) => uvFigures(x, uvOf(x)).stretchMean;
  expect(stretch(m)).toBeGreaterThan(1.05);
  for (const name of ['relax angles', 'relax lengths'] as const) {
    const out = after(m, name, { faces });
    expect(stretch(out)).toBeLessThan(1.01);
    const [a, b] = [m, out].map((x) => new SheetEdit(x));
    expect(b.areasOf(s.facesOf(side)).sheet).toBeCloseTo(a.areasOf(s.facesOf(side)).sheet, 4);
    const [p, q] = [a, b].map((x) => x.boxOf(s.facesOf(side)));
    expect(q.x0 + q.x1).toBeCloseTo(p.x0 + p.x1, 1);
  }
  const within = after(m, 'relax within', { faces });
  const borders = bordersOf(drum, uvOf(drum));
  const t = topologyOf(drum);
  let held = 0;
  for (const c of s.cornersOf(s.facesOf(side)))
    if (borders[t.cornerEdge[c]]) {
      held++;
      expect(uvOf(within)[2 * c + 1]).toBeCloseTo(bent[2 * c + 1], 5);
    }
  expect(held).toBeGreaterThan(40);
});

test('sewn, the smaller island is pulled over and becomes part of the other; the box is laid out as a cross', () => {
  const t = topologyOf(cube);
  const borders = bordersOf(cube, uvOf(cube));
  const s = new SheetEdit(cube);
  const first = s.of[0];
  const edges: number[] = [];
  let with_ = -1;
  for (let e = 0; e < t.edgeCount; e++) {
    if (!borders[e]) continue;
    const k = t.edgeCornerStart[e];
    const sides = [t.edgeCorner[k], t.edgeCorner[k + 1]].map((c) => s.of[t.cornerFace[c]]);
    if (!sides.includes(first)) continue;
    const other = sides.find((x) => x !== first)!;
    if (with_ < 0) with_ = other;
    if (other === with_) edges.push(e);
  }
  const out = after(cube, 'sew', { edges });
  expect(islandsOf(out)).toHaveLength(5);
  const f = uvFigures(out, uvOf(out));
  expect(f.flips).toBe(0);
  expect(f.stretchMax).toBeLessThan(1.01);
  for (const d of densities(out)) expect(d).toBeCloseTo(densities(cube)[0], 0);
  // Turned level by a sewn edge, sides of the box lie along the sheet.
  const turned = after(after(out, 'turn left'), 'level', { edges });
  const [e] = edges;
  const c = t.edgeCorner[t.edgeCornerStart[e]];
  const n = c + 1 < cube.faceStart[t.cornerFace[c] + 1] ? c + 1 : cube.faceStart[t.cornerFace[c]];
  const d = [0, 1].map((k) => Math.abs(uvOf(turned)[2 * c + k] - uvOf(turned)[2 * n + k]));
  expect(Math.min(...d)).toBeLessThan(1e-5);
});

describe('laid as it is seen', () => {
  const density = (m: Mesh) => {
    const s = new SheetEdit(m);
    const { surface, sheet } = s.areasOf(allFaces(m));
    return Math.sqrt(sheet / surface);
  };

  test('from six sides a box is six islands, none of them stretched, none on another', () => {
    const f = uvFigures(after(cube, 'from six sides'), uvOf(after(cube, 'from six sides')));
    expect([f.islands, f.flips, f.overlap]).toEqual([6, 0, 0]);
    expect(f.stretchMax).toBeLessThan(1.001);
    // Laid in rows they need more room than the sheet has: as large as it has it. In a corner there is room.
    const { uv, told } = editSheet(cube, 'from six sides', { faces: allFaces(cube), edges: [], texels: 1024 });
    const share = density(cube.withAttribute(UV, { domain: 'corner', width: 2, data: uv })) / density(cube);
    expect(told).toBe(
      `At the density they had they would not fit the sheet: they lie at ${Math.floor(100 * share)} % of it.`,
    );
    expect(share).toBeGreaterThan(0.5);
    const corner = cube.withAttribute(UV, { domain: 'corner', width: 2, data: uvOf(cube).map((x) => x / 3) });
    expect(density(after(corner, 'from six sides'))).toBeCloseTo(density(corner), 3);
  });

  test('from one side what lies flat lies as it is, and at the density it had', () => {
    const n = faceNormals(cube);
    const top = allFaces(cube).filter((f) => n[3 * f + 1] > 0.9);
    const out = after(cube, 'from one side', { faces: top });
    const s = new SheetEdit(out);
    const [a, b] = [new SheetEdit(cube), s].map((x) => x.areasOf(top).sheet);
    expect(b).toBeCloseTo(a, 5);
    const { stretch } = triangleFigures(out, uvOf(out), triangulate(out));
    expect(stretch.every((x) => x < 1.001)).toBe(true);
  });

  test('round an axis the side of a drum is one strip, as long as it is round, cut where it closes', () => {
    const n = faceNormals(drum);
    const side = allFaces(drum).filter((f) => Math.abs(n[3 * f + 1]) < 0.1);
    const out = after(drum, 'round an axis', { faces: side });
    const s = new SheetEdit(out);
    expect(new Set(side.map((f) => s.of[f])).size).toBe(1);
    const b = s.boxOf(side);
    // Chords of 24 sides are 0.3 % shorter than the arc.
    expect((b.x1 - b.x0) / (b.y1 - b.y0)).toBeCloseTo((2 * Math.PI * 0.5) / 2, 1);
    const { stretch, area } = triangleFigures(out, uvOf(out), triangulate(out));
    const of = triangulate(out).face;
    for (let i = 0; i < of.length; i++) if (side.includes(of[i]) && area[i] > 0) expect(stretch[i]).toBeLessThan(1.01);
  });

  test('round a middle a ball lies as a chart of the world: twice as wide as high, nothing on its face', () => {
    const ball = flat(cubeSphere({ radius: 0.5, cuts: 6 }, 3));
    const out = after(ball, 'round a middle');
    const b = new SheetEdit(out).boxOf(allFaces(out));
    expect((b.x1 - b.x0) / (b.y1 - b.y0)).toBeGreaterThan(1.8);
    expect((b.x1 - b.x0) / (b.y1 - b.y0)).toBeLessThan(2.6);
    for (const x of uvOf(out)) expect(Number.isFinite(x)).toBe(true);
    expect(uvFigures(out, uvOf(out)).flips).toBe(0);
  });
});

test('whole texels', () => {
  for (const x of uvOf(after(cube, 'texels', { texels: 64 })))
    expect(Math.abs(x * 64 - Math.round(x * 64))).toBeLessThan(1e-4);
});

test('each says what it needs where nothing is picked, or nothing lies on the sheet', () => {
  const bare = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1);
  for (const name of editNames) {
    expect(() => editSheet(bare, name, { faces: [0], edges: [0], texels: 64 })).toThrow('unfold');
    const needs = needsOf(name);
    expect(() => editSheet(cube, name, { faces: [], edges: [], texels: 64 })).toThrow(
      needs === 'edges' ? 'edges' : 'first',
    );
  }
  expect(edgeKeys(cube).length).toBeGreaterThan(0);
});
