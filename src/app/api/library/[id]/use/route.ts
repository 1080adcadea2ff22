import * as yup from 'yup';
import { database } from '@/server/database';
import { answer, jsonOf } from '@/server/http';
import { noteUse } from '@/server/library';

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, async () => {
    const v = yup
      .object({ project: yup.string().required().max(60) })
      .noUnknown()
      .validateSync(await jsonOf(request, 1000), { strict: true });
    await noteUse(database(), (await params).id, v.project);
  });
