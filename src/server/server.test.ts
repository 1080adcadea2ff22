/** The server against a PostgreSQL of its own: changes, conflicts, blobs, refusals. */
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Op } from 'sequelize';
import { createHash, randomUUID } from 'node:crypto';
import { newProject, addGroup, addPiece, addStep, pieceOf } from '../document/changes';
import type { Patch } from '../document/types';
import { Cluster } from '../cli/setup';
import { blobInfo, readBlob, writeBlob } from './blobs';
import { readZipPaths, writeZip } from '../core/formats';
import { readProject } from '../document/bundle';
import { contentOfMaterial, contentOfPieces, insertContent } from '../document/library';
import { addItem, changeItem, itemContent, itemDocument, itemPicture, listItems, noteUse, removeItem } from './library';
import { connect, type Database } from './database';
import { answer, bodyOf, jsonOf, sameOrigin } from './http';
import { migrate } from './migrations';
import { SCHEMA } from './schema';
import { hostAsked } from './hosts';
import { watch } from './watch';
import { databaseAddress } from './address';
import { tidyBlobs } from './tidy';
import { imageOf } from '../document/testing/image';
import {
  acceptChange,
  changeLog,
  copyProject,
  createProject,
  changesSince,
  documentAt,
  exportProject,
  importProject,
  listProjects,
  removeProject,
  setBinned,
  projectPicture,
} from './projects';
import { keepPicture, pictureOf, pictureResponse } from './pictures';
import type { PictureJob } from './queue';
import { thumbnailOf } from './thumbnail';
import { asRefusal, Refusal } from './refusal';

jest.setTimeout(60000);

let db: Database, cluster: Cluster, data: string;
const rename = (name: string): Patch[] => [{ op: 'replace', path: ['name'], value: name }];
const change = (base: number, patches: Patch[], id = randomUUID() as string) => ({
  base,
  patches,
  label: 'test',
  window: 'w',
  id,
});

beforeAll(async () => {
  data = mkdtempSync(join(tmpdir(), 'glypta-server-'));
  chmodSync(data, 0o755);
  cluster = new Cluster(data);
  await cluster.start();
  db = connect(cluster.url);
  const early = connect(cluster.url, 2, SCHEMA);
  const ask = () => early.sequelize.query('SELECT 1');
  await expect(ask()).rejects.toMatchObject({ status: 503, message: expect.stringMatching(/starting/) });
  expect((await migrate(db.sequelize)).at(-1)).toBe(SCHEMA);
  await ask(); // a server that began before its tables were there is of use now
  await early.sequelize.close();
  expect(await migrate(db.sequelize)).toEqual([]); // safe to repeat
}, 60000);
afterAll(async () => {
  await db?.sequelize.close();
  cluster?.stop();
  rmSync(data, { recursive: true, force: true });
});

