import fc from 'fast-check';
import { closedBody, seeds, someOf } from '../testing/arbitrary';
import { box, cylinder, plane } from '../make/primitives';
import { keyOf } from '../math/hash';
import { areaOf, shapeOf, volumeOf } from '../mesh/measure';
import { meshFrom } from '../mesh/mesh';
import { edgeKeys, keysOf, resolve } from '../mesh/picks';
import { topologyOf } from '../mesh/topology';
import { extrude } from './extrude';
import { fill } from './fill';
import { loopCut } from './loopcut';
import { mirrorMesh } from './mirror';
import { remove } from './remove';
import { about, compose, determinant, rotation, scaling } from '../math/affine';
import { flipFaces, transformVertices } from './transform';
import { weld } from './weld';

const id = keyOf('t');
const cube = box({ width: 2, height: 2, depth: 2, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, id);
const top = (m = cube) => {
  // the face that looks up
  for (let f = 0; f < m.faceCount; f++) {
    let all = true;
    for (let c = m.faceStart[f]; c < m.faceStart[f + 1]; c++) all &&= m.positions[3 * m.cornerVertex[c] + 1] > 0.99;
    if (all) return f;
  }
  throw new Error('no top');
};
const edge = (m: typeof cube, test: (a: number[], b: number[]) => boolean) => {
  const t = topologyOf(m);
  const at = (v: number) => Array.from(m.positions.subarray(3 * v, 3 * v + 3));
  for (let e = 0; e < t.edgeCount; e++) if (test(at(t.edgeVertex[2 * e]), at(t.edgeVertex[2 * e + 1]))) return e;
  throw new Error('no such edge');
};

/** Outline of a U, 3 wide and 3 high, its prongs 1 wide and 2 high; counter-clockwise. */
const U: [number, number][] = [
  [0, 0],
  [3, 0],
  [3, 3],
  [2, 3],
  [2, 1],
  [1, 1],
  [1, 3],
  [0, 3],
];
/** Teeth by height and width on a bar from −1 to 0, gaps of 0.5 between them. */
function combOf(teeth: [number, number][]): [number, number][] {
  const back: [number, number][] = [];
  let x = 0;
  for (const [height, width] of teeth) {
    back.push([x, 0], [x, height], [x + width, height], [x + width, 0]);
    x += width + 0.5;
  }
  return [[-0.5, -1], [x, -1], [x, 0], ...back.reverse(), [-0.5, 0]];
}
const flatOf = (outline: [number, number][], z = 0) => outline.flatMap(([x, y]) => [x, y, z]);
/** An outline given thickness: its caps are faces 0 and 1. */
function prism(outline: [number, number][], thickness: number) {
  const n = outline.length;
  const ring = outline.map((_, i) => i);
  return meshFrom(
    [...flatOf(outline, thickness), ...flatOf(outline)],
    [ring, ring.map((i) => n + i).reverse(), ...ring.map((i) => [i, n + i, n + ((i + 1) % n), (i + 1) % n])],
  );
}
const capOf = (m: typeof cube) =>
  Array.from({ length: m.faceCount }, (_, f) => f).find((f) => m.faceStart[f + 1] - m.faceStart[f] > 4)!;
function openVertices(m: typeof cube): number[] {
  const t = topologyOf(m);
  const out: number[] = [];
  for (let e = 0; e < t.edgeCount; e++)
    if (t.edgeCornerStart[e + 1] - t.edgeCornerStart[e] === 1) out.push(t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]);
  return out;
}
const loneVertex = (m: typeof cube, but: number[]) =>
  Array.from({ length: m.vertexCount }, (_, v) => v).find((v) => !but.includes(v))!;

