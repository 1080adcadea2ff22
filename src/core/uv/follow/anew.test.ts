import { box, plane } from '../../make/primitives';
import { meshFrom, type Mesh } from '../../mesh/mesh';
import { subdivide } from '../../subdivide';
import { animal, thrown } from '../../testing/organic';
import { someOf } from '../../testing/thorough';
import { tubeAlong } from '../../testing/tubes';
import { UNWRAPPING, uvOf } from '../../testing/unwrapping';
import { islandsOf, uvFigures } from '../measure';
import { unwrapMesh } from '../unwrap';

/** Three pages of four faces each on one spine, the middle one the other way round. */
function book(): Mesh {
  const places = [0, 0, 0, 0, 1, 0, 0, 2, 0];
  const faces: number[][] = [];
  for (let page = 0; page < 3; page++) {
    const [x, z] = [Math.cos(2.1 * page), Math.sin(2.1 * page)];
    const first = places.length / 3;
    for (const r of [1, 2]) for (const y of [0, 1, 2]) places.push(r * x, y, r * z);
    const at = (r: number, y: number): number => (r === 0 ? y : first + 3 * (r - 1) + y);
    for (const r of [0, 1])
      for (const y of [0, 1]) {
        const ring = [at(r, y), at(r + 1, y), at(r + 1, y + 1), at(r, y + 1)];
        faces.push(page === 1 ? ring.reverse() : ring);
      }
  }
  return meshFrom(places, faces);
}

test.each([0, 1, 2])('with page %i of a book kept, the other two are not joined over their spine', (page) => {
  const mesh = book();
  const wishes = { ...UNWRAPPING, seamAngle: Infinity };
  const was = uvOf(unwrapMesh(mesh, wishes).mesh);
  const pins = new Map<number, [number, number]>();
  for (let c = 16 * page; c < 16 * (page + 1); c++) pins.set(c, [was[2 * c], was[2 * c + 1]]);
  const out = unwrapMesh(mesh, { ...wishes, pins, kept: true });
  const uv = uvOf(out.mesh);
  expect(uvFigures(out.mesh, uv)).toMatchObject({ islands: 3, flips: 0, overlap: 0 });
  expect(out.islands).toBe(3);
  for (const [c, place] of pins) expect([uv[2 * c], uv[2 * c + 1]]).toEqual(place);
  const { ofFace } = islandsOf(mesh, uv);
  for (let f = 0; f < mesh.faceCount; f++)
    for (let g = 0; g < f; g++) expect(ofFace[f] === ofFace[g]).toBe(Math.floor(f / 4) === Math.floor(g / 4));
});

/** What of an earlier layout keeps its place, and where. */
function pinsOn(mesh: Mesh, uv: Float32Array, keeps: (face: number) => boolean): Map<number, [number, number]> {
  const pins = new Map<number, [number, number]>();
  for (let f = 0; f < mesh.faceCount; f++)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1] && keeps(f); c++) pins.set(c, [uv[2 * c], uv[2 * c + 1]]);
  return pins;
}

/** A body that tapers to one end and flares at the other. */
function fish(): Mesh {
  const block = box({ width: 4, height: 1, depth: 1, cutX: 8, cutY: 2, cutZ: 2, onGround: false }, 1);
  const positions = block.positions.slice();
  for (let v = 0; v < positions.length; v += 3) {
    const x = positions[v];
    const thick = 1 - 0.9 * (x / 2.2) ** 2;
    positions[v + 1] *= thick;
    positions[v + 2] *= thick + (x > 1 ? 0.5 : 0);
  }
  return subdivide(block.with({ positions }), { levels: 2 });
}

test.each([false, true])(
  'the rest of a body is not hung folded on the island that is kept (on texels: %s)',
  (pixels) => {
    const mesh = fish();
    const was = uvOf(unwrapMesh(mesh, { ...UNWRAPPING, size: 512, padding: 2 }).mesh);
    const { ofFace, count } = islandsOf(mesh, was);
    const each = Array.from({ length: count }, (_, k) => k);
    for (const k of someOf(each, 3)) {
      const pins = pinsOn(mesh, was, (f) => ofFace[f] === k);
      const out = unwrapMesh(mesh, { ...UNWRAPPING, stretch: 0, pixels, pins });
      expect(uvFigures(out.mesh, uvOf(out.mesh))).toMatchObject({ islands: out.islands, flips: 0, overlap: 0 });
    }
  },
);

