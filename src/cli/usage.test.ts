import { numberOption, parseArgs, Usage } from './usage';

test('positional arguments, values in both spellings, flags', () => {
  const o = parseArgs(['a.obj', '--size', '512', '--json', 'b.obj', '--padding=3'], ['size', 'padding'], ['json']);
  expect(o.positional).toEqual(['a.obj', 'b.obj']);
  expect(o.values).toEqual({ size: '512', padding: '3' });
  expect(o.flags.has('json')).toBe(true);
});

test('standard input stays a positional argument', () => {
  expect(parseArgs(['-'], [], []).positional).toEqual(['-']);
});

test.each([
  [['--loud'], /not known/],
  [['--size'], /needs a value/],
])('%j is wrong use', (args, told) => {
  expect(() => parseArgs(args, ['size'], [])).toThrow(told);
  expect(() => parseArgs(args, ['size'], [])).toThrow(Usage);
});

test('numbers are held to their range', () => {
  const o = parseArgs(['--a', '5', '--b', 'x', '--c', '-1'], ['a', 'b', 'c'], []);
  expect(numberOption(o, 'a', 1, 0, 10)).toBe(5);
  expect(numberOption(o, 'missing', 7, 0, 10)).toBe(7);
  expect(() => numberOption(o, 'b', 1, 0, 10)).toThrow(/--b must be a number from 0 to 10/);
  expect(() => numberOption(o, 'c', 1, 0, 10)).toThrow(Usage);
});
