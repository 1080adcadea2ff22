import { encode } from 'fast-png';
import { Memory } from '../core/recipe';
import * as changes from './changes';
import { sizeOf } from '../core/geometry';
import { addDial, answerFor, dialScope, freeName, isDialName, removeDial, renameDial, setDial, usesOf } from './dials';
import { followDocument } from './follow';
import { contentOfPieces, insertContent } from './library';
import { referencesOfDials } from './references';
import { checkDocument } from './schema';
import { tellDials } from './telling';
import type { Dial, ProjectDocument, ProjectImage } from './types';

const dial = (name: string, value: number, more: Partial<Dial> = {}): Dial => ({
  id: name,
  name,
  kind: 'length',
  value,
  ...more,
});
function project(): ProjectDocument {
  const d = changes.newProject('Float', 'game', 'mm');
  addDial(d, dial('wall', 0.003, { min: 0.001, max: 0.01 }));
  addDial(d, dial('storeys', 4, { kind: 'count' }));
  changes.addPiece(d, 'p', 'tower');
  changes.addStep(d, 'p', 'box', 's', {
    width: { formula: '10 * wall' },
    height: 0.02,
    cutY: { formula: 'storeys' },
    onGround: false,
  });
  changes.addStep(d, 'p', 'shift', 'f', { along: 'y', formula: { text: 'wall * 2 + 1', unit: 'mm' } });
  return checkDocument(d);
}
const shown = async (d: ProjectDocument, memory = new Memory()) => {
  const out = await followDocument(d, { memory }).piece(d.pieces[0]);
  const { mesh } = out.shown!;
  const along = (k: number) => Array.from(mesh.positions).filter((_, i) => i % 3 === k);
  return {
    width: Math.max(...along(0)) - Math.min(...along(0)),
    top: Math.max(...along(1)),
    faces: mesh.faceCount,
    errors: out.outcomes.flatMap((o) => o.error ?? []),
    took: out.outcomes.map((o) => o.took),
  };
};

test('formulas go by dials: numbers of steps, and formulas over elements', async () => {
  const d = project();
  const now = await shown(d);
  expect(now.errors).toEqual([]);
  expect(now.width).toBeCloseTo(0.03, 6);
  expect(now.faces).toBe(4 * 4 + 2);
  expect(now.top).toBeCloseTo(0.01 + 0.007, 6);
  setDial(d, 'wall', { value: 0.005 });
  setDial(d, 'storeys', { value: 2.4 });
  const then = await shown(d);
  expect(then.width).toBeCloseTo(0.05, 6);
  expect(then.faces).toBe(4 * 2 + 2);
  expect(then.top).toBeCloseTo(0.01 + 0.011, 6);
  // Another unit of the project changes no formula that was typed before.
  expect((await shown({ ...d, units: 'm' })).top).toBeCloseTo(then.top, 6);
});

test('only what uses a dial runs again', async () => {
  const d = project();
  const memory = new Memory();
  await shown(d, memory);
  addDial(d, dial('other', 1));
  setDial(d, 'other', { value: 2 });
  expect((await shown(d, memory)).took).toEqual([0, 0]);
  setDial(d, 'wall', { value: 0.004 });
  expect((await shown(d, memory)).took.every((t) => t > 0)).toBe(true);
});

test('a dial keeps within its ends, and whole where it counts', () => {
  const d = project();
  setDial(d, 'wall', { value: 5 });
  setDial(d, 'storeys', { value: 7.6 });
  expect(d.dials!.map((x) => x.value)).toEqual([0.01, 8]);
  expect(() => checkDocument(d)).not.toThrow();
});

