/** The benchmarks, in the order of the issues that asked for them. */
import { STLLoader } from 'three/examples/jsm/loaders/STLLoader.js';
import { mergeVertices } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js';
import { displayBuffers } from '../src/core/display';
import { extrude } from '../src/core/edit';
import { readObj, writeObj, emptyScene, readStl, writeStl } from '../src/core/formats';
import { levelBy, scaleBy, toPlane } from '../src/core/blueprint';
import { keyOf } from '../src/core/math';
import { box, cubeSphere } from '../src/core/make';
import { meshFrom, type Mesh, topologyOf, triangulate } from '../src/core/mesh';
import { followRecipe } from '../src/core/steps';
import { Memory } from '../src/core/recipe';
import { subdivide } from '../src/core/subdivide';
import { triangleFigures, unwrapMesh } from '../src/core/uv';
import { signalLamp } from '../src/demo/lamp';
import { median, type Benchmark, type Result } from './measure';
import { chaos } from './chaos';
import { files } from './files';
import { fuzz } from './fuzz';
import { saves } from './saves';
import { heavyBench } from './heavy';
import { layoutsBench } from './layouts';
import { survivalBench } from './survival';
import { procedures } from './procedures';
import { formulas } from './formulas';
import { movesBench } from './moves';
import { zooBench } from './zoo';
import { knot } from './knot';
import { byPeer, unwrapBench } from './unwrap';
import { house } from './house';
import { links, openBench, picking, tree } from './browser';

const id = keyOf('bench');

function stretchMean(mesh: Mesh, uv: Float32Array): number {
  const f = triangleFigures(mesh, uv, triangulate(mesh));
  let a = 0;
  let s = 0;
  for (let i = 0; i < f.area.length; i++)
    if (f.area[i] > 1e-14 && Number.isFinite(f.stretch[i])) {
      a += f.area[i];
      s += f.area[i] * f.stretch[i];
    }
  return s / a;
}

/** A grid of triangles with hills, with UVs. */
function hills(triangles: number): Mesh {
  const n = Math.round(Math.sqrt(triangles / 2));
  const positions = new Float32Array(3 * (n + 1) ** 2);
  const faceStart = new Uint32Array(2 * n * n + 1);
  const cornerVertex = new Uint32Array(6 * n * n);
  for (let j = 0; j <= n; j++)
    for (let i = 0; i <= n; i++)
      positions.set([i * 0.01, Math.sin(i * 0.05) * Math.cos(j * 0.04), j * 0.01], 3 * (j * (n + 1) + i));
  let c = 0;
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++) {
      const a = j * (n + 1) + i;
      const b = a + 1;
      const d = a + n + 1;
      cornerVertex.set([a, d, b, b, d, d + 1], c);
      c += 6;
    }
  for (let f = 0; f <= 2 * n * n; f++) faceStart[f] = 3 * f;
  const m = meshFrom([], []).with({
    positions,
    faceStart,
    cornerVertex,
    vertexKey: () => Float64Array.from({ length: positions.length / 3 }, (_, i) => i),
    faceKey: () => Float64Array.from({ length: 2 * n * n }, (_, i) => i),
  });
  const uv = new Float32Array(2 * cornerVertex.length);
  for (let k = 0; k < cornerVertex.length; k++) {
    uv[2 * k] = (cornerVertex[k] % (n + 1)) / n;
    uv[2 * k + 1] = Math.floor(cornerVertex[k] / (n + 1)) / n;
  }
  return m.withAttribute('uv', { domain: 'corner', width: 2, data: uv });
}

const plain = (name: string, value: number, bar: number, unit = 'ms'): Result => ({
  name,
  value,
  unit,
  bar: `≤ ${bar} ${unit}`,
  ok: value <= bar,
});

