import { toolDefs } from '../core/tools';
import { length, toggle } from '../core/recipe/values';
import { box } from '../core/make';
import { readOption, readPick, readRule } from './toolOptions';
import { Usage } from './usage';

const none = () => [];

test('picks by words, numbers and ranges; what is beyond the mesh is left out', () => {
  expect([...readPick('all', 'edge', 3, none).indices]).toEqual([0, 1, 2]);
  expect([...readPick('4,0,2-3,2', 'face', 6, none).indices]).toEqual([0, 2, 3, 4]);
  expect([...readPick('1-999999999', 'vertex', 4, none).indices]).toEqual([1, 2, 3]);
  expect([...readPick('up', 'face', 6, (axis, way) => [axis, axis + way]).indices]).toEqual([1, 2]);
});

test.each(['9', 'roof', '', '1-', '-1', 'constructor'])('the pick “%s” is wrong use, told in a sentence', (words) => {
  expect(() => readPick(words, 'face', 6, none)).toThrow(Usage);
});

test('values with units and arithmetic, in their limits', () => {
  expect(readOption('by', length('by', 0), '3 cm')).toBeCloseTo(0.03, 12);
  expect(readOption('each', toggle('each', false), 'true')).toBe(true);
  expect(() => readOption('each', toggle('each', false), 'maybe')).toThrow(/true or false/);
  expect(() => readOption('by', length('by', 0, { max: 1 }), '2 m')).toThrow(Usage);
  expect(() => readOption('by', length('by', 0), 'far')).toThrow(Usage);
});

test('no value of a tool has a name the command line needs itself', () => {
  for (const t of toolDefs()) expect(Object.keys(t.values)).not.toEqual(expect.arrayContaining(['pick']));
  for (const t of toolDefs()) expect(Object.keys(t.values)).not.toEqual(expect.arrayContaining(['kind']));
});

test('rules as they are typed', () => {
  const cube = box({ width: 1, height: 1, depth: 1, cutX: 2, cutY: 2, cutZ: 2, onGround: false }, 1);
  expect(readRule('rule:looks', 'face', cube).indices).toHaveLength(4);
  expect(readRule('rule:looks,way=front,angle=100deg', 'face', cube).indices).toHaveLength(20);
  expect(readRule('rule:sharp', 'edge', cube).indices).toHaveLength(24);
  expect(() => readRule('rule:moon', 'face', cube)).toThrow(/there is no rule “moon”/);
  expect(() => readRule('rule:sharp', 'face', cube)).toThrow(/is for edge/);
  expect(() => readRule('rule:looks,size=4', 'face', cube)).toThrow(/takes way, angle; not “size”/);
  expect(() => readRule('rule:open', 'edge', cube)).toThrow(/nothing fits/);
});
