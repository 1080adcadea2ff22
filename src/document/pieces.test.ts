/** The tree of pieces: nothing moves in the world that was not meant to. */
import fc from 'fast-check';
import { produce } from 'immer';
import { applyPoint, compose, rotation, scaling, translation, type Affine } from '../core/math';
import { followRecipe } from '../core/steps';
import { Memory } from '../core/recipe';
import { boundsOf, volumeOf } from '../core/mesh';
import { newBlueprint } from '../core/blueprint';
import { writePng, flatten } from '../core/formats';
import { buildScene, SHIP_DEFAULTS } from './build';
import * as c from './changes';
import { swapSides } from './names';
import { checkDocument } from './schema';
import type { ProjectDocument } from './types';
import { imageOf } from './testing/image';

let count = 0;
const makeId = () => `n${++count}`;
const near = (a: ArrayLike<number>, b: ArrayLike<number>, digits = 6) => {
  expect(a.length).toBe(b.length);
  for (let i = 0; i < b.length; i++) expect(a[i]).toBeCloseTo(b[i], digits);
};
const worldOf = (d: ProjectDocument, id: string): Affine => c.worlds(d).get(id)!;

/** outer > inner > box, and beside; all turned, sized and with pivots of their own. */
function rig(): ProjectDocument {
  const d = c.newProject('Rig');
  c.addGroup(d, 'outer', 'arm left');
  c.addGroup(d, 'inner', 'hand left', 'outer');
  c.addPiece(d, 'box', 'palm_l', 'inner');
  c.addStep(d, 'box', 'box', 's', { width: 1, height: 2, depth: 3 });
  c.addPiece(d, 'beside', 'rock');
  c.addStep(d, 'beside', 'box', 's2');
  c.setPlace(d, 'outer', { at: [1, 2, 3], turn: [0.3, 0.8, -0.4], size: [2, 1, 0.5], pivot: [0.1, 0.2, 0] });
  c.setPlace(d, 'inner', { at: [0, 1, 0], turn: [0, 0, 1], size: [1, 1.5, 1] });
  c.setPlace(d, 'box', { at: [0.5, 0, 0], turn: [0.2, 0, 0], pivot: [0, 1, 0] });
  return d;
}
const change = (d: ProjectDocument, edit: (x: ProjectDocument) => void) =>
  produce(d, (x) => {
    edit(x as ProjectDocument);
  });
afterEach(() => undefined);

