/** The names this server answers to: those of this machine to itself, and what `--host` adds. */
const OWN = ['127.0.0.1', 'localhost', '[::1]'];

export function isOurs(host: string | null, named = process.env.GLYPTA_HOSTS ?? ''): boolean {
  const name = (host ?? '').toLowerCase().replace(/:\d{1,5}$/, '');
  return OWN.includes(name) || (name !== '' && named.toLowerCase().split(',').includes(name));
}
