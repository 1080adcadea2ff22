import { blobInfo, MAX_BLOB, writeBlob } from '@/server/blobs';
import { database } from '@/server/database';
import { answer, sameOrigin } from '@/server/http';
import { received } from '@/server/receive';

export const POST = (request: Request): Promise<Response> =>
  answer(request, async () => {
    sameOrigin(request);
    const type =
      /^[\w.+-]+\/[\w.+-]+$/.exec(request.headers.get('content-type') ?? '')?.[0] ?? 'application/octet-stream';
    const { sha } = await received(request, MAX_BLOB, (file) => writeBlob(database(), file.parts(), type));
    return blobInfo(database(), sha);
  });
