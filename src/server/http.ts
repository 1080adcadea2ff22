/** What all route handlers share: answers, refusals, origins, limits. */
import { ValidationError } from 'yup';
import { InvalidDocument } from '../document/schema';
import { asRefusal, Refusal } from './refusal';

export const MAX_JSON = 64 * 1024 * 1024;

const headers = { 'Cache-Control': 'no-store' };

/** Runs a handler and answers with JSON, or with whatever Response it made; every failure becomes a status and one sentence. */
export async function answer(work: () => Promise<unknown>): Promise<Response> {
  try {
    const out = await work();
    return out instanceof Response ? out : Response.json(out ?? {}, { headers });
  } catch (e) {
    const r = refusalOf(e);
    if (r.status === 500) console.error(e); // the others are known and said in full
    return Response.json({ error: r.message, ...r.details }, { status: r.status, headers });
  }
}

function refusalOf(e: unknown): Refusal {
  if (e instanceof ValidationError) return new Refusal(400, `That cannot be accepted: ${e.errors[0]}.`);
  return e instanceof InvalidDocument ? new Refusal(422, e.message) : asRefusal(e);
}

/** Refuses requests that another site's page sends. */
export function sameOrigin(request: Request): void {
  const origin = request.headers.get('origin');
  if (origin && new URL(origin).host !== request.headers.get('host'))
    throw new Refusal(403, 'Requests from other sites are not accepted.');
}

/** The body's chunks, refused as soon as they are known to be more than the limit. */
export async function* bodyOf(request: Request, limit: number): AsyncGenerator<Uint8Array> {
  const tooLarge = () =>
    new Refusal(413, `That is larger than ${Math.round(limit / 1048576)} MB, the most that is accepted.`);
  if (Number(request.headers.get('content-length') ?? 0) > limit) throw tooLarge();
  if (!request.body) return;
  let size = 0;
  const reader = request.body.getReader();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    size += value.length;
    if (size > limit) {
      await reader.cancel();
      throw tooLarge();
    }
    yield value;
  }
}

export async function bytesOf(request: Request, limit: number): Promise<Buffer> {
  sameOrigin(request);
  const parts: Uint8Array[] = [];
  for await (const c of bodyOf(request, limit)) parts.push(c);
  return Buffer.concat(parts);
}

export async function jsonOf(request: Request, limit = MAX_JSON): Promise<unknown> {
  const bytes = await bytesOf(request, limit);
  try {
    return JSON.parse(bytes.toString('utf8'));
  } catch {
    throw new Refusal(400, 'That is not readable JSON.');
  }
}
