import { database } from '@/server/database';
import { MAX_BLOB } from '@/server/blobs';
import { answer, sameOrigin } from '@/server/http';
import { received } from '@/server/receive';
import { importProject } from '@/server/projects';

export const POST = (request: Request): Promise<Response> =>
  answer(request, async () => {
    sameOrigin(request);
    return received(request, MAX_BLOB, async (file) => {
      const parts: Uint8Array[] = [];
      for await (const p of file.parts()) parts.push(p);
      return importProject(database(), Buffer.concat(parts));
    });
  });
