import { topologyOf } from '../../mesh';
import type { Mesh } from '../../mesh/mesh';
import { animal, lumpyBall, thrown } from '../../testing/organic';
import { hose, tubeAlong } from '../../testing/tubes';
import type { Vector } from '../../math/vector';
import { mergeMeshes } from '../../edit/merge';
import { UNWRAPPING, uvOf } from '../../testing/unwrapping';
import { unwrapMesh } from '../unwrap';
import { uvFigures } from '../measure';
import { flatnessOf, restOf } from '../flatten/flatness';
import { conformal } from '../flatten/lscm';
import { Parting, type Patch } from '../flatten/patch';
import { autoIslands, type Parted } from './auto';
import { cellsOf } from './cells';
import { seamEdges } from './charts';
import { groundOf } from './ground';
import { faceFacts } from './part';
import { tubesOf, type Tubes } from './tubes';
import { unrolled, type Unrolled } from './unroll';
import { thoroughly } from '../../testing/thoroughly';

const NONE: ReadonlySet<number> = new Set();
const BOUND = 1.3;
const hardOf = (mesh: Mesh): Uint8Array => seamEdges(mesh, { cut: NONE, hold: NONE, angle: Infinity });

function softOf(mesh: Mesh, hold = NONE): Uint8Array {
  const hard = hardOf(mesh);
  return seamEdges(mesh, { cut: NONE, hold, angle: Math.PI / 3 }).map((x, e) => (x && !hard[e] ? 1 : 0));
}

const lengthOf = (mesh: Mesh) => {
  const t = topologyOf(mesh);
  const p = mesh.positions;
  return (e: number): number => {
    const [a, b] = [3 * t.edgeVertex[2 * e], 3 * t.edgeVertex[2 * e + 1]];
    return Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
  };
};

function tubesIn(mesh: Mesh): { tubes: Tubes | undefined; share: number; lists: Uint32Array[] } {
  const parting = new Parting(mesh, hardOf(mesh));
  parting.label.fill(0);
  const facts = faceFacts(mesh);
  const cells = cellsOf(parting, facts, softOf(mesh), softOf(mesh));
  const tubes = tubesOf(parting, cells, { spread: BOUND * BOUND });
  let [all, within] = [0, 0];
  const lists: number[][] = tubes?.tube.map(() => []) ?? [];
  cells.of.forEach((c, f) => {
    all += facts.area[f];
    if (!tubes || tubes.of[c] < 0) return;
    within += facts.area[f];
    lists[tubes.of[c]].push(f);
  });
  return { tubes, share: within / all, lists: lists.map((list) => Uint32Array.from(list)) };
}

const islandsOf = (mesh: Mesh, hold = NONE): Parted =>
  autoIslands(mesh, {
    ...{
      seam: hardOf(mesh),
      soft: softOf(mesh, hold),
      hold,
      bend: Math.PI / 3,
      islands: 0,
      bound: BOUND,
      straight: 0.5,
    },
    weigh: lengthOf(mesh),
  });

const ring = (r: number, thick: number): Mesh =>
  tubeAlong((t) => [r * Math.cos(2 * Math.PI * t), 0, r * Math.sin(2 * Math.PI * t)], {
    ...{ rings: 160, sides: 16, radius: thick, closed: true },
  });

/** A closed one that winds through itself, as the tie of a mooring line does. */
const loop = (t: number): Vector => {
  const a = 4 * Math.PI * t;
  const r = 2 + 0.8 * Math.cos(1.5 * a);
  return [r * Math.cos(a), 0.8 * Math.sin(1.5 * a), r * Math.sin(a)];
};

/** Up, over in a bow, and down: the handle of a bucket. */
const bail = (t: number): Vector => {
  const a = Math.PI * t;
  return [-Math.cos(a), 1.2 * Math.sin(a), 0];
};

