/** The worker's side of the wire: requests in, answers, progress and notes out. */
import { Cancelled } from '../core/recipe';
import { calls, type CallName } from './calls';
import type { Call } from './calls/define';
import type { Host, Task } from './host';
import type { ToPage, ToWorker } from './protocol';

export interface Port {
  postMessage(message: ToPage, transfer?: Transferable[]): void;
  onmessage: ((e: MessageEvent<ToWorker>) => void) | null;
}

export async function fetchBlob(sha: string): Promise<Uint8Array> {
  const r = await fetch(`/api/blobs/${sha}`);
  if (!r.ok) throw new Error('The file behind this step could not be fetched.');
  return new Uint8Array(await r.arrayBuffer());
}

const PROGRESS_EVERY = 80;

export function serve(port: Port, host: Host): Host {
  let stops: Int32Array | undefined;
  port.onmessage = ({ data }) => {
    if ('stops' in data) stops = data.stops;
    else if ('sync' in data) host.sync(data.sync);
    else void answer(data.id, data.call as CallName, data.query);
  };
  async function answer(id: number, name: CallName, query: unknown): Promise<void> {
    let told = 0;
    const task: Task = {
      transfer: [],
      cancelled: () => stops !== undefined && Atomics.load(stops, id % stops.length) === id,
      progress: (progress) => {
        const now = performance.now();
        if (now - told < PROGRESS_EVERY) return;
        told = now;
        port.postMessage({ id, progress });
      },
    };
    try {
      const call = calls[name] as unknown as Call<unknown, unknown>;
      port.postMessage({ id, ok: true, answer: await call.run(host, query, task) }, task.transfer);
    } catch (e) {
      const error = e instanceof Error ? e.message : 'That could not be done.';
      port.postMessage({ id, ok: false, cancelled: e instanceof Cancelled, error });
    }
  }
  return host;
}
