/** Borders of islands: straight along loops, short, and never at the price of what lies flat. */
import fc from 'fast-check';
import { cylinder, plane } from '../../make/primitives';
import { type Mesh } from '../../mesh/mesh';
import { edgeValence, topologyOf } from '../../mesh/topology';
import { coral } from '../../testing/organic';
import { UNWRAPPING, uvOf } from '../../testing/unwrapping';
import { seamEdges } from './charts';
import { islandsOf, uvFigures } from '../measure';
import { Parting } from '../flatten/patch';
import { StraightBorders } from './straight';
import { unwrapMesh } from '../unwrap';

const grid = plane({ width: 12, depth: 12, cutX: 12, cutZ: 12 }, 1);
const tube = cylinder({ radius: 1, topRadius: 1, height: 9, sides: 24, rows: 30, cap: 'open', onGround: true }, 1);
const none = (mesh: Mesh) => new Uint8Array(topologyOf(mesh).edgeCount);
const lengths = (mesh: Mesh) => (e: number) => {
  const t = topologyOf(mesh);
  const [a, b] = [3 * t.edgeVertex[2 * e], 3 * t.edgeVertex[2 * e + 1]];
  const p = mesh.positions;
  return Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
};

/** Two patches, or more, by the middle of each face. */
function parted(mesh: Mesh, of: (x: number, y: number, z: number) => number): Parting {
  const parting = new Parting(mesh, seamEdges(mesh, { cut: new Set(), hold: new Set(), angle: Infinity }));
  for (let f = 0; f < mesh.faceCount; f++) {
    const at = [0, 0, 0];
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      for (let k = 0; k < 3; k++) at[k] += mesh.positions[3 * mesh.cornerVertex[c] + k] / 4;
    parting.label[f] = of(at[0], at[1], at[2]);
  }
  return parting;
}

/** Edges between patches, and the vertices at which two of them meet but do not go on into each other. */
function bordersOf({ t, label }: Pick<Parting, 't'> & { label: ArrayLike<number> }): {
  edges: number[];
  corners: number;
} {
  const at = new Map<number, number[]>();
  const edges: number[] = [];
  for (let e = 0; e < t.edgeCount; e++) {
    const s = t.edgeCornerStart[e];
    if (edgeValence(t, e) !== 2) continue;
    if (label[t.cornerFace[t.edgeCorner[s]]] === label[t.cornerFace[t.edgeCorner[s + 1]]]) continue;
    edges.push(e);
    for (let k = 0; k < 2; k++) {
      const v = t.edgeVertex[2 * e + k];
      at.set(v, [...(at.get(v) ?? []), e]);
    }
  }
  let corners = 0;
  for (const [v, list] of at) {
    if (list.length !== 2) continue;
    // Two edges of one face, at a vertex of four faces, turn.
    const faces = list.map((e) => [0, 1].map((k) => t.cornerFace[t.edgeCorner[t.edgeCornerStart[e] + k]]));
    const around = t.vertexCornerStart[v + 1] - t.vertexCornerStart[v];
    if (around === 4 && faces[0].some((f) => faces[1].includes(f))) corners++;
  }
  return { edges, corners };
}

const straightened = (parting: Parting, straight = 4, wide = 4, hold: ReadonlySet<number> = new Set()): void =>
  new StraightBorders(parting, {
    weigh: lengths(parting.mesh),
    firm: none(parting.mesh),
    hold,
    straight,
    wide,
  }).all();

test('stairs across a grid become few long lines; both patches stay whole', () => {
  const parting = parted(grid, (x, _, z) => (x + 0.4 * z > 0.1 ? 1 : 0));
  const before = bordersOf(parting);
  expect(before.corners).toBeGreaterThanOrEqual(8);
  straightened(parting);
  const after = bordersOf(parting);
  expect(after.corners).toBeLessThanOrEqual(4);
  expect(after.edges.length).toBeLessThanOrEqual(before.edges.length);
  for (const name of [0, 1]) {
    const own = Array.from({ length: grid.faceCount }, (_, f) => f).filter((f) => parting.label[f] === name);
    expect(new Parting(grid, parting.seam).components(own, 0)).toHaveLength(1);
  }
});

test('the finer the grid, the farther off its border may go: few corners, however many edges it has', () => {
  const corners = [12, 48, 96].map((n) => {
    const parting = parted(plane({ width: 12, depth: 12, cutX: n, cutZ: n }, 1), (x, _, z) =>
      x + 0.9 * z > 0 ? 1 : 0,
    );
    const before = bordersOf(parting);
    expect(before.corners).toBeGreaterThan(1.5 * n);
    straightened(parting, 8);
    const after = bordersOf(parting);
    expect(after.edges.length).toBeLessThanOrEqual(before.edges.length);
    return after.corners;
  });
  // In teeth of as many edges throughout there would be eight times as many.
  expect(corners[2]).toBeLessThanOrEqual(3 * corners[0]);
});

test('a wavy ring round a tube becomes one row of edges', () => {
  const parting = parted(tube, (x, y) => (y > 4.5 + 0.4 * x ? 1 : 0));
  straightened(parting, 4, 6);
  const { edges, corners } = bordersOf(parting);
  expect(edges).toHaveLength(24);
  expect(corners).toBe(0);
});

