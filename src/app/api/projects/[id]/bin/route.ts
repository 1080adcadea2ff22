import { database } from '@/server/database';
import { answer, sameOrigin } from '@/server/http';
import { setBinned } from '@/server/projects';

type Context = { params: Promise<{ id: string }> };
const set =
  (binned: boolean) =>
  (request: Request, { params }: Context): Promise<Response> =>
    answer(request, async () => {
      sameOrigin(request);
      return setBinned(database(), (await params).id, binned);
    });

export const POST = set(true);
export const DELETE = set(false);
