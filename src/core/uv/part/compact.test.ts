/** What sprawls is cut in two where that is short; both halves lie as the whole did. */
import { meshFrom, type Mesh } from '../../mesh/mesh';
import { edgeValence, topologyOf } from '../../mesh/topology';
import type { Island } from './island';
import { compacted, type Compacting } from './compact';
import { layFlat } from '../flatten/layflat';
import { Parting } from '../flatten/patch';

/** Squares of a sheet, one to a letter. */
function squares(rows: readonly string[]): Mesh {
  const positions: number[] = [];
  const number = new Map<string, number>();
  const at = (x: number, z: number): number => {
    const name = `${x} ${z}`;
    if (!number.has(name)) number.set(name, positions.push(x, 0, z) / 3 - 1);
    return number.get(name)!;
  };
  const faces = rows.flatMap((row, z) =>
    [...row].flatMap((c, x) => (c === '#' ? [[at(x, z), at(x, z + 1), at(x + 1, z + 1), at(x + 1, z)]] : [])),
  );
  return meshFrom(Float32Array.from(positions), faces);
}
function whole(mesh: Mesh): { islands: Island[]; seam: Uint8Array } {
  const t = topologyOf(mesh);
  const seam = Uint8Array.from({ length: t.edgeCount }, (_, e) => (edgeValence(t, e) === 2 ? 0 : 1));
  const parting = new Parting(mesh, seam);
  const all = Uint32Array.from({ length: mesh.faceCount }, (_, f) => f);
  const islands = parting.components(all, 0).map((faces) => {
    const patch = parting.patch(faces);
    return { patch, laid: layFlat(patch, 1.3) };
  });
  return { islands, seam };
}
const how = (mesh: Mesh, more: Partial<Compacting> = {}): Compacting => ({
  weigh: () => 1,
  firm: new Uint8Array(topologyOf(mesh).edgeCount),
  hold: new Set(),
  straight: 0,
  wide: 0,
  most: Infinity,
  ...more,
});
const bar = '##########';
const L = [...Array<string>(8).fill('##........'), bar, bar];

test('an L is cut where it turns, along two edges, and no face moves within its island', () => {
  const mesh = squares(L);
  const { islands, seam } = whole(mesh);
  const before = seam.reduce((n, x) => n + x, 0);
  const parts = compacted(mesh, islands, seam, how(mesh));
  expect(parts.map((i) => i.patch.faces.length).sort()).toEqual([16, 20]);
  expect(seam.reduce((n, x) => n + x, 0) - before).toBe(2);
  const area = (i: Island): number => i.laid.rest.total;
  expect(parts.reduce((sum, i) => sum + area(i), 0)).toBeCloseTo(area(islands[0]), 9);
  const placeOf = new Map<number, number[]>();
  const note = (i: Island, each: (f: number, at: number[]) => void): void =>
    i.patch.faces.forEach((f, k) => {
      const corners = [0, 1, 2, 3].map((q) => 2 * i.patch.corners[4 * k + q]);
      each(
        f,
        corners.flatMap((c) => [i.laid.uv[c], i.laid.uv[c + 1]]),
      );
    });
  note(islands[0], (f, at) => placeOf.set(f, at));
  for (const part of parts) note(part, (f, at) => expect(at).toEqual(placeOf.get(f)));
});

test.each<[string, readonly string[], Partial<Compacting>]>([
  ['what fills its box', Array<string>(6).fill(bar), {}],
  ['where no island more is to be had', L, { most: 0 }],
])('%s is left whole', (_, rows, more) => {
  const mesh = squares(rows);
  const { islands, seam } = whole(mesh);
  const before = seam.slice();
  expect(compacted(mesh, islands, seam, how(mesh, more))).toEqual(islands);
  expect(seam).toEqual(before);
});

