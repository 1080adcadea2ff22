import { database } from '@/server/database';
import { answer, bytesOf } from '@/server/http';
import { importProject } from '@/server/projects';

export const POST = (request: Request): Promise<Response> =>
  answer(async () => importProject(database(), await bytesOf(request, 512 * 1024 * 1024)));
