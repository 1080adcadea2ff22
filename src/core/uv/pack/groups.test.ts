/** Islands on a part of the sheet alone, and islands that lie near those of their kind. */
import { box } from '../../make/primitives';
import { meshFrom, type Mesh } from '../../mesh/mesh';
import { triangulate } from '../../mesh/triangulate';
import { coral, gears, lumpyBall, thrown } from '../../testing/organic';
import { UNWRAPPING, uvOf } from '../../testing/unwrapping';
import { someOf, THOROUGH } from '../../testing/thorough';
import { groupOf, TOGETHER } from './groups';
import { packedLonger } from './longer';
import { islandsOf, uvFigures } from '../measure';
import type { PackIsland } from './pack';
import { partOf, type Part } from './sheets';
import { unwrapMesh } from '../unwrap';

const ball = lumpyBall(6);
const wheels = gears(4);
const branches = coral(8);
const crate = box({ width: 1, height: 2, depth: 3, cutX: 2, cutY: 2, cutZ: 2, onGround: false }, 1);

function boundsOn(uv: Float32Array): [number, number, number, number] {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < uv.length; i += 2) {
    [x0, x1] = [Math.min(x0, uv[i]), Math.max(x1, uv[i])];
    [y0, y1] = [Math.min(y0, uv[i + 1]), Math.max(y1, uv[i + 1])];
  }
  return [x0, y0, x1, y1];
}
function islandsApart(mesh: Mesh, uv = uvOf(mesh)): { islands: PackIsland[]; faces: number[][] } {
  const { ofFace, count } = islandsOf(mesh, uv);
  const islands = Array.from({ length: count }, () => ({ points: [] as number[], triangles: [] as number[] }));
  const faces: number[][] = Array.from({ length: count }, () => []);
  const t = triangulate(mesh);
  t.face.forEach((f, i) => {
    const own = islands[ofFace[f]];
    for (let q = 0; q < 3; q++) {
      const c = t.corners[3 * i + q];
      own.triangles.push(own.points.length / 2);
      own.points.push(uv[2 * c], uv[2 * c + 1]);
    }
  });
  for (let f = 0; f < mesh.faceCount; f++) faces[ofFace[f]].push(f);
  return {
    islands: islands.map((i) => ({ points: Float64Array.from(i.points), triangles: Uint32Array.from(i.triangles) })),
    faces,
  };
}

/** The least way from a corner of one island to a side of another. */
function leastApart(islands: readonly PackIsland[]): number {
  let least = Infinity;
  const boxes = islands.map((i) => boundsOn(Float32Array.from(i.points)));
  islands.forEach((a, i) =>
    islands.forEach((b, j) => {
      const [p, q] = [boxes[i], boxes[j]];
      const far = Math.hypot(Math.max(0, p[0] - q[2], q[0] - p[2]), Math.max(0, p[1] - q[3], q[1] - p[3]));
      if (i === j || far > least) return;
      for (let v = 0; v < a.points.length; v += 2)
        for (let t = 0; t < b.triangles.length; t++) {
          const from = 2 * b.triangles[t];
          const to = 2 * b.triangles[t % 3 === 2 ? t - 2 : t + 1];
          const [dx, dy] = [b.points[to] - b.points[from], b.points[to + 1] - b.points[from + 1]];
          const [x, y] = [a.points[v] - b.points[from], a.points[v + 1] - b.points[from + 1]];
          const along = Math.max(0, Math.min(1, (x * dx + y * dy) / (dx * dx + dy * dy || 1)));
          least = Math.min(least, Math.hypot(x - along * dx, y - along * dy));
        }
    }),
  );
  return least;
}