test('it is not cut over what is held, nor where that is dear', () => {
  const mesh = squares(L);
  const t = topologyOf(mesh);
  const across = Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) => edgeValence(t, e) === 2);
  const held = whole(mesh);
  expect(compacted(mesh, held.islands, held.seam, how(mesh, { hold: new Set(across) }))).toHaveLength(1);
  const dear = whole(mesh);
  expect(compacted(mesh, dear.islands, dear.seam, how(mesh, { weigh: () => 100 }))).toHaveLength(1);
});

describe('where it is told how full the sheet gets', () => {
  // Half as wide as long, an L is worth a cut only where that makes the sheet fuller; here are sixteen.
  const many = Array.from({ length: 12 }, (_, z) => (z < 6 ? '######.......' : '############.').repeat(16));
  const cutBy = (worth: (many: number) => number): { many: number; seams: number; sound: boolean } => {
    const mesh = squares(many);
    const { islands, seam } = whole(mesh);
    const before = seam.reduce((n, x) => n + x, 0);
    const parts = compacted(
      mesh,
      islands,
      seam,
      how(mesh, { weigh: () => 1.5, fullness: (list) => worth(list.length) }),
    );
    const t = topologyOf(mesh);
    const of = new Int32Array(mesh.faceCount).fill(-1);
    parts.forEach(({ patch }, k) => {
      for (const f of patch.faces) of[f] = k;
    });
    // What is a seam now is just what lies between two of the islands.
    let sound = of.every((k) => k >= 0);
    for (let e = 0; e < t.edgeCount; e++) {
      const corners = t.edgeCorner.subarray(t.edgeCornerStart[e], t.edgeCornerStart[e + 1]);
      const apart = corners.length !== 2 || of[t.cornerFace[corners[0]]] !== of[t.cornerFace[corners[1]]];
      sound &&= apart === (seam[e] === 1);
    }
    return { many: parts.length, seams: seam.reduce((n, x) => n + x, 0) - before, sound };
  };
  const least = cutBy(() => 0.9);
  const most = cutBy((many) => many / 40);

  test('none more is cut where it is full already, all where each fills it more', () => {
    expect(least.sound && most.sound).toBe(true);
    expect(most.many).toBeGreaterThan(least.many + 1);
    expect(most.seams).toBeGreaterThan(least.seams);
  });

  test('what was cut for nothing is put back: no seam stays of it', () => {
    expect(cutBy((many) => (many > least.many ? -1 : 0.3))).toEqual(least);
  });

  test('half of the cuts are kept where they are worth more than all', () => {
    const some = cutBy((many) => (many === most.many ? 0.1 : many / 40));
    expect(some.sound).toBe(true);
    expect(some.many).toBe(least.many + ((most.many - least.many) >> 1));
  });
});

test('how much is cut for a fuller sheet is a dial: nothing at 0 but what is longer than the sheet', () => {
  const count = (rows: readonly string[], fill: number, more: Partial<Compacting> = {}): number => {
    const mesh = squares(rows);
    const { islands, seam } = whole(mesh);
    return compacted(mesh, islands, seam, how(mesh, { fill, ...more })).length;
  };
  const wide = [...Array<string>(6).fill('####......'), ...Array<string>(4).fill(bar)];
  expect([0, 0.5, 1].map((fill) => count(wide, fill))).toEqual([1, 2, 2]);
  // Half as wide as long, an L is hardly worth a cut: by a fifth of its box.
  const thick = [...Array<string>(12).fill('#'.repeat(13)), ...Array<string>(13).fill('#'.repeat(25))];
  expect([0, 0.5, 1].map((fill) => count(thick, fill))).toEqual([1, 1, 2]);
  // Half a model is as full as it is, however large the whole.
  expect(count(wide, 0.5, { area: 128 })).toBe(2);
  // A strip four times as long as the sheet that takes it is cut at 0 as well.
  const strip = ['#'.repeat(32), '#'.repeat(32)];
  expect(count(strip, 0)).toBeGreaterThan(1);
});