describe('places', () => {
  test('a change of parent leaves a piece where it stands, even out of uneven sizes', () => {
    for (const parent of [null, 'outer', 'inner'] as const) {
      const d = rig();
      const before = worldOf(d, 'box');
      const after = change(d, (x) => c.movePieces(x, ['box'], parent));
      near(worldOf(after, 'box'), before);
      checkDocument(after);
    }
    const d = rig();
    const beside = worldOf(d, 'beside');
    const in2 = change(d, (x) => c.movePieces(x, ['beside'], 'inner'));
    expect(in2.pieces.find((p) => p.id === 'beside')!.place.lean.some((l) => l !== 0)).toBe(true); // it leans in there, so as to stand straight out here
    near(worldOf(in2, 'beside'), beside);
    near(
      worldOf(
        change(in2, (x) => c.movePieces(x, ['beside'], null)),
        'beside',
      ),
      beside,
    );
  });
  test('a group cannot go into itself, nor a piece into a piece', () => {
    const d = rig();
    expect(change(d, (x) => c.movePieces(x, ['outer'], 'inner'))).toBe(d);
    expect(change(d, (x) => c.movePieces(x, ['beside'], 'box'))).toBe(d);
  });
  test('order: before another piece, parents still before what they hold', () => {
    const d = change(rig(), (x) => c.movePieces(x, ['beside'], null, 'outer'));
    expect(d.pieces.map((p) => p.id)).toEqual(['beside', 'outer', 'inner', 'box']);
    checkDocument(d);
  });
  test('a moved pivot moves nothing; turning a group then turns its children about it', () => {
    const d = rig();
    const before = worldOf(d, 'box');
    const moved = change(d, (x) => c.setPivot(x, 'outer', [9, 9, 9]));
    near(worldOf(moved, 'box'), before);
    near(worldOf(moved, 'outer'), worldOf(d, 'outer'));
    near(c.pivotOf(moved, moved.pieces[0]), [9, 9, 9]);
    const turned = change(moved, (x) => c.setPlace(x, 'outer', { turn: [0, 1, 0] }));
    near(c.pivotOf(turned, turned.pieces[0]), [9, 9, 9]);
  });
  test('one map on several, children once', () => {
    const d = rig();
    const by = compose(translation(1, 0, 0), rotation('z', 0.5));
    const after = change(d, (x) => c.transformPieces(x, ['outer', 'box', 'beside'], by));
    for (const id of ['outer', 'inner', 'box', 'beside']) near(worldOf(after, id), compose(by, worldOf(d, id)));
  });
  test('aligned, all pivots lie on the plane and nowhere else have they moved; pivots alone leave the pieces', () => {
    const d = change(rig(), (x) => c.alignPieces(x, ['box', 'beside'], 'x', 0.25));
    for (const id of ['box', 'beside']) {
      const p = d.pieces.find((q) => q.id === id)!;
      const was = c.pivotOf(rig(), p);
      near(c.pivotOf(d, p), [0.25, was[1], was[2]]);
    }
    const only = change(rig(), (x) => c.alignPieces(x, ['outer', 'box'], 'y', 7, true));
    near(worldOf(only, 'box'), worldOf(rig(), 'box'));
    expect(
      c.pivotOf(
        only,
        only.pieces.find((q) => q.id === 'box')!,
      )[1],
    ).toBeCloseTo(7, 6);
  });
  test('eight rings come onto one line in one move, and are spread evenly', () => {
    const d = c.newProject('Rings');
    for (let i = 0; i < 8; i++) {
      c.addPiece(d, `r${i}`, 'ring');
      c.setPlace(d, `r${i}`, { at: [Math.sin(i), i * i, 1 / (i + 1)] });
    }
    const ids = d.pieces.map((p) => p.id);
    const out = change(d, (x) => {
      c.alignPieces(x, ids, 'x', 0);
      c.alignPieces(x, ids, 'z', 0);
      c.distributePieces(x, ids, 'y');
    });
    out.pieces.forEach((p, i) => near(c.pivotOf(out, p), [0, i * 7, 0]));
  });
  test('baked, the recipe holds the place and nothing has moved', async () => {
    const d = rig();
    const mesh = async (x: ProjectDocument, id: string) => {
      const o = await followRecipe(x.pieces.find((p) => p.id === id)!.recipe, { memory: new Memory() });
      return { mesh: o[o.length - 1].mesh, world: worldOf(x, id) };
    };
    const leaned = change(d, (x) => {
      c.movePieces(x, ['box'], null);
    });
    const baked = change(leaned, (x) => c.bakePlacement(x, 'box', 'p'));
    const a = await mesh(leaned, 'box');
    const b = await mesh(baked, 'box');
    near(b.world, [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]);
    near(
      b.mesh.positions,
      Array.from({ length: 8 }, (_, v) => applyPoint(a.world, a.mesh.positions.subarray(3 * v, 3 * v + 3))).flat(),
      4,
    );
    near(
      c.pivotOf(
        baked,
        baked.pieces.find((p) => p.id === 'box')!,
      ),
      c.pivotOf(
        leaned,
        leaned.pieces.find((p) => p.id === 'box')!,
      ),
    );
    checkDocument(baked);
  });
});

