import fc from 'fast-check';
import { transformVertices } from '../edit/transform';
import { translation } from '../math/affine';
import { closedBody, seeds, someOf } from '../testing/arbitrary';
import { ENOUGH } from '../testing/thorough';
import { boundsOf, type Bounds } from './bounds';
import type { Mesh } from './mesh';
import { boundsOfMesh, mayDiffer, noteMoved } from './moved';

const coordinate = fc.double({ min: -3, max: 3, noNaN: true });
/** −0 is 0 here. */
const plain = ({ min, max }: Bounds) => [...min, ...max].map((x) => x + 0);

/** Moves of some vertices one after the other, each from the result of an earlier one. */
const moves = fc.array(fc.record({ from: fc.nat(20), some: seeds, by: fc.tuple(coordinate, coordinate, coordinate) }), {
  minLength: 1,
  maxLength: 12,
});

test('whatever was moved from whatever: bounds are those of all vertices, and what differs is among what may', () => {
  let known = 0;
  fc.assert(
    fc.property(closedBody, moves, (body, list) => {
      const made: Mesh[] = [body];
      for (const { from, some, by } of list) {
        const base = made[from % made.length];
        if (from % 2) boundsOfMesh(base); // of some the bounds are known, of others not
        made.push(transformVertices(base, translation(...by), someOf(base.vertexCount, some.slice(0, 1 + (from % 2)))));
      }
      for (const m of made) expect(plain(boundsOfMesh(m))).toEqual(plain(boundsOf(m.positions)));
      for (const a of made)
        for (const b of made) {
          const may = mayDiffer(a.positions, b.positions);
          if (!may) continue;
          if (a !== b) known++;
          const asked = new Set(may);
          expect(Array.from(may)).toEqual([...asked].sort((x, y) => x - y));
          for (let i = 0; i < a.positions.length; i++)
            if (a.positions[i] !== b.positions[i]) expect(asked.has(Math.floor(i / 3))).toBe(true);
        }
    }),
    { numRuns: 100, interruptAfterTimeLimit: ENOUGH },
  );
  expect(known).toBeGreaterThan(100);
});

test('of strangers nothing is known, nor of what was moved for the most part', () => {
  const a = new Float32Array(30);
  expect(mayDiffer(a, new Float32Array(30))).toBeUndefined();
  expect(mayDiffer(a, a)).toEqual(new Uint32Array(0));
  const b = a.map((x) => x + 1);
  noteMoved(
    a,
    b,
    Array.from({ length: 10 }, (_, i) => i),
  );
  expect(mayDiffer(a, b)).toBeUndefined();
  const c = a.slice();
  c[0] = 5;
  noteMoved(a, c, [0]);
  expect(mayDiffer(c, a)).toEqual(Uint32Array.of(0));
  expect(boundsOfMesh({ positions: c })).toEqual({ min: [0, 0, 0], max: [5, 0, 0] });
});