test('renamed, it is renamed everywhere; used, it is not taken away', async () => {
  const d = project();
  renameDial(d, 'wall', 'thickness');
  expect(d.pieces[0].recipe[0].values.width).toEqual({ formula: '10 * thickness' });
  expect(d.pieces[0].recipe[1].values.formula).toMatchObject({ text: 'thickness * 2 + 1' });
  expect((await shown(d)).errors).toEqual([]);
  expect(usesOf(d, 'wall')).toEqual([
    { piece: 'tower', step: 1 },
    { piece: 'tower', step: 2 },
  ]);
  removeDial(d, 'wall');
  expect(d.dials).toHaveLength(2);
  renameDial(d, 'wall', 'storeys');
  renameDial(d, 'wall', 'two words');
  expect(d.dials![0].name).toBe('thickness');
  addDial(d, dial('spare', 1));
  removeDial(d, 'spare');
  expect(d.dials).toHaveLength(2);
});

test('what cannot be worked out is said at its step, and the rest goes on', async () => {
  const d = project();
  d.pieces[0].recipe[0].values.width = { formula: 'wall * wall' };
  d.pieces[0].recipe[1].values.formula = { text: 'wal', unit: 'mm' };
  const { errors } = await shown(d);
  expect(errors[0]).toBe('In “wall * wall”: This is an area; a length is wanted.');
  expect(errors).toHaveLength(2);
});

test('names', () => {
  const d = project();
  expect([isDialName('wall'), isDialName('2 walls'), isDialName('größe_2'), isDialName('')]).toEqual([
    true,
    false,
    true,
    false,
  ]);
  expect(freeName(d, 'Wall')).toBe('wall_2');
  expect(freeName(d, 'narrower at the top by')).toBe('narrower_at_the_top_by');
  expect(freeName(d, '3 sides')).toBe('dial_3_sides');
  addDial(d, dial('wall', 9));
  expect(d.dials!.filter((x) => x.name === 'wall')).toHaveLength(1);
  expect(() => checkDocument({ ...d, dials: [{ ...d.dials![0], name: 'a b' }] })).toThrow();
});

test('yes or no goes by a formula too', async () => {
  const d = project();
  d.pieces[0].recipe[0].values.onGround = { formula: 'storeys > 3' };
  d.pieces[0].recipe.pop();
  const low = async () => {
    const { mesh } = (
      await followDocument(checkDocument(structuredClone(d)), { memory: new Memory() }).piece(d.pieces[0])
    ).shown!;
    return Math.min(...mesh.positions.filter((_, i) => i % 3 === 1));
  };
  expect(await low()).toBeCloseTo(0, 6);
  setDial(d, 'storeys', { value: 2 });
  expect(await low()).toBeCloseTo(-0.01, 6);
  d.pieces[0].recipe[0].values.onGround = { formula: 'storeys + 3' };
  const out = await followDocument(d, { memory: new Memory() }).piece(d.pieces[0]);
  expect(out.outcomes[0].error).toMatch(/In “storeys \+ 3”: .*yes or no/);
});

test('formulas are worked out without a dial as well: in the unit of the project, and yes or no', async () => {
  const d = changes.newProject('Plain', 'game', 'mm');
  changes.addPiece(d, 'p', 'p');
  changes.addStep(d, 'p', 'box', 's', {
    width: { formula: '20 + 10' },
    height: 0.02,
    onGround: { formula: '3 > 2' },
  });
  const { width, top, errors } = await shown(d);
  expect([width, top, errors]).toEqual([expect.closeTo(0.03, 6), expect.closeTo(0.02, 6), []]);
});