describe('copies', () => {
  test('linked copies follow one recipe; of a copy too; removed, the first left inherits it', () => {
    let d = rig();
    let ids: string[] = [];
    d = change(d, (x) => {
      ids = [
        ...c.copyPieces(x, ['box'], { linked: true, makeId }),
        ...c.copyPieces(x, ['outer'], { linked: true, makeId }),
      ];
    });
    const links = d.pieces.filter((p) => p.link === 'box');
    expect(links).toHaveLength(3); // the copy inside the second copy too
    expect(links.every((p) => p.recipe.length === 0)).toBe(true);
    d = change(d, (x) => c.removePieces(x, ['outer']));
    const heir = d.pieces.find((p) => p.kind === 'mesh' && p.link === null && p.id !== 'beside')!;
    expect(heir.recipe[0].values.height).toBe(2);
    expect(d.pieces.filter((p) => p.link !== null).map((p) => p.link)).toEqual([heir.id]); // those outside what was removed
    checkDocument(d);
    expect(ids).toHaveLength(2);
  });
  test('a mirrored copy of a rig: every point on the other side, names swapped, mirrored again where it was', () => {
    for (const across of ['world', 'parent', 'pivot'] as const)
      for (const axis of ['x', 'y', 'z'] as const) {
        let made: string[] = [];
        const d = change(rig(), (x) => {
          made = c.mirrorPieces(x, ['inner'], { axis, across, makeId });
        });
        const copy = d.pieces.find((p) => p.id === made[0])!;
        const palm = d.pieces.find((p) => p.parent === copy.id)!;
        expect([copy.name, palm.name]).toEqual(['hand right', 'palm_r']);
        if (across === 'world') {
          const flip = scaling(axis === 'x' ? -1 : 1, axis === 'y' ? -1 : 1, axis === 'z' ? -1 : 1);
          near(worldOf(d, palm.id), compose(flip, worldOf(d, 'box')));
        }
        let back: string[] = [];
        const twice = change(d, (x) => {
          back = c.mirrorPieces(x, [copy.id], { axis, across, makeId });
        });
        near(worldOf(twice, twice.pieces.find((p) => p.parent === back[0])!.id), worldOf(d, 'box'));
        checkDocument(twice);
      }
  });
  test.each([
    ['arm left', 'arm right'],
    ['Left Arm', 'Right Arm'],
    ['LEFT', 'RIGHT'],
    ['leftHand', 'rightHand'],
    ['wing.L', 'wing.R'],
    ['wing_l', 'wing_r'],
    ['l wing', 'l wing'],
    ['eye_L.001', 'eye_R.001'],
    ['cleft', 'cleft'],
    ['ball', 'ball'],
    ['port lamp', 'starboard lamp'],
    ['rear left', 'rear right'],
    ['bright', 'bright'],
  ])('%s → %s', (a, b) => {
    expect(swapSides(a)).toBe(b);
  });
  test('front and rear only on request; swapped twice a name is itself', () => {
    expect([swapSides('front left', true), swapSides('Rear wheel', true)]).toEqual(['rear right', 'Front wheel']);
    fc.assert(
      fc.property(
        fc.constantFrom('left', 'Right', 'wing', '_l', '.R', ' '),
        fc.constantFrom('arm', ' left', '_r', '.L', ''),
        (a, b) => expect(swapSides(swapSides(a + b))).toBe(a + b),
      ),
    );
  });
});

describe('merge, split, detach', () => {
  const built = async (d: ProjectDocument) => {
    const { scene } = await buildScene(d, SHIP_DEFAULTS, { memory: new Memory(), encode: writePng });
    return flatten(scene);
  };
  test('merged and split again: the same volume in the same box', async () => {
    const d = rig();
    const before = await built(d);
    const merged = change(d, (x) => c.mergePieces(x, ['inner', 'beside'], 'm', 'ms'));
    const after = await built(merged);
    const volume = (s: typeof before) => s.pieces.reduce((n, p) => n + (p.mesh ? volumeOf(p.mesh) : 0), 0);
    const box = (s: typeof before) =>
      boundsOf(Float32Array.from(s.pieces.flatMap((p) => (p.mesh ? [...p.mesh.positions] : []))));
    expect(volume(after)).toBeCloseTo(volume(before), 4);
    near(box(after).min, box(before).min, 4);
    near(box(after).max, box(before).max, 4);
    checkDocument(merged);
    const source = merged.pieces.find((p) => p.id === 'm')!;
    const o = await followRecipe(source.recipe, { memory: new Memory() });
    const mesh = o[0].mesh;
    const split = change(merged, (x) => {
      c.splitPiece(
        x,
        'm',
        [
          { name: 'one', by: 'part', faces: { kind: 'face', keys: [mesh.faceKey[0]] } },
          { name: 'two', by: 'part', faces: { kind: 'face', keys: [mesh.faceKey[mesh.faceCount - 1]] } },
        ],
        makeId,
      );
    });
    expect(volume(await built(split))).toBeCloseTo(volume(before), 4);
    expect(split.pieces.filter((p) => p.kind === 'mesh').map((p) => p.name)).toEqual(['one', 'two']);
    checkDocument(split);
    expect(() => change(d, (x) => c.mergePieces(x, ['beside'], 'm', 'ms'))).toThrow(/two pieces or more/);
  });
  test('detached as a piece: the faces are in one or the other; copied, in both', async () => {
    let d = rig();
    d = change(d, (x) => c.addStep(x, 'beside', 'shape', 'h'));
    const { mesh } = (await followRecipe(d.pieces.find((p) => p.id === 'beside')!.recipe, { memory: new Memory() }))[1];
    const faces = { kind: 'face' as const, keys: [mesh.faceKey[0], mesh.faceKey[1]] };
    const counts = async (copy: boolean) => {
      const out = change(d, (x) =>
        c.detachPiece(x, 'beside', 'h', faces, copy, { piece: 'new', keep: 'k', move: 'mv' }),
      );
      const s = await built(out);
      checkDocument(out);
      return ['rock', 'rock part'].map((n) => s.pieces.find((p) => p.name === n)!.mesh!.faceCount);
    };
    expect(await counts(false)).toEqual([4, 2]);
    expect(await counts(true)).toEqual([6, 2]);
  });
});

