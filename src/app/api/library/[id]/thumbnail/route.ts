import { readBlob } from '@/server/blobs';
import { askForPictures, database } from '@/server/database';
import { answer } from '@/server/http';
import { itemPicture } from '@/server/library';
import { pictureResponse } from '@/server/pictures';

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, async () => {
    const db = database();
    const p = await itemPicture(db, (await params).id, askForPictures);
    if ('picture' in p) return pictureResponse(p.picture, 'private, max-age=3600');
    // Only pictures that a browser can show as such; anything else stays data.
    const mime = ['image/png', 'image/jpeg', 'image/webp'].includes(p.mime) ? p.mime : 'application/octet-stream';
    return new Response(new Uint8Array(await readBlob(db, p.sha)), {
      headers: { 'Content-Type': mime, 'X-Content-Type-Options': 'nosniff', 'Cache-Control': 'private, max-age=3600' },
    });
  });