describe('on a part of the sheet', () => {
  const PARTS: [string, Mesh, Part][] = [
    ['a lumpy ball in a corner', ball, { x: 0.5, y: 0.5, width: 0.5, height: 0.5 }],
    ['a coral in a corner', branches, { x: 0.5, y: 0.5, width: 0.5, height: 0.5 }],
    ['gears in a column', wheels, { x: 0.1, y: 0, width: 0.2, height: 1 }],
    ['a coral in a row', branches, { x: 0, y: 0.8, width: 1, height: 0.2 }],
    ['a lumpy ball in a narrow column', ball, { x: 0.3, y: 0, width: 0.11, height: 1 }],
    ['gears on nearly all', wheels, { x: 0.01, y: 0.02, width: 0.97, height: 0.96 }],
  ];
  test.each(someOf(PARTS, 3))('%s: within it, nothing lost, and it is used', (_, shape, part) => {
    const { mesh } = unwrapMesh(shape, { ...UNWRAPPING, part });
    const [x0, y0, x1, y1] = boundsOn(uvOf(mesh));
    expect(x0).toBeGreaterThan(part.x);
    expect(y0).toBeGreaterThan(part.y);
    expect(x1).toBeLessThan(part.x + part.width);
    expect(y1).toBeLessThan(part.y + part.height);
    const figures = uvFigures(mesh, uvOf(mesh), 512);
    expect(figures).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
    // In a column an island may be as wide as it, and little else beside it.
    expect(figures.coverage / (part.width * part.height)).toBeGreaterThan(0.1);
  });

  test.each([
    ['a column', { x: 0.1, y: 0, width: 0.2, height: 1 }],
    ['a narrow one', { x: 0.3, y: 0, width: 0.05, height: 1 }],
    ['a row', { x: 0, y: 0.4, width: 1, height: 0.1 }],
  ] as [string, Part][])('planks, far longer than it is wide, lie apart in %s', (_, part) => {
    for (const seed of someOf([1, 2, 3, 4, 5], 2)) {
      const roll = thrown(seed);
      const planks = Array.from({ length: 16 }, (_, i) => {
        const [w, h] = i % 2 === 0 ? [0.2 + roll(), 0.01 + 0.03 * roll()] : [0.05 + 0.3 * roll(), 0.05 + 0.3 * roll()];
        return [0, 0, 0, w, 0, 0, w, 0, h, 0, 0, h].map((x, k) => (k % 3 === 1 ? i : x));
      });
      const mesh = meshFrom(
        planks.flat(),
        planks.map((_, i) => [4 * i, 4 * i + 1, 4 * i + 2, 4 * i + 3]),
      );
      const made = unwrapMesh(mesh, { ...UNWRAPPING, part }).mesh;
      expect(uvFigures(made, uvOf(made))).toMatchObject({ islands: 16, overlap: 0, outside: 0 });
    }
  });

  test('on whole texels its islands stand on them; an asked density that does not fit says so', () => {
    const part = { x: 0.25, y: 0.5, width: 0.5, height: 0.25 };
    const { mesh } = unwrapMesh(crate, { ...UNWRAPPING, size: 256, pixels: true, part });
    for (const x of uvOf(mesh)) expect(Math.abs(x * 256 - Math.round(x * 256))).toBeLessThan(1e-3);
    const [x0, y0, x1, y1] = boundsOn(uvOf(mesh));
    expect(Math.min(x0 - 0.25, y0 - 0.5, 0.75 - x1, 0.75 - y1)).toBeGreaterThanOrEqual(0);
    expect(unwrapMesh(crate, { ...UNWRAPPING, density: 300, part }).tooDense).toBe(true);
    expect(unwrapMesh(crate, { ...UNWRAPPING, density: 30, part }).tooDense).toBe(false);
  });

  test('packed longer it stays there', () => {
    const part = { x: 0.5, y: 0, width: 0.5, height: 1 };
    const { mesh } = unwrapMesh(ball, { ...UNWRAPPING, part });
    const out = packedLonger(mesh, {
      ...{ size: 1024, padding: 4, turn: true, locked: new Set<number>(), upright: new Set<number>(), part },
      ...{ effort: 60, stop: () => false, better: (uv: Float32Array) => expect(boundsOn(uv)[0]).toBeGreaterThan(0.5) },
    });
    expect(boundsOn(out)[0]).toBeGreaterThan(0.5);
  });

  test('what the values of a step tell; nothing where that is all of it', () => {
    expect(partOf({})).toBeUndefined();
    expect(partOf({ partLeft: 0.5, partWidth: 1 })).toEqual({ x: 0.5, y: 0, width: 0.5, height: 1 });
  });
});

