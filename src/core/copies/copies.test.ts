import fc from 'fast-check';
import { ellipse } from '../curve/curves';
import { mergeMeshes } from '../edit/merge';
import { transformMesh } from '../edit/transform';
import { boundsOfGeometry, shapeOfGeometry, sizeOf, transformGeometry, whole, type Geometry } from '../geometry';
import { compose, placeMatrix, scaling, translation, type Affine } from '../math/affine';
import { box, cylinder } from '../make/primitives';
import { shapeOf, volumeOf } from '../mesh/measure';
import { marked, marksOf } from '../mesh/marks';
import { boundsOfMesh } from '../mesh/moved';
import { affordable, copiesAt, MOST_COPIES, reachOf, type Sites } from './copies';
import { curveSites, elementSites, fashioned, gridSites, roundSites, rowSites, someSites } from './sites';
import { stacked } from './stack';

const cube = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: true }, 1);
const drum = cylinder(
  { radius: 0.5, topRadius: 0.5, height: 2, sides: 12, rows: 1, cap: 'polygon', onGround: true },
  2,
);
const row = (n: number, step = 2) => rowSites(n, [step, 0, 0], 7);
const flat = (g: Geometry) => whole(g).mesh!;

/** Any placement that does not flatten, mirrored ones among them. */
const place = fc
  .tuple(
    fc.array(fc.double({ min: -3, max: 3, noNaN: true }), { minLength: 6, maxLength: 6 }),
    fc.array(fc.oneof(fc.double({ min: 0.2, max: 3, noNaN: true }), fc.double({ min: -3, max: -0.2, noNaN: true })), {
      minLength: 3,
      maxLength: 3,
    }),
  )
  .map(([a, s]): Affine =>
    placeMatrix({
      at: [a[0], a[1], a[2]],
      turn: [a[3], a[4], a[5]],
      size: s as [number, number, number],
      lean: [0, 0, 0],
      pivot: [0, 0, 0],
    }),
  );

test('as one mesh they are what putting each there makes, mirrored ones turned round', () => {
  fc.assert(
    fc.property(fc.array(place, { minLength: 1, maxLength: 6 }), (places) => {
      const sites: Sites = { place: places, key: places.map((_, i) => i + 1) };
      const mesh = flat({ copies: copiesAt([{ mesh: drum }], sites) });
      const other = mergeMeshes(places.map((m, i) => ({ mesh: transformMesh(drum, m), name: 'x', seed: i + 1 })));
      expect(Array.from(mesh.positions)).toEqual(Array.from(other.positions));
      expect(Array.from(mesh.cornerVertex)).toEqual(Array.from(other.cornerVertex));
      expect(Array.from(mesh.vertexKey)).toEqual(Array.from(other.vertexKey));
      expect(volumeOf(mesh)).toBeGreaterThan(0);
    }),
    { numRuns: 60 },
  );
});

test('what is counted is what would be made', () => {
  const g: Geometry = { mesh: cube, copies: copiesAt([{ mesh: drum }], row(4)) };
  const mesh = flat(g);
  expect(shapeOfGeometry(g)).toEqual(shapeOf(mesh));
  expect(sizeOf(g).faces).toBe(mesh.faceCount);
  expect(new Set(mesh.faceKey).size).toBe(mesh.faceCount);
  expect(Array.from(mesh.faceKey).filter((k) => cube.faceKey.includes(k))).toHaveLength(6);
  expect(whole(g)).toBe(whole(g));
});

test('sets and materials are shared by all, and each face knows its copy', () => {
  const painted = cube.with({
    slots: ['brass'],
    groups: ['lid'],
    attributes: {
      material: { domain: 'face', width: 1, data: new Int32Array(6) },
      group: { domain: 'face', width: 1, data: Int32Array.of(-1, 0, -1, -1, -1, -1) },
    },
  });
  const mesh = flat({ copies: copiesAt([{ mesh: painted }, { mesh: cube }], row(3), [0, 1, 0]) });
  expect([mesh.slots, mesh.groups]).toEqual([['brass'], ['lid']]);
  expect(Array.from(mesh.attributes.material.data)).toEqual([
    ...Array(6).fill(0),
    ...Array(6).fill(-1),
    ...Array(6).fill(0),
  ]);
  expect(Array.from(mesh.attributes.group.data).filter((x) => x === 0)).toHaveLength(2);
  expect(Array.from(mesh.attributes.copy.data)).toEqual([0, 1, 2].flatMap((k) => Array(6).fill(k)));
});