describe('tubes found on cells', () => {
  it('takes nearly all of a hose for tubes, in parts that have two ends each', () => {
    const mesh = hose(400);
    const { tubes, share, lists } = tubesIn(mesh);
    expect(share).toBeGreaterThan(0.9);
    expect(tubes!.areas.length).toBeLessThanOrEqual(2);
    expect(lists.length).toBeGreaterThan(3);
    const parting = new Parting(mesh, hardOf(mesh));
    lists.forEach((list, k) => list.forEach((f) => (parting.label[f] = k)));
    for (const list of lists) expect(parting.patch(list)).toMatchObject({ borders: 2, euler: 0 });
  });

  it('parts one into lengths that are as large as each other, wherever it is begun to be measured from', () => {
    for (const rings of [60, 90, 140]) {
      const mesh = tubeAlong(bail, { rings, sides: 20, radius: 0.06 });
      const { tubes, lists } = tubesIn(mesh);
      expect(tubes!.areas).toHaveLength(1);
      expect(lists.length).toBeGreaterThanOrEqual(3);
      const many = lists.map((list) => list.length);
      expect(Math.max(...many) / Math.min(...many)).toBeLessThan(1.3);
    }
  });

  thoroughly('takes ends that are cut aslant with the length beside them', () => {
    const aslant = hose(500);
    const { tubes, share, lists } = tubesIn(aslant);
    expect(tubes!.areas).toHaveLength(1);
    // All but the two caps.
    expect(share).toBeGreaterThan(0.99);
    expect(lists).toHaveLength(7);
    const out = unwrapMesh(aslant, UNWRAPPING).mesh;
    const f = uvFigures(out, uvOf(out));
    expect(f).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
    expect(f.islands).toBeLessThanOrEqual(9);
    expect(f.coverage).toBeGreaterThan(0.8);
  });

  it('finds a closed one, and one with a bump and a narrower end', () => {
    expect(tubesIn(tubeAlong(loop, { rings: 300, sides: 12, radius: 0.2, closed: true })).share).toBeGreaterThan(0.9);
    const bumpy = tubeAlong((t) => [Math.sin(3 * t), 6 * t, 0], {
      ...{ rings: 200, sides: 16, radius: (t: number) => 0.25 - 0.15 * t + 0.06 * Math.exp(-((t - 0.5) ** 2) * 400) },
    });
    expect(tubesIn(bumpy).share).toBeGreaterThan(0.7);
  });

  it('finds none where nothing is long and round', () => {
    for (const mesh of [lumpyBall(12), animal(16), ring(1, 0.6)]) expect(tubesIn(mesh).tubes).toBeUndefined();
    const sheet = tubeAlong((t) => [0, 4 * t, 0], { rings: 60, sides: 12, radius: 0.4 });
    // Open along its side it is a sheet that is rolled up.
    const cut = hardOf(sheet);
    const t = topologyOf(sheet);
    for (let e = 0; e < t.edgeCount; e++)
      if (t.edgeVertex[2 * e] % 12 === 0 && t.edgeVertex[2 * e + 1] % 12 === 0) cut[e] = 1;
    const parting = new Parting(sheet, cut);
    parting.label.fill(0);
    const none = new Uint8Array(t.edgeCount);
    const cells = cellsOf(parting, faceFacts(sheet), none, none);
    expect(tubesOf(parting, cells, { spread: BOUND * BOUND })).toBeUndefined();
  });
});

test('what is found of a surface does not hang on labels that its faces had before', () => {
  for (const mesh of [tubeAlong(bail, { rings: 60, sides: 12, radius: 0.06, caps: true }), animal(12)]) {
    const asked = { seam: hardOf(mesh), soft: softOf(mesh), hold: NONE, weigh: lengthOf(mesh), bound: BOUND };
    const found = [0, 1, 3].map((many) => {
      const parting = new Parting(mesh, hardOf(mesh));
      parting.label.forEach((_, f) => (parting.label[f] = many > 0 ? f % many : 0));
      const { plan, tubes } = groundOf(parting, { ...asked, bend: Math.PI / 3, islands: 0, straight: 0.5 });
      return [[...plan.label], tubes && [...tubes.of]];
    });
    expect(found[1]).toEqual(found[0]);
    expect(found[2]).toEqual(found[0]);
  }
});

