import { database } from '@/server/database';
import { answer } from '@/server/http';

export const dynamic = 'force-dynamic';

/** It is ready: it has its database, which answers. */
export const GET = (request: Request): Promise<Response> =>
  answer(request, async () => {
    const began = performance.now();
    await database().sequelize.query('SELECT 1');
    return { ok: true, databaseMs: Math.round(10 * (performance.now() - began)) / 10 };
  });
