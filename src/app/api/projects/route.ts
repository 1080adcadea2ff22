import { newProjectSchema } from '@/document/schema';
import { newProject } from '@/document/changes';
import type { LengthUnit, Purpose } from '@/document/types';
import { database } from '@/server/database';
import { answer, jsonOf } from '@/server/http';
import { createProject, listProjects } from '@/server/projects';

export const dynamic = 'force-dynamic';

export const GET = (request: Request): Promise<Response> =>
  answer(request, async () => ({ projects: await listProjects(database()) }));

export const POST = (request: Request): Promise<Response> =>
  answer(request, async () => {
    const v = newProjectSchema.validateSync(await jsonOf(request, 10_000), { strict: true });
    return createProject(database(), newProject(v.name.trim(), v.purpose as Purpose, v.units as LengthUnit));
  });
