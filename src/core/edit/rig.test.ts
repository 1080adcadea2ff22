/** Detach, keep, merge, soft falloff, and moves along any axes about any point. */
import fc from 'fast-check';
import { curveLength, ellipse, flattenCurves, transformCurves } from '../curve/curves';
import { boundsOfGeometry, displayGeometry } from '../geometry';
import { applyPoint, compose, rotation, rotationAbout, scaling, translation, turned, about } from '../math/affine';
import { keyOf } from '../math/hash';
import { box, cubeSphere } from '../make/primitives';
import { angleAt, circleThrough } from '../mesh/span';
import { elementPoint, nearestElement } from '../mesh/elements';
import { areaOf, components, shapeOf, volumeOf } from '../mesh/measure';
import { emptyMesh, type Mesh } from '../mesh/mesh';
import { edgeKeys, mask } from '../mesh/picks';
import { partsOf } from '../mesh/walks';
import { followRecipe } from '../steps';
import { Memory } from '../recipe/memory';
import type { Step } from '../recipe/values';
import { toolDef } from '../tools';
import { defaultsOf } from '../recipe/values';
import { closedBody, seeds, someOf } from '../testing/arbitrary';
import { detach, keepFaces } from './detach';
import { meshFrom } from '../mesh/mesh';
import { mergeMeshes } from './merge';
import { fade, softWeights } from './soft';
import { transformMesh, transformVertices } from './transform';

const id = keyOf('rig');
const cube = box({ width: 2, height: 2, depth: 2, cutX: 2, cutY: 2, cutZ: 2, onGround: false }, id);
const run = (
  mesh: Mesh,
  tool: string,
  kind: 'vertex' | 'face',
  indices: Uint32Array,
  values: Record<string, unknown>,
) => {
  const d = toolDef(tool)!;
  return d.run(mesh, { kind, indices }, { ...defaultsOf(d.values), ...values } as never, id);
};

describe('detach', () => {
  test('faces keep their keys, areas and places; what hung together comes apart', () => {
    fc.assert(
      fc.property(closedBody, seeds, (m, list) => {
        const faces = someOf(m.faceCount, list);
        const out = detach(m, faces, false, id);
        expect(out.faceCount).toBe(m.faceCount);
        expect(new Set(out.faceKey)).toEqual(new Set(m.faceKey));
        expect(areaOf(out)).toBeCloseTo(areaOf(m), 5);
        expect(new Set(out.vertexKey).size).toBe(out.vertexCount);
        const picked = mask(m.faceCount, faces);
        const { of } = components(out);
        const sides = [new Set<number>(), new Set<number>()];
        for (let f = 0; f < out.faceCount; f++) sides[picked[f]].add(of[out.cornerVertex[out.faceStart[f]]]);
        for (const c of sides[0]) expect(sides[1].has(c)).toBe(false);
      }),
      { numRuns: 150 },
    );
  });
  test('copied out, they are there twice, with keys of their own', () => {
    const out = detach(cube, [0, 1, 2], true, id);
    expect(out.faceCount).toBe(27);
    expect(new Set(out.faceKey).size).toBe(27);
    expect(shapeOf(out).components).toBe(2);
  });
  test('kept alone, and no vertex more', () => {
    const out = keepFaces(cube, mask(24, [0]));
    expect([out.faceCount, out.vertexCount]).toEqual([1, 4]);
    expect(out.faceKey[0]).toBe(cube.faceKey[0]);
  });
});

