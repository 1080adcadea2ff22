/** What the page makes of a row of answers: the same as of one answer to somebody who has nothing yet. */
import { addMove, addPiece, addStep, newProject } from '../../../document/changes';
import { History } from '../../../document/history';
import { box } from '../../../core/make/primitives';
import { keyOf } from '../../../core/math/hash';
import type { Mesh } from '../../../core/mesh/mesh';
import { calls } from '../../../workers/calls';
import { Host } from '../../../workers/host';
import type { PieceShown } from '../../../workers/protocol';
import { meshOf, takeShown } from './answers';

const SIZE = { width: 1, height: 1, depth: 1, cutX: 8, cutY: 8, cutZ: 8 };
const keys = box({ ...SIZE, onGround: true }, keyOf('start')).faceKey;
const query = { focus: { piece: 'p', step: 'hand' }, textures: false, anchors: [], elements: true };

const freshHost = () =>
  new Host(
    async () => Promise.reject(new Error('no files here')),
    () => {},
  );
const ask = async (host: Host) =>
  structuredClone(await calls.show.run(host, query, { cancelled: () => false, progress: () => {}, transfer: [] }));

class PageOfTest {
  readonly host = freshHost();
  shown: ReadonlyMap<string, PieceShown> = new Map();
  mesh: Mesh | null = null;
  patches = 0;

  async look(history: History): Promise<void> {
    this.host.sync([{ path: [], value: structuredClone(history.document) }]);
    const r = await ask(this.host);
    this.patches += r.shown.filter((s) => s.patch).length;
    this.shown = takeShown(this.shown, r.gone, r.shown);
    if (r.edited) this.mesh = meshOf(r.edited, this.mesh);
    const fresh = freshHost();
    fresh.sync([{ path: [], value: structuredClone(history.document) }]);
    const anew = await ask(fresh);
    for (const s of anew.shown) {
      const own = this.shown.get(s.piece)!;
      expect({ hash: own.hash, buffers: own.buffers }).toEqual({ hash: s.hash, buffers: s.buffers });
      expect(own.bounds).toEqual(s.bounds);
    }
    const whole = meshOf(anew.edited!, null)!;
    expect(this.mesh!.positions).toEqual(whole.positions);
    expect(this.mesh!.cornerVertex).toEqual(whole.cornerVertex);
    expect(this.mesh!.faceKey).toEqual(whole.faceKey);
  }
}

function bell(): History {
  const doc = newProject('Bell');
  addPiece(doc, 'p', 'bell', null);
  addStep(doc, 'p', 'box', 'start', SIZE);
  addStep(doc, 'p', 'shape', 'hand');
  return new History(doc);
}

test('moves, an extrusion between them, undo and forward: each picture is as one made anew, most as patches', async () => {
  const h = bell();
  const page = new PageOfTest();
  const add = (id: string, tool: string, face: number, values: Record<string, number | string | boolean>) =>
    h.change(id, (d) =>
      addMove(d, 'p', 'hand', { id, tool, pick: { kind: 'face', keys: [keys[face]] }, values } as never),
    );
  await page.look(h);
  for (let i = 0; i < 4; i++) {
    add(`m${i}`, 'move', 90 * i, { x: 0.1, y: 0.05 * i, z: 0 });
    await page.look(h);
  }
  expect(page.patches).toBe(4);
  add('x', 'extrude', 5, { by: 0.1 });
  await page.look(h);
  expect(page.patches).toBe(4); // new faces: sent whole
  add('m5', 'move', 200, { x: 0, y: 0.1, z: 0 });
  await page.look(h);
  expect(page.patches).toBe(5);
  for (let i = 0; i < 6; i++) {
    h.undo();
    await page.look(h);
  }
  for (let i = 0; i < 6; i++) {
    h.redo();
    await page.look(h);
  }
  expect(page.patches).toBeGreaterThan(10);
});

test('a patch is written into the buffers the view holds; connectivity, once derived, stays', async () => {
  const h = bell();
  const page = new PageOfTest();
  await page.look(h);
  const { buffers } = page.shown.get('p')!;
  const { cornerVertex } = page.mesh!;
  h.change('m', (d) =>
    addMove(d, 'p', 'hand', {
      id: 'm',
      tool: 'move',
      pick: { kind: 'face', keys: [keys[3]] },
      values: { x: 1, y: 0, z: 0 },
    }),
  );
  await page.look(h);
  expect(page.shown.get('p')!.buffers).toBe(buffers);
  expect(page.mesh!.cornerVertex).toBe(cornerVertex);
});
