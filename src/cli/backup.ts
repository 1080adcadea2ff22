import { existsSync, renameSync, rmSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import { connect } from '../server/database';
import { copyTool } from './copies';
import { SetupError } from './setup';
import { withDatabase } from './stored';
import { parseArgs, Usage } from './usage';

/**
 * `backup FILE [--data DIR | --database URL]`: everything as it is at one moment, written as it is read, while the
 * bench is in use. Pictures are left out: they are drawn anew. The file has its name only once it has been read back
 * whole.
 */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, ['data', 'database'], []);
  if (o.positional.length !== 1) throw new Usage('backup needs one FILE.');
  const file = resolve(o.positional[0]);
  if (existsSync(file)) throw new Usage(`${file} is there already; a backup never writes over another.`);
  const part = `${file}.part`;
  return withDatabase(o, async (url) => {
    const db = connect(url, 1);
    try {
      if (!(await db.sequelize.getQueryInterface().tableExists('projects')))
        throw new SetupError('There is nothing to keep: this database holds no projects of Glypta.');
      const projects = await db.projects.count();
      await copyTool('pg_dump', url, [
        '--format=custom',
        '--schema=public',
        '--no-owner',
        '--exclude-table-data=public.pictures',
        `--file=${part}`,
      ]);
      await copyTool('pg_restore', undefined, ['--file=/dev/null', part]);
      renameSync(part, file);
      const size = (statSync(file).size / 1048576).toFixed(1);
      console.log(`Kept ${projects} projects in ${file}, ${size} MB, and read it back.`);
      return 0;
    } finally {
      await db.sequelize.close();
      rmSync(part, { force: true });
    }
  });
}
