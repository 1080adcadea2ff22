/** Loads the demo once: what a person changed, binned or removed stays so. */
import { existsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Database } from '../server/database';
import { createProject } from '../server/projects';
import { LAMP_ID, signalLamp } from '../demo/lamp';

export async function loadDemo(db: Database, data: string): Promise<void> {
  const mark = join(data, 'demo-loaded');
  if (existsSync(mark)) return;
  if (!(await db.projects.findByPk(LAMP_ID, { attributes: ['id'] }))) await createProject(db, await signalLamp(), LAMP_ID);
  writeFileSync(mark, '');
}
