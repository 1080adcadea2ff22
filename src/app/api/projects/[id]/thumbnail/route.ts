import { database } from '@/server/database';
import { answer } from '@/server/http';
import { thumbnail, turning } from '@/server/projects';

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(async () => {
    const draw = new URL(request.url).searchParams.has('turn') ? turning : thumbnail;
    const { png, revision } = await draw(database(), (await params).id);
    return new Response(new Uint8Array(png), {
      headers: {
        'Content-Type': 'image/png',
        'Cache-Control': 'private, max-age=31536000, immutable',
        ETag: `"${revision}"`,
      },
    });
  });
