/** Several pieces on one sheet: followed as each of them asks for it. */
import { UV, type Mesh } from '../core/mesh';
import { mergeMeshes } from '../core/edit/merge';
import { Memory } from '../core/recipe';
import { uvFigures } from '../core/uv';
import { islandsOf } from '../core/uv/measure';
import * as changes from './changes';
import { followDocument } from './follow';
import { leaveSheet, releaseShared, shareSheet, unwrapStepIn } from './sharing';
import type { ProjectDocument } from './types';

const BOX = { width: 1, height: 0.5, depth: 2, cutX: 1, cutY: 1, cutZ: 1, onGround: false };
function three(): ProjectDocument {
  const d = changes.newProject('Quay', 'game', 'mm');
  changes.addPiece(d, 'a', 'crate');
  changes.addStep(d, 'a', 'box', 'a1', BOX);
  changes.addPiece(d, 'b', 'buoy');
  changes.addStep(d, 'b', 'sphere', 'b1', { size: 1.2 });
  changes.addStep(d, 'b', 'texture', 'b2', { size: '256' });
  changes.addPiece(d, 'c', 'drum');
  changes.addStep(d, 'c', 'cylinder', 'c1', { size: 1.2, height: 1.5 });
  return d;
}
async function shown(d: ProjectDocument, memory = new Memory()) {
  const followed = followDocument(d, { memory });
  const out: Record<string, { mesh: Mesh; errors: string[]; hash: string; density: number }> = {};
  for (const p of d.pieces) {
    const { outcomes, shown: last } = await followed.piece(p);
    const share = outcomes.find((o) => p.recipe.find((s) => s.id === o.step)?.kind === 'share');
    out[p.id] = {
      mesh: last!.geometry.mesh!,
      errors: outcomes.flatMap((o) => o.error ?? []),
      hash: share?.hash ?? '',
      density: share?.figures.density ?? 0,
    };
  }
  return out;
}
/** What the layouts of pieces come to on one sheet. */
function together(meshes: readonly Mesh[]) {
  const all = mergeMeshes(meshes.map((mesh, i) => ({ mesh, name: `${i}`, seed: i + 1 })));
  return uvFigures(all, all.attributes[UV].data, 1024);
}
const uvOf = (m: Mesh): number[] => Array.from(m.attributes[UV].data);

test('islands of all lie on one sheet, none on another, as dense on each as on the others', async () => {
  const d = three();
  shareSheet(d, ['a', 'b', 'c']);
  expect(d.pieces.map((p) => p.recipe.map((s) => s.kind))).toEqual([
    ['box', 'unwrap', 'share'],
    ['sphere', 'unwrap', 'share', 'texture'],
    ['cylinder', 'unwrap', 'share'],
  ]);
  const now = await shown(d);
  const meshes = ['a', 'b', 'c'].map((id) => now[id].mesh);
  expect(Object.values(now).flatMap((x) => x.errors)).toEqual([]);
  const figures = together(meshes);
  expect(figures).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
  expect(figures.coverage).toBeGreaterThan(0.4);
  // Each has its share of the sheet: as much as its surface has of all.
  const densities = meshes.map((m) => {
    const own = uvFigures(m, m.attributes[UV].data, 64);
    return (own.texelDensityMin + own.texelDensityMax) / 2;
  });
  for (const x of densities) expect(x / densities[0]).toBeCloseTo(1, 0);
  expect(new Set([now.a.density, now.b.density, now.c.density]).size).toBe(1);
});

test('whoever asks gets the same sheet, whatever was remembered', async () => {
  const d = three();
  shareSheet(d, ['a', 'b', 'c']);
  const memory = new Memory();
  const first = await shown(d, memory);
  for (const id of ['c', 'a', 'b']) {
    const alone = await followDocument(d, { memory: new Memory() }).piece(d.pieces.find((p) => p.id === id)!);
    expect(uvOf(alone.shown!.geometry.mesh!)).toEqual(uvOf(first[id].mesh));
  }
});

test('a change of one is followed by all; where one stands changes nothing, how large it stands does', async () => {
  const d = three();
  shareSheet(d, ['a', 'b', 'c']);
  const memory = new Memory();
  const before = await shown(d, memory);
  changes.setValues(d, 'a', 'a1', { height: 3 });
  const wider = await shown(d, memory);
  expect(wider.b.hash).not.toBe(before.b.hash);
  expect(together(['a', 'b', 'c'].map((id) => wider[id].mesh))).toMatchObject({ flips: 0, overlap: 0, outside: 0 });

  d.pieces[1].place = { ...d.pieces[1].place, at: [4, 5, 6] };
  const moved = await shown(d, memory);
  for (const id of ['a', 'b', 'c']) expect(moved[id].hash).toBe(wider[id].hash);

  d.pieces[1].place = { ...d.pieces[1].place, size: [3, 3, 3] };
  const larger = await shown(d, memory);
  const fill = (m: Mesh): number => uvFigures(m, m.attributes[UV].data, 512).coverage;
  expect(fill(larger.b.mesh)).toBeGreaterThan(1.5 * fill(moved.b.mesh));
  expect(together(['a', 'b', 'c'].map((id) => larger[id].mesh))).toMatchObject({ overlap: 0, outside: 0 });
});

