import { database } from '@/server/database';
import { answer } from '@/server/http';
import { exportProject } from '@/server/projects';

export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> => answer(async () => {
  const data = await exportProject(database(), (await params).id);
  const name = data.document.name.replace(/[^\w.-]+/g, '-').toLowerCase() || 'project';
  return new Response(JSON.stringify(data), { headers: { 'Content-Type': 'application/json', 'Content-Disposition': `attachment; filename="${name}.glypta.json"` } });
});
