import { database } from '@/server/database';
import { answer } from '@/server/http';
import { exportProject } from '@/server/projects';

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, async () => {
    const { name, bytes } = await exportProject(database(), (await params).id);
    const stem = name.replace(/[^\w.-]+/g, '-').toLowerCase() || 'project';
    return new Response(bytes as Uint8Array<ArrayBuffer>, {
      headers: {
        'Content-Type': 'application/zip',
        'Content-Disposition': `attachment; filename="${stem}.glypta.zip"`,
      },
    });
  });
