/** Islands placed by hand stay where they are and as they are, whatever cells the surface is made of. */
import fc from 'fast-check';
import { extrude } from '../../edit/extrude';
import { box, cylinder, plane } from '../../make/primitives';
import { keyOf } from '../../math/hash';
import type { Mesh } from '../../mesh/mesh';
import { packSpots } from '../../mesh/packedspots';
import { faceNormals } from '../../mesh/normals';
import { Witnesses } from '../../mesh/witnesses';
import { subdivide } from '../../subdivide/catmullclark';
import { CORNER_SPOT, cornerNames, pinsOf, type HandPlaces } from './placed';

const id = keyOf('t');
const sheet = (cutX: number, cutZ: number) => plane({ width: 2, depth: 2, cutX, cutZ }, id);
const at = (m: Mesh, c: number) => m.positions.subarray(3 * m.cornerVertex[c], 3 * m.cornerVertex[c] + 3);
const cornersOf = (m: Mesh, f: number) =>
  Array.from({ length: m.faceStart[f + 1] - m.faceStart[f] }, (_, i) => m.faceStart[f] + i);
const middleX = (m: Mesh, f: number) =>
  cornersOf(m, f).reduce((sum, c) => sum + at(m, c)[0], 0) / (m.faceStart[f + 1] - m.faceStart[f]);

/** Places for chosen faces, by what a map says of each corner. */
function place(m: Mesh, faces: number[], map: (c: number, f: number) => readonly [number, number]): HandPlaces {
  const out = { face: [] as number[], vertex: [] as number[], uv: [] as number[] };
  for (const f of faces)
    for (const c of cornersOf(m, f)) {
      out.face.push(m.faceKey[f]);
      out.vertex.push(m.vertexKey[m.cornerVertex[c]]);
      out.uv.push(...map(c, f));
    }
  return out;
}
const all = (m: Mesh) => [...m.faceKey.keys()];
/** As a document holds it once it was seen. */
function seen(m: Mesh, placed: HandPlaces): HandPlaces {
  const witness = new Witnesses().of('o');
  pinsOf(m, placed, witness);
  const unseen = new Float64Array(CORNER_SPOT).fill(NaN);
  return { ...placed, spots: packSpots(cornerNames(placed).map((n) => witness.get(n) ?? unseen)) };
}

const count = fc.integer({ min: 1, max: 9 });
const number = fc.double({ min: -2, max: 2, noNaN: true });

test('a sheet of any cells, placed by any map: of any other cells it lies where it lay', () => {
  fc.assert(
    fc.property(count, count, count, count, fc.tuple(number, number, number, number), (a, b, c, d, [p, q, r, s]) => {
      const map = (m: Mesh) => (corner: number) => {
        const [x, , z] = at(m, corner);
        return [0.5 + p * x + q * z, 0.5 + r * x + s * z] as const;
      };
      const before = sheet(a, b);
      const after = sheet(c, d);
      const pins = pinsOf(after, seen(before, place(before, all(before), map(before))));
      expect(pins.lost).toEqual([]);
      expect(pins.at.size).toBe(after.cornerCount);
      for (const [corner, [u, v]] of pins.at) {
        expect(u).toBeCloseTo(map(after)(corner)[0], 4);
        expect(v).toBeCloseTo(map(after)(corner)[1], 4);
      }
    }),
    { numRuns: 60 },
  );
});

test('two islands side by side stay two, seam and all', () => {
  const map = (m: Mesh) => (c: number, f: number) =>
    [at(m, c)[0] / 4 + (middleX(m, f) < 0 ? 0.3 : 0.7), at(m, c)[2] / 4 + 0.5] as const;
  for (const cells of [2, 6, 8, 12]) {
    const before = sheet(4, 4);
    const after = sheet(cells, 3);
    const pins = pinsOf(after, seen(before, place(before, all(before), map(before))));
    expect([cells, pins.at.size, pins.lost.length]).toEqual([cells, after.cornerCount, 0]);
    for (let f = 0; f < after.faceCount; f++)
      for (const c of cornersOf(after, f)) expect(pins.at.get(c)![0]).toBeCloseTo(map(after)(c, f)[0], 5);
  }
});

test('a cell that covers two islands lies in one of them', () => {
  const before = sheet(4, 1);
  const after = sheet(3, 1);
  const map = (c: number, f: number) =>
    [at(before, c)[0] / 4 + (middleX(before, f) < 0 ? 0.3 : 5.7), at(before, c)[2]] as const;
  const pins = pinsOf(after, seen(before, place(before, all(before), map)));
  for (let f = 0; f < after.faceCount; f++) {
    const us = cornersOf(after, f).flatMap((c) => pins.at.get(c)?.[0] ?? []);
    expect(Math.max(...us) - Math.min(...us)).toBeLessThan(0.4);
  }
});

