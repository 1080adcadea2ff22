import { decode } from 'fast-png';
import { writePng } from '../formats/png';
import { box, plane } from '../make/primitives';
import { UV, type Mesh } from '../mesh/mesh';
import { layoutAsPixels, layoutAsSvg } from './drawing';
import { facesWith, lookOfFaces } from './look';
import { unwrapMesh } from './unwrap';

/** A sheet of cells, each a square of the layout as large as it is on the surface. */
function sheet(cells: number): Mesh {
  const mesh = plane({ width: 1, depth: 1, cutX: cells, cutZ: cells }, 1);
  const data = new Float32Array(2 * mesh.cornerCount);
  for (let c = 0; c < mesh.cornerCount; c++) {
    const v = 3 * mesh.cornerVertex[c];
    data[2 * c] = 0.1 + 0.5 * (mesh.positions[v] + 0.5);
    data[2 * c + 1] = 0.1 + 0.5 * (0.5 - mesh.positions[v + 2]);
  }
  return mesh.withAttribute(UV, { domain: 'corner', width: 2, data });
}
/** The same with the corners of one face moved; `way` may turn it over. */
function changed(mesh: Mesh, face: number, way: (u: number, v: number) => [number, number]): Mesh {
  const data = Float32Array.from(mesh.attributes[UV].data);
  for (let c = mesh.faceStart[face]; c < mesh.faceStart[face + 1]; c++)
    [data[2 * c], data[2 * c + 1]] = way(data[2 * c], data[2 * c + 1]);
  return mesh.withAttribute(UV, { domain: 'corner', width: 2, data });
}
const O = { stretch: 1.3, texels: 512 };

test('stretch and density of each face, against what was done to it', () => {
  const mesh = changed(sheet(4), 5, (u, v) => [u, 0.7 + 3 * (v - 0.7)]);
  const look = lookOfFaces(mesh);
  look.stretch.forEach((x, f) => expect(x).toBeCloseTo(f === 5 ? 3 : 1, 4));
  look.density.forEach((x, f) => expect(x).toBeCloseTo(f === 5 ? 0.5 * Math.sqrt(3) : 0.5, 4));
  expect(facesWith(mesh, 'stretched', O)).toEqual([5]);
  expect(facesWith(mesh, 'uneven', O)).toEqual([5]);
});

test('what lies on another, on its face, or in a scrap is found, and nothing else is', () => {
  const even = sheet(4);
  for (const fault of ['flipped', 'stretched', 'uneven', 'small', 'overlapping'] as const)
    expect(facesWith(even, fault, O)).toEqual([]);
  expect(facesWith(even, 'small', { ...O, texels: 6 })).toHaveLength(16);
  // One face is laid where another lies.
  const at = (m: Mesh, f: number) => [0, 1].map((k) => m.attributes[UV].data[2 * m.faceStart[f] + k]);
  const [p, q] = [at(even, 0), at(even, 10)];
  const over = changed(even, 0, (u, v) => [u + q[0] - p[0], v + q[1] - p[1]]);
  expect(facesWith(over, 'overlapping', O)).toEqual([0, 10]);
  // A vertex within pulled over the far side of its faces folds some of them.
  const folded = even.withAttribute(UV, {
    domain: 'corner',
    width: 2,
    data: even.attributes[UV].data.map((x, i) => {
      const c = i >> 1;
      return even.cornerVertex[c] === even.cornerVertex[even.faceStart[5] + 2] ? x + 0.2 : x;
    }) as Float32Array,
  });
  const flips = facesWith(folded, 'flipped', O);
  expect(flips.length).toBeGreaterThan(0);
  expect(flips.length).toBeLessThan(4);
  expect(facesWith(box(CUBE, 1), 'flipped', O)).toEqual([]);
});
const CUBE = { width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false };

test('drawn as lines: every island filled and numbered, every border once for each of its sides', () => {
  const mesh = unwrapMesh(box({ ...CUBE, cutX: 2 }, 1), {
    ...{ cut: new Set<number>(), hold: new Set<number>(), seamAngle: 1, stretch: 1.3 },
    ...{ size: 256, padding: 4, density: 0, turn: true },
  }).mesh;
  const svg = layoutAsSvg(mesh, { size: 256, line: 2, filled: true, numbered: true });
  expect(svg.match(/id="island-/g)).toHaveLength(6);
  expect([...svg.matchAll(/<text[^>]*>(\d)</g)].map((m) => m[1])).toEqual(['1', '2', '3', '4', '5', '6']);
  const [within, borders] = [...svg.matchAll(/stroke-width="[\d.]+" d="([^"]*)"/g)].map(
    (m) => m[1].match(/M/g)!.length,
  );
  // 4 edges within; of the 12 of a cube 4 are cut in two, each lies on two sides.
  expect([within, borders]).toEqual([4, 2 * 16]);
  expect(() => layoutAsSvg(box(CUBE, 1), { size: 8, line: 1, filled: true, numbered: true })).toThrow('unfold');
});

test('drawn as pixels: covered where islands lie, ink on their borders, clear elsewhere', () => {
  const image = layoutAsPixels(sheet(1), { size: 100, line: 3, filled: true, numbered: false });
  const at = (x: number, y: number) => [...image.data.subarray(4 * (y * 100 + x), 4 * (y * 100 + x) + 4)];
  expect(at(5, 5)).toEqual([0, 0, 0, 0]);
  expect(at(35, 65)[3]).toBe(255);
  expect(Math.min(...at(35, 65))).toBeGreaterThan(100);
  // 0.1 of the sheet from the left, 0.1 from below.
  expect(at(10, 60).slice(0, 3)).toEqual([29, 26, 23]);
  expect(at(40, 89).slice(0, 3)).toEqual([29, 26, 23]);
  expect(decode(writePng(image)).width).toBe(100);
});