describe('extrude', () => {
  test('a cube’s top by 1 adds its area times 1, and keeps the cap’s key', () => {
    const f = top();
    const key = cube.faceKey[f];
    const m = extrude(cube, [f], { by: 1, along: 'normals', each: false, inset: 0 }, 7);
    expect(volumeOf(m)).toBeCloseTo(12, 5);
    expect(shapeOf(m)).toMatchObject({ closed: true, oriented: true, eulerCharacteristic: 2, faces: 10 });
    expect(m.faceKey.includes(key)).toBe(true);
  });
  test('inset makes a frame of even width', () => {
    const m = extrude(cube, [top()], { by: 0, along: 'normals', each: false, inset: 0.25 }, 7);
    expect(areaOf(m)).toBeCloseTo(24, 5);
    const f = resolve(m, { kind: 'face', keys: [cube.faceKey[top()]] }).indices[0];
    expect(
      areaOf(
        m,
        Uint8Array.from({ length: m.faceCount }, (_, i) => (i === f ? 1 : 0)),
      ),
    ).toBeCloseTo(1.5 * 1.5, 5);
  });
  test('faces each alone stand apart', () => {
    const b = box({ width: 2, height: 1, depth: 1, cutX: 2, cutY: 1, cutZ: 1, onGround: false }, id);
    const up = Array.from({ length: b.faceCount }, (_, f) => f).filter((f) => {
      let y = 0;
      for (let c = b.faceStart[f]; c < b.faceStart[f + 1]; c++) y += b.positions[3 * b.cornerVertex[c] + 1];
      return y > 1.9;
    });
    expect(up.length).toBe(2);
    expect(extrude(b, up, { by: 1, along: 'normals', each: false, inset: 0 }, 7).faceCount).toBe(b.faceCount + 6);
    expect(extrude(b, up, { by: 1, along: 'normals', each: true, inset: 0.1 }, 7).faceCount).toBe(b.faceCount + 8);
  });
  test('along an axis, whatever the faces look like', () => {
    const m = extrude(cube, [top()], { by: 0.5, along: 'x', each: false, inset: 0 }, 7);
    expect(volumeOf(m)).toBeCloseTo(8, 5); // sheared, nothing gained
  });
  test('two sides of a cube move by the full distance at their shared corner', () => {
    const side = Array.from({ length: 6 }, (_, f) => f).find((f) => {
      let x = 0;
      for (let c = cube.faceStart[f]; c < cube.faceStart[f + 1]; c++) x += cube.positions[3 * cube.cornerVertex[c]];
      return x > 3.9;
    })!;
    const m = extrude(cube, [top(), side], { by: 1, along: 'normals', each: false, inset: 0 }, 7);
    expect(Math.max(...m.positions.filter((_, i) => i % 3 === 0))).toBeCloseTo(2, 5);
    expect(Math.max(...m.positions.filter((_, i) => i % 3 === 1))).toBeCloseTo(2, 5);
  });
  test('closed stays closed, and Euler’s number is kept for single faces', () => {
    fc.assert(
      fc.property(
        closedBody,
        seeds,
        fc.boolean(),
        fc.double({ min: -0.05, max: 0.3, noNaN: true }),
        fc.double({ min: 0, max: 0.02, noNaN: true }),
        (m, s, each, by, inset) => {
          const pick = someOf(m.faceCount, s);
          const out = extrude(m, pick, { by, along: 'normals', each, inset }, 9);
          const shape = shapeOf(out);
          expect(shape.openEdges).toBe(0);
          if (each || pick.length === 1)
            expect(shape).toMatchObject({ closed: true, oriented: true, eulerCharacteristic: 2 });
          for (const f of pick) expect(out.faceKey.includes(m.faceKey[f])).toBe(true);
          expect(new Set(out.vertexKey).size).toBe(out.vertexCount);
          expect(new Set(out.faceKey).size).toBe(out.faceCount);
        },
      ),
      { numRuns: 120 },
    );
  });
});