describe('tubes unrolled', () => {
  const unroll = (
    mesh: Mesh,
    faces = Uint32Array.from({ length: mesh.faceCount }, (_, f) => f),
    weigh = lengthOf(mesh),
  ) => {
    const parting = new Parting(mesh, hardOf(mesh));
    parting.label.fill(0);
    const before = parting.seam.slice();
    let cut = 0;
    const out: Unrolled | undefined = unrolled(parting, parting.patch(faces), {
      ...{ bound: BOUND, weigh, fresh: 1 },
      straighter: (edges) => {
        cut += edges.length;
        return edges;
      },
      takenBack: (edges) => (cut -= edges.length),
    });
    return { parting, out, cut, marked: parting.seam.reduce((sum, x, e) => sum + x - before[e], 0) };
  };

  it('lays a straight one flat as what it is: a rectangle', () => {
    const mesh = tubeAlong((t) => [0, 5 * t, 0], { rings: 40, sides: 64, radius: 0.5 });
    const { out, marked } = unroll(mesh);
    expect(out?.laid?.good).toBe(true);
    expect(out!.laid!.figures.mean).toBeLessThan(1.0005);
    expect(marked).toBe(40);
    const { uv, figures } = out!.laid!;
    const box = [0, 1].map((k) => {
      const all = Array.from({ length: uv.length / 2 }, (_, v) => uv[2 * v + k] / figures.scale);
      return Math.max(...all) - Math.min(...all);
    });
    // It may lie aslant: the diagonal is what it is.
    const round = 64 * 2 * 0.5 * Math.sin(Math.PI / 64);
    expect(box[0] * box[1]).toBeGreaterThanOrEqual(5 * round * 0.99);
  });

  it('lays a long one that winds flat in one, where a conformal map tapers', () => {
    const mesh = tubeAlong((t) => [Math.cos(18.8 * t), 1.5 * t, Math.sin(18.8 * t)], {
      ...{ rings: 240, sides: 12, radius: 0.15 },
    });
    // The seam lies on its side, not on the inside of the bend.
    const t = topologyOf(mesh);
    const { out } = unroll(mesh, undefined, (e) =>
      t.edgeVertex[2 * e] % 12 === 0 && t.edgeVertex[2 * e + 1] % 12 === 0 ? 0.01 : 1,
    );
    expect(out?.laid?.good).toBe(true);
    expect(out!.laid!.figures.flips).toBe(0);
    const { patch } = out as { patch: Patch };
    expect(flatnessOf(patch, restOf(patch), conformal(patch)!, BOUND).spread).toBeGreaterThan(BOUND ** 2);
  });

  it('cuts a thick bend lengthwise, takes its first cut back, and says nothing of what is no tube', () => {
    const bend = tubeAlong((t) => [Math.cos(3 * t), 0, Math.sin(3 * t)], { rings: 60, sides: 32, radius: 0.5 });
    const { out, cut, marked } = unroll(bend);
    expect(out?.laid).toBeUndefined();
    expect(out).toMatchObject({ across: false, parts: 2 });
    expect([cut, marked]).toEqual([0, 0]);
    const of = (out as { of: Int32Array }).of;
    const first = of.reduce((sum, x) => sum + (x === 0 ? 1 : 0), 0);
    expect(first / of.length).toBeGreaterThan(0.35);
    expect(first / of.length).toBeLessThan(0.65);
    expect(unroll(lumpyBall(6)).out).toBeUndefined();
    const half = Uint32Array.from({ length: 60 * 32 }, (_, f) => f).filter((f) => f % 32 < 16);
    expect(unroll(bend, half)).toMatchObject({ out: undefined, marked: 0 });
  });
});

