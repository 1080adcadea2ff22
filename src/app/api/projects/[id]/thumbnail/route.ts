import { askForPictures, database } from '@/server/database';
import { answer } from '@/server/http';
import { pictureResponse } from '@/server/pictures';
import { projectPicture } from '@/server/projects';

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, async () => {
    const kind = new URL(request.url).searchParams.has('turn') ? 'turn' : 'project';
    const { picture } = await projectPicture(database(), (await params).id, kind, askForPictures);
    return pictureResponse(picture, 'private, max-age=31536000, immutable');
  });
