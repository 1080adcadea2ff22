import { database } from '@/server/database';
import { answer } from '@/server/http';
import { thumbnail } from '@/server/projects';

export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(async () => {
    const { png, revision } = await thumbnail(database(), (await params).id);
    return new Response(new Uint8Array(png), {
      headers: {
        'Content-Type': 'image/png',
        'Cache-Control': 'private, max-age=31536000, immutable',
        ETag: `"${revision}"`,
      },
    });
  });