describe('changes', () => {
  test('are taken in order, kept as a log, and any revision can be opened', async () => {
    const p = await createProject(db, newProject('One'));
    for (let i = 0; i < 60; i++) expect(await acceptChange(db, p.id, change(i, rename(`Name ${i + 1}`)))).toBe(i + 1);
    expect((await documentAt(db, p.id)).document.name).toBe('Name 60');
    for (const r of [0, 1, 25, 26, 59])
      expect((await documentAt(db, p.id, r)).document.name).toBe(r ? `Name ${r}` : 'One');
    expect((await changeLog(db, p.id)).map((c) => c.revision).slice(0, 3)).toEqual([60, 59, 58]);
    expect(await db.snapshots.count({ where: { project: p.id } })).toBe(3); // at 0, 25 and 50
    await expect(documentAt(db, p.id, 61)).rejects.toMatchObject({ status: 404 });
    expect((await listProjects(db)).find((x) => x.id === p.id)).toMatchObject({ name: 'Name 60', revision: 60 });
  });
  test('who asks what is new gets all that was changed since, in order, or nothing', async () => {
    const p = await createProject(db, newProject('New'));
    expect(await changesSince(db, p.id, 0)).toEqual({ revision: 0 });
    for (const [i, name] of ['A', 'B', 'C'].entries()) await acceptChange(db, p.id, change(i, rename(name)));
    expect(await changesSince(db, p.id, 1)).toEqual({ revision: 3, patches: [...rename('B'), ...rename('C')] });
    for (const since of [3, 4, NaN]) expect(await changesSince(db, p.id, since)).toEqual({ revision: 3 });
    await expect(changesSince(db, 'none', 0)).rejects.toMatchObject({ status: 404 });
  });
  test('the second window gets a clear no, and nothing of the first is lost', async () => {
    const p = await createProject(db, newProject('Two'));
    await acceptChange(db, p.id, change(0, rename('First')));
    await expect(acceptChange(db, p.id, change(0, rename('Second')))).rejects.toMatchObject({
      status: 409,
      message: expect.stringMatching(/another window.*change 1.*change 0/),
    });
    expect((await documentAt(db, p.id)).document.name).toBe('First');
  });
  test('the same change sent twice counts once; of two at the same moment one wins', async () => {
    const p = await createProject(db, newProject('Three'));
    const c = change(0, rename('Once'));
    expect(await acceptChange(db, p.id, c)).toBe(1);
    expect(await acceptChange(db, p.id, c)).toBe(1);
    const both = await Promise.allSettled([
      acceptChange(db, p.id, change(1, rename('A'))),
      acceptChange(db, p.id, change(1, rename('B'))),
    ]);
    expect(both.map((r) => r.status).sort()).toEqual(['fulfilled', 'rejected']);
    expect((await documentAt(db, p.id)).revision).toBe(2);
  });
  test('malformed changes are refused and leave no trace', async () => {
    const p = await createProject(db, newProject('Four'));
    for (const patches of [
      [{ op: 'replace', path: ['units'], value: 'furlongs' }],
      [{ op: 'add', path: ['pieces', 5, 'x'], value: 1 }],
      [{ op: 'add', path: ['pieces', 0], value: { id: 'x' } }],
      [{ op: 'replace', path: ['name'], value: 7 }],
    ] as Patch[][]) {
      await expect(acceptChange(db, p.id, change(0, patches))).rejects.toMatchObject({ status: 422 });
    }
    expect(await documentAt(db, p.id)).toMatchObject({ revision: 0, document: { name: 'Four', units: 'mm' } });
    await expect(acceptChange(db, randomUUID(), change(0, rename('x')))).rejects.toMatchObject({ status: 404 });
    await expect(acceptChange(db, "x'; drop table projects", change(0, rename('x')))).rejects.toMatchObject({
      status: 404,
    });
  });
});

