/**
 * Unwrapping beside a peer: organic, branching, rough, broken shapes and many loose parts. Islands, stretch, fill,
 * flips and overlaps of both.
 */
import { meshFrom, type Mesh } from '../src/core/mesh';
import { triangulate } from '../src/core/mesh/triangulate';
import { animal, coral, gears, lumpyBall, rings, rocks, scanned } from '../src/core/testing/organic';
import { hose } from '../src/core/testing/tubes';
import { mergeMeshes } from '../src/core/edit/merge';
import { Memory } from '../src/core/recipe';
import { subdivide } from '../src/core/subdivide';
import { followDocument } from '../src/document/follow';
import type { ProjectDocument } from '../src/document/types';
import { heron } from '../src/demo/heron';
import { signalLamp } from '../src/demo/lamp';
import { knot } from './knot';
import { relaxedLive } from '../src/core/uv/edits/relaxlive';
import { unwrapMesh, uvFigures, type UvFigures } from '../src/core/uv';
import { shareBeyond } from '../src/core/uv/measure';
import type { Benchmark, Result } from './measure';

const PADDING = 4;
const SIZE = 1024;
const BOUND = 1.3;

/** What hangs together of a demo, as one mesh. */
async function demoMesh(doc: ProjectDocument, names: (name: string) => boolean): Promise<Mesh> {
  const follow = followDocument(doc, { memory: new Memory() });
  const meshes: Mesh[] = [];
  for (const piece of doc.pieces.filter((p) => p.recipe.length > 0 && names(p.name))) {
    const { outcomes } = await follow.piece(piece);
    const mesh = outcomes[outcomes.length - 1]?.mesh;
    if (mesh && mesh.faceCount > 0) meshes.push(mesh);
  }
  return mergeMeshes(meshes.map((mesh, i) => ({ mesh, name: String(i), seed: i })));
}

const SHAPES: readonly (readonly [string, () => Mesh | Promise<Mesh>])[] = [
  ['lumpy ball', () => lumpyBall(20)],
  ['lumpy ball, finer', () => lumpyBall(32)],
  ['animal', () => animal(40)],
  ['rings grown together', () => rings(40)],
  ['300 gears', () => gears(300)],
  ['scan, 2 % broken', () => scanned(lumpyBall(30), 3, 0.002, 0.02)],
  ['coral', () => coral(56)],
  ['knot', () => knot(300, 20).mesh],
  ['hose', () => hose(500)],
  [
    'automaton body, subdivided',
    async () => subdivide(await demoMesh((await heron()).document, (n) => n === 'body'), { levels: 1 }),
  ],
  ['lamp', async () => demoMesh(await signalLamp(), () => true)],
  ['island rocks', () => rocks(89)],
];

const laidOut = (mesh: Mesh, asked: { mean?: number; islands?: number; fill?: number } = {}): Mesh =>
  unwrapMesh(mesh, {
    cut: new Set(),
    hold: new Set(),
    seamAngle: Math.PI / 3,
    stretch: BOUND,
    size: SIZE,
    padding: PADDING,
    density: 0,
    turn: true,
    ...asked,
  }).mesh;

/** What the peer makes of it: time, and the same figures of its sheet. */
export async function byPeer(mesh: Mesh): Promise<{ ms: number; figures: UvFigures }> {
  const { Atlas, Initialize } = await import('watlas');
  await Initialize();
  const t = triangulate(mesh);
  const index = Uint32Array.from(t.corners, (c) => mesh.cornerVertex[c]);
  const start = performance.now();
  const atlas = new Atlas();
  atlas.addMesh({
    vertexCount: mesh.vertexCount,
    vertexPositionData: mesh.positions,
    vertexPositionStride: 12,
    indexCount: index.length,
    indexData: index,
  });
  atlas.generate({}, { padding: PADDING, resolution: SIZE });
  const ms = performance.now() - start;
  const m = atlas.getMesh(0);
  const list = new Uint32Array(m.indexCount);
  m.getIndexArray(list);
  const side = Math.max(atlas.width, atlas.height);
  const uv = new Float32Array(2 * list.length);
  const positions = new Float32Array(3 * m.vertexCount);
  const at = Array.from({ length: m.vertexCount }, (_, v) => m.getVertex(v));
  at.forEach((x, v) => positions.set(mesh.positions.subarray(3 * x.xref, 3 * x.xref + 3), 3 * v));
  list.forEach((v, k) => {
    uv[2 * k] = at[v].uv[0] / side;
    uv[2 * k + 1] = at[v].uv[1] / side;
  });
  const faces = Array.from({ length: list.length / 3 }, (_, i) => [...list.subarray(3 * i, 3 * i + 3)]);
  const figures = uvFigures(meshFrom(positions, faces), uv, SIZE);
  return { ms, figures: { ...figures, islands: atlas.chartCount } };
}

const row = (name: string, ours: number, peer: number, unit: string, ok: boolean, bar: string): Result => ({
  name,
  value: ours,
  unit,
  peer: 'watlas',
  peerValue: peer,
  ratio: ours > 0 ? peer / ours : 1,
  bar,
  ok,
});

