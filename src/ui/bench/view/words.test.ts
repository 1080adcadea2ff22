import { box, plane } from '../../../core/make/primitives';
import { wordsOf } from './words';

const cube = box({ width: 0.02, height: 0.02, depth: 0.02, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1);
const twice = (p: [number, number, number]): [number, number, number] => [2 * p[0], 2 * p[1], 2 * p[2]];

test('elements in words, as they stand in the world', () => {
  expect(wordsOf(cube, 'face', 3, (p) => p, 'mm')).toBe('Face 3, quad, 4 cm²');
  expect(wordsOf(cube, 'face', 3, twice, 'mm')).toBe('Face 3, quad, 16 cm²');
  expect(wordsOf(cube, 'edge', 0, (p) => p, 'mm')).toBe('Edge 0, 20 mm');
  expect(wordsOf(cube, 'vertex', 0, (p) => p, 'mm')).toMatch(/^Vertex 0, 3 edges, at -?10 mm, -?10 mm, -?10 mm$/);
  const sheet = plane({ width: 1, depth: 1, cutX: 1, cutZ: 1 }, 1);
  expect(wordsOf(sheet, 'edge', 0, (p) => p, 'm')).toBe('Edge 0, open, 1 m');
});