describe('the shelf', () => {
  test('bin, restore, remove for good, copy', async () => {
    const p = await createProject(db, newProject('Five'));
    await expect(removeProject(db, p.id)).rejects.toMatchObject({ status: 409 });
    await setBinned(db, p.id, true);
    await expect(acceptChange(db, p.id, change(0, rename('x')))).rejects.toMatchObject({ status: 410 });
    await setBinned(db, p.id, false);
    const copy = await copyProject(db, p.id);
    expect(copy).toMatchObject({ name: 'Five copy', revision: 0 });
    await setBinned(db, p.id, true);
    await removeProject(db, p.id);
    await expect(documentAt(db, p.id)).rejects.toMatchObject({ status: 404 });
    expect((await documentAt(db, copy.id)).document.name).toBe('Five copy');
  });
  test('the picture is of the model, a PNG, and made once for each revision', async () => {
    const doc = newProject('Six');
    addPiece(doc, 'p', 'box');
    addStep(doc, 'p', 'box', 's');
    const p = await createProject(db, doc);
    let drawn = 0;
    const ask = async (job: PictureJob) => {
      drawn++;
      const png = await thumbnailOf(
        (await documentAt(db, job.id, job.revision)).document,
        async () => new Uint8Array(),
      );
      await keepPicture(db, job, { png: Buffer.from(png) });
    };
    const look = async () => {
      const { picture } = await projectPicture(db, p.id, 'project', ask);
      return (picture as { png: Buffer }).png;
    };
    const a = await look();
    expect([...a.subarray(1, 4)]).toEqual([0x50, 0x4e, 0x47]);
    expect((await look()).equals(a)).toBe(true);
    expect(drawn).toBe(1);
    await acceptChange(
      db,
      p.id,
      change(0, [{ op: 'replace', path: ['pieces', 0, 'recipe', 0, 'values', 'height'], value: 0.9 }]),
    );
    expect((await look()).equals(a)).toBe(false);
    expect(await db.pictures.count({ where: { key: { [Op.like]: `project/${p.id}/%` } } })).toBe(1); // the old one went
    await setBinned(db, p.id, true);
    await removeProject(db, p.id);
    expect(await db.pictures.count({ where: { key: { [Op.like]: `project/${p.id}/%` } } })).toBe(0);
  });
  test('what cannot be drawn is remembered; nobody waits for ever; a queue that is not there yet is asked again', async () => {
    const p = await createProject(db, newProject('Undrawn'));
    let asked = 0;
    const fails = async (job: PictureJob) => {
      if (++asked === 1) throw new Error('no queue');
      await keepPicture(db, job, { failed: 'It takes more than 20 s to draw.' });
    };
    for (let i = 0; i < 3; i++)
      expect((await projectPicture(db, p.id, 'turn', fails)).picture).toEqual({
        failed: 'It takes more than 20 s to draw.',
      });
    expect(asked).toBe(2);
    const never = await pictureOf(db, { kind: 'item', id: p.id, revision: 0 }, async () => undefined, 300);
    expect(never).toBeUndefined();
    expect(pictureResponse(never, 'x').headers.get('cache-control')).toBe('no-store');
    expect(await pictureResponse({ failed: 'x' }, 'x').text()).toMatch(/^<svg/);
  });
  test('export and import give the same project, files and all; a damaged one is refused', async () => {
    const file = Buffer.from('o a\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n');
    const { sha } = await writeBlob(db, [file], 'text/plain');
    const doc = newProject('Seven');
    addPiece(doc, 'p', 'tri');
    addStep(doc, 'p', 'brought-in', 's', { file: 'a.obj', blob: sha });
    const p = await createProject(db, doc);
    const out = await exportProject(db, p.id);
    const bundle = readProject(out.bytes);
    expect(Buffer.from(bundle.files.get(sha)!).equals(file)).toBe(true);
    const back = await importProject(db, out.bytes);
    expect((await documentAt(db, back.id)).document).toEqual((await documentAt(db, p.id)).document);
    expect(Buffer.from((await exportProject(db, back.id)).bytes).equals(Buffer.from(out.bytes))).toBe(true); // to the byte
    // After edits too, whatever order their keys came in.
    await acceptChange(
      db,
      back.id,
      change(0, [
        { op: 'replace', path: ['settings', 'grid'], value: 0.1 },
        {
          op: 'replace',
          path: ['pieces', 0, 'place'],
          value: { pivot: [0, 0, 0], at: [1, 2, 3], lean: [0, 0, 0], size: [1, 1, 1], turn: [0, 0, 0] },
        },
      ]),
    );
    const second = (await exportProject(db, back.id)).bytes;
    expect(
      Buffer.from((await exportProject(db, (await importProject(db, second)).id)).bytes).equals(Buffer.from(second)),
    ).toBe(true);
    await expect(
      importProject(
        db,
        writeZip(
          new Map(
            [...readZipPaths(out.bytes)].map(([n, b]): [string, Uint8Array] => [
              n,
              n.startsWith('files/') ? new Uint8Array([1, 2]) : b,
            ]),
          ),
        ),
      ),
    ).rejects.toMatchObject({ status: 422 });
    await expect(
      importProject(db, writeZip(new Map([...readZipPaths(out.bytes)].filter(([n]) => !n.startsWith('files/'))))),
    ).rejects.toThrow(/lacks a file/);
    await expect(importProject(db, Buffer.from('neither'))).rejects.toThrow(/readable JSON/);
    // What earlier versions exported comes in as well.
    const { images: _i, tapes: _t, settings: _s, ...old } = bundle.document;
    const json = {
      glypta: 1,
      document: { ...old, format: 1, pieces: old.pieces.map(({ place: _p, link: _l, ghost: _g, ...rest }) => rest) },
      blobs: { [sha]: file.toString('base64') },
    };
    expect((await documentAt(db, (await importProject(db, Buffer.from(JSON.stringify(json)))).id)).document).toEqual(
      bundle.document,
    );
    const missing = newProject('Eight');
    addPiece(missing, 'p', 'tri');
    addStep(missing, 'p', 'brought-in', 's', { file: 'a.obj', blob: '0'.repeat(64) });
    await expect(createProject(db, missing)).rejects.toMatchObject({ status: 422 });
  });
});

