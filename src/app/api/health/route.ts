import { database } from '@/server/database';
import { answer } from '@/server/http';

export const dynamic = 'force-dynamic';

export const GET = (): Promise<Response> =>
  answer(async () => {
    await database().sequelize.query('SELECT 1');
    return { ok: true };
  });
