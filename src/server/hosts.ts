/** The names this server answers to: those of this machine to itself, and what `--host` adds. */
const OWN = ['127.0.0.1', 'localhost', '[::1]'];

export function isOurs(host: string | null, named = process.env.GLYPTA_HOSTS ?? ''): boolean {
  const name = (host ?? '').toLowerCase().replace(/:\d{1,5}$/, '');
  return OWN.includes(name) || (name !== '' && named.toLowerCase().split(',').includes(name));
}

/**
 * The name a request asks for. What a proxy says of it counts only where the server was started behind one: anybody
 * could say it.
 */
export function hostAsked(headers: Headers, behindProxy = process.env.GLYPTA_PROXY === '1'): string | null {
  const passed = behindProxy ? headers.get('x-forwarded-host') : null;
  return passed?.split(',')[0].trim() ?? headers.get('host');
}