describe('blobs', () => {
  test('are kept once, by what they hold, in parts', async () => {
    const big = Buffer.alloc(2_500_000, 7);
    const sha = createHash('sha256').update(big).digest('hex');
    const chunks = async function* () {
      for (let i = 0; i < big.length; i += 60_000) yield big.subarray(i, i + 60_000);
    };
    expect(await writeBlob(db, chunks(), 'x/y')).toEqual({ sha, size: big.length });
    expect(await writeBlob(db, chunks(), 'x/y')).toEqual({ sha, size: big.length });
    expect((await readBlob(db, sha)).equals(big)).toBe(true);
    expect(await db.blobParts.count({ where: { sha } })).toBe(3);
    expect(await db.blobs.count({ where: { type: 'x/y' } })).toBe(1);
    await expect(blobInfo(db, '../../etc/passwd')).rejects.toMatchObject({ status: 404 });
  });
  test('too large, empty, or broken off: refused, and nothing stays behind', async () => {
    const before = await db.blobParts.count();
    async function* endless() {
      for (;;) yield Buffer.alloc(100_000);
    }
    await expect(writeBlob(db, endless(), 'x/z', 3_000_000)).rejects.toMatchObject({ status: 413 });
    await expect(writeBlob(db, [], 'x/z')).rejects.toMatchObject({ status: 400 });
    async function* cut() {
      yield Buffer.alloc(1_200_000);
      throw new Error('gone');
    }
    await expect(writeBlob(db, cut(), 'x/z')).rejects.toThrow('gone');
    expect(await db.blobParts.count()).toBe(before);
    expect(await db.blobs.count({ where: { type: 'x/z' } })).toBe(0);
  });
  test('a full disk: one sentence, and nothing stays behind', async () => {
    const before = await db.blobParts.count();
    // PostgreSQL itself says so here, with the code it gives when the disk is full.
    await db.sequelize.query(
      `CREATE FUNCTION full_disk() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN RAISE EXCEPTION 'could not ` +
        `extend file: No space left on device' USING ERRCODE = '53100'; END $$`,
    );
    await db.sequelize.query(
      'CREATE TRIGGER full_disk BEFORE INSERT ON blob_parts FOR EACH ROW EXECUTE FUNCTION full_disk()',
    );
    const r = await answer(ask(), () => writeBlob(db, [Buffer.from('something new')], 'x/f'));
    await db.sequelize.query('DROP TRIGGER full_disk ON blob_parts');
    expect(r.status).toBe(507);
    expect(((await r.json()) as { error: string }).error).toMatch(/^The disk is full.*\.$/);
    expect(await db.blobParts.count()).toBe(before);
    expect(await db.blobs.count({ where: { type: 'x/f' } })).toBe(0);
  });
});

const ask = (headers: Record<string, string> = {}) =>
  new Request('http://127.0.0.1:1/api/projects/5/changes', { headers: { host: '127.0.0.1:1', ...headers } });

describe('tidying', () => {
  const old = (sha: string) =>
    db.sequelize.query("UPDATE blobs SET arrived_at = now() - interval '8 days' WHERE sha = $1", { bind: [sha] });
  const there = async (sha: string) =>
    (await db.blobs.count({ where: { sha } })) === 1 && (await db.blobParts.count({ where: { sha } })) > 0;
  const image = (blob: string) => ({ ...imageOf(`image-${blob.slice(0, 8)}`, 2, 2), blob });

  test('takes what nothing refers to, once it is old; what a project, its past or the library refers to stays', async () => {
    const bytes = (n: number) => [Buffer.from(`tidy ${n}`)];
    const [loose, young, used, past, kept] = await Promise.all(
      [0, 1, 2, 3, 4].map(async (n) => (await writeBlob(db, bytes(n), 'image/png')).sha),
    );
    const p = await createProject(db, { ...newProject('Keeps'), images: [image(used), image(past)] as never });
    await acceptChange(db, p.id, change(0, [{ op: 'remove', path: ['images', 1] }]));
    const content = { ...contentOfPieces(newProject('x'), []), images: [image(kept)] as never };
    await addItem(db, { kind: 'image', name: 'kept', tags: [], content });
    for (const sha of [loose, used, past, kept]) await old(sha);
    expect(await tidyBlobs(db)).toMatchObject({ files: 1, bytes: 6 });
    expect(await Promise.all([loose, young, used, past, kept].map(there))).toEqual([false, true, true, true, true]);
    // Brought in again it is as if new; one that a project removed for good referred to stays some days as well.
    await old(young);
    await writeBlob(db, bytes(1), 'image/png');
    await setBinned(db, p.id, true);
    await removeProject(db, p.id);
    expect(await tidyBlobs(db)).toMatchObject({ files: 0 });
    await old(used);
    expect(await tidyBlobs(db)).toMatchObject({ files: 1 });
  });
  test('a project is not made on a file that is gone', async () => {
    const { sha } = await writeBlob(db, [Buffer.from('gone soon')], 'image/png');
    await old(sha);
    await tidyBlobs(db);
    const made = createProject(db, { ...newProject('Late'), images: [image(sha)] as never });
    await expect(made).rejects.toMatchObject({ status: 422 });
  });
});