test('creases come along', () => {
  const creased = marked(cube, 'crease', [0, 3], 2);
  const mesh = flat({ copies: copiesAt([{ mesh: creased }], row(3)) });
  expect(Array.from(marksOf(mesh, 'crease')!).filter((x) => x === 2)).toHaveLength(6);
});

test('copies of copies are one list, the inner keys under the outer', () => {
  const inner = { copies: copiesAt([{ mesh: cube }], row(3)) };
  const outer = copiesAt([inner], rowSites(4, [0, 5, 0], 9));
  expect(outer.of).toHaveLength(12);
  expect(outer.sources).toHaveLength(1);
  expect(new Set(outer.key).size).toBe(12);
  expect(boundsOfGeometry({ copies: outer })).toEqual({ min: [-0.5, 0, -0.5], max: [4.5, 16, 0.5] });
  expect(boundsOfMesh(flat({ copies: outer }))).toEqual(boundsOfGeometry({ copies: outer }));
});

test('too many are refused with their number before any is made', () => {
  expect(() => affordable(1000, 1000)).toThrow(
    '1,000,000 copies would come of it; 200,000 are the most. Ask for fewer.',
  );
  expect(() => rowSites(1e9, [1, 0, 0], 1)).toThrow('1,000,000,000 copies');
  const many = { copies: copiesAt([{ mesh: cube }], row(1000)) };
  expect(() => copiesAt([many], row(MOST_COPIES / 1000 + 1))).toThrow('201,000 copies');
});

describe('keys', () => {
  test('what stands on an element stays itself when others are gone', () => {
    const all = elementSites(drum, 'face', [...Array(drum.faceCount).keys()], 'normal', 3);
    const fewer = someSites(
      all,
      all.key.map((_, i) => (i === 2 ? 0 : 1)),
    );
    expect(fewer.key[5]).toBe(all.key[6]);
    expect(fewer.place[5]).toBe(all.place[6]);
  });
  test('more of a row leaves the first as they were', () => {
    expect(row(9).key.slice(0, 4)).toEqual(row(4).key);
  });
});

describe('places', () => {
  test('a whole turn is shared out, of a part both ends are taken', () => {
    const four = roundSites(4, 'y', [0, 0, 0], 2 * Math.PI, 1, true);
    const at = (m: Affine) => [m[0] + m[3], m[4] + m[7], m[8] + m[11]].map((x) => Math.round(x * 1e9) / 1e9 + 0);
    expect(four.place.map(at)).toEqual([
      [1, 0, 0],
      [0, 0, -1],
      [-1, 0, 0],
      [0, 0, 1],
    ]);
    const half = roundSites(3, 'y', [0, 0, 0], Math.PI, 1, true);
    expect(at(half.place[2])).toEqual([-1, 0, 0]);
  });
  test('a grid round the middle has it in the middle', () => {
    const g = gridSites([3, 1, 2], [2, 1, 4], 1, true);
    expect(g.place.map((m) => [m[3], m[7], m[11]])).toEqual([
      [-2, 0, -2],
      [0, 0, -2],
      [2, 0, -2],
      [-2, 0, 2],
      [0, 0, 2],
      [2, 0, 2],
    ]);
  });
  test('along a circle they are evenly apart and look along it', () => {
    const sites = curveSites(ellipse(2, 2, 'xz', 1), { count: 6, apart: 0, aligned: 'upright' }, 1);
    for (const m of sites.place) {
      expect(Math.hypot(m[3], m[11])).toBeCloseTo(2, 2);
      expect([m[1], m[5], m[9]]).toEqual([0, 1, 0].map((x) => expect.closeTo(x, 5)));
      expect(Math.abs(m[2] * m[3] + m[10] * m[11])).toBeLessThan(0.05);
    }
    expect(curveSites(ellipse(2, 2, 'xz', 1), { count: 0, apart: 1, aligned: 'free' }, 1).key).toHaveLength(12);
    expect(() => curveSites(undefined, { count: 3, apart: 0, aligned: 'free' }, 1)).toThrow('no curve');
  });
  test('on faces they stand up along the normals, as right-handed frames', () => {
    for (const how of ['normal', 'along'] as const)
      for (const m of elementSites(drum, 'face', [...Array(drum.faceCount).keys()], how, 1).place) {
        const g = transformMesh(cube, m);
        expect(volumeOf(g)).toBeCloseTo(1, 4);
      }
  });
  test('turned about themselves and sized where they stand', () => {
    const [m] = fashioned({ place: [translation(5, 0, 0)], key: [1] }, 'y', [Math.PI / 2], [2], 1).place;
    const q = compose(m, scaling(1, 1, 1));
    expect([q[3], q[7], q[11]]).toEqual([5, 0, 0]);
    expect([q[0], q[4], q[8]].map((x) => Math.round(x) + 0)).toEqual([0, 0, -2]);
  });
});

