import { blobInfo, blobParts } from '@/server/blobs';
import { database } from '@/server/database';
import { answer } from '@/server/http';

export const GET = (request: Request, { params }: { params: Promise<{ sha: string }> }): Promise<Response> =>
  answer(request, async () => {
    const db = database();
    const info = await blobInfo(db, (await params).sha);
    const parts = blobParts(db, info.sha);
    const stream = new ReadableStream<Uint8Array>({
      async pull(controller) {
        const { done, value } = await parts.next();
        if (done) controller.close();
        else controller.enqueue(new Uint8Array(value));
      },
    });
    // Sent as a download and never run: what came from outside stays data.
    return new Response(stream, {
      headers: {
        'Content-Type': 'application/octet-stream',
        'Content-Length': String(info.size),
        'X-Content-Type-Options': 'nosniff',
        'Cache-Control': 'private, max-age=31536000, immutable',
      },
    });
  });