describe('addresses of databases', () => {
  test('TLS as the address says; what is no address is refused in a sentence', () => {
    expect(databaseAddress('postgres://a:b@quay.example/x')).toEqual({ url: 'postgres://a:b@quay.example/x' });
    expect(databaseAddress('postgresql://a@q/x?sslmode=require&application_name=g')).toEqual({
      url: 'postgresql://a@q/x?application_name=g',
      ssl: { rejectUnauthorized: false },
    });
    expect(databaseAddress('postgres://a@q/x?sslmode=verify-full')).toMatchObject({
      ssl: { rejectUnauthorized: true },
    });
    for (const bad of ['nonsense', 'http://a/b', 'postgres://[', 'postgres://a/b?sslmode=perhaps'])
      expect(() => databaseAddress(bad)).toThrow(/^[A-Za-z].*\.$/);
    expect(() => databaseAddress('postgres://a/b?sslmode=verify-ca&sslrootcert=/no/such')).toThrow(/cannot be read/);
  });
});

describe('at the door', () => {
  const request = (body: BodyInit | null, headers: Record<string, string> = {}) =>
    new Request('http://127.0.0.1:1/x', { method: 'POST', body, headers: { host: '127.0.0.1:1', ...headers } });
  test('a 2 GB upload is refused before it is read', async () => {
    const read = async () => {
      for await (const _ of bodyOf(request('x', { 'content-length': '2147483648' }), 1000)) void _;
    };
    await expect(read()).rejects.toMatchObject({ status: 413 });
  });
  test('one that lies about its size is refused on the way', async () => {
    const read = async () => {
      for await (const _ of bodyOf(request('y'.repeat(5000)), 1000)) void _;
    };
    await expect(read()).rejects.toMatchObject({ status: 413 });
  });
  test('other sites, and what is no JSON', async () => {
    expect(() => sameOrigin(new Request('http://a/x', { headers: { origin: 'http://evil.example' } }))).toThrow(
      Refusal,
    );
    await expect(jsonOf(request('{nope'))).rejects.toMatchObject({ status: 400 });
  });
  test('what breaks below becomes one sentence and hides nothing of the inside', async () => {
    expect(asRefusal(Object.assign(new Error('x'), { code: 'ECONNREFUSED' })).status).toBe(503);
    const said = jest.spyOn(watch().log, 'error').mockImplementation(() => undefined);
    const r = await answer(ask({ 'x-request-id': 'ab-1' }), () => Promise.reject(new Error('secret path /root')));
    const [line] = said.mock.calls[0] as unknown as [Record<string, unknown>];
    said.mockRestore();
    expect(r.status).toBe(500);
    expect(await r.text()).not.toMatch(/secret/);
    // The log has where it broke, under the id of the request that the answer carries, and not what the message quotes.
    expect(line).toMatchObject({ id: 'ab-1', route: '/api/projects/:id/changes', status: 500, error: 'Error' });
    expect(JSON.stringify(line)).not.toMatch(/secret/);
    expect(r.headers.get('x-request-id')).toBe('ab-1');
    expect(await watch().registry.metrics()).toMatch(
      /glypta_requests_total\{route="\/api\/projects\/:id\/changes",method="GET",status="500"\} 1/,
    );
  });
  test('names it is not known by; a proxy is believed only where there is one', async () => {
    const strange = await answer(ask({ host: 'evil.example' }), async () => 1);
    expect(strange.status).toBe(421);
    const passed = new Headers({ host: '10.0.0.2:80', 'x-forwarded-host': 'quay.example, inner' });
    expect(hostAsked(passed, false)).toBe('10.0.0.2:80');
    expect(hostAsked(passed, true)).toBe('quay.example');
    expect(hostAsked(new Headers({ host: 'a' }), true)).toBe('a');
    // An id that is not one is not passed on into logs.
    const id = (await answer(ask({ 'x-request-id': 'a b{"' }), async () => 1)).headers.get('x-request-id');
    expect(id).toMatch(/^[0-9a-f-]{36}$/);
  });
});