export const unwrapBench: Benchmark = {
  name: 'unwrap',
  async run() {
    const out: Result[] = [];
    // What the machine has not run yet runs slowly, and says nothing of how time grows.
    laidOut(lumpyBall(16));
    for (const [name, make] of SHAPES) {
      const mesh = await make();
      const [made, ms] = middling(3, () => laidOut(mesh));
      const f = uvFigures(made, made.attributes.uv.data as Float32Array);
      const peer = await byPeer(mesh);
      const off = shareBeyond(made, made.attributes.uv.data as Float32Array, BOUND);
      const n = mesh.faceCount.toLocaleString('en');
      out.push(
        row(
          `${name}, ${n} faces: islands`,
          f.islands,
          peer.figures.islands,
          '',
          2 * f.islands <= peer.figures.islands,
          '≤ half',
        ),
        row(
          `${name}: mean stretch`,
          f.stretchMean,
          peer.figures.stretchMean,
          '',
          f.stretchMean <= peer.figures.stretchMean,
          'no more',
        ),
        row(
          `${name}: fill`,
          100 * f.coverage,
          100 * peer.figures.coverage,
          '%',
          f.coverage >= peer.figures.coverage + 0.05,
          '5 more',
        ),
        row(`${name}: time`, ms, peer.ms, 'ms', 10 * ms <= peer.ms, '≥ 10×'),
        {
          name: `${name}: flipped, covered twice (%), outside, beyond the bound (%)`,
          value: f.flips,
          unit:
            ` · ${(100 * f.overlap).toFixed(4)} · ${f.outside.toFixed(6)} · ${(100 * off).toFixed(3)} (peer: ` +
            `${peer.figures.flips} · ${(100 * peer.figures.overlap).toFixed(4)})`,
          bar: '0, 0, 0, ≤ 0.5',
          ok: f.flips === 0 && f.overlap === 0 && f.outside === 0 && off <= 0.005,
        },
      );
      if (f.islands <= FEW && f.coverage < FILLED) out.push(...cutForFill(name, mesh, peer.figures));
      if (f.stretchMean > peer.figures.stretchMean) out.push(...askedForTheMean(name, mesh, peer.figures));
    }
    out.push(...growth(), relaxingRate());
    return out;
  },
};

/** Of no more islands than so many the sheet is to be filled by so much. */
const FEW = 60;
const FILLED = 0.72;

/** Where few islands leave more of the sheet empty: what is had when they are cut for a fuller one. */
function cutForFill(name: string, mesh: Mesh, peer: UvFigures): Result[] {
  const most = Math.min(FEW, Math.floor(peer.islands / 2));
  const made = laidOut(mesh, { fill: 1, islands: most });
  const f = uvFigures(made, made.attributes.uv.data as Float32Array);
  const sound = f.flips === 0 && f.overlap === 0 && f.outside === 0;
  const what = `${name}, cut for a fuller sheet`;
  return [
    row(`${what}: islands`, f.islands, peer.islands, '', sound && f.islands <= most, '≤ half, ≤ 60, sound'),
    row(`${what}: fill`, 100 * f.coverage, 100 * peer.coverage, '%', f.coverage >= FILLED, '≥ 72'),
  ];
}

/** Where fewer islands are drawn more on the mean than the peer's: what is had when no more is asked for than that. */
function askedForTheMean(name: string, mesh: Mesh, peer: UvFigures): Result[] {
  const islands = Math.floor(peer.islands / 2);
  // What is asked for is kept to the last digit, and no further.
  const made = laidOut(mesh, { mean: peer.stretchMean - 1e-6, islands });
  const f = uvFigures(made, made.attributes.uv.data as Float32Array);
  const what = `${name}, asked for that mean`;
  const sound = f.flips === 0 && f.overlap === 0 && f.outside === 0;
  return [
    row(`${what}: islands`, f.islands, peer.islands, '', sound && f.islands <= islands, '≤ half, sound'),
    row(`${what}: mean stretch`, f.stretchMean, peer.stretchMean, '', f.stretchMean <= peer.stretchMean, 'no more'),
    row(`${what}: fill`, 100 * f.coverage, 100 * peer.coverage, '%', f.coverage >= peer.coverage + 0.05, '5 more'),
  ];
}

/**
 * What comes of some work, and the middle of the times that it takes: the machine is not alike from second to second.
 */
function middling<T>(times: number, work: () => T): [T, number] {
  const all: number[] = [];
  let made: T;
  for (let k = 0; k < times; k++) {
    const start = performance.now();
    made = work();
    all.push(performance.now() - start);
  }
  return [made!, all.sort((a, b) => a - b)[times >> 1]];
}

/** Time of one surface at 12,000 faces, 100,000 and a million, and the power of the faces that it grows with. */
function growth(): Result[] {
  const most = [600, 6000, 90_000];
  const measured = [29, 84, 262].map((n, k) => {
    const mesh = lumpyBall(n);
    return [mesh.faceCount, middling([5, 3, 1][k], () => laidOut(mesh))[1]];
  });
  const power = Math.log(measured[2][1] / measured[0][1]) / Math.log(measured[2][0] / measured[0][0]);
  return [
    ...measured.map(([faces, ms], i) => ({
      name: `lumpy ball of ${faces.toLocaleString('en')} faces`,
      value: ms,
      unit: 'ms',
      bar: `≤ ${most[i]} ms`,
      ok: ms <= most[i],
    })),
    {
      name: 'Time grows with faces to the power of',
      value: power,
      unit: '',
      bar: '≤ 1.15',
      ok: power <= 1.15,
    },
  ];
}

/** Rounds a second of relaxing, borders free, the look at them included. */
function relaxingRate(): Result {
  const mesh = laidOut(lumpyBall(53));
  let first = 0;
  const { rounds } = relaxedLive(mesh, {
    faces: Array.from({ length: mesh.faceCount }, (_, f) => f),
    held: [],
    border: false,
    lengths: 1,
    rounds: 60,
    stop: () => {
      first ||= performance.now();
      return false;
    },
    better: () => undefined,
  });
  const rate = (1000 * rounds) / (performance.now() - first);
  return {
    name: `Relaxing ${mesh.vertexCount.toLocaleString('en')} vertices: rounds a second`,
    value: rate,
    unit: '',
    bar: '≥ 20',
    ok: rate >= 20,
  };
}
