import { meshFrom, type Mesh } from '../../mesh/mesh';
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
