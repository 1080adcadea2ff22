/** What it costs to cut an edge, by what can be worked out on paper. */
import { box, plane } from '../../make/primitives';
import type { Mesh } from '../../mesh/mesh';
import { edgeValence, topologyOf } from '../../mesh/topology';
import { hidingCost } from './hiding';

const flat = plane({ width: 4, depth: 2, cutX: 2, cutZ: 2 }, 1);

/** Turned: each place by its own. */
function placed(mesh: Mesh, at: (x: number, y: number, z: number) => [number, number, number]): Mesh {
  const p = mesh.positions.slice();
  for (let v = 0; v < p.length; v += 3) p.set(at(p[v], p[v + 1], p[v + 2]), v);
  return mesh.with({ positions: p });
}
/** What edges within cost for their length, each value once. */
function perLength(mesh: Mesh, hide: number): number[] {
  const t = topologyOf(mesh);
  const cost = hidingCost(mesh, hide);
  const plain = hidingCost(mesh, 0);
  const out = new Set<number>();
  for (let e = 0; e < t.edgeCount; e++) if (edgeValence(t, e) === 2) out.add(Number((cost(e) / plain(e)).toFixed(6)));
  return [...out].sort();
}

test('with nothing to hide, an edge costs its length; so do ends of the surface, however much is to be hidden', () => {
  const t = topologyOf(flat);
  const p = flat.positions;
  const [none, all] = [hidingCost(flat, 0), hidingCost(flat, 1)];
  for (let e = 0; e < t.edgeCount; e++) {
    const [a, b] = [3 * t.edgeVertex[2 * e], 3 * t.edgeVertex[2 * e + 1]];
    const long = Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
    expect(none(e)).toBeCloseTo(long, 6);
    if (edgeValence(t, e) === 1) expect(all(e)).toBeCloseTo(long, 6);
  }
});

test('what looks up hides nothing; what looks down or to the back does, the one more than the other', () => {
  expect(perLength(flat, 1)).toEqual([1]);
  const down = perLength(
    placed(flat, (x, y, z) => [x, -y, -z]),
    1,
  );
  const back = perLength(
    placed(flat, (x, _, z) => [x, z, 0]),
    1,
  );
  const front = perLength(
    placed(flat, (x, _, z) => [x, -z, 0]),
    1,
  );
  expect(down).toHaveLength(1);
  expect(back).toHaveLength(1);
  expect(front).toEqual([1]);
  expect(down[0]).toBeLessThan(back[0]);
  expect(back[0]).toBeLessThan(1);
});

test('a crease hides as much as can be; half as much is hidden, half as much it is cheaper', () => {
  const sharp = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1);
  const [whole, half] = [perLength(sharp, 1), perLength(sharp, 0.5)];
  expect(whole).toHaveLength(1);
  expect(whole[0]).toBeLessThan(0.2);
  expect(1 - half[0]).toBeCloseTo((1 - whole[0]) / 2, 5);
});
