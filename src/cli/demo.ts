/** Loads the demo, each project once: what a person changed, binned or removed stays so. */
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { contentOfImage, contentOfMaterial, contentOfPieces } from '../document/library';
import type { ProjectDocument } from '../document/types';
import { CART_ID, quayCart } from '../demo/cart';
import { HARBOUR_ID, harbour } from '../demo/harbour';
import { HERON_ID, heron } from '../demo/heron';
import { LAMP_ID, signalLamp } from '../demo/lamp';
import { SKIFF_ID, pilotSkiff } from '../demo/skiff';
import { writeBlob } from '../server/blobs';
import type { Database } from '../server/database';
import { addItem } from '../server/library';
import { createProject } from '../server/projects';

type Demo = { document: ProjectDocument; files?: ReadonlyMap<string, Uint8Array> };
const DEMOS: readonly (readonly [string, () => Promise<Demo>])[] = [
  [SKIFF_ID, pilotSkiff],
  [CART_ID, async () => ({ document: await quayCart() })],
  [HARBOUR_ID, async () => ({ document: await harbour() })],
  [HERON_ID, heron],
  [LAMP_ID, async () => ({ document: await signalLamp() })],
];

const LIBRARY = 'library';
/** A few things worth using again, from the demo projects. */
async function loadLibrary(db: Database): Promise<void> {
  const lamp = await signalLamp();
  const bird = await heron();
  const skiff = await pilotSkiff();
  const id = (doc: ProjectDocument, name: string) => doc.pieces.find((p) => p.name === name)!.id;
  const material = (doc: ProjectDocument, name: string) => doc.materials.find((m) => m.name === name)!.id;
  const items: Parameters<typeof addItem>[1][] = [
    {
      kind: 'arrangement',
      name: 'signal lamp',
      tags: ['metal', 'light', 'station'],
      content: contentOfPieces(lamp, [id(lamp, 'lamp')]),
    },
    {
      kind: 'arrangement',
      name: 'heron leg',
      tags: ['automaton', 'metal'],
      content: contentOfPieces(bird.document, [id(bird.document, 'leg left')]),
    },
    {
      kind: 'arrangement',
      name: 'heron wing',
      tags: ['automaton', 'metal'],
      content: contentOfPieces(bird.document, [id(bird.document, 'wing left')]),
    },
    {
      kind: 'piece',
      name: 'breast gear',
      tags: ['automaton', 'gear'],
      content: contentOfPieces(bird.document, [id(bird.document, 'breast gear')]),
    },
    {
      kind: 'material',
      name: 'Worn brass',
      tags: ['metal'],
      content: contentOfMaterial(lamp, material(lamp, 'Worn brass')),
    },
    {
      kind: 'material',
      name: 'Station green',
      tags: ['paint', 'station'],
      content: contentOfMaterial(lamp, material(lamp, 'Station green')),
    },
    {
      kind: 'image',
      name: 'skiff, plan view',
      tags: ['drawing', 'skiff'],
      content: contentOfImage(skiff.document, skiff.document.images[1].id),
    },
  ];
  for (const m of [bird, skiff]) for (const bytes of m.files.values()) await writeBlob(db, [bytes], 'image/png');
  for (const item of items) await addItem(db, item);
}

export async function loadDemo(db: Database, data: string): Promise<void> {
  const mark = join(data, 'demo-loaded');
  const text = existsSync(mark) ? readFileSync(mark, 'utf8').trim() : undefined;
  // The first version noted only that it had loaded: that was the lamp.
  const listed = text === '' ? [LAMP_ID] : text?.split('\n');
  const loaded = new Set(listed ?? []);
  for (const [id, make] of DEMOS) {
    if (loaded.has(id)) continue;
    if (!(await db.projects.findByPk(id, { attributes: ['id'] }))) {
      const { document, files } = await make();
      for (const bytes of files?.values() ?? []) await writeBlob(db, [bytes], 'image/png');
      await createProject(db, document, id);
    }
    loaded.add(id);
  }
  if (!loaded.has(LIBRARY)) {
    await loadLibrary(db);
    loaded.add(LIBRARY);
  }
  writeFileSync(mark, [...loaded].join('\n'));
}
