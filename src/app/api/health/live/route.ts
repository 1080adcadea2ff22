import { answer } from '@/server/http';

export const dynamic = 'force-dynamic';

/** It lives, whether or not there is a database. */
export const GET = (request: Request): Promise<Response> => answer(request, async () => ({ ok: true }));
