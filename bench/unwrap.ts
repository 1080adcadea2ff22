/**
 * Unwrapping beside a peer: organic, branching, rough, broken shapes and many loose parts. Islands, stretch, fill,
 * flips and overlaps of both.
 */
import { meshFrom, type Mesh } from '../src/core/mesh';
import { triangulate } from '../src/core/mesh/triangulate';
import { animal, coral, gears, lumpyBall, rings, scanned } from '../src/core/testing/organic';
import { relaxedLive } from '../src/core/uv/edits/relaxlive';
import { triangleFigures, unwrapMesh, uvFigures, type UvFigures } from '../src/core/uv';
import type { Benchmark, Result } from './measure';

const PADDING = 4;
const SIZE = 1024;
const BOUND = 1.3;

const SHAPES: readonly (readonly [string, () => Mesh])[] = [
  ['lumpy ball', () => lumpyBall(20)],
  ['lumpy ball, finer', () => lumpyBall(32)],
  ['animal', () => animal(40)],
  ['rings grown together', () => rings(40)],
  ['300 gears', () => gears(300)],
  ['scan, 2 % broken', () => scanned(lumpyBall(30), 3, 0.002, 0.02)],
  ['coral', () => coral(56)],
];

const laidOut = (mesh: Mesh): Mesh =>
  unwrapMesh(mesh, {
    cut: new Set(),
    hold: new Set(),
    seamAngle: Math.PI / 3,
    stretch: BOUND,
    size: SIZE,
    padding: PADDING,
    density: 0,
    turn: true,
  }).mesh;

function drawnMore(mesh: Mesh): number {
  const { area, stretch } = triangleFigures(mesh, mesh.attributes.uv.data as Float32Array, triangulate(mesh));
  let all = 0;
  let off = 0;
  area.forEach((a, i) => {
    all += a;
    if (stretch[i] > BOUND) off += a;
  });
  return off / all;
}

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
    const times: [number, number][] = [];
    for (const [name, make] of SHAPES) {
      const mesh = make();
      const start = performance.now();
      const made = laidOut(mesh);
      const ms = performance.now() - start;
      const f = uvFigures(made, made.attributes.uv.data as Float32Array);
      const peer = await byPeer(mesh);
      const off = drawnMore(made);
      const n = mesh.faceCount.toLocaleString('en');
      if (name.startsWith('lumpy')) times.push([mesh.faceCount, ms]);
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
          unit: ` · ${(100 * f.overlap).toFixed(4)} · ${f.outside.toFixed(6)} · ${(100 * off).toFixed(3)} (peer: ${peer.figures.flips} · ${(100 * peer.figures.overlap).toFixed(4)})`,
          bar: '0, 0, 0, ≤ 0.5',
          ok: f.flips === 0 && f.overlap === 0 && f.outside === 0 && off <= 0.005,
        },
      );
    }
    const [[a, s], [b, t]] = times;
    const power = Math.log(t / s) / Math.log(b / a);
    out.push({
      name: 'Time grows with faces to the power of',
      value: power,
      unit: '',
      bar: '≤ 1.15',
      ok: power <= 1.15,
    });
    out.push(relaxingRate());
    return out;
  },
};

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
