import { newProject } from '../document/changes';
import { RecentDocuments } from './recent';

const doc = (name: string) => newProject(name);

test('the newest not beyond a revision; an older one never takes its place', () => {
  const r = new RecentDocuments(1000);
  r.keep('a', 5, doc('five'), 100);
  expect(r.get('a', 4)).toBeUndefined();
  expect(r.get('a', 9)).toMatchObject({ revision: 5 });
  r.keep('a', 3, doc('three'), 100);
  expect(r.get('a', 9)!.document.name).toBe('five');
  r.keep('a', 6, doc('six')); // about as large as before
  expect(r.get('a', 6)!.document.name).toBe('six');
  expect(r.get('b', 6)).toBeUndefined();
});

test('those used longest ago go first; what is too large is not held; what is forgotten is gone', () => {
  const r = new RecentDocuments(1000);
  for (const id of ['a', 'b', 'c']) r.keep(id, 0, doc(id), 400);
  expect(r.get('a', 0)).toBeUndefined();
  r.get('b', 0);
  r.keep('d', 0, doc('d'), 400);
  expect(r.get('c', 0)).toBeUndefined();
  expect(r.get('b', 0)).toBeDefined();
  r.keep('e', 0, doc('e'), 900);
  expect(r.get('e', 0)).toBeUndefined();
  r.forget('b');
  expect(r.get('b', 0)).toBeUndefined();
  r.keep('f', 0, doc('f')); // of a size that nobody knows
  expect(r.get('f', 0)).toBeUndefined();
});
