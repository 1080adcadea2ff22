/**
 * Every tool on a piece of 100,000 faces for a local pick, beveling, checks, picking; beside libraries that do the
 * same.
 */
import { ANOTHER } from '../src/core/testing/anyvalues';
import { aroundOf } from '../src/core/testing/around';
import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { checkDef } from '../src/core/check';
import { bentByCage } from '../src/core/edit/cage';
import { bevelEdges } from '../src/core/edit/bevel/bevel';
import { planeCut } from '../src/core/edit/planecut';
import { box, cubeSphere } from '../src/core/make';
import { keyOf } from '../src/core/math';
import { meshFrom, topologyOf, triangulate, volumeOf, type Mesh, type PickKind } from '../src/core/mesh';
import { placeNear } from '../src/core/mesh/surfaceplace';
import { raysOf } from '../src/core/mesh/rays';
import { countOf } from '../src/core/mesh/picks';
import { withinOutline } from '../src/core/pick';
import { defaultsOf } from '../src/core/recipe';
import { toolDefs, type ToolDef } from '../src/core/tools';
import { median, type Benchmark, type Result } from './measure';

const id = keyOf('moves');
const MOST = 1000;

const upTo = (name: string, value: number, bar: number, unit = 'ms'): Result => ({
  name,
  value,
  unit,
  bar: `≤ ${bar} ${unit}`,
  ok: value <= bar,
});

/** The thousand elements nearest to a place on the ball. */
function localPick(mesh: Mesh, kind: PickKind): Uint32Array {
  const { positions: p } = mesh;
  const { edgeVertex } = topologyOf(mesh);
  const first = (i: number): number => {
    if (kind === 'vertex') return i;
    return kind === 'edge' ? edgeVertex[2 * i] : mesh.cornerVertex[mesh.faceStart[i]];
  };
  const off = (i: number) => {
    const v = 3 * first(i);
    return (p[v] - 0.3) ** 2 + (p[v + 1] - 0.9) ** 2 + (p[v + 2] - 0.2) ** 2;
  };
  const all = Array.from({ length: countOf(mesh, kind) }, (_, i) => i);
  return Uint32Array.from(all.sort((a, b) => off(a) - off(b)).slice(0, MOST)).sort();
}

function valuesFor(tool: ToolDef, mesh: Mesh): Record<string, unknown> {
  const values: Record<string, unknown> = { ...defaultsOf(tool.values) };
  if (tool.id === 'free-cut') values.line = [placeNear(mesh, [0.2, 0.9, 0.1])!, placeNear(mesh, [0.5, 0.7, 0.4])!];
  if (tool.id === 'draw-face') values.outline = [0, 1, 2].map((k) => ({ on: 'free', key: 0, at: [k, 2, k * k] }));
  if (tool.id === 'brush')
    values.dabs = Array.from({ length: 20 }, (_, i) => ({
      at: [0.3 + i / 100, 0.9, 0.2],
      normal: [0, 1, 0],
      by: [0.01, 0, 0],
    }));
  if (tool.id === 'slide') values.by = 0.2;
  if (tool.id === 'draw-strip') values.line = [0, 1, 2].map((k) => ({ on: 'free', key: 0, at: [k / 50, 1, k / 70] }));
  for (const [name, def] of Object.entries(tool.values)) if (def.kind === 'piece' && !def.zero) values[name] = ANOTHER;
  return values;
}

