/**
 * One vertex of a large mesh is dragged: what a frame costs the worker, and what it sends. The mesh is triangles, as
 * from a scan.
 */
import { emptyScene, writeGlb } from '../src/core/formats';
import { cubeSphere } from '../src/core/make';
import { keyOf } from '../src/core/math';
import { triangulate } from '../src/core/mesh';
import { Mesh } from '../src/core/mesh/mesh';
import { defaultsOf, type Move, type Step } from '../src/core/recipe';
import { stepDef } from '../src/core/steps';
import { toolDef } from '../src/core/tools';
import { addPiece, newProject } from '../src/document/changes';
import { differences } from '../src/document/diff';
import type { ProjectDocument } from '../src/document/types';
import { calls } from '../src/workers/calls';
import { Host, type Task } from '../src/workers/host';
import { median, type Benchmark, type Result } from './measure';

const step = (id: string, kind: string, values: Record<string, unknown>): Step => ({
  id,
  kind,
  on: true,
  values: { ...defaultsOf(stepDef(kind)!.values), ...values },
});

/** A ball of triangles alone. */
function triangles(cuts: number): Mesh {
  const ball = cubeSphere({ radius: 0.5, cuts }, keyOf('heavy'));
  const t = triangulate(ball);
  const faces = t.face.length;
  return new Mesh({
    positions: ball.positions,
    faceStart: Uint32Array.from({ length: faces + 1 }, (_, f) => 3 * f),
    cornerVertex: Uint32Array.from(t.corners, (c) => ball.cornerVertex[c]),
    vertexKey: ball.vertexKey,
    faceKey: Float64Array.from({ length: faces }, (_, f) => f),
  });
}

/** Every array buffer that an answer holds. */
function bytesOf(value: unknown, seen = new Set<unknown>()): number {
  if (typeof value !== 'object' || value === null || seen.has(value)) return 0;
  seen.add(value);
  if (ArrayBuffer.isView(value)) return value.byteLength;
  return Object.values(value).reduce((sum: number, v) => sum + bytesOf(v, seen), 0);
}

async function drag(cuts: number): Promise<{ frame: number; sent: number; faces: number }> {
  const glb = await writeGlb({
    ...emptyScene(),
    pieces: [{ name: 'ball', parent: -1, mesh: triangles(cuts) }],
  });
  const host = new Host(
    async () => glb,
    () => {},
  );
  const move = (x: number, keys: number[]): Move => ({
    id: 'm',
    tool: 'move',
    pick: { kind: 'vertex', keys },
    values: { ...defaultsOf(toolDef('move')!.values), x } as Move['values'],
  });
  const doc = newProject('Heavy');
  addPiece(doc, 'p', 'ball', null);
  const start = step('start', 'brought-in', { file: 'ball.glb', blob: 'x' });
  doc.pieces[0].recipe = [start, step('hand', 'shape', { moves: [] })];
  host.sync(structuredClone([{ path: [], value: doc }]));
  const query = { focus: { piece: 'p', step: 'hand' }, textures: false, anchors: [], elements: true };
  const ask = (): Task => ({ cancelled: () => false, progress: () => {}, transfer: [] });
  await calls.show.run(host, query, ask());
  const mesh = host.edited!;
  const key = mesh.vertexKey[mesh.vertexCount >> 1];
  let known: ProjectDocument = doc;
  let x = 0;
  let sent = 0;
  const frame = await median(
    15,
    async () => {
      const moves = [move((x += 0.001), [key])];
      const now = { ...doc, pieces: [{ ...doc.pieces[0], recipe: [start, step('hand', 'shape', { moves })] }] };
      host.sync(structuredClone(differences(known, now)));
      known = now;
      const answer = await calls.show.run(host, query, ask());
      sent = bytesOf(answer);
    },
    5,
  );
  return { frame, sent, faces: mesh.faceCount };
}

async function run(): Promise<Result[]> {
  const out: Result[] = [];
  for (const [cuts, most] of [
    [91, 8],
    [289, 60],
  ]) {
    const { frame, sent, faces } = await drag(cuts);
    out.push({
      name: `one vertex of ${faces} triangles, a frame`,
      value: frame,
      unit: 'ms',
      bar: `≤ ${most} ms`,
      ok: frame <= most,
    });
    const mb = sent / 1e6;
    out.push({ name: '… sent to the page', value: mb, unit: 'MB', bar: '≤ 1 MB', ok: mb <= 1 });
  }
  return out;
}

export const heavyBench: Benchmark = { name: 'heavy', run };
