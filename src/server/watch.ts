/**
 * What operators see of requests: figures for Prometheus, and one line of JSON each in the log. Neither holds anything
 * of a project.
 */
import { randomUUID } from 'node:crypto';
import pino, { type Logger } from 'pino';
import { collectDefaultMetrics, Counter, Histogram, Registry } from 'prom-client';

interface Watch {
  log: Logger;
  registry: Registry;
  requests: Counter<'route' | 'method' | 'status'>;
  seconds: Histogram<'route' | 'method'>;
}

/** Each route is bundled on its own; the process has one of these. */
const holder = globalThis as typeof globalThis & { glyptaWatch?: Watch };

const LEVELS = ['debug', 'info', 'warn', 'error', 'silent'];

export function watch(): Watch {
  if (holder.glyptaWatch) return holder.glyptaWatch;
  const registry = new Registry();
  collectDefaultMetrics({ register: registry, prefix: 'glypta_' });
  const registers = [registry];
  const asked = process.env.GLYPTA_LOG ?? '';
  holder.glyptaWatch = {
    log: pino({ level: LEVELS.includes(asked) ? asked : 'warn', base: { pid: process.pid } }, pino.destination(2)),
    registry,
    requests: new Counter({
      name: 'glypta_requests_total',
      help: 'Requests answered, by route, method and status.',
      labelNames: ['route', 'method', 'status'],
      registers,
    }),
    seconds: new Histogram({
      name: 'glypta_request_seconds',
      help: 'How long answers took.',
      labelNames: ['route', 'method'],
      buckets: [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2, 5, 10],
      registers,
    }),
  };
  return holder.glyptaWatch;
}

/**
 * A path as its route: what names one project, item or file becomes `:id`, so that there are as many routes as there
 * are files for them.
 */
export const routeOf = (path: string): string =>
  path.replace(/\/(projects|library|blobs)\/(?!import(?:\/|$))[^/]+/, '/$1/:id');

/** The id a proxy gave the request, or one of our own. */
export function requestId(request: Request): string {
  const given = request.headers.get('x-request-id') ?? '';
  return /^[\w.-]{1,64}$/.test(given) ? given : randomUUID();
}

/** Where an error came from, without its message: that may quote what somebody made. */
export const traceOf = (e: unknown): { error: string; at: string[] } => ({
  error: e instanceof Error ? e.name : typeof e,
  at:
    e instanceof Error
      ? (e.stack ?? '')
          .split('\n')
          .filter((l) => /^\s+at /.test(l))
          .slice(0, 12)
          .map((l) => l.trim())
      : [],
});

export function seen(request: Request, id: string, status: number, began: number, failure?: unknown): void {
  const { log, requests, seconds } = watch();
  const route = routeOf(new URL(request.url).pathname);
  const { method } = request;
  const ms = performance.now() - began;
  requests.inc({ route, method, status: String(status) });
  seconds.observe({ route, method }, ms / 1000);
  const line = { id, method, route, status, ms: Math.round(10 * ms) / 10 };
  // Asked for every few seconds; whoever asks is told.
  if (route.startsWith('/api/health')) log.debug(line);
  else if (failure !== undefined && status >= 500) log.error({ ...line, ...traceOf(failure) });
  else if (status >= 500) log.error(line);
  else log.info(line);
}
