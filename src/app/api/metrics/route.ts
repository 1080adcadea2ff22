import { answer } from '@/server/http';
import { watch } from '@/server/watch';

export const dynamic = 'force-dynamic';

/** Figures of this server as Prometheus reads them. */
export const GET = (request: Request): Promise<Response> =>
  answer(request, async () => {
    const { registry } = watch();
    return new Response(await registry.metrics(), { headers: { 'Content-Type': registry.contentType } });
  });
