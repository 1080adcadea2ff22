/**
 * The address of a database as a person writes it, taken apart for the drivers: how safe the connection must be is part
 * of it.
 */
import { readFileSync } from 'node:fs';

export interface Tls {
  rejectUnauthorized: boolean;
  ca?: string;
}
export interface Address {
  /** Without what is said of TLS. */
  url: string;
  /** Absent where the connection is plain. */
  ssl?: Tls;
}

/** Without checking who answers, as the database's own tools understand these words; and with. */
const TRUSTING = ['prefer', 'require'];
const CHECKING = ['verify-ca', 'verify-full'];

/** What is not an address, or asks for a safety that is not known, is refused in one sentence. */
export function databaseAddress(text: string): Address {
  if (!/^postgres(?:ql)?:\/\//.test(text) || !URL.canParse(text))
    throw new Error('A database is named by an address that begins with postgres://.');
  const url = new URL(text);
  const mode = url.searchParams.get('sslmode') ?? 'disable';
  const root = url.searchParams.get('sslrootcert');
  url.searchParams.delete('sslmode');
  url.searchParams.delete('sslrootcert');
  if (mode === 'disable') return { url: url.href };
  if (TRUSTING.includes(mode)) return { url: url.href, ssl: { rejectUnauthorized: false } };
  if (!CHECKING.includes(mode))
    throw new Error('sslmode is one of disable, prefer, require, verify-ca and verify-full.');
  let ca: string | undefined;
  try {
    ca = root ? readFileSync(root, 'utf8') : undefined;
  } catch {
    throw new Error(`The certificate ${root} cannot be read.`);
  }
  return { url: url.href, ssl: { rejectUnauthorized: true, ...(ca ? { ca } : {}) } };
}