test('faces without a place, all over a tube that is packed anew, do not lie folded among the others', () => {
  const mesh = tubeAlong((t) => [Math.cos(20 * t), t, Math.sin(20 * t)], {
    rings: 60,
    sides: 10,
    radius: 0.08,
    caps: true,
  });
  const was = uvOf(unwrapMesh(mesh, { ...UNWRAPPING, seamAngle: 0.6 }).mesh);
  const roll = thrown(5);
  const loose = Uint8Array.from({ length: mesh.faceCount }, () => (roll() < 1 / 6 ? 1 : 0));
  const pins = pinsOn(mesh, was, (f) => loose[f] === 0);
  const out = unwrapMesh(mesh, { ...UNWRAPPING, seamAngle: 0.6, stretch: 0, repack: true, pins });
  expect(uvFigures(out.mesh, uvOf(out.mesh))).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
});

test.each([
  { on: 'the second of two sheets', near: 1.001, outward: -1 },
  { on: 'the first of two sheets', near: 0.999, outward: 1 },
  { on: 'the last sheet', near: 1.999, outward: 1 },
])('what hangs on an island beside the rim of $on does not reach over that', ({ near, outward }) => {
  const mesh = plane({ width: 4, depth: 1, cutX: 8, cutZ: 2 }, 1);
  const place = (c: number): [number, number] => {
    const v = 3 * mesh.cornerVertex[c];
    // Three quarters are placed, so that what ends there does so a thousandth from the rim.
    return [near - outward * 0.1 * (1 - mesh.positions[v]), 0.5 - 0.1 * outward * mesh.positions[v + 2]];
  };
  const pins = new Map<number, [number, number]>();
  for (let f = 0; f < mesh.faceCount; f++) {
    const corners = Array.from({ length: 4 }, (_, k) => mesh.faceStart[f] + k);
    if (corners.some((c) => mesh.positions[3 * mesh.cornerVertex[c]] > 1.01)) continue;
    for (const c of corners) pins.set(c, place(c));
  }
  const out = unwrapMesh(mesh, { ...UNWRAPPING, sheets: 2, pins });
  const uv = uvOf(out.mesh);
  for (const [c, at] of pins) expect([uv[2 * c], uv[2 * c + 1]]).toEqual(at.map(Math.fround));
  expect(uvFigures(out.mesh, uv, 1024, 2)).toMatchObject({ islands: 2, flips: 0, overlap: 0, outside: 0 });
});

describe('one island taken by hand', () => {
  const mesh = animal(8);
  const was = uvOf(unwrapMesh(mesh, UNWRAPPING).mesh);
  const { ofFace, count } = islandsOf(mesh, was);
  const islandOf = (c: number): number => ofFace[Math.floor(c / 3)];
  /** Islands that lie elsewhere than before, with one put so far from where it lay. */
  const elsewhere = (k: number, by: number): Set<number> => {
    const pins = pinsOn(mesh, was, (f) => ofFace[f] === k);
    for (const [c, [u, v]] of pins) pins.set(c, [u + by, v]);
    const out = unwrapMesh(mesh, { ...UNWRAPPING, pins });
    const uv = uvOf(out.mesh);
    expect(uvFigures(out.mesh, uv)).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
    const found = new Set<number>();
    for (let c = 0; c < mesh.cornerCount; c++) {
      const at = pins.get(c) ?? [was[2 * c], was[2 * c + 1]];
      if (Math.hypot(uv[2 * c] - at[0], uv[2 * c + 1] - at[1]) > 1e-5) found.add(islandOf(c));
    }
    return found;
  };

  test('put where it lay, all others stay where they lie', () => {
    expect(mesh.cornerCount).toBe(3 * mesh.faceCount);
    for (let k = 0; k < Math.min(2, count); k++) expect(elsewhere(k, 0).size).toBe(0);
  });

  test('nudged, only what it comes near moves, as long as there is room for that', () => {
    const moved = Array.from({ length: Math.min(4, count) }, (_, k) => elsewhere(k, 0.001).size);
    // One at the least has nothing beside it, or one neighbour that has room elsewhere.
    expect(Math.min(...moved)).toBeLessThanOrEqual(1);
    expect(moved.some((n) => n < count - 1)).toBe(true);
  });
});
