/** What all route handlers share: answers, refusals, origins, limits. */
import { ValidationError } from 'yup';
import { FileError } from '../core/formats/scene';
import { allClean } from '../document/clean';
import { tooDeep } from '../core/formats/depth';
import { PatchError } from '../document/patches';
import { InvalidDocument } from '../document/schema';
import { hostAsked, isOurs } from './hosts';
import { asRefusal, Refusal } from './refusal';
import { requestId, seen } from './watch';

export const MAX_JSON = 64 * 1024 * 1024;

const headers = { 'Cache-Control': 'no-store' };

/**
 * Runs a handler and answers with JSON, or with whatever Response it made; every failure becomes a status and one
 * sentence.
 */
export async function answer(request: Request, work: () => Promise<unknown>): Promise<Response> {
  const began = performance.now();
  const id = requestId(request);
  let failure: unknown;
  let response: Response;
  try {
    askedByName(request);
    const out = await work();
    response = out instanceof Response ? out : Response.json(out ?? {}, { headers });
  } catch (e) {
    failure = e;
    const r = refusalOf(e);
    response = Response.json({ error: r.message, code: codeOf(r.status), ...r.details }, { status: r.status, headers });
  }
  response.headers.set('X-Request-Id', id);
  seen(request, id, response.status, began, failure);
  return response;
}

function refusalOf(e: unknown): Refusal {
  if (e instanceof ValidationError) return new Refusal(400, `That cannot be accepted: ${e.errors[0]}.`);
  const known = e instanceof InvalidDocument || e instanceof PatchError || e instanceof FileError;
  return known ? new Refusal(422, e.message) : asRefusal(e);
}

const CODES: Readonly<Record<number, string>> = {
  400: 'unreadable',
  403: 'foreign',
  404: 'gone',
  408: 'stalled',
  409: 'overtaken',
  410: 'binned',
  413: 'too-large',
  421: 'other-host',
  429: 'too-many',
  422: 'unfit',
  500: 'unforeseen',
  503: 'no-database',
  507: 'disk-full',
};
/** For programs: what kind of no it is. */
const codeOf = (status: number): string => CODES[status] ?? `status-${status}`;

/** Only requests for this server by one of its own names are answered: another site's name may be made to lead here. */
function askedByName(request: Request): void {
  if (!isOurs(hostAsked(request.headers)))
    throw new Refusal(421, 'This server is not known by that name. Start it with --host to name it.');
}

const hostOf = (origin: string): string | undefined => (URL.canParse(origin) ? new URL(origin).host : undefined);

/** Refuses requests that another site's page sends. */
export function sameOrigin(request: Request): void {
  const origin = request.headers.get('origin');
  if (origin && hostOf(origin) !== hostAsked(request.headers))
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
  if (tooDeep(bytes)) throw new Refusal(400, 'That is nested deeper than anything that can be kept.');
  let value: unknown;
  try {
    value = JSON.parse(bytes.toString('utf8'));
  } catch {
    throw new Refusal(400, 'That is not readable JSON.');
  }
  if (!allClean(value)) throw new Refusal(422, 'That holds characters that cannot be kept.');
  return value;
}