describe('placed by hand on the sheet that is shared', () => {
  /** Puts the island of a face somewhere, as the hand does: all of its corners. */
  function put(
    d: ProjectDocument,
    piece: string,
    mesh: Mesh,
    to: (u: number, v: number) => [number, number],
  ): Set<number> {
    const uv = mesh.attributes[UV].data;
    const { ofFace } = islandsOf(mesh, uv);
    const places = { face: [] as number[], vertex: [] as number[], uv: [] as number[] };
    for (let f = 0; f < mesh.faceCount; f++)
      for (let c = mesh.faceStart[f]; ofFace[f] === 0 && c < mesh.faceStart[f + 1]; c++) {
        places.face.push(mesh.faceKey[f]);
        places.vertex.push(mesh.vertexKey[mesh.cornerVertex[c]]);
        places.uv.push(...to(uv[2 * c], uv[2 * c + 1]));
      }
    changes.placeByHand(d, piece, unwrapStepIn(d, changes.pieceOf(d, piece)).id, places, 'shared');
    return new Set(places.face);
  }
  const middleOf = (mesh: Mesh, faces: ReadonlySet<number>): [number, number] => {
    const [sum, all] = [[0, 0], { n: 0 }];
    for (let f = 0; f < mesh.faceCount; f++)
      for (let c = mesh.faceStart[f]; faces.has(mesh.faceKey[f]) && c < mesh.faceStart[f + 1]; c++) {
        all.n++;
        for (const k of [0, 1]) sum[k] += mesh.attributes[UV].data[2 * c + k];
      }
    return [sum[0] / all.n, sum[1] / all.n];
  };
  const small = (u: number, v: number): [number, number] => [0.4 + 0.2 * u, 0.4 + 0.2 * v];

  test('it lies there for every piece that asks, and the others are packed round it', async () => {
    const d = three();
    shareSheet(d, ['a', 'b', 'c']);
    const memory = new Memory();
    const before = await shown(d, memory);
    const faces = put(d, 'a', before.a.mesh, small);
    const now = await shown(d, memory);
    expect(Object.values(now).flatMap((x) => x.errors)).toEqual([]);
    const [was, is] = [middleOf(before.a.mesh, faces), middleOf(now.a.mesh, faces)];
    expect(is[0]).toBeCloseTo(0.4 + 0.2 * was[0], 5);
    expect(is[1]).toBeCloseTo(0.4 + 0.2 * was[1], 5);
    expect(now.b.hash).not.toBe(before.b.hash);
    expect(together(['a', 'b', 'c'].map((id) => now[id].mesh))).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
    expect(Object.keys(now.a.mesh.attributes).filter((x) => x !== UV)).toEqual([]);
    for (const id of ['c', 'b']) {
      const alone = await followDocument(d, { memory: new Memory() }).piece(d.pieces.find((p) => p.id === id)!);
      expect(uvOf(alone.shown!.geometry.mesh!)).toEqual(uvOf(now[id].mesh));
    }
    // Its own sheet knows nothing of it.
    const alone = d.pieces[0].recipe.find((s) => s.kind === 'unwrap')!;
    expect(alone.values.placed).toMatchObject({ face: [] });
  });

  test('it stays through changes before it, and what has changed too much is packed anew and said', async () => {
    const d = three();
    shareSheet(d, ['a', 'b', 'c']);
    const memory = new Memory();
    const faces = put(d, 'a', (await shown(d, memory)).a.mesh, small);
    const before = await shown(d, memory);
    const place = middleOf(before.a.mesh, faces);
    for (const values of [{ cutX: 3 }, { height: 0.9, cutZ: 4 }, { cutX: 1, cutZ: 1, width: 2 }]) {
      changes.setValues(d, 'a', 'a1', values);
      const now = await shown(d, memory);
      expect(Object.values(now).flatMap((x) => x.errors)).toEqual([]);
      const uv = now.a.mesh.attributes[UV].data;
      // The island that lies there now is the one that was put there.
      const there = [...Array(now.a.mesh.faceCount).keys()].filter((f) => {
        const [s, e] = [now.a.mesh.faceStart[f], now.a.mesh.faceStart[f + 1]];
        let far = 0;
        for (let c = s; c < e; c++) far = Math.max(far, Math.hypot(uv[2 * c] - place[0], uv[2 * c + 1] - place[1]));
        return far < 0.2;
      });
      expect(there.length).toBeGreaterThan(0);
      expect(together(['a', 'b', 'c'].map((id) => now[id].mesh))).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
    }
  });

  test('one that leaves takes its places with it, and given back all is packed as before', async () => {
    const d = three();
    shareSheet(d, ['a', 'b']);
    const memory = new Memory();
    const before = await shown(d, memory);
    put(d, 'a', before.a.mesh, small);
    put(d, 'b', before.b.mesh, (u, v) => [0.5 * u, 0.5 * v]);
    const placed = (id: string) => unwrapStepIn(d, changes.pieceOf(d, id)).values.shared as { face: number[] };
    expect([placed('a').face.length > 0, placed('b').face.length > 0]).toEqual([true, true]);
    releaseShared(
      d,
      d.pieces[0].recipe.find((s) => s.kind === 'share')!,
    );
    expect(uvOf((await shown(d, memory)).b.mesh)).toEqual(uvOf(before.b.mesh));
    put(d, 'a', before.a.mesh, small);
    put(d, 'b', before.b.mesh, small);
    leaveSheet(d, d.pieces[0]);
    expect([placed('a').face.length, placed('b').face.length > 0]).toEqual([0, true]);
  });
});

