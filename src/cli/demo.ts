/** Loads the demo, each project once: what a person changed, binned or removed stays so. */
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ProjectDocument } from '../document/types';
import { HERON_ID, heron } from '../demo/heron';
import { LAMP_ID, signalLamp } from '../demo/lamp';
import { SKIFF_ID, pilotSkiff } from '../demo/skiff';
import { writeBlob } from '../server/blobs';
import type { Database } from '../server/database';
import { createProject } from '../server/projects';

type Demo = { document: ProjectDocument; files?: ReadonlyMap<string, Uint8Array> };
const DEMOS: readonly (readonly [string, () => Promise<Demo>])[] = [[SKIFF_ID, pilotSkiff], [HERON_ID, heron], [LAMP_ID, async () => ({ document: await signalLamp() })]];

export async function loadDemo(db: Database, data: string): Promise<void> {
  const mark = join(data, 'demo-loaded'), text = existsSync(mark) ? readFileSync(mark, 'utf8').trim() : undefined;
  // The first version noted only that it had loaded: that was the lamp.
  const loaded = new Set(text === undefined ? [] : text === '' ? [LAMP_ID] : text.split('\n'));
  for (const [id, make] of DEMOS) {
    if (loaded.has(id)) continue;
    if (!(await db.projects.findByPk(id, { attributes: ['id'] }))) {
      const { document, files } = await make();
      for (const bytes of files?.values() ?? []) await writeBlob(db, [bytes], 'image/png');
      await createProject(db, document, id);
    }
    loaded.add(id);
  }
  writeFileSync(mark, [...loaded].join('\n'));
}
