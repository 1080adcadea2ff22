import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { blobParts } from '../server/blobs';
import { connect, type Database } from '../server/database';
import { migrate } from '../server/migrations';
import { documentAt } from '../server/projects';
import { copyTool } from './copies';
import { makeFolder, root, SetupError } from './setup';
import { withDatabase } from './stored';
import { parseArgs, Usage } from './usage';

/**
 * `restore FILE [--data DIR | --database URL]`: only where there are no projects yet; every project is opened and every
 * file checked.
 */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, ['data', 'database'], []);
  if (o.positional.length !== 1) throw new Usage('restore needs one FILE.');
  const file = resolve(o.positional[0]);
  if (!existsSync(file)) throw new Usage(`There is no file ${file}.`);
  const data = resolve(o.values.data ?? join(root, '.data'));
  if (!o.values.database) makeFolder(data);
  return withDatabase(
    o,
    async (url) => {
      const db = connect(url, 2);
      try {
        if (await holdsProjects(db))
          throw new SetupError('There are projects already. A backup is restored only where there are none.');
        // All of it or nothing.
        const whole = ['--single-transaction', '--exit-on-error'];
        try {
          await copyTool('pg_restore', url, [
            ...whole,
            '--clean',
            '--if-exists',
            '--no-owner',
            '--schema=public',
            file,
          ]);
        } catch (e) {
          throw new SetupError(`That is no backup that can be restored: ${(e as Error).message}`);
        }
        await migrate(db.sequelize);
        const { projects, files } = await check(db);
        console.log(`Restored ${projects} projects and ${files} files; every one of them was read and is whole.`);
        return 0;
      } finally {
        await db.sequelize.close();
      }
    },
    true,
  );
}

async function holdsProjects(db: Database): Promise<boolean> {
  if (!(await db.sequelize.getQueryInterface().tableExists('projects'))) return false;
  return (await db.projects.count()) > 0;
}

/** Opens every project at its newest and hashes every file. */
async function check(db: Database): Promise<{ projects: number; files: number }> {
  const projects = await db.projects.findAll({ attributes: ['id', 'name'] });
  for (const p of projects) {
    try {
      await documentAt(db, p.id);
    } catch (e) {
      throw new SetupError(`“${p.name}” does not open as it was restored: ${(e as Error).message}`);
    }
  }
  const files = await db.blobs.findAll({ attributes: ['sha'] });
  for (const { sha } of files) {
    const hash = createHash('sha256');
    for await (const part of blobParts(db, sha)) hash.update(part);
    if (hash.digest('hex') !== sha) throw new SetupError(`The file ${sha.slice(0, 12)}… is damaged in the backup.`);
  }
  return { projects: projects.length, files: files.length };
}