test('an island that stands as it does on the piece stands on the shared sheet too', async () => {
  /** How far from upright the sides of the drum lie that run up on the piece: 0 to 45 degrees. */
  const slant = ({ attributes, cornerVertex, faceStart, positions, faceCount }: Mesh): number => {
    const uv = attributes[UV].data;
    let most = 0;
    for (let f = 0; f < faceCount; f++)
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
        const n = c + 1 === faceStart[f + 1] ? faceStart[f] : c + 1;
        const [a, b] = [3 * cornerVertex[c], 3 * cornerVertex[n]];
        const [dx, up, dz] = [0, 1, 2].map((k) => positions[b + k] - positions[a + k]);
        if (Math.hypot(dx, dz) > 1e-6) continue;
        const [u, v] = [uv[2 * n] - uv[2 * c], uv[2 * n + 1] - uv[2 * c + 1]];
        most = Math.max(most, Math.abs(Math.atan2(u, v * Math.sign(up))));
      }
    return most;
  };
  const sheet = async (d: ProjectDocument): Promise<Mesh> => {
    shareSheet(d, ['a', 'b', 'c']);
    return (await shown(d)).c.mesh;
  };
  const turned = await sheet(three());
  // The band of the drum is laid lying beside the rest, where it may be.
  expect(slant(turned)).toBeGreaterThan(0.5);
  const d = three();
  changes.addStep(d, 'c', 'unwrap', 'u', { upright: { kind: 'face', keys: [...turned.faceKey] } });
  const stands = await sheet(d);
  expect(slant(stands)).toBeLessThan(1e-3);
  // What says so is not passed on.
  expect(Object.keys(stands.attributes)).toEqual(Object.keys(turned.attributes));
});

test('where one is on whole texels, so is the sheet', async () => {
  const d = three();
  changes.addStep(d, 'a', 'unwrap', 'u', { pixels: true, size: '256', padding: 2 });
  shareSheet(d, ['a', 'c']);
  expect(d.pieces[2].recipe.find((s) => s.kind === 'share')!.values).toMatchObject({ pixels: true, size: '1024' });
  const now = await shown(d);
  const { data } = now.a.mesh.attributes[UV];
  for (const x of data) expect(Math.abs(x * 1024 - Math.round(x * 1024))).toBeLessThan(1e-2);
  expect(together([now.a.mesh, now.c.mesh])).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
});

test('one of them that is gone, or laid out no more, is said; the step passes on what it had', async () => {
  const d = three();
  shareSheet(d, ['a', 'b', 'c']);
  changes.removeStep(d, 'c', unwrapStepIn(d, d.pieces[2]).id);
  const now = await shown(d);
  expect(now.a.errors).toEqual(['The step of “drum” that this goes from is no longer there.']);
  expect(now.a.mesh.attributes[UV]).toBeDefined();
  changes.removePieces(d, ['c']);
  expect((await shown(d)).b.errors).toEqual(['The other piece is no longer there.']);
});

test('what comes between the layout and the sheet it shares is told, not guessed at', async () => {
  const d = three();
  shareSheet(d, ['a', 'b']);
  const [a] = d.pieces;
  changes.addStep(d, 'a', 'subdivide', 's', { levels: 1 }, a.recipe.find((s) => s.kind === 'unwrap')!.id);
  const now = await shown(d);
  expect(now.a.errors).toEqual([
    'The piece is not as it lies on the sheet it shares: lay it on one sheet with the others again.',
  ]);
  expect(now.b.errors).toEqual([]);
});

test('laid on one sheet again they leave the one before; one that leaves has its sheet for itself', async () => {
  const d = three();
  shareSheet(d, ['a', 'b', 'c']);
  shareSheet(d, ['a', 'c']);
  const steps = (id: string) => d.pieces.find((p) => p.id === id)!.recipe.filter((s) => s.kind === 'share');
  expect([steps('a').length, steps('b').length, steps('c').length]).toEqual([1, 1, 1]);
  const { mesh, errors } = (await shown(d)).a;
  expect(errors).toEqual([]);
  leaveSheet(d, d.pieces[0]);
  expect(steps('a')).toEqual([]);
  const fill = (m: Mesh): number => uvFigures(m, m.attributes[UV].data, 256).coverage;
  expect(fill((await shown(d)).a.mesh)).toBeGreaterThan(1.2 * fill(mesh));
  expect(() => shareSheet(d, ['a'])).toThrow('Pick two pieces or more to lay them on one sheet.');
});