describe('dials of other kinds', () => {
  const other = (kind: Dial['kind'], name: string, more: Partial<Dial>): Dial => ({
    id: name,
    name,
    kind,
    value: 0,
    ...more,
  });
  function made(): ProjectDocument {
    const d = changes.newProject('Signals', 'game', 'm');
    addDial(d, other('choice', 'way', { options: ['x', 'y', 'z'], value: 1 }));
    addDial(d, other('toggle', 'tall', { value: 1 }));
    addDial(d, other('colour', 'paint', { value: 0xff8000 }));
    addDial(
      d,
      other('ramp', 'profile', {
        points: [
          [0, 0],
          [1, 2],
        ],
      }),
    );
    addDial(d, other('piece', 'top', { options: ['round', 'flat'], value: 0 }));
    changes.addPiece(d, 'round', 'round top');
    changes.addStep(d, 'round', 'sphere', 'r1', {});
    changes.addPiece(d, 'flat', 'flat top');
    changes.addStep(d, 'flat', 'box', 'b1', {});
    changes.addPiece(d, 'p', 'tower');
    changes.addStep(d, 'p', 'box', 's', {});
    return checkDocument(d);
  }
  const follow = async (d: ProjectDocument) => followDocument(d, { memory: new Memory() }).piece(d.pieces[2]);
  const heightOf = async (d: ProjectDocument): Promise<number> => {
    const ys = Array.from((await follow(d)).shown!.mesh!.positions).filter((_, i) => i % 3 === 1);
    return Math.max(...ys) - Math.min(...ys);
  };

  test('a choice by its word, by comparison, and what is none of them', async () => {
    const d = made();
    const def = {
      kind: 'choice',
      options: [
        ['x', 'across'],
        ['y', 'up'],
      ],
    } as const;
    const scope = dialScope(d);
    expect(answerFor('way', def, scope)).toBe('y');
    expect(answerFor('if way is "y" then "across" else "up"', def, scope)).toBe('x');
    expect(() => answerFor('"sideways"', def, scope)).toThrow('“sideways” is none of “across”, “up”.');
    expect(() => answerFor('3', def, scope)).toThrow('a word is wanted');
    expect(() => answerFor('way', { kind: 'length' }, scope)).toThrow('a length is wanted');
    expect(() => answerFor('way + 1', { kind: 'number' }, scope)).toThrow('have to be alike');
    setDial(d, 'way', { value: 9 });
    expect(d.dials![0].value).toBe(2);
  });

  test('a switch and a ramp turn numbers', async () => {
    const d = made();
    d.pieces[2].recipe[0].values.height = { formula: 'if tall then 2 * profile(0.75) else 1' };
    expect(await heightOf(checkDocument(d))).toBeCloseTo(3, 6);
    setDial(d, 'tall', { value: 0 });
    expect(await heightOf(d)).toBeCloseTo(1, 6);
    setDial(d, 'profile', { points: [] });
    setDial(d, 'tall', { value: 1 });
    expect(await heightOf(d)).toBeGreaterThan(0);
    expect(() => answerFor('profile', { kind: 'number' }, dialScope(d))).toThrow('profile is a ramp');
  });

  test('ramps and colours go into formulas over elements', async () => {
    const d = made();
    changes.addStep(d, 'p', 'shift', 'f', { along: 'y', formula: { text: 'profile(share.y) - 1', unit: 'm' } });
    changes.addStep(d, 'p', 'tint', 't', { formula: { text: 'paint', unit: 'm' } });
    const { shown: now, outcomes } = await follow(checkDocument(d));
    expect(outcomes.flatMap((o) => o.error ?? [])).toEqual([]);
    const { mesh } = now!;
    const tints = mesh!.attributes.color.data;
    // 0x80 of sRGB is 0.2159 of light.
    expect([tints[0], tints[1], tints[2]].map((x) => Math.round(x * 1e4) / 1e4)).toEqual([1, 0.2159, 0]);
    const ys = Array.from(mesh!.positions).filter((_, i) => i % 3 === 1);
    expect(Math.max(...ys) - Math.min(...ys)).toBeCloseTo(0.1 + 2, 5);
  });

  test('a piece is chosen by a dial; a circle through what it offers is refused, whatever it stands at', async () => {
    const d = made();
    d.pieces[2].recipe = [
      { id: 'j', kind: 'stack', on: true, values: { foot: { formula: 'if tall then top else top' }, low: 1 } },
    ];
    const first = await follow(checkDocument(d));
    expect(first.outcomes.flatMap((o) => o.error ?? [])).toEqual([]);
    const facesOf = async () => sizeOf((await follow(d)).shown!.geometry).faces;
    expect(await facesOf()).toBeGreaterThan(6);
    setDial(d, 'top', { value: 1 });
    expect(await facesOf()).toBe(6);
    expect(referencesOfDials(d.dials!).map((r) => r.id)).toEqual(['round', 'flat']);
    d.dials!.find((x) => x.name === 'top')!.options!.push('p');
    expect((await follow(d)).outcomes.flatMap((o) => o.error ?? [])).toEqual([]);
    setDial(d, 'top', { value: 2 });
    const round = await follow(d);
    expect(round.outcomes.flatMap((o) => o.error ?? []).join()).toContain('takes in this piece');
    const scope = dialScope(d);
    expect(() => answerFor('"round top"', { kind: 'piece' }, scope)).toThrow('named by dials here');
  });
});