async function tools(): Promise<Result[]> {
  const ball = cubeSphere({ radius: 1, cuts: 129 }, id);
  topologyOf(ball);
  void [ball.faceKey, ball.vertexKey]; // worked out beforehand
  const picks = { face: localPick(ball, 'face'), edge: localPick(ball, 'edge'), vertex: localPick(ball, 'vertex') };
  const open = meshFrom(
    [...ball.positions],
    Array.from({ length: ball.faceCount - 400 }, (_, f) => [
      ...ball.cornerVertex.subarray(ball.faceStart[f], ball.faceStart[f + 1]),
    ]),
  );
  const openEdges = Uint32Array.from(checkDef('open')!.find(open));
  const out: Result[] = [];
  for (const tool of toolDefs()) {
    const kind = tool.id === 'bridge' ? 'face' : tool.picks[0];
    const onOpen = ['fill', 'cap', 'extrude-edges'].includes(tool.id);
    const mesh = onOpen ? open : ball;
    const indices = onOpen ? openEdges : picks[kind];
    const values = valuesFor(tool, mesh);
    const some =
      tool.id === 'connect'
        ? Uint32Array.from(mesh.cornerVertex.filter((_, c) => c % 4 === 0 || c % 4 === 2).slice(0, 400)).sort()
        : indices;
    // A loop cut goes all the way round: of a thousand edges it would be no local pick.
    const few: Record<string, Uint32Array> = { bridge: Uint32Array.of(0, 50_000), loop: indices.slice(0, 1) };
    const two = few[tool.id] ?? some;
    if (process.env.GLYPTA_DEBUG) console.error(tool.id, new Date().toISOString());
    const work = () => tool.run(mesh, { kind, indices: two }, values as never, id, () => {}, aroundOf(1));
    try {
      out.push(upTo(`${tool.title.toLowerCase()} (${tool.id})`, await median(5, work), 150));
    } catch (e) {
      out.push({ name: tool.id, value: NaN, unit: 'ms', bar: (e as Error).message, ok: false });
    }
  }
  return out;
}

async function large(): Promise<Result[]> {
  const ball = cubeSphere({ radius: 1, cuts: 129 }, id);
  const t = topologyOf(ball);
  const some = Uint32Array.from({ length: 10_000 }, (_, i) => i * Math.floor(t.edgeCount / 10_000));
  const o = { width: 0.0005, share: 0, segments: 2, shape: 0.5, corner: 'patch' as const, clamp: true };
  const out = [upTo('Bevel of 10,000 edges', await median(3, () => bevelEdges(ball, some, o, id)), 1000)];
  const cage = box({ width: 2.4, height: 2.4, depth: 2.4, cutX: 3, cutY: 3, cutZ: 3, onGround: false }, id);
  const every = Uint32Array.from({ length: ball.vertexCount }, (_, v) => v);
  const shaped = (k: number) => cage.positions.map((x, i) => (i % 3 === 1 && x > 1 ? x + k / 10 : x));
  const anew = () => ball.with({ positions: ball.positions.slice() });
  let turn = 0;
  out.push(
    upTo(
      `A cage of ${cage.vertexCount} round ${ball.vertexCount} vertices, first`,
      await median(3, () => bentByCage(anew(), every, cage, shaped(1), () => 1), 0),
      3000,
    ),
    upTo(
      '… each time it is shaped after that',
      await median(9, () => bentByCage(ball, every, cage, shaped(++turn), () => 1)),
      150,
    ),
  );
  const fresh = () => ball.with({ cornerVertex: ball.cornerVertex.slice() });
  const took = await median(7, () => topologyOf(fresh()));
  const rate = ball.cornerCount / took / 1000;
  out.push({ name: 'Topology', value: rate, unit: 'M/s', bar: '≥ 5 M corners/s', ok: rate >= 5 });
  const inner = cubeSphere({ radius: 0.5, cuts: 60 }, id);
  const both = meshFrom(
    [...cubeSphere({ radius: 1, cuts: 114 }, id).positions, ...inner.positions],
    [cubeSphere({ radius: 1, cuts: 114 }, id), inner].flatMap((m, k) =>
      Array.from({ length: m.faceCount }, (_, f) =>
        Array.from(m.cornerVertex.subarray(m.faceStart[f], m.faceStart[f + 1]), (v) => v + (k ? 6 * 114 * 114 + 2 : 0)),
      ),
    ),
  );
  const copy = () => both.with({ positions: both.positions.slice(), cornerVertex: both.cornerVertex.slice() });
  const hidden = checkDef('hidden')!;
  out.push(upTo(`Faces never seen, of ${both.faceCount}`, await median(3, () => hidden.find(copy()), 0), 3000));
  const found = hidden.find(both).length;
  out.push({
    name: '… all that are inside are found',
    value: found,
    unit: '',
    bar: String(inner.faceCount),
    ok: found === inner.faceCount,
  });
  const crossing = checkDef('crossing')!;
  out.push(
    upTo(`Faces that pass through others, of ${both.faceCount}`, await median(3, () => crossing.find(copy()), 0), 2000),
  );
  const { positions: p } = ball;
  const screen = p.map((x, i) => (i % 3 === 2 ? 0 : 400 + 350 * x));
  const lasso = Array.from({ length: 200 }, (_, i): [number, number] => {
    const a = (Math.PI * i) / 100;
    return [400 + 250 * Math.cos(a) * (1 + 0.2 * Math.sin(9 * a)), 400 + 250 * Math.sin(a)];
  });
  out.push(
    upTo(
      `Lasso of 200 points over ${ball.faceCount} faces`,
      await median(9, () => withinOutline(ball, 'face', screen, lasso)),
      30,
    ),
  );
  return out;
}

