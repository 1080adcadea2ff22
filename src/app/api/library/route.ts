import type { LibraryContent, LibraryKind } from '@/document/library';
import { database } from '@/server/database';
import { answer, jsonOf } from '@/server/http';
import { addItem, itemSchema, listItems } from '@/server/library';

export const dynamic = 'force-dynamic';

export const GET = (request: Request): Promise<Response> =>
  answer(request, async () => ({ items: await listItems(database()) }));

export const POST = (request: Request): Promise<Response> =>
  answer(request, async () => {
    const v = itemSchema.validateSync(await jsonOf(request), { strict: true });
    return addItem(database(), {
      kind: v.kind as LibraryKind,
      name: v.name,
      tags: v.tags,
      content: v.content as unknown as LibraryContent,
    });
  });
