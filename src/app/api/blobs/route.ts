import { blobInfo, MAX_BLOB, writeBlob } from '@/server/blobs';
import { database } from '@/server/database';
import { answer, bodyOf, sameOrigin } from '@/server/http';

export const POST = (request: Request): Promise<Response> =>
  answer(async () => {
    sameOrigin(request);
    const type =
      /^[\w.+-]+\/[\w.+-]+$/.exec(request.headers.get('content-type') ?? '')?.[0] ?? 'application/octet-stream';
    const { sha } = await writeBlob(database(), bodyOf(request, MAX_BLOB), type);
    return blobInfo(database(), sha);
  });
