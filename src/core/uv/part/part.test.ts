import { topologyOf } from '../../mesh';
import { meshFrom, type Mesh } from '../../mesh/mesh';
import { Parting } from '../flatten/patch';
import { slit } from './part';

const SIDES = 24;
const RINGS = 20;

/** A tube with a hole in it that goes round three sides of a rectangle, as a bracket does. */
function bracketed(): Mesh {
  const points: number[] = [];
  for (let i = 0; i <= RINGS; i++)
    for (let k = 0; k < SIDES; k++) {
      const a = (2 * Math.PI * k) / SIDES;
      points.push(Math.cos(a), 0.25 * i, Math.sin(a));
    }
  const faces: number[][] = [];
  const hole = (i: number, k: number): boolean =>
    k >= 3 && k <= 5 && i >= 6 && i <= 9 && (k === 3 || i === 6 || i === 9);
  for (let i = 0; i < RINGS; i++)
    for (let k = 0; k < SIDES; k++) {
      const l = (k + 1) % SIDES;
      if (!hole(i, k)) faces.push([i * SIDES + k, (i + 1) * SIDES + k, (i + 1) * SIDES + l, i * SIDES + l]);
    }
  return meshFrom(points, faces);
}

describe('the way that opens a patch', () => {
  it('counts a hole that is let be as crossed: what lies within it is not cut off', () => {
    const mesh = bracketed();
    const t = topologyOf(mesh);
    const open = Uint8Array.from({ length: t.edgeCount }, (_, e) =>
      t.edgeCornerStart[e + 1] - t.edgeCornerStart[e] === 2 ? 0 : 1,
    );
    const parting = new Parting(mesh, open);
    parting.label.fill(0);
    const faces = Uint32Array.from({ length: mesh.faceCount }, (_, f) => f);
    const tube = parting.patch(faces);
    expect(tube).toMatchObject({ borders: 3, euler: -1 });
    // Cheapest along the line that both arms of the bracket end at.
    const on = (v: number): boolean => v % SIDES === 6;
    const cut = slit(parting, tube, (e) => (on(t.edgeVertex[2 * e]) && on(t.edgeVertex[2 * e + 1]) ? 0.01 : 1));
    expect(cut.length).toBeGreaterThan(0);
    const opened = parting.patch(faces);
    expect(opened).toMatchObject({ borders: 1, euler: 1 });
    expect(parting.components(faces, 1)).toHaveLength(1);
    // Up to the one arm and on from the other, and nothing between them.
    const rows = cut.map((e) => Math.floor(Math.min(t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]) / SIDES));
    expect(rows.filter((i) => i > 6 && i < 9)).toEqual([]);
  });
});
