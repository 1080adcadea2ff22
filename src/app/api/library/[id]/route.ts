import { database } from '@/server/database';
import { answer, jsonOf, sameOrigin } from '@/server/http';
import { changeItem, itemContent, itemPartSchema, removeItem } from '@/server/library';

export const dynamic = 'force-dynamic';
type Context = { params: Promise<{ id: string }> };

export const GET = (request: Request, { params }: Context): Promise<Response> =>
  answer(request, async () => itemContent(database(), (await params).id));

export const PATCH = (request: Request, { params }: Context): Promise<Response> =>
  answer(request, async () => {
    await changeItem(
      database(),
      (await params).id,
      itemPartSchema.validateSync(await jsonOf(request, 10_000), { strict: true }),
    );
  });

export const DELETE = (request: Request, { params }: Context): Promise<Response> =>
  answer(request, async () => {
    sameOrigin(request);
    await removeItem(database(), (await params).id);
  });