describe('loop cut', () => {
  const upright = edge(cube, (a, b) => a[0] === b[0] && a[2] === b[2]);
  test('cuts a cube round into n + 1 storeys of even height', () => {
    const m = loopCut(cube, [upright], { count: 3, slide: 0 }, 7);
    expect(m.faceCount).toBe(2 + 16);
    expect(
      [
        ...new Set(
          Array.from(m.positions)
            .filter((_, i) => i % 3 === 1)
            .map((y) => Math.round(y * 1e6) / 1e6),
        ),
      ].sort((a, b) => a - b),
    ).toEqual([-1, -0.5, 0, 0.5, 1]);
    expect(shapeOf(m)).toMatchObject({ closed: true, eulerCharacteristic: 2 });
  });
  test('slide moves the cut, and a cut edge is found again by its old key', () => {
    const m = loopCut(cube, [upright], { count: 1, slide: 0.5 }, 7);
    const r = resolve(m, { kind: 'edge', keys: [edgeKeys(cube)[upright]] });
    expect(r.lost).toEqual([]);
    expect(r.indices.length).toBe(2);
    expect(volumeOf(m)).toBeCloseTo(8, 5);
    const cut = [...new Set(Array.from(m.positions).filter((_, i) => i % 3 === 1))].filter((y) => Math.abs(y) < 0.9);
    expect(Math.abs(cut[0])).toBeCloseTo(0.5, 5);
  });
  test('caps that are not quads take the new vertices, so nothing cracks', () => {
    fc.assert(
      fc.property(
        closedBody,
        seeds,
        fc.integer({ min: 1, max: 3 }),
        fc.double({ min: -0.9, max: 0.9, noNaN: true }),
        (m, s, count, slide) => {
          const e = someOf(topologyOf(m).edgeCount, s);
          const out = loopCut(m, e, { count, slide }, 11);
          expect(shapeOf(out)).toMatchObject({ closed: true, oriented: true, eulerCharacteristic: 2 });
          expect(Math.abs(volumeOf(out) / volumeOf(m) - 1)).toBeLessThan(0.05); // quads that are not flat may fold differently
          expect(new Set(out.vertexKey).size).toBe(out.vertexCount);
          // Every old edge and face can still be picked by its key.
          for (const kind of ['edge', 'face', 'vertex'] as const)
            expect(resolve(out, { kind, keys: Array.from(keysOf(m, kind)) }).lost).toEqual([]);
        },
      ),
      { numRuns: 120 },
    );
  });
});

describe('delete, fill, weld', () => {
  test('delete the top, fill the hole: the cube is whole again', () => {
    const open = remove(cube, 'face', [top()]);
    expect(shapeOf(open)).toMatchObject({ openEdges: 4, faces: 5, vertices: 8 });
    const rim = edge(open, (a, b) => a[1] > 0.9 && b[1] > 0.9);
    const m = fill(open, 'edge', [rim], 7);
    expect(shapeOf(m)).toMatchObject({ closed: true, oriented: true });
    expect(volumeOf(m)).toBeCloseTo(8, 5);
  });
  test('delete a vertex: its three faces go with it', () => {
    expect(shapeOf(remove(cube, 'vertex', [0]))).toMatchObject({ faces: 3, vertices: 7 });
    expect(remove(cube, 'edge', [0]).faceCount).toBe(4);
  });
  test('deleting everything leaves an empty mesh', () => {
    const none = remove(cube, 'face', [0, 1, 2, 3, 4, 5]);
    expect(none.faceCount).toBe(0);
    expect(none.vertexCount).toBe(0);
  });
  test('a face from four vertices in any order, facing as its neighbours do', () => {
    const open = remove(cube, 'face', [top()]);
    const rim = Array.from({ length: 8 }, (_, v) => v).filter((v) => open.positions[3 * v + 1] > 0.9);
    const m = fill(open, 'vertex', [rim[2], rim[0], rim[3], rim[1]], 7);
    expect(shapeOf(m)).toMatchObject({ closed: true, oriented: true });
    expect(volumeOf(m)).toBeCloseTo(8, 5);
  });
  test('a face between two edges of two pieces', () => {
    const two = meshFrom(
      [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 2, 0, 0, 3, 0, 0, 3, 1, 0, 2, 1, 0],
      [
        [0, 1, 2, 3],
        [4, 5, 6, 7],
      ],
    );
    const m = fill(
      two,
      'edge',
      [edge(two, (a, b) => a[0] === 1 && b[0] === 1), edge(two, (a, b) => a[0] === 2 && b[0] === 2)],
      7,
    );
    expect(areaOf(m)).toBeCloseTo(3, 6);
    expect(shapeOf(m)).toMatchObject({ faces: 3, components: 1, oriented: true });
  });
  test('vertices of a border of any shape: its open edges say the order', () => {
    const u = prism(U, 1);
    const open = remove(u, 'face', [capOf(u)]);
    const rim = [...new Set(openVertices(open))];
    const m = fill(
      open,
      'vertex',
      [...rim].sort((a, b) => ((a * 5) % 7) - ((b * 5) % 7)),
      7,
    );
    expect(shapeOf(m)).toMatchObject({ closed: true, oriented: true });
    expect(volumeOf(m)).toBeCloseTo(areaOf(meshFrom(flatOf(U), [U.map((_, i) => i)])), 5);
    expect(() => fill(open, 'vertex', [...rim, loneVertex(open, rim)], 7)).toThrow(/one after the other/);
  });
  test('two borders at once become two faces; a part of a border is closed from end to end', () => {
    const tube = remove(prism(U, 1), 'face', [0, 1]);
    const both = fill(
      tube,
      'vertex',
      Array.from({ length: tube.vertexCount }, (_, v) => v),
      7,
    );
    expect(shapeOf(both)).toMatchObject({ closed: true, oriented: true, faces: U.length + 2 });
    const sheet = plane({ width: 4, depth: 1, cutX: 4, cutZ: 1 }, id);
    const side = Array.from({ length: sheet.vertexCount }, (_, v) => v).filter((v) => sheet.positions[3 * v + 2] > 0.4);
    const p = sheet.positions.slice();
    side.forEach((v) => (p[3 * v + 1] = Math.abs(p[3 * v]) < 1.5 ? -1 : 0)); // a ditch in the edge of it
    expect(areaOf(fill(sheet.moved(p), 'vertex', side, 7))).toBeGreaterThan(areaOf(sheet.moved(p)) + 2.9);
  });
  test('what cannot be filled says so', () => {
    expect(() => fill(cube, 'edge', [0], 7)).toThrow(/open edges/);
    expect(() => fill(cube, 'vertex', [0, 1], 7)).toThrow(/three or more/);
  });
  test('weld joins what is close and drops what collapses', () => {
    const apart = meshFrom(
      [0, 0, 0, 1, 0, 0, 0, 1, 0, 1.00001, 0, 0, 1, 1, 0, 0, 1.00001, 0],
      [
        [0, 1, 2],
        [3, 4, 5],
      ],
    );
    expect(shapeOf(weld(apart, 0.001))).toMatchObject({ vertices: 4, edges: 5, components: 1 });
    expect(weld(cube, 0.1)).toBe(cube);
    expect(weld(cube, 10).faceCount).toBe(0);
    const sliver = meshFrom([0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 0, 1.00001, 0], [[0, 1, 2, 3, 4]]);
    expect(shapeOf(weld(sliver, 0.001))).toMatchObject({ vertices: 4, faces: 1 });
  });
});

