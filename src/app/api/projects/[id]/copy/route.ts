import { checkDocument } from '@/document/schema';
import * as yup from 'yup';
import { cleanName } from '@/document/clean';
import { database } from '@/server/database';
import { answer, jsonOf } from '@/server/http';
import { copyProject } from '@/server/projects';

const bodySchema = yup.object({ name: yup.string().max(10000), document: yup.mixed() }).required();

/** Copies a project; with a document in the body, that is what the copy holds (a window that keeps its own work). */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, async () => {
    const body = bodySchema.validateSync(await jsonOf(request), { strict: true });
    const name = body.name?.trim() ? cleanName(body.name) : undefined;
    return copyProject(
      database(),
      (await params).id,
      name,
      undefined,
      body.document === undefined ? undefined : checkDocument(body.document),
    );
  });
