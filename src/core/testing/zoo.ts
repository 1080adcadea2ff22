/**
 * A zoo of nasty meshes, by dice: what scans, broken files and careless modelling bring. All are valid; none is
 * pleasant.
 */
import { key2 } from '../math/hash';
import { box, cubeSphere, cylinder } from '../make/primitives';
import { meshFrom, type Mesh } from '../mesh/mesh';
import { weld } from '../edit/weld';

type Roll = (most: number) => number;
type Make = (roll: Roll) => Mesh;

const unit = (roll: Roll): number => roll(2001) / 1000 - 1;

/**
 * Few vertices, some at one place, faces of three to six of them in any order: edges of many faces, fans that meet, any
 * way round.
 */
const soup: Make = (roll) => {
  const n = 4 + roll(9);
  const places = Array.from({ length: 3 * n }, () => roll(5) - 2);
  const faces = Array.from({ length: 1 + roll(10) }, () => [
    ...new Set(Array.from({ length: 3 + roll(4) }, () => roll(n))),
  ]).filter((ring) => ring.length >= 3);
  return meshFrom(places, faces.length > 0 ? faces : [[0, 1, 2]]);
};

/** Pages of a book: all on one edge. */
const fins: Make = (roll) => {
  const pages = 3 + roll(4);
  const places = [0, 0, 0, 0, 1, 0];
  const faces: number[][] = [];
  for (let i = 0; i < pages; i++) {
    const [x, z] = [Math.cos((i * 6.28) / pages), Math.sin((i * 6.28) / pages)];
    places.push(x, 0, z, x, 1, z);
    faces.push(roll(2) ? [0, 1, 3 + 2 * i, 2 + 2 * i] : [2 + 2 * i, 3 + 2 * i, 1, 0]);
  }
  return meshFrom(places, faces);
};

/** Two bodies that share a vertex, or an edge. */
const pinched: Make = (roll) => {
  const a = box({ width: 1, height: 1, depth: 1, cutX: 1 + roll(2), cutY: 1, cutZ: 1, onGround: false }, 1);
  const shift = roll(2) ? [1, 1, 1] : [1, 1, 0];
  const positions = Array.from(a.positions);
  const n = a.vertexCount;
  const at = new Map(Array.from({ length: n }, (_, v) => [positions.slice(3 * v, 3 * v + 3).join(), v]));
  const to: number[] = [];
  for (let v = 0; v < n; v++) {
    const p = [0, 1, 2].map((k) => a.positions[3 * v + k] + shift[k]);
    const had = at.get(p.join());
    if (had !== undefined) to.push(had);
    else {
      to.push(positions.length / 3);
      positions.push(...p);
    }
  }
  const rings = Array.from({ length: a.faceCount }, (_, f) => [
    ...a.cornerVertex.subarray(a.faceStart[f], a.faceStart[f + 1]),
  ]);
  return meshFrom(positions, [...rings, ...rings.map((ring) => ring.map((v) => to[v]))]);
};

/**
 * A plate with a hole that a slit joins to its rim: one face whose outline passes along the slit twice, by doubled
 * vertices.
 */
const bridgedHole: Make = () => {
  const outer = [-2, -2, 2, -2, 2, 2, -2, 2];
  const inner = [-1, -1, -1, 1, 1, 1, 1, -1];
  const flat = [...outer, -2, -2, -1, -1, ...inner.slice(2), -1, -1];
  const places = Array.from({ length: flat.length / 2 }, (_, i) => [flat[2 * i], 0, flat[2 * i + 1]]).flat();
  return meshFrom(places, [Array.from({ length: places.length / 3 }, (_, i) => i).reverse()]);
};

/** A strip with one side only. */
const oneSided: Make = (roll) => {
  const n = 3 + roll(10);
  const places: number[] = [];
  for (let i = 0; i < n; i++) {
    const a = (2 * Math.PI * i) / n;
    for (const s of [-1, 1]) {
      const r = 3 + s * Math.cos(a / 2);
      places.push(r * Math.cos(a), s * Math.sin(a / 2), r * Math.sin(a));
    }
  }
  const faces = Array.from({ length: n }, (_, i) => {
    const j = i + 1;
    return j < n ? [2 * i, 2 * j, 2 * j + 1, 2 * i + 1] : [2 * i, 1, 0, 2 * i + 1];
  });
  return meshFrom(places, faces);
};