describe('mirror', () => {
  const options = { axis: 'x' as const, keep: 'positive' as const, weld: 1e-4, clip: true };
  test('half a cube across x is the cube, in one piece', () => {
    const m = mirrorMesh(cube, options, 7);
    expect(volumeOf(m)).toBeCloseTo(8, 5);
    expect(shapeOf(m)).toMatchObject({ closed: true, oriented: true, eulerCharacteristic: 2, components: 1 });
  });
  test('what stood across the plane is cut at it', () => {
    const moved = transformVertices(cube, [1, 0, 0, 0.5, 0, 1, 0, 0, 0, 0, 1, 0]);
    expect(volumeOf(mirrorMesh(moved, options, 7))).toBeCloseTo(2 * 1.5 * 4, 5);
    expect(volumeOf(mirrorMesh(moved, { ...options, keep: 'negative' }, 7))).toBeCloseTo(2 * 0.5 * 4, 5);
  });
  test('a body beside the plane becomes two', () => {
    const far = transformVertices(cube, [1, 0, 0, 5, 0, 1, 0, 0, 0, 0, 1, 0]);
    expect(shapeOf(mirrorMesh(far, options, 7))).toMatchObject({ components: 2, closed: true, oriented: true });
  });
  test('both prongs of a U through the plane stay two', () => {
    // The plane cuts the prongs; what is kept are their tips.
    const u = prism(U, 1);
    const turned = transformVertices(u, [0, 1, 0, -2, 1, 0, 0, 0, 0, 0, -1, 0]);
    const m = mirrorMesh(turned, options, 7);
    expect(shapeOf(m)).toMatchObject({ components: 2, closed: true, oriented: true, eulerCharacteristic: 4 });
    expect(volumeOf(m)).toBeCloseTo(4, 5);
    expect(new Set(m.faceKey).size).toBe(m.faceCount);
    const back = mirrorMesh(turned, { ...options, keep: 'negative' }, 7);
    expect(shapeOf(back)).toMatchObject({ components: 1, closed: true, oriented: true, eulerCharacteristic: 0 });
    expect(volumeOf(back)).toBeCloseTo(10, 5);
  });
  test('a comb cut anywhere keeps the volume of what is on either side', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: 0.2, max: 3, noNaN: true }), fc.double({ min: 0.1, max: 2, noNaN: true })), {
          minLength: 1,
          maxLength: 7,
        }),
        fc.integer({ min: -1, max: 12 }),
        (teeth, quarter) => {
          const at = quarter / 4;
          const comb = prism(combOf(teeth), 1);
          const turned = transformVertices(comb, [0, 1, 0, -at, 1, 0, 0, 0, 0, 0, -1, 0]);
          const [front, behind] = (['positive', 'negative'] as const).map((keep) =>
            mirrorMesh(turned, { ...options, keep, weld: 0 }, 7),
          );
          expect((volumeOf(front) + volumeOf(behind)) / 2).toBeCloseTo(volumeOf(comb), 3);
          for (const m of [front, behind]) {
            expect(shapeOf(m).oriented).toBe(true);
            expect(new Set(m.faceKey).size).toBe(m.faceCount);
          }
          const longer = teeth.filter(([height]) => height > at + 1e-6).length;
          if (at > 0.01) expect(shapeOf(front).components).toBe(longer);
        },
      ),
      { numRuns: 100 },
    );
  });
  test('symmetric, closed, keys unique, on any body', () => {
    fc.assert(
      fc.property(
        closedBody,
        fc.constantFrom('x' as const, 'y' as const, 'z' as const),
        fc.double({ min: -0.6, max: 0.6, noNaN: true }),
        (m, axis, shift) => {
          const d = [0, 0, 0];
          d['xyz'.indexOf(axis)] = shift;
          const out = mirrorMesh(
            transformVertices(m, [1, 0, 0, d[0], 0, 1, 0, d[1], 0, 0, 1, d[2]]),
            { ...options, axis },
            7,
          );
          if (out.faceCount === 0) return;
          expect(shapeOf(out)).toMatchObject({ openEdges: 0, oriented: true });
          const k = 'xyz'.indexOf(axis);
          let sum = 0;
          for (let i = k; i < out.positions.length; i += 3) sum += out.positions[i];
          expect(sum).toBeCloseTo(0, 3);
          expect(new Set(out.vertexKey).size).toBe(out.vertexCount);
        },
      ),
      { numRuns: 80 },
    );
  });
});

