/**
 * The bars of the issue on one declaration each: long recipes by hand, files of many objects, work that is overtaken.
 */
import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js';
import { readObj } from '../src/core/formats';
import { displayBuffers } from '../src/core/display/buffers';
import { keyOf } from '../src/core/math';
import { shapeOf } from '../src/core/mesh';
import { countedKeys, Mesh } from '../src/core/mesh/mesh';
import { box } from '../src/core/make';
import { Cancelled, Memory, defaultsOf, type Move, type Step } from '../src/core/recipe';
import { followRecipe, stepDef } from '../src/core/steps';
import { applyDifferences, differences } from '../src/document/diff';
import { addPiece, newProject } from '../src/document/changes';
import { calls } from '../src/workers/calls';
import { Host, type Task } from '../src/workers/host';
import type { ProjectDocument } from '../src/document/types';
import { firstLoad } from './browser';
import { median, type Benchmark, type Result } from './measure';

const bar = (name: string, value: number, most: number, unit = 'ms'): Result => ({
  name,
  value,
  unit,
  bar: `≤ ${most} ${unit}`,
  ok: value <= most,
});
const step = (id: string, kind: string, values: Record<string, unknown> = {}): Step => ({
  id,
  kind,
  on: true,
  values: { ...defaultsOf(stepDef(kind)!.values), ...values },
});

const SIZE = { width: 1, height: 1, depth: 1, cutX: 90, cutY: 90, cutZ: 90, onGround: true }; // 48,600 faces

/** 200 moves on 48,600 faces, the last of which is dragged: each frame as the worker gets and answers it. */
async function drag(): Promise<Result[]> {
  const keys = box(SIZE, keyOf('start')).faceKey;
  const moves = Array.from({ length: 200 }, (_, i): Move => {
    const picked = Array.from({ length: 1 + ((i * 131) % 800) }, (_, k) => keys[(i * 977 + k) % keys.length]);
    return {
      id: `m${i}`,
      tool: 'move',
      pick: { kind: 'face', keys: picked },
      values: { x: 0.001, y: 0, z: 0, frameX: i },
    };
  });
  const doc = newProject('Drag');
  addPiece(doc, 'p', 'block', null);
  doc.pieces[0].recipe = [step('start', 'box', SIZE), step('hand', 'shape', { moves })];
  const host = new Host(
    async () => new Uint8Array(0),
    () => {},
  );
  host.sync(structuredClone([{ path: [], value: doc }]));
  const query = { focus: { piece: 'p', step: 'hand' }, textures: false, anchors: [], elements: true };
  const task: Task = { cancelled: () => false, progress: () => {}, transfer: [] };
  await calls.show.run(host, query, task);
  let x = 0;
  const next = (): ProjectDocument => {
    const [start, hand] = doc.pieces[0].recipe;
    const last = { ...moves[199], values: { ...moves[199].values, x: (x += 0.001) } };
    const values = { ...hand.values, moves: [...moves.slice(0, 199), last] };
    return { ...doc, pieces: [{ ...doc.pieces[0], recipe: [start, { ...hand, values }] }] };
  };
  let known = doc;
  let follow = 0;
  const frames: number[] = [];
  const whole = await median(
    15,
    async () => {
      const now = next();
      const sent = structuredClone(differences(known, now));
      known = now;
      host.sync(sent);
      const begun = performance.now();
      await followRecipe(host.doc.pieces[0].recipe, { memory: host.memory });
      frames.push(performance.now() - begun);
      await calls.show.run(host, query, task);
    },
    5,
  );
  follow = frames.slice(5).sort((a, b) => a - b)[(frames.length - 5) >> 1];
  return [bar('200 moves, 48,600 faces: recipe', follow, 10), bar('… whole frame to buffers', whole, 20)];
}