test('the wall of a cylinder, slit once: a turn stays a turn', () => {
  const made = (sides: number) =>
    cylinder({ radius: 1, topRadius: 1, height: 1, sides, rows: 2, cap: 'open', onGround: true }, id);
  const turn = (m: Mesh) => (c: number, f: number) => {
    const round = (x: number, z: number) => (Math.atan2(z, x) / (2 * Math.PI) + 1) % 1;
    const ring = cornersOf(m, f).map((k) => at(m, k));
    const own = round(at(m, c)[0], at(m, c)[2]);
    const mid = round(
      ring.reduce((sum, p) => sum + p[0], 0),
      ring.reduce((sum, p) => sum + p[2], 0),
    );
    const near = [own - 1, own, own + 1].find((u) => Math.abs(u - mid) <= 0.5)!;
    return [near, at(m, c)[1]] as const;
  };
  const before = made(16);
  const placed = seen(before, place(before, all(before), turn(before)));
  for (const sides of [8, 24, 32, 48]) {
    const after = made(sides);
    const pins = pinsOf(after, placed);
    expect([sides, pins.at.size, pins.lost.length]).toEqual([sides, after.cornerCount, 0]);
    for (let f = 0; f < after.faceCount; f++)
      for (const c of cornersOf(after, f)) {
        expect(Math.abs(pins.at.get(c)![0] - turn(after)(c, f)[0])).toBeLessThan(0.004);
        expect(pins.at.get(c)![1]).toBeCloseTo(turn(after)(c, f)[1], 5);
      }
  }
});

test('a cap that was drawn out is found among what was drawn out', () => {
  const made = (cuts: number) => {
    const b = box({ width: 2, height: 2, depth: 2, cutX: cuts, cutY: 1, cutZ: cuts, onGround: false }, id);
    const n = faceNormals(b);
    const top = all(b).filter((f) => n[3 * f + 1] > 0.9);
    return extrude(b, top, { by: 1, along: 'normals', each: false, inset: 0 }, 5);
  };
  const caps = (m: Mesh) => all(m).filter((f) => cornersOf(m, f).every((c) => at(m, c)[1] > 1.9));
  const before = made(2);
  const after = made(3);
  const map = (m: Mesh) => (c: number) => [at(m, c)[0] / 9, at(m, c)[2] / 9] as const;
  const pins = pinsOf(after, seen(before, place(before, caps(before), map(before))));
  expect(new Set([...pins.at.keys()])).toEqual(new Set(caps(after).flatMap((f) => cornersOf(after, f))));
  for (const [c, [u, v]] of pins.at) {
    expect(u).toBeCloseTo(map(after)(c)[0], 5);
    expect(v).toBeCloseTo(map(after)(c)[1], 5);
  }
  expect([...pins.from.values()].flat().every((key) => before.faceKey.includes(key))).toBe(true);
});

test('cells that a finer level makes of a face lie where the face lay', () => {
  const before = sheet(2, 2);
  const after = subdivide(before, { levels: 2 });
  const map = (c: number) => [at(before, c)[0] / 4, at(before, c)[2] / 4] as const;
  const pins = pinsOf(after, seen(before, place(before, [0], map)));
  expect(pins.at.size).toBe(16 * 4);
  const us = [...pins.at.values()].map(([u]) => u);
  expect(new Set(us.map((u) => u.toFixed(6))).size).toBe(5);
});

test('unseen, spoilt or gone: it is counted, nothing else is touched', () => {
  const before = sheet(2, 2);
  const placed = place(before, all(before), (c) => [at(before, c)[0], at(before, c)[2]]);
  const after = sheet(3, 3);
  for (const spots of [undefined, '', '!!', 'AAAA', btoa('x'.repeat(4 * CORNER_SPOT * placed.face.length - 1))]) {
    const pins = pinsOf(after, { ...placed, spots });
    // The corners of the whole keep their vertices, but no face is the same.
    expect(pins.lost.length).toBe(placed.face.length);
    expect(pins.at.size).toBe(0);
  }
  const elsewhere = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: true }, keyOf('o'));
  const wild = { ...seen(before, placed) };
  for (const { at: found } of [pinsOf(elsewhere, wild), pinsOf(elsewhere, { ...wild, uv: wild.uv.map(() => 1e300) })])
    for (const [, [u, v]] of found) expect(Number.isFinite(u) && Number.isFinite(v)).toBe(true);
  expect(pinsOf(before, { face: [], vertex: [], uv: [] })).toMatchObject({ lost: [], followed: 0 });
});
