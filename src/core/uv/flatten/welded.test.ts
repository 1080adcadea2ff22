/** What is broken or of no area, and what it must not do to the islands round it. */
import { meshFrom, type Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';
import { triangulate } from '../../mesh/triangulate';
import { rings, scanned, lumpyBall } from '../../testing/organic';
import { UNWRAPPING, uvOf } from '../../testing/unwrapping';
import { seamEdges } from '../part/charts';
import { facingOf } from '../part/facing';
import { layFlat } from './layflat';
import { islandsOf, triangleFigures, uvFigures } from '../measure';
import { Parting } from './patch';
import { unwrapMesh } from '../unwrap';

/** A flat grid of triangles, `n` squares along it, bent along the middle by an angle. */
function sheet(n: number, bend = 0): { positions: number[]; faces: number[][] } {
  const positions: number[] = [];
  for (let j = 0; j <= n; j++)
    for (let i = 0; i <= n; i++) {
      const over = Math.max(0, i - n / 2);
      positions.push(i - over + over * Math.cos(bend), over * Math.sin(bend), -j);
    }
  const faces: number[][] = [];
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++) {
      const a = j * (n + 1) + i;
      faces.push([a, a + 1, a + n + 2], [a, a + n + 2, a + n + 1]);
    }
  return { positions, faces };
}

const made = ({ positions, faces }: { positions: number[]; faces: number[][] }): Mesh =>
  meshFrom(Float32Array.from(positions), faces);

/** The corner of a face is taken apart from the others there: what comes between has no area. */
function withSlivers(n: number): Mesh {
  const { positions, faces } = sheet(n);
  for (let f = 3; f < 2 * n * n; f += 5) {
    const face = faces[f];
    // The longest side gets a vertex in its middle, and a triangle of no area on it.
    const [a, , c] = face;
    const other = faces.findIndex((g, k) => k !== f && g.includes(a) && g.includes(c));
    if (other < 0 || faces[f].length > 3) continue;
    const v = positions.length / 3;
    for (let k = 0; k < 3; k++) positions.push((positions[3 * a + k] + positions[3 * c + k]) / 2);
    // face = a b c becomes a b v and v b c; the other keeps a c, and between them lies a v c.
    const b = face[1];
    faces[f] = [a, b, v];
    faces.push([v, b, c], [a, v, c]);
  }
  return made({ positions, faces });
}

function withDoubles(n: number): Mesh {
  const { positions, faces } = sheet(n);
  const many = faces.length;
  for (let f = 2; f < many; f += 7) {
    const [a, b, c] = faces[f];
    const v = positions.length / 3;
    for (let k = 0; k < 3; k++) positions.push(positions[3 * b + k]);
    // The face stands on a double of b; two triangles of no area close what that opens.
    faces[f] = [a, v, c];
    faces.push([a, b, v], [v, b, c]);
  }
  return made({ positions, faces });
}

const wholeOf = (mesh: Mesh) => {
  const parting = new Parting(
    mesh,
    Uint8Array.from({ length: topologyOf(mesh).edgeCount }, (_, e) => seamOf(mesh)[e]),
  );
  parting.label.fill(0);
  return parting.patch(Uint32Array.from({ length: mesh.faceCount }, (_, f) => f));
};
const seamOf = (mesh: Mesh): Uint8Array => seamEdges(mesh, { cut: new Set(), hold: new Set(), angle: Infinity });

describe('triangles of no area', () => {
  test.each([
    ['on a side', withSlivers(8)],
    ['between doubles', withDoubles(8)],
  ])('%s: a flat sheet with them lies as flat as one without', (_, mesh) => {
    const laid = layFlat(wholeOf(mesh), 1.3);
    expect(laid.good).toBe(true);
    expect(laid.figures.mean).toBeLessThan(1 + 1e-6);
    expect(laid.figures.spread).toBeLessThan(1.03);
  });

  test('doubles lie on each other', () => {
    const patch = wholeOf(withDoubles(6));
    const { uv } = layFlat(patch, 1.3);
    const at = new Map<string, number>();
    for (let v = 0; v < uv.length / 2; v++) {
      const name = patch.points.subarray(3 * v, 3 * v + 3).join();
      const first = at.get(name);
      if (first === undefined) at.set(name, v);
      else expect([uv[2 * v], uv[2 * v + 1]]).toEqual([uv[2 * first], uv[2 * first + 1]]);
    }
    expect(at.size).toBeLessThan(uv.length / 2);
  });

  test('they make no islands of their own, and cut none', () => {
    for (const mesh of [withSlivers(9), withDoubles(9)]) {
      const out = unwrapMesh(mesh, { ...UNWRAPPING, stretch: 1.3 }).mesh;
      expect(islandsOf(out, uvOf(out)).count).toBe(1);
      expect(uvFigures(out, uvOf(out))).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
    }
  });

  test('all of it of no area: an answer, whatever it is', () => {
    const { positions, faces } = sheet(3);
    const mesh = made({ positions: positions.map((x, i) => (i % 3 === 2 ? 0 : x)), faces });
    const out = unwrapMesh(mesh, { ...UNWRAPPING, stretch: 1.3 }).mesh;
    expect(uvOf(out).every((x) => Number.isFinite(x))).toBe(true);
  });
});

