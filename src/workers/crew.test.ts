/**
 * Page and worker joined by a wire of this test: what crosses is cloned, as in the browser, and the worker runs in its
 * own turn.
 */
import { addMove, addPiece, addStep, newProject } from '../document/changes';
import { History } from '../document/history';
import type { ProjectDocument } from '../document/types';
import { box } from '../core/make';
import { keyOf } from '../core/math';
import { BlobCache, Host } from './host';
import { Crew, type ShowRequest } from './crew';
import { WorkCancelled, WorkerLink, type WorkerLike } from './link';
import type { ToPage, ToWorker } from './protocol';
import { serve, type Port } from './serve';

interface Wire extends WorkerLike {
  host: Host;
  sent: ToWorker[];
  ended: boolean;
}

function wire(): Wire {
  const port: Port = { onmessage: null, postMessage: () => {} };
  const host = serve(
    port,
    new Host(
      async () => Promise.reject(new Error('no files here')),
      () => {},
    ),
  );
  const page: Wire = {
    host,
    sent: [],
    ended: false,
    onmessage: null,
    onerror: null,
    terminate() {
      this.ended = true;
    },
    postMessage(message) {
      this.sent.push(message);
      // Shared memory is shared; all else is copied.
      const data = 'stops' in message ? message : structuredClone(message);
      setImmediate(() => port.onmessage?.({ data } as MessageEvent<ToWorker>));
    },
  };
  port.postMessage = (message: ToPage) => {
    const data = structuredClone(message);
    setImmediate(() => {
      if (!page.ended) page.onmessage?.({ data } as MessageEvent<ToPage>);
    });
  };
  return page;
}

function project(cuts = 2): History {
  const doc = newProject('Bell');
  addPiece(doc, 'p', 'bell', null);
  addStep(doc, 'p', 'box', 'start', { width: 1, height: 1, depth: 1, cutX: cuts, cutY: cuts, cutZ: cuts });
  addStep(doc, 'p', 'shape', 'hand');
  return new History(doc);
}
const options = { up: 'y' as const, unit: 1, triangulate: false, subdivide: true };
const query = { focus: { piece: 'p', step: 'hand' }, textures: false, anchors: [], elements: true };
const face = box({ width: 1, height: 1, depth: 1, cutX: 2, cutY: 2, cutZ: 2, onGround: true }, keyOf('start'))
  .faceKey[0];
const move = (id: string, x: number) => ({
  id,
  tool: 'move',
  pick: { kind: 'face' as const, keys: [face] },
  values: { x, y: 0, z: 0 },
});

