import { database } from '@/server/database';
import { answer, sameOrigin } from '@/server/http';
import { changeLog, changesSince, documentAt, removeProject } from '@/server/projects';

export const dynamic = 'force-dynamic';
type Context = { params: Promise<{ id: string }> };

export const GET = (request: Request, { params }: Context): Promise<Response> =>
  answer(request, async () => {
    const { id } = await params;
    const query = new URL(request.url).searchParams;
    if (query.has('log')) return { log: await changeLog(database(), id) };
    if (query.has('since')) return changesSince(database(), id, Number(query.get('since')));
    return documentAt(database(), id, query.has('revision') ? Number(query.get('revision')) : undefined);
  });

export const DELETE = (request: Request, { params }: Context): Promise<Response> =>
  answer(request, async () => {
    sameOrigin(request);
    await removeProject(database(), (await params).id);
  });