describe('merge', () => {
  test('volumes add up, mirrored parts still look outwards, keys are all different, each part is a set', () => {
    fc.assert(
      fc.property(closedBody, closedBody, fc.constantFrom(1, -1), (a, b, sign) => {
        const out = mergeMeshes([
          { mesh: a, name: 'a', seed: 1 },
          { mesh: transformMesh(b, compose(translation(9, 0, 0), scaling(sign * 2, 1, 1))), name: 'b', seed: 2 },
          { mesh: transformMesh(a, translation(-9, 0, 0)), name: 'again', seed: 3 },
        ]);
        expect(volumeOf(out) / (2 * volumeOf(a) + 2 * volumeOf(b))).toBeCloseTo(1, 1); // quads that are not flat are cut the other way when mirrored
        expect(shapeOf(out)).toMatchObject({ closed: true, oriented: true });
        expect(new Set([...out.vertexKey, ...out.faceKey]).size).toBe(out.vertexCount + out.faceCount);
        expect(out.groups).toEqual(['a', 'b', 'again']);
      }),
      { numRuns: 60 },
    );
  });
  test('materials of all parts are there, by name', () => {
    const dressed = (slots: string[]) =>
      cube.with({
        slots,
        attributes: {
          material: { domain: 'face', width: 1, data: Int32Array.from({ length: 24 }, (_, f) => f % slots.length) },
        },
      });
    const out = mergeMeshes([
      { mesh: dressed(['x', 'y']), name: 'a', seed: 1 },
      { mesh: dressed(['y', 'z']), name: 'b', seed: 2 },
      { mesh: cube, name: 'c', seed: 3 },
    ]);
    const names = Array.from(out.attributes.material.data, (s) => out.slots[s] ?? '-');
    expect(out.slots).toEqual(['x', 'y', 'z']);
    expect(names.slice(0, 2).concat(names.slice(24, 26), names.slice(48, 49))).toEqual(['x', 'y', 'y', 'z', '-']);
  });
  test('nothing merged is nothing', () => {
    expect(mergeMeshes([]).vertexCount).toBe(0);
    // Colours of vertices, of corners, and none: each keeps its own, and what has none is white.
    const one = (width: number, domain: 'vertex' | 'corner') =>
      meshFrom([0, 0, 0, 1, 0, 0, 0, 1, 0], [[0, 1, 2]]).withAttribute('color', {
        domain,
        width,
        data: new Float32Array(3 * width).fill(0.5),
      });
    const bare = meshFrom([0, 0, 0, 1, 0, 0, 0, 1, 0], [[0, 1, 2]]);
    const mixed = mergeMeshes(
      [one(3, 'vertex'), one(4, 'corner'), bare].map((mesh, seed) => ({ mesh, name: 'x', seed })),
    );
    const { color } = mixed.attributes;
    expect([color.domain, color.width]).toEqual(['corner', 4]);
    expect([0, 12, 24].map((i) => Array.from(color.data.slice(i, i + 4)))).toEqual([
      [0.5, 0.5, 0.5, 1],
      [0.5, 0.5, 0.5, 0.5],
      [1, 1, 1, 1],
    ]);
    const smooth = mergeMeshes([one(4, 'vertex'), bare].map((mesh, seed) => ({ mesh, name: 'x', seed })));
    expect([smooth.attributes.color.domain, smooth.attributes.color.data[12]]).toEqual(['vertex', 1]);
  });
});

describe('soft falloff', () => {
  test('1 at the pick, 0 from the radius on, falling all the way; by the true distance', () => {
    for (const shape of ['smooth', 'dome', 'sharp', 'straight'] as const) {
      expect([fade(0, shape), fade(1, shape), fade(2, shape)]).toEqual([1, 0, 0]);
      for (let x = 0.05; x < 1; x += 0.05) expect(fade(x, shape)).toBeLessThanOrEqual(fade(x - 0.05, shape));
    }
    const ball = cubeSphere({ radius: 1, cuts: 5 }, id);
    fc.assert(
      fc.property(seeds, fc.double({ min: 0.1, max: 3, noNaN: true }), (list, radius) => {
        const picked = someOf(ball.vertexCount, list);
        const w = softWeights(ball, picked, radius, 'straight');
        const p = ball.positions;
        for (let v = 0; v < ball.vertexCount; v++) {
          const d = Math.min(
            ...Array.from(picked, (q) =>
              Math.hypot(p[3 * v] - p[3 * q], p[3 * v + 1] - p[3 * q + 1], p[3 * v + 2] - p[3 * q + 2]),
            ),
          );
          expect(w[v]).toBeCloseTo(Math.max(0, 1 - d / radius), 5);
        }
      }),
      { numRuns: 60 },
    );
  });
  test('a move takes along what is near, and nothing beyond', () => {
    const grid = cubeSphere({ radius: 1, cuts: 8 }, id);
    const top = nearestElement(grid, 'vertex', [0, 1, 0]);
    const v = grid.vertexKey.indexOf(top.key);
    const out = run(grid, 'move', 'vertex', Uint32Array.of(v), { y: 0.5, soft: 0.6, falloff: 'smooth' });
    expect(out.positions[3 * v + 1]).toBeCloseTo(1.5, 5);
    for (let q = 0; q < grid.vertexCount; q++)
      if (grid.positions[3 * q + 1] < 0.3) expect(out.positions[3 * q + 1]).toBe(grid.positions[3 * q + 1]);
  });
});