/** Faces of no width and of no area, twice the same face, the same turned round, vertices of no face. */
const thin: Make = (roll) => {
  const faces = [
    [0, 1, 2],
    [0, 2, 3],
    [4, 5, 6, 7],
  ];
  if (roll(2)) faces.push([0, 1, 2]);
  if (roll(2)) faces.push([2, 1, 0]);
  return meshFrom([0, 0, 0, 1, 0, 0, 2, 0, 0, 2, 1, 0, 0, 3, 0, 0, 3, 0, 0, 3, 0, 0, 3, 0, 9, 9, 9], faces);
};

/** A ball as a scanner sees it: noise, holes, here and there a face turned round. */
const scan: Make = (roll) => {
  const b = cubeSphere({ radius: 1, cuts: 2 + roll(5) }, 1);
  const faces = Array.from({ length: b.faceCount }, (_, f) => [
    ...b.cornerVertex.subarray(b.faceStart[f], b.faceStart[f + 1]),
  ])
    .filter(() => roll(8) > 0)
    .map((ring) => (roll(20) === 0 ? ring.reverse() : ring))
    .flatMap((ring) =>
      roll(2)
        ? [ring]
        : [
            [ring[0], ring[1], ring[2]],
            [ring[0], ring[2], ring[3]],
          ],
    );
  return meshFrom(
    Array.from(b.positions, (x) => x + 0.1 * unit(roll)),
    faces.length > 0 ? faces : [[0, 1, 2]],
  );
};

/** Branches: three tubes without caps that meet in the middle. */
const branching: Make = (roll) => {
  const sides = 3 + roll(6);
  const tube = cylinder({ radius: 0.4, topRadius: 0.2, height: 2, sides, rows: 2, cap: 'open', onGround: true }, 1);
  const turn = (m: Mesh, i: number) => {
    const a = (2 * Math.PI * i) / 3;
    const p = m.positions;
    return Array.from({ length: m.vertexCount }, (_, v) => [
      p[3 * v] * Math.cos(a) - p[3 * v + 1] * Math.sin(a),
      p[3 * v] * Math.sin(a) + p[3 * v + 1] * Math.cos(a),
      p[3 * v + 2],
    ]).flat();
  };
  const places = [0, 1, 2].flatMap((i) => turn(tube, i));
  const rings = [0, 1, 2].flatMap((i) =>
    Array.from({ length: tube.faceCount }, (_, f) =>
      Array.from(tube.cornerVertex.subarray(tube.faceStart[f], tube.faceStart[f + 1]), (v) => v + i * tube.vertexCount),
    ),
  );
  return weld(meshFrom(places, rings), 0.3);
};

export const ANIMALS: Readonly<Record<string, Make>> = {
  soup,
  fins,
  pinched,
  'bridged hole': bridgedHole,
  'one-sided': oneSided,
  thin,
  scan,
  branching,
};

/** One of them, of any size and anywhere, with data of its own on corners, faces and vertices. */
export function animal(roll: Roll): { name: string; mesh: Mesh } {
  const names = Object.keys(ANIMALS);
  const name = names[roll(names.length)];
  const made = ANIMALS[name](roll);
  const scale = [1, 1, 1, 0.02, 1e6, 1e-6][roll(6)];
  const away = [0, 0, 0, 1e6 * scale][roll(4)];
  const positions = made.positions.map((x) => x * scale + away);
  const numbers = (n: number) => Float32Array.from({ length: n }, () => unit(roll));
  const mesh = made.with({
    positions,
    vertexKey: made.vertexKey.map((k) => key2(k, 7)),
    places: undefined,
    slots: ['a', 'b'],
    attributes: {
      uv: { domain: 'corner', width: 2, data: numbers(2 * made.cornerCount) },
      material: { domain: 'face', width: 1, data: Int32Array.from({ length: made.faceCount }, () => roll(3) - 1) },
      wear: { domain: 'vertex', width: 1, data: numbers(made.vertexCount) },
    },
  });
  return { name, mesh };
}