export const all: Benchmark[] = [
  ...house,
  unwrapBench,
  ...fuzz,
  saves,
  survivalBench,
  layoutsBench,
  heavyBench,
  zooBench,
  movesBench,
  formulas,
  procedures,
  ...files,
  ...chaos,
  {
    name: 'subdivide',
    async run() {
      const cage = cubeSphere({ radius: 1, cuts: 25 }, id);
      const uv = {
        domain: 'corner' as const,
        width: 2,
        data: Float32Array.from({ length: 2 * cage.cornerCount }, (_, i) => ((i * 37) % 101) / 101),
      };
      const fine = cage.withAttribute('uv', uv).withAttribute('uv2', uv);
      let faces = 0;
      const t = await median(5, () => {
        faces = subdivide(fine.with({ cornerVertex: fine.cornerVertex.slice() }), { levels: 4 }).faceCount;
      });
      return [plain(`Catmull–Clark ${cage.faceCount} → ${faces} quads`, t, 800)];
    },
  },
  {
    name: 'unfold',
    async run() {
      const { mesh, seams } = knot(300, 20);
      const t3 = triangulate(mesh);
      let out = unwrapMesh(mesh, {
        cut: seams,
        hold: new Set(),
        seamAngle: Infinity,
        size: 1024,
        padding: 4,
        density: 0,
        turn: true,
      });
      const t = await median(5, () => {
        out = unwrapMesh(mesh, {
          cut: seams,
          hold: new Set(),
          seamAngle: Infinity,
          size: 1024,
          padding: 4,
          density: 0,
          turn: true,
        });
      });
      const ours = stretchMean(out.mesh, out.mesh.attributes.uv.data as Float32Array);
      const made = [await byPeer(mesh), await byPeer(mesh), await byPeer(mesh)];
      const peer = made.map((x) => x.ms).sort((a, b) => a - b)[1];
      const theirs = made[0].figures.stretchMean;
      return [
        {
          ...plain(`Unfold and pack ${t3.face.length} triangles`, t, 1000),
          peer: 'watlas',
          peerValue: peer,
          ratio: peer / t,
          bar: '≤ 1000 ms, ≥ 5×',
          ok: t <= 1000 && peer / t >= 5,
        },
        {
          name: 'Mean stretch of that',
          value: ours,
          unit: '',
          peer: 'watlas',
          peerValue: theirs,
          ratio: theirs / ours,
          bar: 'no worse',
          ok: ours <= theirs * 1.0005,
        },
      ];
    },
  },
  {
    name: 'obj',
    async run() {
      const scene = { ...emptyScene(), pieces: [{ name: 'hills', parent: -1, mesh: hills(1_000_000) }] };
      let bytes = writeObj(scene).obj;
      const write = await median(3, () => {
        bytes = writeObj(scene).obj;
      });
      const read = await median(3, () => readObj(bytes));
      const text = new TextDecoder().decode(bytes);
      const peer = await median(1, () => new OBJLoader().parse(text), 0);
      return [
        {
          ...plain('OBJ of 1 M triangles, read', read, 2500),
          peer: 'three OBJLoader',
          peerValue: peer,
          ratio: peer / read,
          bar: '≤ 2500 ms, ≥ 4×',
          ok: read <= 2500 && peer / read >= 4,
        },
        plain('OBJ of 1 M triangles, write', write, 2000),
      ];
    },
  },
  {
    name: 'extrude',
    async run() {
      const m = box({ width: 1, height: 1, depth: 1, cutX: 91, cutY: 91, cutZ: 91, onGround: true }, id);
      topologyOf(m);
      void [m.faceKey, m.vertexKey]; // worked out beforehand
      const pick = Uint32Array.from({ length: 200 }, (_, i) => 4000 + i);
      const t = await median(
        9,
        () => displayBuffers(extrude(m, pick, { by: 0.01, along: 'normals', each: false, inset: 0.001 }, 7)),
        8,
      );
      return [plain(`Extrude on ${m.faceCount} faces, to display buffers`, t, 50)];
    },
  },
  {
    name: 'recipe',
    async run() {
      const doc = await signalLamp();
      const hood = doc.pieces.find((p) => p.name === 'hood')!;
      const memory = new Memory();
      let width = 0.18;
      const t = await median(
        15,
        () => {
          width += 0.0001;
          return followRecipe(
            hood.recipe.map((s, i) => (i === 0 ? { ...s, values: { ...s.values, width } } : s)),
            { memory, materials: doc.materials },
          );
        },
        10,
      );
      return [plain(`Change in step 1 of ${hood.recipe.length}, the lamp's hood`, t, 30)];
    },
  },
  {
    name: 'stl',
    async run() {
      const bytes = writeStl({
        ...emptyScene(),
        pieces: [{ name: 'ball', parent: -1, mesh: cubeSphere({ radius: 0.5, cuts: 289 }, id) }],
      });
      const count = (bytes.length - 84) / 50;
      let welded = 0;
      const t = await median(5, () => {
        const mesh = readStl(bytes, 'ball.stl').pieces[0].mesh!;
        displayBuffers(mesh, 0.52);
        welded = mesh.vertexCount;
      });
      if (welded !== count / 2 + 2) throw new Error('The ball did not come back closed.');
      const peer = await median(1, () => mergeVertices(new STLLoader().parse(bytes.buffer as ArrayBuffer)), 0);
      return [
        {
          ...plain(`STL of ${count} triangles, welded, to display buffers`, t, 1500),
          peer: 'three STLLoader, mergeVertices',
          peerValue: peer,
          ratio: peer / t,
          bar: '≤ 1500 ms, ≥ 3×',
          ok: t <= 1500 && peer / t >= 3,
        },
      ];
    },
  },
  {
    name: 'blueprint',
    async run() {
      // Drawings of known size, scanned 0.3° askew, trued up by clicks on whole pixels; the worst error over the sheet,
      // per cent of its length.
      let worst = 0;
      for (const skew of [0.3, -0.3])
        for (let k = 0; k < 200; k++) {
          const a = (skew * Math.PI) / 180;
          const scale = 0.001 * (1 + k / 50);
          const scan = ([u, v]: readonly [number, number]): [number, number] => [
            300.3 + k / 7 + (Math.cos(a) * u - Math.sin(a) * v) / scale,
            900.7 - (Math.sin(a) * u + Math.cos(a) * v) / scale,
          ];
          const click = (p: readonly [number, number]): [number, number] => {
            const [x, y] = scan(p);
            return [Math.floor(x) + 0.5, Math.floor(y) + 0.5];
          };
          const long = 1500 * scale;
          const p = click([0, 0]);
          const q = click([long, 0]);
          const b = { level: levelBy(p, q)!, scale: scaleBy(p, q, long)!, origin: p };
          for (const [u, v] of [
            [0.5, 0.2],
            [1, 0],
            [0.9, 0.45],
            [0.2, 0.5],
          ]) {
            const [x, y] = toPlane(b, scan([u * long, v * long]));
            worst = Math.max(worst, (100 * Math.hypot(x - u * long, y - v * long)) / long);
          }
        }
      return [plain('Calibrated blueprint, worst error at 0.3° skew', worst, 0.1, '%')];
    },
  },
  {
    name: 'tree',
    async run() {
      const t = await tree();
      return [
        plain('Tree of 5,000 pieces, script per frame scrolling', t.scroll, 16),
        plain('… and filtering', t.filter, 16),
      ];
    },
  },
  {
    name: 'picking',
    run: async () => {
      const list = await picking();
      return list.map(({ what, took }) => plain(`Picking in 1 M triangles, on the page: ${what}`, took, 50));
    },
  },
  {
    name: 'links',
    async run() {
      const c = await links();
      return [
        plain('2,000 linked copies: meshes', c.meshes, 1, ''),
        plain('… and calls for their faces', c.surfaces, 1, ''),
      ];
    },
  },
  {
    name: 'open',
    async run() {
      return [plain('Shelf to usable bench with the lamp', await openBench(), 3000)];
    },
  },
];
