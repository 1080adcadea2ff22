import { connect } from '../server/database';
import { migrate } from '../server/migrations';
import { KEPT_DAYS, tidyBlobs } from '../server/tidy';
import { withDatabase } from './stored';
import { numberOption, parseArgs } from './usage';

/**
 * `tidy [--data DIR | --database URL] [--days N]`: takes away files that nothing refers to. Workers do it every night.
 */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, ['data', 'database', 'days'], []);
  const days = numberOption(o, 'days', KEPT_DAYS, 0, 3650);
  return withDatabase(o, async (url) => {
    const db = connect(url, 2);
    try {
      await migrate(db.sequelize);
      const { files, bytes } = await tidyBlobs(db, days);
      const size = `${(bytes / 1048576).toFixed(1)} MB`;
      console.log(files === 0 ? 'Nothing to take away.' : `Took away ${files} unused files, ${size}.`);
      return 0;
    } finally {
      await db.sequelize.close();
    }
  });
}