/** 3,000 small objects in one file. */
async function objects(): Promise<Result[]> {
  const lines: string[] = [];
  for (let o = 0; o < 3000; o++) {
    lines.push(`o thing ${o}`);
    for (let v = 0; v < 30; v++) lines.push(`v ${o} ${v % 5} ${Math.floor(v / 5)}`);
    for (let r = 0; r < 5; r++)
      for (let c = 0; c < 4; c++) {
        const a = 30 * o + 5 * r + c + 1;
        lines.push(`f ${a} ${a + 1} ${a + 6} ${a + 5}`);
      }
  }
  const text = lines.join('\n');
  const bytes = new TextEncoder().encode(text);
  const ours = await median(5, () => readObj(bytes, 'many.obj'));
  const peer = await median(3, () => new OBJLoader().parse(text), 0);
  return [
    {
      ...bar('OBJ of 3,000 objects', ours, 500),
      peer: 'three OBJLoader',
      peerValue: peer,
      ratio: peer / ours,
    },
  ];
}

/** How long work goes on after it was told to stop, at random moments of steps that take long. */
async function overtaken(): Promise<Result[]> {
  const ball = step('ball', 'sphere', { diameter: 1, cuts: 40 });
  const recipes: [string, Step[]][] = [
    ['subdivide', [ball, step('s', 'subdivide', { levels: 4 })]],
    ['unwrap', [ball, step('u', 'unwrap', { seamAngle: Math.PI })]],
    ['mirror and weld', [step('b', 'sphere', { cuts: 200 }), step('m', 'mirror'), step('w', 'weld')]],
  ];
  const out: Result[] = [];
  for (const [name, steps] of recipes) {
    const begun = performance.now();
    await followRecipe(steps, { memory: new Memory() });
    const takes = performance.now() - begun;
    let worst = 0;
    for (let i = 0; i < 24; i++) {
      const from = performance.now() + (takes * (i + 0.5)) / 24;
      try {
        await followRecipe(steps, { memory: new Memory(), cancelled: () => performance.now() > from });
      } catch (e) {
        if (!(e instanceof Cancelled)) throw e;
      }
      worst = Math.max(worst, performance.now() - from);
    }
    out.push(bar(`overtaken ${name} stops (takes ${takes.toFixed(0)} ms)`, worst, 50));
  }
  return out;
}

/** What is sent to the worker when one of 5,000 pieces is moved. */
async function sent(): Promise<Result[]> {
  const doc = newProject('Many');
  for (let i = 0; i < 5000; i++) addPiece(doc, `p${i}`, 'piece', null);
  const next = { ...doc, pieces: doc.pieces.map((p, i) => (i === 2500 ? { ...p, visible: false } : p)) };
  const took = await median(9, () => applyDifferences(doc, structuredClone(differences(doc, next))));
  return [bar('one of 5,000 pieces changed: sent and applied', took, 5)];
}

/** What comes down the wire before anything is done. */
async function script(): Promise<Result[]> {
  const { shelf, bench } = await firstLoad();
  return [
    bar('first-load script of the shelf', shelf, 250, 'KB'),
    bar('first-load script of the bench', bench, 450, 'KB'),
  ];
}

/** A disc of a million triangles at one vertex: all that is derived of a mesh, to what the view shows. */
async function fan(): Promise<Result[]> {
  const n = 1_000_000;
  const positions = new Float32Array(3 * (n + 1));
  const faceStart = new Uint32Array(n + 1);
  const cornerVertex = new Uint32Array(3 * n);
  for (let i = 0; i < n; i++) {
    positions[3 * i + 3] = Math.cos((2 * Math.PI * i) / n);
    positions[3 * i + 5] = Math.sin((2 * Math.PI * i) / n);
    faceStart[i + 1] = 3 * (i + 1);
    cornerVertex.set([0, 1 + ((i + 1) % n), 1 + i], 3 * i);
  }
  const time = await median(3, () => {
    const mesh = new Mesh({ positions, faceStart, cornerVertex: cornerVertex.slice(), ...countedKeys(n + 1, n, 1) });
    shapeOf(mesh);
    displayBuffers(mesh, 0.5);
  });
  return [{ name: 'disc of 1 M triangles to buffers', value: time, unit: 'ms', bar: '≤ 2000 ms', ok: time <= 2000 }];
}

export const house: Benchmark[] = [
  { name: 'fan', run: fan },
  { name: 'drag', run: drag },
  { name: 'objects', run: objects },
  { name: 'overtaken', run: overtaken },
  { name: 'sent', run: sent },
  { name: 'script', run: script },
];