describe('a stack', () => {
  const tier = (mesh: typeof cube, count: number, key: number) => ({
    geometry: { mesh },
    count,
    pivot: [0, 0, 0] as const,
    key,
  });
  test('each stands on the one below by how far that truly reaches', () => {
    const tilted = transformMesh(
      cube,
      placeMatrix({ at: [0, 4, 0], turn: [0.5, 0.3, 0], size: [1, 1, 1], lean: [0, 0, 0], pivot: [0, 0, 0] }),
    );
    const [lo, hi] = reachOf({ mesh: tilted }, 1)!;
    const { copies, high } = stacked([tier(drum, 1, 1), tier(tilted, 3, 2), tier(cube, 1, 3)], 1, 0.25, 0);
    expect(high).toBeCloseTo(2 + 3 * (hi - lo) + 1 + 4 * 0.25, 5);
    const b = boundsOfMesh(flat({ copies }));
    expect([b.min[1], b.max[1]]).toEqual([expect.closeTo(0, 5), expect.closeTo(high, 5)]);
  });
  test('what a tier is made of may itself be stacked', () => {
    const inner = { copies: stacked([tier(cube, 5, 1)], 1, 0, 0).copies };
    const { high, copies } = stacked([{ geometry: inner, count: 2, pivot: [0, 0, 0], key: 4 }], 1, 0, 0);
    expect([high, copies.of.length]).toEqual([10, 10]);
  });
  test('more in the middle moves what is above, and nothing below', () => {
    const of = (n: number) => stacked([tier(drum, 1, 1), tier(cube, n, 2), tier(drum, 1, 3)], 1, 0, 0).copies;
    const [a, b] = [of(3), of(8)];
    expect(Array.from(b.key.slice(0, 4))).toEqual(Array.from(a.key.slice(0, 4)));
    expect(b.key[9]).toBe(a.key[4]);
    expect(b.place[12 * 9 + 7]).toBe(a.place[12 * 4 + 7] + 5);
  });
});

test('moved as a whole they are where the whole would be moved to', () => {
  fc.assert(
    fc.property(place, (m) => {
      const g: Geometry = { copies: copiesAt([{ mesh: drum, curves: ellipse(1, 1, 'xz', 1) }], row(3)) };
      const a = whole(transformGeometry(g, m));
      const b = transformGeometry(whole(g), m);
      a.mesh!.positions.forEach((x, i) => expect(x).toBeCloseTo(b.mesh!.positions[i], 4));
      a.curves!.points.forEach((x, i) => expect(x).toBeCloseTo(b.curves!.points[i], 4));
    }),
    { numRuns: 20 },
  );
});
