import fc from 'fast-check';
import { UnionFind } from './unionfind';

test('two are in one part just when a path of joins leads from one to the other', () => {
  const n = 12;
  const pair = fc.tuple(fc.nat(n - 1), fc.nat(n - 1));
  fc.assert(
    fc.property(fc.array(pair, { maxLength: 14 }), (joins) => {
      const u = new UnionFind(n);
      for (const [a, b] of joins) u.join(a, b);
      const { of, count } = u.parts();
      // Reachability by the plain closure of the relation.
      const near = Array.from({ length: n }, (_, i) => Array.from({ length: n }, (_, j) => i === j));
      for (const [a, b] of joins) near[a][b] = near[b][a] = true;
      for (let k = 0; k < n; k++)
        for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) near[i][j] ||= near[i][k] && near[k][j];
      for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) expect(of[i] === of[j]).toBe(near[i][j]);
      expect(count).toBe(new Set(of).size);
      expect(Math.max(...of)).toBe(count - 1);
      expect(of[0]).toBe(0);
    }),
  );
});

test('none at all', () => {
  expect(new UnionFind(0).parts()).toEqual({ of: new Uint32Array(0), count: 0 });
});