/** Rays, nearest places, plane cuts: the same work by libraries. */
async function peers(): Promise<Result[]> {
  const ball = cubeSphere({ radius: 1, cuts: 129 }, id);
  const index = triangulate(ball).corners.map((c) => ball.cornerVertex[c]);
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(ball.positions.slice(), 3));
  geometry.setIndex(new BufferAttribute(index.slice(), 1));
  const bvh = new MeshBVH(geometry);
  const rays = raysOf(ball);
  const at = (i: number): [number, number, number] => [
    3 * Math.sin(i),
    3 * Math.cos(i * 1.3),
    3 * Math.sin(i * 0.7 + 1),
  ];
  const N = 20_000;
  const own = await median(5, () => {
    for (let i = 0; i < N; i++) {
      const o = at(i);
      rays.cast(o, [-o[0], -o[1] + 0.1, -o[2]]);
    }
  });
  const theirs = await median(5, () => {
    for (let i = 0; i < N; i++) {
      const o = at(i);
      bvh.raycastFirst(new Ray(new Vector3(...o), new Vector3(-o[0], -o[1] + 0.1, -o[2]).normalize()), DoubleSide);
    }
  });
  const row = (name: string, ours: number, peer: string, value: number, bar: number): Result => ({
    ...upTo(name, ours, bar),
    peer,
    peerValue: value,
    ratio: value / ours,
  });
  const out = [row(`${N} rays on ${index.length / 3} triangles`, own, 'three-mesh-bvh', theirs, 200)];
  const { default: Module } = await import('manifold-3d');
  const wasm = await Module();
  wasm.setup();
  const body = () =>
    new wasm.Manifold(new wasm.Mesh({ numProp: 3, vertProperties: ball.positions.slice(), triVerts: index.slice() }));
  const m = body();
  const normal: [number, number, number] = [0.6, 0.8, 0];
  let volume = 0;
  const cutOwn = await median(5, () => {
    volume = volumeOf(planeCut(ball, { normal, through: [0, 0.3, 0], keep: 'front', fill: true }, id));
  });
  let other = 0;
  const cutTheirs = await median(5, () => {
    const half = m.trimByPlane(normal, 0.24);
    other = half.volume();
    half.delete();
  });
  out.push(row('Plane cut of the ball, closed', cutOwn, 'manifold-3d', cutTheirs, 150));
  const off = Math.abs(volume - other) / other;
  out.push({ name: '… its volume, off by', value: 100 * off, unit: '%', bar: '≤ 0.01 %', ok: off <= 1e-4 });
  return out;
}

export const movesBench: Benchmark = {
  name: 'moves',
  async run() {
    return [...(await tools()), ...(await large()), ...(await peers())];
  },
};