describe('moves along any axes', () => {
  const all = Uint32Array.from({ length: cube.vertexCount }, (_, i) => i);
  const angle = fc.double({ min: -3, max: 3, noNaN: true });
  const matches = (m: Mesh, by: (p: number[]) => number[]) => {
    for (let i = 0; i < cube.positions.length; i += 3) {
      const q = by([...cube.positions.subarray(i, i + 3)]);
      for (let k = 0; k < 3; k++) expect(m.positions[i + k]).toBeCloseTo(q[k], 4);
    }
  };
  test('moving, turning and sizing in a frame is doing so in the turned axes', () => {
    fc.assert(
      fc.property(angle, angle, angle, angle, (x, y, z, a) => {
        const f = turned([x, y, z]);
        const frame = { frameX: x, frameY: y, frameZ: z };
        const back = turned([x, y, z]);
        matches(run(cube, 'move', 'vertex', all, { ...frame, x: 1 }), (p) => p.map((c, k) => c + f[4 * k]));
        const axis = [back[1], back[5], back[9]] as const;
        matches(
          run(cube, 'turn', 'vertex', all, { ...frame, axis: 'y', angle: a, about: 'point', px: 1, py: 2, pz: 3 }),
          (p) => applyPoint(about(rotationAbout(axis, a), 1, 2, 3), p),
        );
        expect(
          volumeOf(run(cube, 'size', 'vertex', all, { ...frame, x: 2, y: 3, z: 0.5, about: 'origin' })),
        ).toBeCloseTo(8 * 3, 3);
      }),
      { numRuns: 60 },
    );
  });
  test('each part about its own middle', () => {
    const two = mergeMeshes([
      { mesh: cube, name: 'a', seed: 1 },
      { mesh: transformMesh(cube, translation(10, 0, 0)), name: 'b', seed: 2 },
    ]);
    const faces = Uint32Array.from({ length: two.faceCount }, (_, i) => i);
    expect(partsOf(two, 'face', faces)).toHaveLength(2);
    const out = run(two, 'size', 'face', faces, { x: 2, y: 2, z: 2, about: 'each' });
    expect(volumeOf(out)).toBeCloseTo(2 * 64, 3);
    expect(out.positions.reduce((a, b) => Math.max(a, b), -9)).toBeCloseTo(12, 4); // the second reaches 2 beyond its middle at 10
  });
});

describe('elements and spans', () => {
  test('the nearest element is found, and stays where it is along its edge when the mesh is renumbered', () => {
    const e = nearestElement(cube, 'edge', [0.3, 1, 1]);
    const keys = edgeKeys(cube);
    expect(e.at).toEqual([expect.closeTo(0.3, 6), 1, 1]);
    const moved = transformVertices(cube, translation(5, 0, 0));
    expect(elementPoint(moved, 'edge', Array.from(keys).indexOf(e.key), e.t)).toEqual([expect.closeTo(5.3, 5), 1, 1]);
    expect(nearestElement(cube, 'face', [0.5, 1, 0.5]).at).toEqual([0.5, 1, 0.5]);
    expect(() => nearestElement(emptyMesh(), 'vertex', [0, 0, 0])).toThrow(/nothing there/);
  });
  test('angles and circles in space', () => {
    expect(angleAt([1, 0, 0], [0, 0, 0], [0, 5, 0])).toBeCloseTo(Math.PI / 2, 12);
    expect(angleAt([1, 0, 0], [0, 0, 0], [-3, 0, 0])).toBeCloseTo(Math.PI, 12);
    const n = fc.double({ min: -5, max: 5, noNaN: true });
    const r = fc.double({ min: 0.1, max: 9, noNaN: true });
    fc.assert(
      fc.property(n, n, n, r, n, n, (x, y, z, radius, a, b) => {
        const m = compose(translation(x, y, z), compose(rotation('x', a), rotation('y', b)));
        const p = (t: number) => applyPoint(m, [radius * Math.cos(t), radius * Math.sin(t), 0]);
        const c = circleThrough(p(0), p(2), p(4))!;
        expect(c.radius).toBeCloseTo(radius, 5);
        c.centre.forEach((v, k) => expect(v).toBeCloseTo([x, y, z][k], 4));
      }),
    );
    expect(circleThrough([0, 0, 0], [1, 1, 1], [2, 2, 2])).toBeUndefined();
  });
});