describe('dials of pictures', () => {
  /** Left half black, right half white. */
  const picture = encode({ width: 2, height: 1, channels: 1, depth: 8, data: Uint8Array.of(0, 255) });
  const image = (id: string, name: string, blob: string): ProjectImage => ({
    ...{ id, name, blob: blob.repeat(64), mime: 'image/png', width: 2, height: 1, bits: 8, use: 'height' as const },
  });
  const files: Record<string, Uint8Array> = { a: picture, b: picture.slice(0, 30) };
  function project(): ProjectDocument {
    const d = changes.newProject('Shore', 'game', 'm');
    changes.addImage(d, image('i1', 'cliff.png', 'a'));
    changes.addImage(d, image('i2', 'torn.png', 'b'));
    addDial(d, { id: 'r', name: 'relief', kind: 'picture', value: 0, options: ['i1', 'i2'] });
    changes.addPiece(d, 'p', 'ground');
    changes.addStep(d, 'p', 'plane', 'g', { width: 1, depth: 1, cutX: 8, cutZ: 1 });
    changes.addStep(d, 'p', 'shift', 's', { along: 'y', formula: { text: '2 m * relief(share.x, 0)', unit: 'm' } });
    return checkDocument(d);
  }
  const follow = async (d: ProjectDocument) =>
    (await followDocument(d, { memory: new Memory(), blob: async (sha) => files[sha[0]] }).piece(d.pieces[0])).outcomes;

  test('formulas ask how bright a picture is at a place; another picture is another dial value', async () => {
    const d = project();
    const [, moved] = await follow(d);
    expect(moved.error).toBeUndefined();
    const { positions: p, vertexCount } = moved.mesh;
    for (let v = 0; v < vertexCount; v++) {
      const share = p[3 * v] + 0.5;
      // Halfway at the middle; over again at both edges, so halfway there as well.
      if (share > 0.2 && share < 0.3) expect(p[3 * v + 1]).toBeCloseTo(0, 5);
      if (share > 0.7 && share < 0.8) expect(p[3 * v + 1]).toBeCloseTo(2, 5);
    }
    setDial(d, 'r', { value: 1 });
    expect((await follow(d))[1].error).toContain('torn.png');
  });

  test('a picture that a dial offers is used: it cannot be taken away, and goes along to other projects', () => {
    const d = project();
    expect(() => changes.removeImage(structuredClone(d), 'i2')).toThrow('the dial relief');
    const content = contentOfPieces(d, ['p']);
    expect(content.images.map((i) => i.name)).toEqual(['cliff.png', 'torn.png']);
    const other = changes.newProject('Elsewhere', 'game', 'm');
    insertContent(other, content);
    const offered = other.pieces[0].dials![0].options!;
    expect(offered.map((id) => other.images.find((i) => i.id === id)?.name)).toEqual(['cliff.png', 'torn.png']);
    expect(tellDials(d)[0]).toContain('cliff.png');
  });

  test('asked at what is no place it says what is wanted', async () => {
    for (const [text, why] of [
      ['relief(1)', 'a place'],
      ['relief(position)', 'plain vector'],
      ['1 m * relief', 'word'],
    ]) {
      const d = project();
      d.pieces[0].recipe[1].values.formula = { text, unit: 'm' };
      expect((await follow(d))[1].error).toContain(why);
    }
  });
});
