/** Small patches laid beside large ones, and sprawling ones cut. */
import { plane } from '../../make/primitives';
import { meshFrom, type Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';
import { UNWRAPPING, uvOf } from '../../testing/unwrapping';
import { attachedTo } from './attach';
import type { Island } from './island';
import { leastBox } from '../pack/cells/boxes';
import { compacted, type Compacting } from './compact';
import { layFlat } from '../flatten/layflat';
import { islandsOf, uvFigures } from '../measure';
import { Parting } from '../flatten/patch';
import { unwrapMesh } from '../unwrap';

const openOf = (mesh: Mesh): Uint8Array => {
  const t = topologyOf(mesh);
  return Uint8Array.from({ length: t.edgeCount }, (_, e) =>
    t.edgeCornerStart[e + 1] - t.edgeCornerStart[e] === 2 ? 0 : 1,
  );
};
const islandOf = (parting: Parting, faces: Uint32Array): Island => {
  const patch = parting.patch(faces);
  return { patch, laid: layFlat(patch, 1.3) };
};
const facesWhere = (mesh: Mesh, is: (f: number) => boolean): Uint32Array =>
  Uint32Array.from({ length: mesh.faceCount }, (_, f) => f).filter(is);

/** A strip bent by an angle at each of its steps, or a flat one where that is 0. */
function strip(steps: number, turn: number): Mesh {
  const positions: number[] = [];
  const faces: number[][] = [];
  let [x, y, a] = [0, 0, 0];
  for (let i = 0; i <= steps; i++) {
    positions.push(x, y, 0, x, y, -1);
    x += Math.cos(a);
    y += Math.sin(a);
    a += turn;
    if (i > 0) faces.push([2 * i - 2, 2 * i, 2 * i + 1, 2 * i - 1]);
  }
  return meshFrom(Float32Array.from(positions), faces);
}

describe('a small patch beside a large one', () => {
  const mesh = strip(14, 0.4);
  const parting = new Parting(mesh, openOf(mesh));
  const all = facesWhere(mesh, () => true);
  const parts = (): Island => {
    for (const f of all) parting.label[f] = f < 12 ? 0 : 1;
    const big = islandOf(
      parting,
      facesWhere(mesh, (f) => f < 12),
    );
    for (const f of all) parting.label[f] = 0;
    return big;
  };

  test('the large one stays exactly as it lies; the small one goes on from it without stretch', () => {
    const big = parts();
    const one = attachedTo(parting, big, all, { bound: 1.3 })!;
    expect(one.laid.sound && one.laid.good).toBe(true);
    expect(one.laid.figures.mean).toBeLessThan(1 + 1e-6);
    expect(one.laid.figures.spread).toBeLessThan(1.03);
    const at = (i: Island, f: number): number[] => {
      const k = i.patch.faces.indexOf(f);
      const corners = [...i.patch.corners.subarray(4 * k, 4 * k + 4)];
      return corners.flatMap((v) => [i.laid.uv[2 * v], i.laid.uv[2 * v + 1]]);
    };
    for (let f = 0; f < 12; f++) expect(at(one, f)).toEqual(at(big, f));
    expect(one.laid.rest.total).toBeCloseTo(14, 5);
  });

  test('an arm that stands out is no part of a square, a row along its side is', () => {
    for (const [cells, does] of [
      [Array.from({ length: 19 }, (_, i) => [12 + i, 5]), false],
      [Array.from({ length: 12 }, (_, i) => [12, i]), true],
    ] as const) {
      const positions: number[] = [];
      const faces: number[][] = [];
      const at = new Map<string, number>();
      const vertex = (x: number, y: number): number => {
        const name = `${x} ${y}`;
        if (!at.has(name)) at.set(name, positions.push(x, 0, -y) / 3 - 1);
        return at.get(name)!;
      };
      const square = (x: number, y: number): void => {
        faces.push([vertex(x, y), vertex(x + 1, y), vertex(x + 1, y + 1), vertex(x, y + 1)]);
      };
      for (let x = 0; x < 12; x++) for (let y = 0; y < 12; y++) square(x, y);
      for (const [x, y] of cells) square(x, y);
      const whole = meshFrom(Float32Array.from(positions), faces);
      const own = new Parting(whole, openOf(whole));
      for (let f = 0; f < whole.faceCount; f++) own.label[f] = f < 144 ? 0 : 1;
      const big = islandOf(
        own,
        facesWhere(whole, (f) => f < 144),
      );
      own.label.fill(0);
      const one = attachedTo(
        own,
        big,
        facesWhere(whole, () => true),
        { bound: 1.3 },
      );
      expect(one !== undefined).toBe(does);
    }
  });

  test('what would lie on what is there already is not laid there', () => {
    // A ring cut open at one place: its ends would lie on each other, flat as it is.
    const ring = plane({ width: 4, depth: 4, cutX: 4, cutZ: 4 }, 1);
    const open = new Parting(ring, openOf(ring));
    const big = facesWhere(ring, (f) => f > 1);
    for (let f = 0; f < ring.faceCount; f++) open.label[f] = f > 1 ? 0 : 1;
    const island = islandOf(open, big);
    // Folded over itself: no place is left where the two others were.
    for (let v = 0; v < island.laid.uv.length; v += 2) island.laid.uv[v] = Math.abs(island.laid.uv[v] - 0.3);
    for (let f = 0; f < ring.faceCount; f++) open.label[f] = 0;
    expect(
      attachedTo(
        open,
        island,
        facesWhere(ring, () => true),
        { bound: 1.3 },
      ),
    ).toBeUndefined();
  });
});

/** A flat band that goes round in a circle, all but closed. */
function band(steps: number, wide: number): Mesh {
  const positions: number[] = [];
  const faces: number[][] = [];
  for (let i = 0; i <= steps; i++) {
    const a = (5.8 * i) / steps;
    for (let k = 0; k <= 3; k++) {
      const r = 4 + (wide * k) / 3;
      positions.push(r * Math.cos(a), 0, -r * Math.sin(a));
    }
    for (let k = 0; k < 3 && i > 0; k++) {
      const at = 4 * (i - 1) + k;
      faces.push([at, at + 1, at + 5, at + 4]);
    }
  }
  return meshFrom(Float32Array.from(positions), faces);
}

describe('what sprawls', () => {
  const o: Compacting = {
    weigh: () => 0.1,
    firm: new Uint8Array(10_000),
    hold: new Set(),
    straight: 4,
    wide: 3,
    most: Infinity,
  };
  const whole = (mesh: Mesh): { parting: Parting; island: Island } => {
    const parting = new Parting(mesh, openOf(mesh));
    parting.label.fill(0);
    return {
      parting,
      island: islandOf(
        parting,
        facesWhere(mesh, () => true),
      ),
    };
  };
  const fillOf = ({ laid }: Island): number => {
    const { width, height } = leastBox(laid.uv);
    return (laid.rest.total * laid.figures.scale ** 2) / (width * height);
  };

  test('a band that goes round is cut into parts that fill their boxes; each lies as it did, and none is lost', () => {
    const mesh = band(60, 1.2);
    const { parting, island } = whole(mesh);
    expect(fillOf(island)).toBeLessThan(0.45);
    const seam = parting.seam.slice();
    const parts = compacted(mesh, [island], seam, o);
    expect(parts.length).toBeGreaterThan(1);
    expect(parts.length).toBeLessThan(9);
    const boxes = parts.reduce((sum, i) => sum + i.laid.rest.total / fillOf(i), 0);
    expect(island.laid.rest.total / boxes).toBeGreaterThan(0.55);
    const faces = parts.flatMap((i) => [...i.patch.faces]).sort((a, b) => a - b);
    expect(faces).toEqual([...island.patch.faces]);
    // Same map: the same figures, place for place.
    for (const part of parts) expect(part.laid.figures.mean).toBeLessThan(1.05);
    expect(seam.reduce((sum, x) => sum + x, 0)).toBe(
      parting.seam.reduce((sum, x) => sum + x, 0) + 3 * (parts.length - 1),
    );
  });

  test('no more than are wanted, none over what is held together, and nothing that is compact', () => {
    const mesh = band(60, 1.2);
    const { parting, island } = whole(mesh);
    expect(compacted(mesh, [island], parting.seam.slice(), { ...o, most: 1 })).toHaveLength(2);
    expect(compacted(mesh, [island], parting.seam.slice(), { ...o, most: 0 })).toHaveLength(1);
    const hold = new Set(Array.from({ length: topologyOf(mesh).edgeCount }, (_, e) => e));
    expect(compacted(mesh, [island], parting.seam.slice(), { ...o, hold })).toHaveLength(1);
    const square = plane({ width: 4, depth: 4, cutX: 9, cutZ: 9 }, 1);
    const { parting: own, island: even } = whole(square);
    expect(compacted(square, [even], own.seam.slice(), o)).toHaveLength(1);
  });

  test('unwrapped, it fills more of the sheet than it could as one; with islands asked for it is one', () => {
    const mesh = band(60, 1.2);
    const many = unwrapMesh(mesh, UNWRAPPING).mesh;
    const one = unwrapMesh(mesh, { ...UNWRAPPING, islands: 1 }).mesh;
    expect(islandsOf(one, uvOf(one)).count).toBe(1);
    expect(uvFigures(many, uvOf(many))).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
    expect(uvFigures(many, uvOf(many)).coverage).toBeGreaterThan(uvFigures(one, uvOf(one)).coverage + 0.1);
  });
});
