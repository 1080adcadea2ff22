/**
 * What is sent to be kept is received into a passing file first: a slow or stalled sender holds no connection to the
 * database, and what is too large, too slow or broken off leaves nothing.
 */
import { createReadStream } from 'node:fs';
import { mkdtemp, open, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bodyOf } from './http';
import { Refusal } from './refusal';

export interface Received {
  size: number;
  parts(): AsyncIterable<Uint8Array>;
}

/** Nothing for so long, and it is given up. Milliseconds. */
const STALLED = 20_000;
/** Being received at once from one address. */
const MOST_AT_ONCE = 48;
const receiving = new Map<string, number>();

async function next<T>(from: AsyncIterator<T>, patience: number): Promise<IteratorResult<T>> {
  let timer: ReturnType<typeof setTimeout>;
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Refusal(408, 'Nothing came for too long. Try again.')), patience);
  });
  return Promise.race([from.next(), late]).finally(() => clearTimeout(timer));
}

/** Receives the body of a request, hands it to `work`, and leaves nothing behind. */
export async function received<T>(
  request: Request,
  limit: number,
  work: (file: Received) => Promise<T>,
  patience = STALLED,
): Promise<T> {
  const address = request.headers.get('x-forwarded-for')?.split(',')[0].trim() ?? '';
  const others = receiving.get(address) ?? 0;
  if (others >= MOST_AT_ONCE) throw new Refusal(429, 'Too much is being sent at once. Try again in a moment.');
  receiving.set(address, others + 1);
  let folder = '';
  try {
    folder = await mkdtemp(join(tmpdir(), 'glypta-received-'));
    const path = join(folder, 'file');
    const file = await open(path, 'wx');
    let size = 0;
    const body = bodyOf(request, limit);
    try {
      for (;;) {
        const { done, value } = await next(body, patience);
        if (done) break;
        await file.write(value);
        size += value.length;
      }
    } catch (e) {
      // Not waited for: what is stalled does not end.
      void body.return(undefined).catch(() => undefined);
      throw e;
    } finally {
      await file.close();
    }
    return await work({ size, parts: () => createReadStream(path, { highWaterMark: 1 << 20 }) });
  } finally {
    const left = (receiving.get(address) ?? 1) - 1;
    if (left > 0) receiving.set(address, left);
    else receiving.delete(address);
    if (folder) await rm(folder, { recursive: true, force: true });
  }
}
