import { box } from '../../../core/make';
import { UNWRAPPING, uvOf } from '../../../core/testing/unwrapping';
import { unwrapMesh, type HandPlaces } from '../../../core/uv';
import { alsoPlaced, layoutNow } from './placedSince';

const { mesh } = unwrapMesh(
  box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1),
  UNWRAPPING,
);
const uv = uvOf(mesh);
const NOTHING: HandPlaces = { face: [], vertex: [], uv: [] };

/** Some faces, moved along. */
function moved(faces: readonly number[], by: number): HandPlaces {
  const corners = faces.flatMap((f) => [0, 1, 2, 3].map((k) => mesh.faceStart[f] + k));
  return {
    face: faces.flatMap((f) => Array<number>(4).fill(mesh.faceKey[f])),
    vertex: corners.map((c) => mesh.vertexKey[mesh.cornerVertex[c]]),
    uv: corners.flatMap((c) => [uv[2 * c] + by, uv[2 * c + 1]]),
  };
}
/** How far each face has gone along. */
const gone = (now: Float32Array): number[] =>
  Array.from(mesh.faceKey, (_, f) => Number((now[2 * mesh.faceStart[f]] - uv[2 * mesh.faceStart[f]]).toFixed(6)));

test('what was placed lies there at once, and until the picture has it', () => {
  const now = moved([2], 0.25);
  const since = alsoPlaced(null, NOTHING, now, [mesh.faceKey[2]]);
  expect(gone(layoutNow(mesh, uv, since, NOTHING, now))).toEqual([0, 0, 0.25, 0, 0, 0]);
  expect(layoutNow(mesh, uv, since, now, now)).toBe(uv);
  // Where it was noted what the corners lay on, the places are the same.
  expect(layoutNow(mesh, uv, since, { ...now, spots: 'x' }, { ...now, spots: 'y' })).toBe(uv);
});

test('one placed after another, before the picture has either, has both', () => {
  const one = moved([2], 0.25);
  const both = moved([2, 4], 0.25);
  const first = alsoPlaced(null, NOTHING, one, [mesh.faceKey[2]]);
  const since = alsoPlaced(first, one, both, [mesh.faceKey[4]]);
  expect(gone(layoutNow(mesh, uv, since, NOTHING, both))).toEqual([0, 0, 0.25, 0, 0.25, 0]);
  // A picture of the first alone comes in between.
  expect(gone(layoutNow(mesh, uv, since, one, both))).toEqual([0, 0, 0.25, 0, 0.25, 0]);
});

test('what was undone meanwhile counts no more', () => {
  const now = moved([2], 0.25);
  const since = alsoPlaced(null, NOTHING, now, [mesh.faceKey[2]]);
  expect(layoutNow(mesh, uv, since, NOTHING, NOTHING)).toBe(uv);
  const other = moved([4], 0.25);
  const later = alsoPlaced(since, NOTHING, other, [mesh.faceKey[4]]);
  expect([...later.faces]).toEqual([mesh.faceKey[4]]);
});
