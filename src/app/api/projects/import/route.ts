import { checkExport } from '@/document/schema';
import { database } from '@/server/database';
import { answer, jsonOf } from '@/server/http';
import { importProject } from '@/server/projects';

export const POST = (request: Request): Promise<Response> => answer(async () => importProject(database(), checkExport(await jsonOf(request, 512 * 1024 * 1024))));