describe('curves', () => {
  test('an ellipse is one to three parts in ten thousand, and as long as it should be', () => {
    const c = ellipse(3, 3, 'xz', 1);
    for (const [x, y, z] of flattenCurves(c, 1e-4)[0]) {
      expect(Math.hypot(x, z) / 3).toBeCloseTo(1, 3);
      expect(y).toBe(0);
    }
    expect(curveLength(c) / (6 * Math.PI)).toBeCloseTo(1, 3);
    expect(curveLength(transformCurves(c, scaling(2, 2, 2)))).toBeCloseTo(2 * curveLength(c), 3);
  });
  test('straight parts stay within their tolerance of the curve', () => {
    fc.assert(
      fc.property(fc.double({ min: 1e-4, max: 0.1, noNaN: true }), (tolerance) => {
        const line = flattenCurves(ellipse(1, 1, 'xy', 1), tolerance)[0];
        for (let i = 1; i < line.length; i++) {
          const m = [0, 1].map((k) => (line[i][k] + line[i - 1][k]) / 2);
          expect(Math.abs(Math.hypot(m[0], m[1]) - 1)).toBeLessThan(tolerance + 3e-4); // the cubic itself is that near to the circle
        }
      }),
      { numRuns: 20 },
    );
  });
  test('are shown, moved by steps, and pass steps that work on faces', async () => {
    const steps: Step[] = [
      { id: 'a', kind: 'section', on: true, values: { wide: 2, high: 1, facing: 'x' } },
      { id: 'b', kind: 'place', on: true, values: { x: 5 } },
      { id: 'c', kind: 'mirror', on: true, values: {} },
    ];
    const out = await followRecipe(steps, { memory: new Memory() });
    expect(Math.min(...out[1].geometry.curves!.points.filter((_, i) => i % 3 === 0))).toBe(5);
    expect(boundsOfGeometry(out[2].geometry)).toMatchObject({ min: [-5, -0.5, -1], max: [5, 0.5, 1] });
    expect(displayGeometry(out[2].geometry).curvePosition!.length).toBeGreaterThan(60);
  });
});

describe('merged pieces and kept parts, as recipes', () => {
  const start = (w: number): Step[] => [
    { id: 'b', kind: 'box', on: true, values: { width: w, height: 1, depth: 1, onGround: false } },
  ];
  const place = (x: number) => [1, 0, 0, x, 0, 1, 0, 0, 0, 0, 1, 0];
  const merged = (w: number): Step => ({
    id: 'm',
    kind: 'merged',
    on: true,
    values: {
      parts: [
        { id: 'p', name: 'left', recipe: start(w), place: place(-3) },
        { id: 'q', name: 'right', recipe: start(1), place: place(3) },
      ],
    },
  });
  const last = async (steps: Step[]) => {
    const o = await followRecipe(steps, { memory: new Memory() });
    return o[o.length - 1];
  };
  test('a part is kept by a face of it, by its set; a change inside the merged piece leaves the part told apart', async () => {
    const { mesh } = await last([merged(1)]);
    const key = mesh.faceKey[0];
    const part = (w: number): Step[] => [
      merged(w),
      { id: 'k', kind: 'keep', on: true, values: { by: 'part', faces: { kind: 'face', keys: [key] }, name: '' } },
    ];
    expect(volumeOf((await last(part(1))).mesh)).toBeCloseTo(1, 5);
    expect(volumeOf((await last(part(2))).mesh)).toBeCloseTo(2, 5);
    expect(
      volumeOf(
        (await last([merged(2), { id: 'k', kind: 'keep', on: true, values: { by: 'set', name: 'right' } }])).mesh,
      ),
    ).toBeCloseTo(1, 5);
    expect(
      (await last([merged(1), { id: 'k', kind: 'keep', on: true, values: { by: 'set', name: 'gone' } }])).error,
    ).toMatch(/no set “gone”/);
    expect(
      (
        await last([
          merged(1),
          { id: 'k', kind: 'keep', on: true, values: { by: 'part', faces: { kind: 'face', keys: [7] } } },
        ])
      ).warnings[0].text,
    ).toMatch(/1 faces that told this part/);
  });
  test('what fails inside is told outside', async () => {
    const broken: Step = {
      ...merged(1),
      values: {
        parts: [
          {
            id: 'p',
            name: 'x',
            recipe: [...start(1), { id: 't', kind: 'texture', on: true, values: {} }],
            place: place(0),
          },
        ],
      },
    };
    expect((await last([broken])).error).toMatch(/no UVs/);
  });
});