test('the database killed and started again under an open connection: the next change goes through', async () => {
  const p = await createProject(db, newProject('Nine'));
  process.kill(cluster.pid()!, 'SIGKILL');
  await new Promise((r) => setTimeout(r, 300));
  await cluster.start();
  let done = 0;
  let said = '';
  for (let i = 0; i < 20 && !done; i++) {
    try {
      done = await acceptChange(db, p.id, change(0, rename('After')));
    } catch (e) {
      said = String(e);
      await new Promise((r) => setTimeout(r, 200));
    }
  }
  if (!done) throw new Error(said);
  expect((await documentAt(db, p.id)).document.name).toBe('After');
}, 40000);

describe('projects of the first format', () => {
  test('are brought up when opened, and take changes made on what they became', async () => {
    const doc = newProject('Old');
    const { images: _i, tapes: _t, settings: _s, ...old } = doc;
    const p = await createProject(db, doc);
    const first = {
      ...old,
      format: 1,
      pieces: [
        {
          id: 'p',
          name: 'box',
          kind: 'mesh',
          parent: null,
          recipe: [],
          visible: true,
          locked: false,
          upTo: null,
          smooth: 0.5,
        },
      ],
    };
    await db.snapshots.update({ document: first as never }, { where: { project: p.id } });
    const { document } = await documentAt(db, p.id);
    expect(document).toMatchObject({
      format: 4,
      settings: { up: 'y' },
      pieces: [{ link: null, ghost: false, place: { size: [1, 1, 1] } }],
    });
    await acceptChange(db, p.id, change(0, [{ op: 'replace', path: ['pieces', 0, 'place', 'at', 0], value: 5 }]));
    expect((await documentAt(db, p.id)).document.pieces[0].place.at).toEqual([5, 0, 0]);
  });
  test('of the second: what named by ranks goes on to, also what its own later changes added; what is new names by shares', async () => {
    const doc = newProject('Old');
    const p = await createProject(db, doc);
    const box = (id: string) => ({ id, kind: 'box', on: true, values: { width: 1 } });
    addPiece(doc, 'p', 'box', null, [box('a')] as never);
    await db.snapshots.update({ document: { ...doc, format: 2 } as never }, { where: { project: p.id } });
    // As a window of that day sent it: straight into the log.
    const sent = (revision: number, step: object, at: number) =>
      db.changes.create({
        ...{ project: p.id, revision, change: randomUUID(), window: 'w', label: 'x', at: new Date() },
        patches: [{ op: 'add', path: ['pieces', 0, 'recipe', at], value: step }] as Patch[],
      });
    await sent(1, box('b'), 1);
    await db.projects.update({ revision: 1 }, { where: { id: p.id } });
    const named = async () =>
      (await documentAt(db, p.id)).document.pieces[0].recipe.map((s) => s.values.names ?? 'nothing');
    expect(await named()).toEqual(['ranks', 'ranks']);
    await sent(2, { ...box('c'), values: { width: 1, names: 'shares' } }, 2);
    await db.projects.update({ revision: 2 }, { where: { id: p.id } });
    expect(await named()).toEqual(['ranks', 'ranks', 'shares']);
  });
});

