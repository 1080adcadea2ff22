import { completions } from './words';

test('what goes on from what was typed: dials first, names of elements, functions with their bracket', () => {
  const dial = { name: 'spacing', help: 'Along the quay', written: 'spacing' };
  const names = (before: string) => completions(before, [dial]).list.map((w) => w.name);
  expect(names('2 * sp')).toEqual(['spacing']);
  expect(names('posi')).toEqual(['position']);
  expect(names('curvat')).toEqual(['curvature']);
  expect(completions('1 + sq').list[0]).toMatchObject({ written: 'sqrt(', help: expect.stringMatching(/./) });
  expect(completions('set').list.map((w) => w.name)).not.toContain('set');
  expect(completions('2 + ').list).toEqual([]);
  expect(completions('').list).toEqual([]);
  expect(completions('a + noi')).toMatchObject({ from: 4 });
});

test('every word that is offered says what it means', () => {
  for (const letter of 'abcdefghijklmnopqrstuvwxyz')
    for (const w of completions(letter, [], 100).list) expect([w.name, w.help.length > 3]).toEqual([w.name, true]);
});