describe('which way slivers look', () => {
  test('as the face over their longest edge, whatever rounding makes of their own normal', () => {
    const mesh = withSlivers(6);
    const n = facingOf(mesh);
    for (let f = 0; f < mesh.faceCount; f++) expect(n[3 * f + 1]).toBeCloseTo(1, 6);
  });

  test('a bend stays a bend where slivers lie along it', () => {
    const { positions, faces } = sheet(4, Math.PI / 2);
    const mesh = made({ positions, faces });
    const bends = seamEdges(mesh, { cut: new Set(), hold: new Set(), angle: 1 });
    expect(bends.reduce((sum, x) => sum + x, 0)).toBe(16 + 4);
  });

  test('slivers among themselves look nowhere', () => {
    const mesh = meshFrom(Float32Array.from([0, 0, 0, 1, 0, 0, 2, 0, 0]), [[0, 1, 2]]);
    expect([...facingOf(mesh)]).toEqual([0, 0, 0]);
  });
});

describe('torn edges', () => {
  /** A sheet with a fin on each of some inner edges. */
  function finned(n: number): Mesh {
    const { positions, faces } = sheet(n);
    for (let f = 10; f < 2 * n * n; f += 12) {
      const [a, , c] = faces[f];
      const v = positions.length / 3;
      positions.push(positions[3 * a], 0.7, positions[3 * a + 2]);
      faces.push([a, c, v]);
    }
    return made({ positions, faces });
  }

  test('what stands on a sheet does not part it, and the sheet lies as it is', () => {
    const mesh = finned(10);
    const out = unwrapMesh(mesh, { ...UNWRAPPING, stretch: 1.3 }).mesh;
    const figures = uvFigures(out, uvOf(out));
    expect(figures).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
    const { area, stretch } = triangleFigures(out, uvOf(out), triangulate(out));
    area.forEach((a, i) => expect(a === 0 || stretch[i] < 1 + 1e-4).toBe(true));
    // The sheet is one island, and every fin one at most.
    const { ofFace } = islandsOf(out, uvOf(out));
    expect(new Set([...ofFace.subarray(0, 200)]).size).toBe(1);
  });

  test('a scan with torn, turned and missing faces: sound, and in fewer islands than faces are broken', () => {
    const broken = scanned(lumpyBall(14), 3, 0.002, 0.02);
    const out = unwrapMesh(broken, { ...UNWRAPPING, stretch: 1.3 }).mesh;
    const figures = uvFigures(out, uvOf(out));
    expect(figures).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
    expect(figures.islands).toBeLessThan(0.02 * broken.faceCount);
  });
});

test('rings grown together, half of them slivers: sound, even, and what has area in few islands', () => {
  const mesh = rings(20);
  const out = unwrapMesh(mesh, { ...UNWRAPPING, stretch: 1.3 }).mesh;
  const figures = uvFigures(out, uvOf(out));
  expect(figures).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
  expect(figures.stretchMean).toBeLessThan(1.06);
  const { ofFace, count } = islandsOf(out, uvOf(out));
  const { area } = triangleFigures(out, uvOf(out), triangulate(out));
  const sums = new Float64Array(count);
  triangulate(out).face.forEach((f, i) => {
    sums[ofFace[f]] += area[i];
  });
  const total = sums.reduce((sum, x) => sum + x, 0);
  // Without what is done about slivers there are 60 and more.
  expect(sums.filter((a) => a > 1e-4 * total).length).toBeLessThan(36);
});
