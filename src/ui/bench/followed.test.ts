import { becameOfPicks } from './followed';

const report = (step: string, kept: number, followed = 0, lost = 0) => ({ step, figures: { kept, followed, lost } });

test('what became of picks is told when it is not what it was', () => {
  const before = [report('a', 0), report('b', 400), report('c', 16)];
  expect(becameOfPicks(before, [report('a', 0), report('b', 400), report('c', 12, 3, 1)])).toBe(
    'Picks: 412 kept, 3 followed, 1 lost',
  );
  expect(becameOfPicks([report('a', 0), report('c', 1, 3)], [report('a', 0), report('c', 4)])).toBe(
    'Picks: 4 kept, 0 followed, 0 lost',
  );
});

test('more picks, other steps, or nothing known of before: there is nothing to tell', () => {
  const before = [report('a', 0), report('b', 400)];
  expect(becameOfPicks(before, [report('a', 0), report('b', 401)])).toBeUndefined();
  expect(becameOfPicks(before, [report('a', 0), report('c', 1, 9)])).toBeUndefined();
  expect(becameOfPicks(before, [report('a', 0)])).toBeUndefined();
  expect(becameOfPicks(undefined, before)).toBeUndefined();
});
