/**
 * Saves over HTTP against the whole application, client and server on one machine: one client, fifty at once, a hundred
 * saves a second.
 */
import { randomUUID } from 'node:crypto';
import { Agent, request } from 'node:http';
import { addPiece, newProject } from '../src/document/changes';
import { startApp, type App } from '../tests/support';
import type { Benchmark, Result } from './measure';

const sleep = (ms: number) => new Promise((r) => setTimeout(r, ms));
const agent = new Agent({ keepAlive: true, maxSockets: 100 });

/** What the server answers to JSON sent to it; an answer that is no 200 is an error. */
export function post<T>(app: App, path: string, body: unknown): Promise<T> {
  const text = JSON.stringify(body);
  return new Promise((resolve, reject) => {
    const headers = { 'content-type': 'application/json', 'content-length': Buffer.byteLength(text) };
    const ask = request(app.address + path, { method: 'POST', agent, headers }, (r) => {
      const parts: Buffer[] = [];
      r.on('data', (b: Buffer) => parts.push(b));
      r.on('error', reject);
      r.on('end', () => {
        const said = Buffer.concat(parts).toString();
        if (r.statusCode === 200) resolve(JSON.parse(said) as T);
        else reject(new Error(`${r.statusCode}: ${said.slice(0, 200)}`));
      });
    });
    ask.on('error', (e: NodeJS.ErrnoException) => {
      // The server had closed a connection that was still for a while: asked once more, as every browser does.
      if (ask.reusedSocket && e.code === 'ECONNRESET') post<T>(app, path, body).then(resolve, reject);
      else reject(e);
    });
    ask.end(text);
  });
}

/** One window at work on a project of its own: each save changes a name. */
export class Window {
  private constructor(
    private readonly app: App,
    readonly id: string,
    private readonly pieces: number,
    public base: number,
  ) {}

  static async open(app: App, pieces = 0): Promise<Window> {
    const { id } = await post<{ id: string }>(app, '/api/projects', { name: 'Quay', purpose: 'render', units: 'mm' });
    const w = new Window(app, id, pieces, 0);
    if (pieces > 0) {
      const doc = newProject('Quay');
      const recipe = [{ id: 's', kind: 'box', values: { width: 1 }, on: true }];
      for (let i = 0; i < pieces; i++) addPiece(doc, `p${i}`, `plank ${i}`, null, recipe);
      await w.send({ op: 'replace', path: ['pieces'], value: doc.pieces });
    }
    return w;
  }

  private async send(patch: object): Promise<void> {
    const change = { base: this.base, patches: [patch], label: 'rename', window: 'bench', id: randomUUID() };
    const { revision } = await post<{ revision: number }>(this.app, `/api/projects/${this.id}/changes`, change);
    if (revision !== this.base + 1) throw new Error(`saved as ${revision}, not ${this.base + 1}`);
    this.base = revision;
  }

  /** Milliseconds it took. */
  async save(): Promise<number> {
    const path = this.pieces > 0 ? ['pieces', this.base % this.pieces, 'name'] : ['name'];
    const start = performance.now();
    await this.send({ op: 'replace', path, value: `quay ${this.base}` });
    return performance.now() - start;
  }
}

export const quantile = (times: readonly number[], share: number): number =>
  [...times].sort((a, b) => a - b)[Math.min(times.length - 1, Math.floor(share * times.length))];

async function alone(app: App, pieces: number): Promise<number> {
  const w = await Window.open(app, pieces);
  for (let i = 0; i < 40; i++) await w.save();
  const times: number[] = [];
  for (let i = 0; i < 300; i++) times.push(await w.save());
  return quantile(times, 0.5);
}

const AT_ONCE = 50;
const SECONDS = 6;

async function together(app: App): Promise<{ rate: number; p95: number }> {
  const all = await Promise.all(Array.from({ length: AT_ONCE }, () => Window.open(app)));
  let saves = 0;
  const until = performance.now() + 1000 * SECONDS;
  await Promise.all(
    all.map(async (w) => {
      while (performance.now() < until) {
        await w.save();
        saves++;
      }
    }),
  );
  // A hundred a second, each window two, begun at their own moments: what a save then takes.
  const times: number[] = [];
  const start = performance.now();
  await Promise.all(
    all.map(async (w, i) => {
      for (let k = 0; k < 2 * SECONDS; k++) {
        const due = start + 500 * k + (500 * i) / AT_ONCE;
        await sleep(Math.max(0, due - performance.now()));
        times.push(await w.save());
      }
    }),
  );
  return { rate: saves / SECONDS, p95: quantile(times, 0.95) };
}

async function run(): Promise<Result[]> {
  const app = await startApp(['--no-demo']);
  try {
    const empty = await alone(app, 0);
    const large = await alone(app, 5000);
    const { rate, p95 } = await together(app);
    return [
      { name: 'save, one client, empty: median', value: empty, unit: 'ms', bar: '≤ 10 ms', ok: empty <= 10 },
      { name: '… with 5,000 pieces', value: large, unit: 'ms', bar: '≤ 15 ms', ok: large <= 15 },
      { name: `saves of ${AT_ONCE} clients at once`, value: rate, unit: '1/s', bar: '≥ 250', ok: rate >= 250 },
      { name: '… at 100 a second: 95th percentile', value: p95, unit: 'ms', bar: '≤ 100 ms', ok: p95 <= 100 },
    ];
  } finally {
    agent.destroy();
    await app.stop();
  }
}

export const saves: Benchmark = { name: 'saves', run };