describe('a link', () => {
  test('the document is sent once; after that only what changed', async () => {
    const w = wire();
    const link = new WorkerLink(w, false);
    const h = project();
    link.sync(h.document);
    await link.ask('show', query);
    h.change('move', (d) => addMove(d, 'p', 'hand', move('m', 0.1)));
    link.sync(h.document);
    link.sync(h.document);
    const second = await link.ask('show', query);
    const syncs = w.sent.filter((m) => 'sync' in m);
    expect(syncs).toHaveLength(2);
    expect(JSON.stringify(syncs[1]).length).toBeLessThan(400);
    expect(second.edited!.moved!.vertices.length).toBe(4); // the face that was moved, not the mesh
    expect(w.host.document).toEqual(h.document);
    expect(w.host.doc.pieces[0].recipe[0]).toBe(w.host.doc.pieces[0].recipe[0]);
  });

  test('what was already sent is not sent again; what changed is', async () => {
    const link = new WorkerLink(wire(), false);
    const h = project();
    link.sync(h.document);
    expect((await link.ask('show', query)).shown[0].buffers).toBeDefined();
    const again = await link.ask('show', query);
    expect(again.shown[0].buffers).toBeUndefined();
    expect(again.edited).toBeUndefined();
    h.change('move', (d) => addMove(d, 'p', 'hand', move('m', 0.1)));
    link.sync(h.document);
    expect((await link.ask('show', query)).shown[0].buffers).toBeDefined();
  });

  test('work that is stopped half-way has sent nothing: the next answer has it all', async () => {
    const w = wire();
    const link = new WorkerLink(w, true);
    const doc = project().document;
    link.sync(doc);
    const stop = new AbortController();
    const first = link.ask('show', query, { signal: stop.signal });
    stop.abort();
    await expect(first).rejects.toBeInstanceOf(WorkCancelled);
    expect(w.host.sent.size).toBe(0);
    const next = await link.ask('show', query);
    expect(next.shown[0].buffers).toBeDefined();
    expect(next.edited).toBeDefined();
  });

  test('a call that fails answers its sentence; the worker goes on', async () => {
    const link = new WorkerLink(wire(), false);
    link.sync(project().document);
    const lost = link.ask('anchor', { piece: 'nobody', kind: 'vertex', at: [0, 0, 0] });
    await expect(lost).rejects.toThrow('nothing to hold on to');
    expect((await link.ask('show', query)).shown).toHaveLength(1);
  });

  test('a worker that dies fails all that was asked of it', async () => {
    const w = wire();
    const link = new WorkerLink(w, false);
    const asked = link.ask('uv', {});
    w.onerror!({ message: 'out of memory' } as ErrorEvent);
    await expect(asked).rejects.toThrow('out of memory');
  });

  test('facts, parts, uv and check over the wire', async () => {
    const link = new WorkerLink(wire(), false);
    link.sync(project().document);
    await link.ask('show', query);
    const world = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0] as const;
    const facts = await link.ask('facts', { kind: 'face', indices: Uint32Array.of(0), world: [...world] as never });
    expect(facts.area).toBeCloseTo(0.25, 6);
    expect(await link.ask('parts', { piece: 'p', by: 'part' })).toEqual([]);
    expect(await link.ask('uv', {})).toBeNull();
    const checked = await link.ask('check', { options });
    expect(checked.triangles).toBe(48);
    expect(checked.warnings).toContain('bell has no UVs.');
    const { file, ending } = await link.ask('ship', { options, format: 'glb' });
    expect([ending, String.fromCharCode(...file.slice(0, 4))]).toEqual(['glb', 'glTF']);
  });
});

