/** Steps compared in numbers, and looked at in passing, as a worker answers. */
import { addPiece, addStep, newProject } from '../document/changes';
import { differences } from '../document/diff';
import { Host, type Task } from './host';
import { attributeAt, attributes } from './calls/attributes';
import { compare } from './calls/compare';
import { show } from './calls/show';
import { variations } from './calls/variations';
import { rules, solve } from './calls/solve';
import { addDial } from '../document/dials';
import type { ProjectDocument } from '../document/types';

function host(): { host: Host; doc: ProjectDocument } {
  const doc = newProject('Compared', 'game', 'm');
  addDial(doc, { id: 'd', name: 'tall', kind: 'length', value: 1, min: 0.1, max: 9 });
  addPiece(doc, 'p', 'p');
  addStep(doc, 'p', 'box', 'a', { width: 1, height: { formula: 'tall' }, depth: 1 });
  addStep(doc, 'p', 'note', 'n', { name: 'high', formula: { text: 'position.y / (1 m)', unit: 'm' } });
  addStep(doc, 'p', 'place', 'b', { sizeY: 2 });
  addStep(doc, 'p', 'row', 'c', { times: 3, x: 2 });
  const made = new Host(
    async () => new Uint8Array(0),
    () => undefined,
  );
  made.sync(differences(undefined, doc));
  return { host: made, doc };
}
const task = (): Task => ({ cancelled: () => false, progress: () => undefined, transfer: [] });
const query = { focus: { piece: 'p', step: null }, textures: false, anchors: [], elements: false };

test('what the later has more of, and how far it moved what both have', async () => {
  const r = await compare.run(host().host, { piece: 'p', steps: ['a', 'b'] }, task());
  expect([r.a.volume, r.b.volume, r.a.faces, r.b.faces]).toEqual([1, 2, 6, 6].map((x) => expect.closeTo(x, 5)));
  expect([r.shared, r.moved, r.most, r.mean]).toEqual([8, 4, 1, 0.5].map((x) => expect.closeTo(x, 5)));
  const [one, two] = r.drawn.pictures;
  expect([one.length, two.length]).toEqual([r.drawn.width, r.drawn.width].map((w) => 4 * w * r.drawn.height));
  // Drawn from one place: the lower one fills less of the same picture.
  const paper = (x: Uint8Array) => x.filter((_, i) => i % 4 === 2).reduce((n, v) => n + v, 0);
  expect(paper(one)).not.toBe(paper(two));
  const none = await compare.run(host().host, { piece: 'p', steps: ['a', 'c'] }, task());
  expect([none.shared, none.b.faces]).toEqual([0, 18]);
  await expect(compare.run(host().host, { piece: 'p', steps: ['a', 'gone'] }, task())).rejects.toThrow(
    'no longer there',
  );
});

test('copies are sent as places, their source once; a step is peeked at; elements of copies come as one mesh', async () => {
  const { host: h, doc } = host();
  const first = (await show.run(h, query, task())).shown[0];
  expect(first.buffers!.triangles).toBe(36);
  expect(first.buffers!.copies!.map((c) => [c.places.length / 16, c.buffers?.triangles])).toEqual([[3, 12]]);
  const next = structuredClone(doc);
  next.pieces[0].recipe[3].values.times = 5;
  h.sync(differences(h.doc, next));
  const again = (await show.run(h, query, task())).shown[0];
  expect(again.buffers!.copies!.map((c) => [c.places.length / 16, c.buffers])).toEqual([[5, undefined]]);
  const peeked = (await show.run(h, { ...query, peek: 'a' }, task())).shown[0];
  expect([peeked.buffers!.triangles, peeked.buffers!.copies]).toEqual([12, undefined]);
  const elements = await show.run(h, { ...query, elements: true }, task());
  expect(elements.shown[0].buffers!.copies).toBeUndefined();
  expect(elements.edited!.mesh!.faceStart).toHaveLength(31);
});

test('attributes are counted over all copies, and the piece is coloured by one', async () => {
  const { host: h } = host();
  const shown = (await show.run(h, { ...query, coloured: 'high' }, task())).shown[0];
  expect([shown.heat, shown.buffers!.color!.length]).toEqual([{ name: 'high', min: 0, max: 1 }, 4 * 4 * 18]);
  const list = await attributes.run(h, { piece: 'p' }, task());
  expect(list.map((a) => [a.name, a.domain, a.count, a.min, a.mean, a.max])).toEqual([
    ['high', 'vertex', 24, 0, 0.5, 1],
    ['copy', 'face', 18, 0, 1, 2],
  ]);
  expect(list[0].spread.reduce((s, x) => s + x, 0)).toBe(24);
  const at = (name: string, y: number) => attributeAt.run(h, { piece: 'p', name, at: [0.4, y, 0.6] }, task());
  expect([await at('high', 1.9), await at('high', 0.1), await at('none', 1)]).toEqual([[1], [0], null]);
});

test('a dial is solved for, and drawn over a range, without a change of the document', async () => {
  const { host: h } = host();
  const r = await solve.run(h, { piece: 'p', fact: 'height', wanted: 5, dial: 'd' }, task());
  expect([r.found, r.x]).toEqual([true, expect.closeTo(2.5, 5)]);
  const beyond = await solve.run(h, { piece: 'p', fact: 'height', wanted: 50, dial: 'd' }, task());
  expect([beyond.found, beyond.x]).toEqual([false, expect.closeTo(9, 3)]);
  const two = await variations.run(h, { piece: null, values: [[['d', 1]], [['d', 8]]], width: 40, height: 30 }, task());
  expect(two.map((p) => p.data.length)).toEqual([4800, 4800]);
  expect(Buffer.compare(Buffer.from(two[0].data), Buffer.from(two[1].data))).not.toBe(0);
  expect(h.doc.dials![0].value).toBe(1);
  const kept = structuredClone(h.doc);
  kept.dials![0].rule = { piece: 'p', fact: 'height', wanted: 6 };
  h.sync(differences(h.doc, kept));
  expect(await rules.run(h, {}, task())).toEqual([{ id: 'd', name: 'tall', x: expect.closeTo(3, 4), reached: true }]);
});