describe('the library', () => {
  const made = () => {
    const doc = newProject('Source');
    addGroup(doc, 'g', 'lamp');
    addPiece(doc, 'p', 'box', 'g');
    addStep(doc, 'p', 'box', 's');
    doc.materials.push({ id: 'm', name: 'Tar', color: '#202020', roughness: 0.9, metalness: 0 });
    addStep(doc, 'p', 'color', 'c', { base: 'm' });
    return doc;
  };
  test('the list says of which kit an item is an edition', async () => {
    const doc = made();
    const kit = pieceOf(doc, 'p');
    kit.edition = { kit: 'kit-of-boxes', number: 3 };
    const content = { ...contentOfPieces(doc, ['p']), edition: kit.edition };
    const item = await addItem(db, { kind: 'piece', name: 'Box', tags: [], content });
    expect(item.edition).toEqual({ kit: 'kit-of-boxes', number: 3 });
    const found = (await listItems(db)).filter((i) => i.edition?.kit === 'kit-of-boxes');
    expect(found.map((i) => [i.id, i.edition!.number])).toEqual([[item.id, 3]]);
    expect((await itemContent(db, item.id)).content.edition).toEqual({ kit: 'kit-of-boxes', number: 3 });
    await removeItem(db, item.id);
  });

  test('an item is kept with what it needs, found, renamed, and goes into another project under new ids', async () => {
    const item = await addItem(db, {
      kind: 'arrangement',
      name: 'Lamp',
      tags: [' Metal', 'metal', 'quay'],
      content: contentOfPieces(made(), ['g']),
    });
    expect(item.tags).toEqual(['metal', 'quay']);
    const ask = async (j: PictureJob) => {
      const png = await thumbnailOf(await itemDocument(db, j.id), async () => new Uint8Array());
      await keepPicture(db, j, { png: Buffer.from(png) });
    };
    const { picture } = (await itemPicture(db, item.id, ask)) as { picture: { png: Buffer } };
    expect([...picture.png.subarray(1, 4)]).toEqual([0x50, 0x4e, 0x47]);
    await changeItem(db, item.id, { name: 'Signal', tags: ['light'] });
    expect((await listItems(db)).find((i) => i.id === item.id)).toMatchObject({
      name: 'Signal',
      tags: ['light'],
      usedIn: 0,
    });
    const target = newProject('Target');
    const { content } = await itemContent(db, item.id);
    insertContent(target, content);
    insertContent(target, content);
    expect(target.pieces.map((p) => p.name)).toEqual(['lamp', 'box', 'lamp 2', 'box 2']);
    expect(target.materials).toHaveLength(1); // the same material is used again
    expect(target.pieces[1].recipe[1].values.base).toBe(target.materials[0].id);
    expect(target.pieces[1].parent).toBe(target.pieces[0].id);
    await createProject(db, target);
  });
  test('an item in use cannot vanish; the project gone for good, it can', async () => {
    const p = await createProject(db, newProject('User'));
    const item = await addItem(db, {
      kind: 'material',
      name: 'Tar',
      tags: [],
      content: contentOfMaterial(made(), 'm'),
    });
    await noteUse(db, item.id, p.id);
    await noteUse(db, item.id, p.id);
    await expect(removeItem(db, item.id)).rejects.toThrow('“Tar” is used in User, so it stays.');
    await expect(db.library.destroy({ where: { id: item.id } })).rejects.toThrow(); // the database says so too
    await setBinned(db, p.id, true);
    await removeProject(db, p.id);
    await removeItem(db, item.id);
    await expect(itemContent(db, item.id)).rejects.toMatchObject({ status: 404 });
  });
  test('what is not whole is refused', async () => {
    const content = contentOfPieces(made(), ['g']);
    await expect(
      addItem(db, { kind: 'material', name: 'None', tags: [], content: { pieces: [], materials: [], images: [] } }),
    ).rejects.toMatchObject({ status: 422 });
    await expect(
      addItem(db, {
        kind: 'piece',
        name: 'Odd',
        tags: [],
        content: { ...content, pieces: [{ ...content.pieces[1] }] },
      }),
    ).rejects.toThrow(/cannot be accepted|not there/);
    await expect(
      addItem(db, {
        kind: 'image',
        name: 'Lost',
        tags: [],
        content: {
          pieces: [],
          materials: [],
          images: [
            {
              id: 'i',
              name: 'a.png',
              blob: 'f'.repeat(64),
              mime: 'image/png',
              width: 1,
              height: 1,
              bits: 8,
              use: 'picture',
            },
          ],
        },
      }),
    ).rejects.toThrow(/not arrived/);
    await expect(itemContent(db, 'nonsense')).rejects.toMatchObject({ status: 404 });
  });
});
