import {
  angle,
  choice,
  count,
  length,
  material,
  number,
  pick,
  pieceName,
  text,
  toggle,
  type ValueDef,
} from '../../../core/recipe/values';
import { shortLength } from '../stages/short';
import { readValue, type Reading } from '../../../document/readvalue';

const reading: Reading = {
  units: 'mm',
  digits: 3,
  materials: [{ id: 'm', name: 'Worn brass' }],
  pieces: [{ id: 'p', name: 'hood' }],
};
const read = (def: unknown, value: unknown, more: Partial<Reading> = {}) =>
  readValue(def as ValueDef<unknown>, value, { ...reading, ...more });

test('values read as people say them', () => {
  expect(read(length('l', 0), 0.0225)).toBe('22.5 mm');
  expect(read(length('l', 0), 0.0225, { units: 'cm' })).toBe('2.25 cm');
  expect(read(length('l', 0, { zero: 'nothing' }), 0)).toBe('nothing');
  expect(read(angle('a', 0), Math.PI / 2)).toBe('90°');
  expect(read(count('c', 1, { noun: ['cut', 'cuts'] }), 1)).toBe('1 cut');
  expect(read(count('c', 1, { noun: ['cut', 'cuts'] }), 3)).toBe('3 cuts');
  expect(read(number('n', 0, { unit: '/ m' }), 512)).toBe('512 / m');
  expect(read(toggle('t', true, 'cutting', 'not cutting'), false)).toBe('not cutting');
  expect(read(choice('c', 'x', [['x', 'along x']]), 'x')).toBe('along x');
  expect(read(pick('p', 'edge', ['seam', 'seams']), { kind: 'edge', keys: [1, 2] })).toBe('2 seams');
});

test('what is named is told by its name, and what is gone says so', () => {
  expect(read(material('m'), 'm')).toBe('Worn brass');
  expect(read(material('m'), 'gone')).toBe('no material');
  expect(read(pieceName('p'), 'p')).toBe('hood');
  expect(read(pieceName('p'), '')).toBe('a piece to be chosen');
  expect(read(text('t', ''), 'color')).toBe('color');
});

test('a formula is told as it was written; a kind that is not known has no words', () => {
  expect(read(length('l', 0), { formula: '2 cm + 3 mm' })).toBe('2 cm + 3 mm');
  expect(read({ kind: 'from-the-future' }, 1)).toBe('…');
});

test('lengths that stand beside others keep five digits that count', () => {
  expect(shortLength(0.19, 'mm', 3)).toBe('190');
  expect(shortLength(0.1912209, 'mm', 3)).toBe('191.22');
  expect(shortLength(9.90733, 'mm', 3)).toBe('9907.3');
  expect(shortLength(9907.33, 'mm', 3)).toBe('9\u2009907\u2009330');
  expect(shortLength(0.00025, 'mm', 3)).toBe('0.25');
  expect(shortLength(0, 'mm', 3)).toBe('0');
  expect(shortLength(1.5, 'm', 1)).toBe('1.5');
});