test('transforms: a turn keeps volume, a size multiplies it, a map that mirrors has a negative determinant', () => {
  const turned = transformVertices(cube, about(rotation('y', 0.7), 1, 2, 3));
  expect(volumeOf(turned)).toBeCloseTo(8, 4);
  expect(volumeOf(transformVertices(cube, scaling(2, 1, 0.5)))).toBeCloseTo(8, 5);
  expect(determinant(compose(scaling(-1, 1, 1), rotation('x', 1)))).toBeCloseTo(-1, 6);
  expect(volumeOf(flipFaces(cube))).toBeCloseTo(-8, 5);
});

test('attributes of corners are carried through cuts and mirrors', () => {
  const p = plane({ width: 1, depth: 1, cutX: 1, cutZ: 1 }, id);
  const uv = new Float32Array(8);
  for (let c = 0; c < 4; c++) {
    uv[2 * c] = p.positions[3 * p.cornerVertex[c]];
    uv[2 * c + 1] = p.positions[3 * p.cornerVertex[c] + 2];
  }
  const withUv = p.withAttribute('uv', { domain: 'corner', width: 2, data: uv });
  for (const m of [
    loopCut(withUv, [0], { count: 2, slide: 0.2 }, 7),
    extrude(withUv, [0], { by: 0, along: 'normals', each: false, inset: 0 }, 7),
  ]) {
    const out = m.attributes.uv.data;
    for (let c = 0; c < m.cornerCount; c++) {
      expect(out[2 * c]).toBeCloseTo(m.positions[3 * m.cornerVertex[c]], 5);
      expect(out[2 * c + 1]).toBeCloseTo(m.positions[3 * m.cornerVertex[c] + 2], 5);
    }
  }
});

test('extruding a disc of a cylinder wall and back keeps the original picks', () => {
  const c = cylinder({ radius: 1, topRadius: 1, height: 1, sides: 8, rows: 2, cap: 'polygon', onGround: true }, id);
  const out = extrude(c, [0, 1, 2], { by: 0.2, along: 'normals', each: false, inset: 0.02 }, 5);
  expect(resolve(out, { kind: 'vertex', keys: Array.from(c.vertexKey) }).lost).toEqual([]);
});