describe('islands kept together', () => {
  /** Sides of the boxes round groups, against what lies in them. */
  function spread(mesh: Mesh, group: (f: number) => number): number {
    const { islands, faces } = islandsApart(mesh);
    const by = new Map<number, number[]>();
    islands.forEach((i, k) => {
      const name = group(faces[k][0]);
      by.set(name, [...(by.get(name) ?? []), ...i.points]);
    });
    let sum = 0;
    for (const points of by.values()) {
      const [x0, y0, x1, y1] = boundsOn(Float32Array.from(points));
      sum += (x1 - x0) * (y1 - y0);
    }
    return sum;
  }
  const byMaterial = wheels.withAttribute('material', {
    domain: 'face',
    width: 1,
    data: Int32Array.from({ length: wheels.faceCount }, (_, f) => (f * 3 < wheels.faceCount ? 0 : 1)),
  });
  const bySet = ball.withAttribute('group', {
    domain: 'face',
    width: 1,
    data: Int32Array.from({ length: ball.faceCount }, (_, f) => (f % 2 === 0 ? 0 : -1)),
  });

  test('those of one part lie within less, at the padding that was asked for, and no two on each other', () => {
    const group = groupOf(wheels, 'part');
    const loose = unwrapMesh(wheels, UNWRAPPING).mesh;
    const { mesh } = unwrapMesh(wheels, { ...UNWRAPPING, together: 'part' });
    expect(spread(mesh, group)).toBeLessThan(0.6 * spread(loose, group));
    expect(uvFigures(mesh, uvOf(mesh), 512)).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
    const { islands } = islandsApart(mesh);
    const before = leastApart(islandsApart(loose).islands);
    const least = 4 / 1024 - 1e-7;
    expect(before).toBeGreaterThan(least);
    expect(leastApart(islands)).toBeGreaterThan(least);
    // As large as each other as they are without.
    expect(
      uvFigures(mesh, uvOf(mesh), 64).texelDensityMax / uvFigures(mesh, uvOf(mesh), 64).texelDensityMin,
    ).toBeCloseTo(
      uvFigures(loose, uvOf(loose), 64).texelDensityMax / uvFigures(loose, uvOf(loose), 64).texelDensityMin,
      2,
    );
  });

  test.each([
    ['of gears', wheels, 'part', 1],
    ['of one material, on two sheets', byMaterial, 'material', 2],
  ] as const)('on whole texels, %s: together, on texels, as far apart as asked', (_, from, together, sheets) => {
    const o = { ...UNWRAPPING, size: 256, padding: 2, pixels: true, sheets };
    const group = groupOf(from, together);
    const loose = unwrapMesh(from, o).mesh;
    const made = unwrapMesh(from, { ...o, together });
    const uv = uvOf(made.mesh);
    expect(made.tooDense).toBe(false);
    expect(uvFigures(made.mesh, uv, 256, sheets)).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
    const { islands } = islandsApart(made.mesh);
    for (const { points } of islands)
      for (const x of boundsOn(Float32Array.from(points)))
        expect(Math.abs(256 * x - Math.round(256 * x))).toBeLessThan(1e-4);
    expect(leastApart(islands)).toBeGreaterThan(2 / 256 - 1e-6);
    expect(spread(made.mesh, group)).toBeLessThan((together === 'part' ? 0.7 : 1.05) * spread(loose, group));
  });

  test.each(TOGETHER)('by %s: sound, on one sheet and on two, and longer', (together) => {
    const from = { material: byMaterial, set: bySet, part: wheels }[together];
    for (const sheets of someOf([1, 2], together === 'material' ? 2 : 1)) {
      const { mesh } = unwrapMesh(from, { ...UNWRAPPING, together, sheets });
      expect(uvFigures(mesh, uvOf(mesh), 256, sheets)).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
      if (sheets > 1) continue;
      const before = spread(mesh, groupOf(from, together));
      const out = packedLonger(mesh, {
        ...{ size: 1024, padding: 4, turn: true, locked: new Set<number>(), upright: new Set<number>(), together },
        ...{ effort: THOROUGH ? 60 : 20, stop: () => false, better: () => undefined },
      });
      const later = mesh.withAttribute('uv', { domain: 'corner', width: 2, data: out });
      expect(uvFigures(later, out, 256)).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
      expect(spread(later, groupOf(from, together))).toBeLessThan(1.35 * before);
    }
  });

  test('where all are of one group, or each of its own, it is as without', () => {
    const plain = uvOf(unwrapMesh(crate, UNWRAPPING).mesh);
    for (const together of TOGETHER)
      expect(Array.from(uvOf(unwrapMesh(crate, { ...UNWRAPPING, together }).mesh))).toEqual(Array.from(plain));
  });
});