describe('islands of tubes', () => {
  it('cuts a hose into a few lengths, each along once, and keeps its caps', () => {
    const mesh = hose(400);
    const { islands } = islandsOf(mesh);
    expect(islands.length).toBeLessThanOrEqual(12);
    expect(islands.filter(({ patch }) => patch.faces.length === 1)).toHaveLength(2);
    for (const { laid } of islands) expect(laid).toMatchObject({ good: true });
  });

  it('has none that is longer than the sheet, where whole texels and both sides alike are asked for', () => {
    const mesh = tubeAlong(bail, { rings: 90, sides: 12, radius: 0.06, caps: true });
    for (const asked of [{}, { symmetric: true }, { symmetric: true, pixels: true }]) {
      const made = unwrapMesh(mesh, {
        ...{ cut: NONE, hold: NONE, seamAngle: Math.PI / 3, stretch: BOUND, ...asked },
        ...{ size: 512, padding: 2, density: 0, turn: true },
      });
      const figures = uvFigures(made.mesh, made.mesh.attributes.uv.data as Float32Array);
      expect(figures).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
      expect(figures.islands).toBeLessThanOrEqual(10);
      expect(figures.coverage).toBeGreaterThan(0.65);
    }
  });

  thoroughly(
    'lays strands of few sides in one each, where their sides would be narrower than what is between islands',
    () => {
      const r = thrown(3);
      const strand = (sides: number): Mesh => {
        const [bent, turn] = [0.3 + r(), 6 * r()];
        return tubeAlong((t) => [bent * t * t * Math.cos(turn), 2 * t, bent * t * t * Math.sin(turn)], {
          ...{ rings: 16, sides, radius: (t: number) => 0.03 * (1 - 0.9 * t) },
        });
      };
      for (const sides of [3, 4, 5, 8]) {
        const hair = mergeMeshes(Array.from({ length: 40 }, (_, seed) => ({ mesh: strand(sides), name: '', seed })));
        const made = unwrapMesh(hair, { ...UNWRAPPING, size: 256, padding: 4 });
        expect(uvFigures(made.mesh, uvOf(made.mesh))).toMatchObject({ flips: 0, overlap: 0, outside: 0, islands: 40 });
      }
      // A beam that has the sheet to itself is cut where it bends.
      const beam = tubeAlong((t) => [0, 2 * t, 0], { rings: 4, sides: 4, radius: 0.1, caps: true });
      expect(unwrapMesh(beam, UNWRAPPING).islands).toBeGreaterThanOrEqual(6);
    },
  );

  it('is sound where what lies flat as one had been planned with something over a bend', () => {
    for (const seed of [76, 118, 280]) {
      const r = thrown(seed);
      const few = [0, 1, 2].map((i) => {
        const sides = 4 + Math.floor(4 * r());
        const [bent, wave, often] = [r(), 0.6 * r(), 10 + 30 * r()];
        return tubeAlong((t) => [bent * t * t + i, 2 * t, bent * Math.sin(3 * t)], {
          ...{ rings: 14 + Math.floor(10 * r()), sides, caps: r() < 0.5 },
          radius: (t) => 0.06 * (1 + wave * Math.sin(often * t)),
        });
      });
      const made = unwrapMesh(mergeMeshes(few.map((mesh, k) => ({ mesh, name: '', seed: k }))), UNWRAPPING);
      expect(uvFigures(made.mesh, uvOf(made.mesh))).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
    }
  });

  it('cuts across along rings of edges', () => {
    const mesh = hose(400);
    const { seam } = islandsOf(mesh);
    const t = topologyOf(mesh);
    const across = new Map<number, number>();
    for (let e = 0; e < t.edgeCount; e++) {
      const [a, b] = [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]];
      const [i, j] = [a, b].map((v) => Math.floor(v / 12));
      if (seam[e] && i === j && i > 0 && i < 400) across.set(i, (across.get(i) ?? 0) + 1);
    }
    const whole = [...across.values()].filter((n) => n === 12).length;
    expect(whole).toBeGreaterThanOrEqual(3);
    // What is cut across but not all the way round is a stair of a border.
    expect(across.size - whole).toBeLessThanOrEqual(4);
  });

  it('goes round what is held: along another side, and across elsewhere', () => {
    const mesh = hose(200);
    const cut = islandsOf(mesh).seam;
    const hold = new Set(Array.from(cut.keys()).filter((e) => cut[e] === 1));
    const { islands, seam } = islandsOf(mesh, hold);
    expect(hold.size).toBeGreaterThan(200);
    // Around its ends there is no other way than over some of them.
    expect([...hold].filter((e) => seam[e]).length).toBeLessThan(0.1 * hold.size);
    expect(islands.length).toBeLessThanOrEqual(16);
    for (const { laid } of islands) expect(laid).toMatchObject({ good: true });
  });

  it('makes no more islands of anything than it would without, and nothing lies twice', () => {
    for (const mesh of [tubeAlong(loop, { rings: 240, sides: 12, radius: 0.2, closed: true }), ring(1, 0.25)]) {
      const made = unwrapMesh(mesh, {
        ...{ cut: NONE, hold: NONE, seamAngle: Math.PI / 3, stretch: BOUND },
        ...{ size: 512, padding: 2, density: 0, turn: true, fill: 0 },
      });
      const figures = uvFigures(made.mesh, made.mesh.attributes.uv.data as Float32Array);
      expect(figures).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
      expect(figures.islands).toBeLessThanOrEqual(6);
    }
  });
});
