/** Requests to our own server: JSON in and out; a refusal becomes an error with its sentence. */
export class ServerError extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly details: Record<string, unknown>,
  ) {
    super(message);
  }
}
export class Unreachable extends Error {
  constructor() {
    super('The server cannot be reached just now.');
  }
}

export async function api<T>(
  path: string,
  init: { method?: string; json?: unknown; body?: BodyInit; headers?: Record<string, string> } = {},
): Promise<T> {
  let r: Response;
  try {
    r = await fetch(path, {
      method: init.method ?? (init.json !== undefined || init.body !== undefined ? 'POST' : 'GET'),
      headers: { ...(init.json !== undefined ? { 'Content-Type': 'application/json' } : {}), ...init.headers },
      body: init.json !== undefined ? JSON.stringify(init.json) : init.body,
    });
  } catch {
    throw new Unreachable();
  }
  const data = (await r.json().catch(() => ({}))) as Record<string, unknown>;
  if (!r.ok) {
    if (r.status === 502 || r.status === 504) throw new Unreachable();
    throw new ServerError(
      r.status,
      typeof data.error === 'string' ? data.error : `The server answered ${r.status}.`,
      data,
    );
  }
  return data as T;
}

export type { ShelfEntry } from '../../document/types';

/** Stores a file; answers its SHA-256. */
export const keepBlob = async (bytes: Uint8Array, type = 'application/octet-stream'): Promise<string> =>
  (
    await api<{ sha: string }>('/api/blobs', {
      body: new Blob([bytes as Uint8Array<ArrayBuffer>]),
      headers: { 'Content-Type': type },
    })
  ).sha;
