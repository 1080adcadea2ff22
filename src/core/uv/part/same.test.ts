import { meshFrom, type Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';
import { lumpyBall, thrown } from '../../testing/organic';
import { tubeAlong } from '../../testing/tubes';
import { UNWRAPPING } from '../../testing/unwrapping';
import { uvFigures } from '../measure';
import { unwrapMesh } from '../unwrap';
import { samePieces } from './same';

/** A link of a chain, long rather than round. */
const link = (size = 1): Mesh =>
  tubeAlong((t) => [size * Math.cos(2 * Math.PI * t), 0.6 * size * Math.sin(2 * Math.PI * t), 0], {
    ...{ rings: 24, sides: 8, radius: 0.16 * size, closed: true },
  });

/** Pieces as one mesh, each turned and moved by chance. */
function strewn(pieces: readonly Mesh[], seed = 1): Mesh {
  const r = thrown(seed);
  const points: number[] = [];
  const faces: number[][] = [];
  for (const { positions: p, faceStart, cornerVertex, faceCount } of pieces) {
    const base = points.length / 3;
    const q = [r() - 0.5, r() - 0.5, r() - 0.5, r() - 0.5];
    const long = Math.hypot(...q);
    const [w, x, y, z] = q.map((k) => k / long);
    const turn = [
      [1 - 2 * (y * y + z * z), 2 * (x * y - w * z), 2 * (x * z + w * y)],
      [2 * (x * y + w * z), 1 - 2 * (x * x + z * z), 2 * (y * z - w * x)],
      [2 * (x * z - w * y), 2 * (y * z + w * x), 1 - 2 * (x * x + y * y)],
    ];
    const to = [20 * r(), 20 * r(), 20 * r()];
    for (let v = 0; v < p.length; v += 3)
      for (let k = 0; k < 3; k++)
        points.push(to[k] + turn[k][0] * p[v] + turn[k][1] * p[v + 1] + turn[k][2] * p[v + 2]);
    for (let f = 0; f < faceCount; f++)
      faces.push(Array.from(cornerVertex.subarray(faceStart[f], faceStart[f + 1]), (v) => base + v));
  }
  return meshFrom(points, faces);
}

const unmarked = (mesh: Mesh): Uint8Array => new Uint8Array(topologyOf(mesh).edgeCount);
const unwrapped = (mesh: Mesh, asked: object = {}) => unwrapMesh(mesh, { ...UNWRAPPING, stretch: 1.3, ...asked });

/** How long the sides of the faces of each piece lie on the sheet. */
function lyingOf(mesh: Mesh, each: number): number[][] {
  const uv = mesh.attributes.uv.data;
  const out: number[][] = [];
  for (let first = 0; first < mesh.faceCount; first += each) {
    const long: number[] = [];
    for (let f = first; f < first + each; f++) {
      const [s, e] = [mesh.faceStart[f], mesh.faceStart[f + 1]];
      for (let c = s; c < e; c++) {
        const d = c + 1 === e ? s : c + 1;
        long.push(Math.hypot(uv[2 * c] - uv[2 * d], uv[2 * c + 1] - uv[2 * d + 1]));
      }
    }
    out.push(long);
  }
  return out;
}

describe('pieces that are the same', () => {
  it('are found wherever they are and however they are turned, and told from others by size and by marks', () => {
    const mesh = strewn([link(), link(0.5), link(), link(), lumpyBall(4), link(0.5), link()]);
    const each = link().faceCount;
    const same = samePieces(mesh, unmarked(mesh))!;
    expect([same.pieces, same.kinds]).toEqual([7, 3]);
    expect(same.faces).toHaveLength(2 * each + lumpyBall(4).faceCount);
    const list = Uint32Array.from([0, 5, each - 1]);
    expect(same.others(list)).toHaveLength(3);
    expect([...same.others(list)[0]]).toEqual([2 * each, 2 * each + 5, 3 * each - 1]);
    // One edge of the third is marked: it is a kind of its own.
    const marks = unmarked(mesh);
    marks[topologyOf(mesh).cornerEdge[mesh.faceStart[2 * each + 7]]] = 1;
    expect(samePieces(mesh, marks)!.kinds).toBe(4);
  });

  it('are none where hardly anything is, where places are no numbers, and in what is one', () => {
    expect(samePieces(link(), unmarked(link()))).toBeUndefined();
    const sizes = strewn([link(1), link(1.001), link(1.002)]);
    expect(samePieces(sizes, unmarked(sizes))).toBeUndefined();
    const broken = strewn([link(), link()]);
    broken.positions[10] = NaN;
    expect(samePieces(broken, unmarked(broken))).toBeUndefined();
    const empty = meshFrom([0, 0, 0, 1, 0, 0], []);
    expect(samePieces(empty, unmarked(empty))).toBeUndefined();
  });

  it('are not taken for the same where faces meet otherwise, though each is as large', () => {
    // Three squares in a row, and three of which the last hangs on the first.
    const square = (x: number, y: number): number[] => [x, y, 0, x + 1, y, 0, x + 1, y + 1, 0, x, y + 1, 0];
    const row = [...square(0, 0), ...square(1, 0), ...square(2, 0)];
    const bent = [...square(0, 0), ...square(1, 0), ...square(0, 1)];
    const welded = (points: number[]): Mesh => {
      const at = new Map<string, number>();
      const kept: number[] = [];
      const of = Array.from({ length: 12 }, (_, i) => {
        const p = points.slice(3 * i, 3 * i + 3);
        if (!at.has(p.join())) at.set(p.join(), kept.push(...p) / 3 - 1);
        return at.get(p.join())!;
      });
      return meshFrom(kept, [of.slice(0, 4), of.slice(4, 8), of.slice(8)]);
    };
    const mesh = strewn([welded(row), welded(bent), welded(row)]);
    expect(samePieces(mesh, unmarked(mesh))).toMatchObject({ pieces: 3, kinds: 2 });
  });

  it('lie alike, in as many islands each as one by itself', () => {
    const each = link().faceCount;
    const chain = strewn(Array.from({ length: 9 }, () => link()));
    for (const asked of [{}, { islands: 9 }]) {
      const { mesh, islands } = unwrapped(chain, asked);
      const figures = uvFigures(mesh, mesh.attributes.uv.data as Float32Array);
      expect(figures).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
      expect(islands % 9).toBe(0);
      expect(islands).toBeLessThanOrEqual(27);
      const [first, ...others] = lyingOf(mesh, each);
      for (const other of others) other.forEach((x, i) => expect(x).toBeCloseTo(first[i], 4));
    }
  });

  it('are parted each by itself where one is marked by hand, and that one as it is marked', () => {
    const each = link().faceCount;
    const chain = strewn([link(), link(), link()]);
    const t = topologyOf(chain);
    const cut = new Set<number>();
    // A ring of edges round the second.
    for (let k = 0; k < 8; k++) cut.add(t.cornerEdge[chain.faceStart[each + k]]);
    const { mesh } = unwrapped(chain, { cut });
    const uv = mesh.attributes.uv.data;
    const apart = (e: number): boolean => {
      const [c, d] = [t.edgeCorner[t.edgeCornerStart[e]], t.edgeCorner[t.edgeCornerStart[e] + 1]];
      const f = t.cornerFace[d];
      const there = d + 1 === mesh.faceStart[f + 1] ? mesh.faceStart[f] : d + 1;
      return uv[2 * c] !== uv[2 * there] || uv[2 * c + 1] !== uv[2 * there + 1];
    };
    expect([...cut].every(apart)).toBe(true);
    const [a, , b] = lyingOf(mesh, each);
    a.forEach((x, i) => expect(b[i]).toBeCloseTo(x, 4));
  });
});