describe('a crew', () => {
  const request = (document: ProjectDocument, log: string[], name: string): ShowRequest => ({
    document,
    query,
    done: () => log.push(name),
    failed: (e) => log.push(e instanceof WorkCancelled ? `${name} stopped` : e.message),
  });
  const until = async (log: string[], last: string) => {
    for (let i = 0; i < 2000 && !log.includes(last); i++) await new Promise((r) => setTimeout(r, 5));
  };

  test('while one is worked on the newest waits, and those between are never begun', async () => {
    const log: string[] = [];
    const crew = new Crew(wire, true);
    const h = project();
    for (const name of ['a', 'b', 'c', 'd']) {
      h.change('move', (d) => addMove(d, 'p', 'hand', move(name, 0.1)));
      crew.show(request(h.document, log, name));
    }
    await until(log, 'd');
    expect(log).toEqual(['a', 'd']);
    crew.end();
  });

  /** Works on each request for 2 s, looking every few milliseconds whether it is to stop. */
  function sluggish(): WorkerLike & { stopped: number[] } {
    let stops: Int32Array | undefined;
    const own = {
      stopped: [] as number[],
      onmessage: null as WorkerLike['onmessage'],
      onerror: null,
      terminate: () => {},
      postMessage(message: ToWorker) {
        if ('stops' in message) stops = message.stops;
        if (!('id' in message)) return;
        const { id } = message;
        const answer = { shown: [], gone: [], edited: null, anchors: {} };
        const since = performance.now();
        const timer = setInterval(() => {
          const now = performance.now() - since;
          const stop = Atomics.load(stops!, id % stops!.length) === id;
          if (!stop && now < 2000) return;
          clearInterval(timer);
          if (stop) own.stopped.push(now);
          const data: ToPage = stop ? { id, ok: false, error: '', cancelled: true } : { id, ok: true, answer };
          own.onmessage?.({ data } as MessageEvent<ToPage>);
        }, 5);
      },
    };
    return own;
  }

  test('slow work that is overtaken is told to stop, each time with more patience, and the newest is shown', async () => {
    const log: string[] = [];
    const worker = sluggish();
    const crew = new Crew(() => worker, true);
    const h = project();
    for (const name of ['a', 'b', 'c']) {
      h.change('move', (d) => addMove(d, 'p', 'hand', move(name, 0.1)));
      crew.show(request(h.document, log, name));
      crew.show(request(h.document, log, name));
      await new Promise((r) => setTimeout(r, 20));
    }
    await until(log, 'c');
    expect(log.at(-1)).toBe('c');
    expect(worker.stopped.length).toBeGreaterThan(0);
    expect(worker.stopped[0]).toBeGreaterThan(100); // what comes within a moment is let finish
    crew.end();
  });

  test('what is asked of now is asked once the newest is followed; where nothing is under way, at once', async () => {
    const log: string[] = [];
    const crew = new Crew(wire, true);
    const h = project(12);
    const asked = (name: string, now: boolean) =>
      (now ? crew.askNow('check', { options }) : crew.ask('check', { options })).then(
        () => log.push(name),
        () => log.push(name),
      );
    crew.show(request(h.document, log, 'a'));
    h.change('move', (d) => addMove(d, 'p', 'hand', move('m', 0.1)));
    crew.show(request(h.document, log, 'b'));
    const first = asked('of then', false);
    await Promise.all([asked('of now', true), first]);
    expect(log.indexOf('of now')).toBeGreaterThan(log.indexOf('b'));
    expect(log.indexOf('of then')).toBeLessThan(log.indexOf('b'));
    await asked('again', true);
    expect(log.at(-1)).toBe('again');
    crew.end();
  });

  test('long jobs run beside, at most two at once, and one that is no longer wanted is let go', async () => {
    const wires: Wire[] = [];
    const crew = new Crew(() => wires[wires.push(wire()) - 1], false);
    const doc = project().document;
    const stop = new AbortController();
    const jobs = [0, 1, 2, 3].map((i) => crew.long(doc, 'check', { options }, i === 3 ? { signal: stop.signal } : {}));
    stop.abort();
    await expect(jobs[3]).rejects.toBeInstanceOf(WorkCancelled);
    const answers = await Promise.all(jobs.slice(0, 3));
    expect(answers.map((a) => a.triangles)).toEqual([48, 48, 48]);
    expect(wires).toHaveLength(3); // the one in front, and two helpers
    crew.end();
    expect(wires.every((w) => w.ended)).toBe(true);
  });
});

describe('files', () => {
  test('are fetched once, and those asked for longest ago are forgotten beyond the budget', async () => {
    const fetched: string[] = [];
    const cache = new BlobCache(async (sha) => {
      fetched.push(sha);
      return new Uint8Array(40);
    }, 100);
    await Promise.all([cache.get('a'), cache.get('a')]);
    await cache.get('b');
    await cache.get('a');
    await cache.get('c'); // b goes
    await cache.get('a');
    await cache.get('b');
    expect(fetched).toEqual(['a', 'b', 'c', 'b']);
    expect(cache.size).toBeLessThanOrEqual(100);
  });
  test('one that could not be fetched is tried again', async () => {
    let fail = true;
    const cache = new BlobCache(async () => {
      if (fail) throw new Error('offline');
      return new Uint8Array(1);
    });
    await expect(cache.get('a')).rejects.toThrow('offline');
    fail = false;
    expect((await cache.get('a')).length).toBe(1);
  });
});
