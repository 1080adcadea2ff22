import { changeSchema } from '@/document/schema';
import { database } from '@/server/database';
import { answer, jsonOf } from '@/server/http';
import { acceptChange, type IncomingChange } from '@/server/projects';

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, async () => {
    const change = changeSchema.validateSync(await jsonOf(request), { strict: true }) as IncomingChange;
    return { revision: await acceptChange(database(), (await params).id, change) };
  });