describe('blueprints in the tree', () => {
  const made = () => {
    const d = rig();
    c.addImage(d, imageOf('i', 100, 50));
    c.addBlueprint(d, 'b', 'plan', { ...newBlueprint('i', 100, 50), scale: 0.01 });
    return d;
  };
  test('cut into views, tied to sides; its picture cannot be taken away', () => {
    const d = change(made(), (x) => {
      c.cutBlueprint(x, 'b', 'v', [10, 10, 60, 400]);
      c.setSide(x, 'v', 'right');
    });
    const v = d.pieces.find((p) => p.id === 'v')!;
    expect(v.blueprint).toMatchObject({ frame: [10, 10, 60, 50], side: 'right' });
    expect(v.place.turn[1]).toBeCloseTo(Math.PI / 2, 12);
    expect(() => change(d, (x) => c.removeImage(x, 'i'))).toThrow('That picture is used by plan.');
    checkDocument(d);
  });
  test('merging a group leaves a drawing in it where it is', () => {
    const d = change(made(), (x) => c.movePieces(x, ['b'], 'inner'));
    const out = change(d, (x) => c.mergePieces(x, ['outer', 'beside'], 'm', 'ms'));
    near(worldOf(out, 'b'), worldOf(d, 'b'));
    checkDocument(out);
  });
  test('a piece put at a station stands there along the drawing, and where it stood across it', () => {
    const d = change(made(), (x) => {
      c.setPlace(x, 'b', { turn: [0, 0.5, 0], at: [1, 0, 2] });
      x.pieces.find((p) => p.id === 'b')!.blueprint!.stations.push({ id: 's', name: 'A', along: 'u', at: 0.7 });
    });
    const out = change(d, (x) => c.placeAtStation(x, 'b', 's', ['beside']));
    const own = c.toOwn(
      out,
      'b',
      c.pivotOf(
        out,
        out.pieces.find((p) => p.id === 'beside')!,
      ),
    );
    const was = c.toOwn(
      d,
      'b',
      c.pivotOf(
        d,
        d.pieces.find((p) => p.id === 'beside')!,
      ),
    );
    near(own, [0.7, was[1], was[2]]);
  });
  test('a round becomes a section where it lies', () => {
    const d = change(made(), (x) => {
      x.pieces
        .find((p) => p.id === 'b')!
        .blueprint!.rounds.push({ id: 'r', u: 0.2, v: 0.1, a: 0.3, b: 0.15, turn: 0.4 });
      c.sectionFromRound(x, 'b', 'r', 'sec', 'st');
    });
    near(applyPoint(worldOf(d, 'sec'), [0, 0, 0]), [0.2, 0.1, 0]);
    expect(d.pieces.find((p) => p.id === 'sec')!.recipe[0].values).toMatchObject({ wide: 0.6, high: 0.3 });
    checkDocument(d);
  });
});
