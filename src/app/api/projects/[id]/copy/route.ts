import { checkDocument } from '@/document/schema';
import { database } from '@/server/database';
import { answer, jsonOf } from '@/server/http';
import { copyProject } from '@/server/projects';

/** Copies a project; with a document in the body, that is what the copy holds (a window that keeps its own work). */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(async () => {
    const body = (await jsonOf(request)) as { name?: unknown; document?: unknown };
    const name = typeof body.name === 'string' && body.name.trim() ? body.name.trim().slice(0, 200) : undefined;
    return copyProject(
      database(),
      (await params).id,
      name,
      undefined,
      body.document === undefined ? undefined : checkDocument(body.document),
    );
  });