test('a straight border stays where it is, and so does one that is held or of no strength', () => {
  const line = parted(grid, (x) => (x > 0 ? 1 : 0));
  const labels = line.label.slice();
  straightened(line);
  expect(line.label).toEqual(labels);
  const stairs = () => parted(grid, (x, _, z) => (x + z > 0.1 ? 1 : 0));
  const off = stairs();
  straightened(off, 0);
  expect(off.label).toEqual(stairs().label);
  const fixed = stairs();
  const own = new Set(bordersOf(fixed).edges);
  const others = new Set(Array.from({ length: topologyOf(grid).edgeCount }, (_, e) => e).filter((e) => !own.has(e)));
  straightened(fixed, 8, 4, others);
  expect(fixed.label).toEqual(stairs().label);
});

test('whatever patches there are: as many of them as before, none fallen apart, borders no longer and no more bent', () => {
  const spots = fc.array(
    fc.tuple(fc.double({ min: -6, max: 6, noNaN: true }), fc.double({ min: -6, max: 6, noNaN: true })),
    {
      minLength: 2,
      maxLength: 7,
    },
  );
  fc.assert(
    fc.property(spots, fc.constantFrom(1, 4, 8), fc.constantFrom(1, 3, 6), (seeds, straight, wide) => {
      const parting = parted(grid, (x, _, z) => {
        const far = seeds.map(([a, b]) => (x - a) ** 2 + (z - b) ** 2);
        return far.indexOf(Math.min(...far));
      });
      const all = Uint32Array.from({ length: grid.faceCount }, (_, f) => f);
      const before = bordersOf(parting);
      const parts = parting.components(all, 0).length;
      straightened(parting, straight, wide);
      const after = bordersOf(parting);
      expect(after.edges.length + straight * after.corners).toBeLessThanOrEqual(
        before.edges.length + straight * before.corners + 1e-9,
      );
      expect(parting.components(all, 0)).toHaveLength(parts);
    }),
    { numRuns: 60 },
  );
});

test('through unwrapping: straighter borders turn less, and all lies as soundly', () => {
  const mesh = coral(8);
  const t = topologyOf(mesh);
  const way = (e: number, from: number): number[] => {
    const to = t.edgeVertex[2 * e] === from ? t.edgeVertex[2 * e + 1] : t.edgeVertex[2 * e];
    const d = [0, 1, 2].map((k) => mesh.positions[3 * to + k] - mesh.positions[3 * from + k]);
    return d.map((x) => x / Math.hypot(d[0], d[1], d[2]));
  };
  /** How much borders turn from edge to edge, on the mean: 0 for straight ones, 2 for those that go back. */
  const turnsOf = (straight: number): number => {
    const out = unwrapMesh(mesh, { ...UNWRAPPING, straight }).mesh;
    expect(uvFigures(out, uvOf(out))).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
    const at = new Map<number, number[][]>();
    for (const e of bordersOf({ t, label: islandsOf(out, uvOf(out)).ofFace }).edges)
      for (const v of [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]]) at.set(v, [...(at.get(v) ?? []), way(e, v)]);
    const turns = [...at.values()]
      .filter((ways) => ways.length === 2)
      .map(([a, b]) => 1 + a[0] * b[0] + a[1] * b[1] + a[2] * b[2]);
    return turns.reduce((sum, x) => sum + x, 0) / turns.length;
  };
  expect(turnsOf(1)).toBeLessThan(0.9 * turnsOf(0));
});

test('a cut in stairs goes round one corner; one that cannot be better stays, to the edge', () => {
  const parting = parted(grid, () => 0);
  const { t } = parting;
  const p = grid.positions;
  const vertexAt = (x: number, z: number): number => {
    for (let v = 0; v < grid.vertexCount; v++) if (p[3 * v] === x && p[3 * v + 2] === z) return v;
    return -1;
  };
  const edgeOf = (a: number, b: number): number =>
    Array.from({ length: t.edgeCount }, (_, e) => e).find((e) => {
      const ends = [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]];
      return ends.includes(a) && ends.includes(b);
    })!;
  const along = (places: [number, number][]): number[] => {
    const v = places.map(([x, z]) => vertexAt(x, z));
    return v.slice(1).map((w, i) => edgeOf(v[i], w));
  };
  const drawing = () =>
    new StraightBorders(parting, {
      weigh: lengths(grid),
      firm: none(grid),
      hold: new Set(),
      straight: 4,
      wide: 6,
    });
  const stairs = along(
    [...Array.from({ length: 7 }, (_, i) => [i - 3, i - 3] as [number, number])].flatMap(([x, z], i) =>
      i < 6
        ? ([
            [x, z],
            [x + 1, z],
          ] as [number, number][])
        : ([[x, z]] as [number, number][]),
    ),
  );
  expect(stairs).toHaveLength(12);
  const made = drawing().way(stairs);
  expect(made).toHaveLength(12);
  const isLevel = (e: number): boolean => p[3 * t.edgeVertex[2 * e]] !== p[3 * t.edgeVertex[2 * e + 1]];
  expect(made.filter((e, i) => i > 0 && isLevel(e) !== isLevel(made[i - 1]))).toHaveLength(1);
  const level = along(Array.from({ length: 7 }, (_, i) => [i - 3, 2] as [number, number]));
  expect(drawing().way(level)).toEqual(level);
});
