/**
 * PostgreSQL's own tools for copies of a database. Secrets go through the environment, which other users do not see,
 * not the command.
 */
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { postgresBin, SetupError } from './setup';

/** Runs one of them to its end; what it says last is the reason where it fails. */
export function copyTool(name: 'pg_dump' | 'pg_restore', url: string | undefined, args: string[]): Promise<void> {
  const bin = postgresBin();
  if (!bin) throw new SetupError('PostgreSQL is not installed.');
  const env: NodeJS.ProcessEnv = { ...process.env, LC_ALL: 'C' };
  const to: string[] = [];
  if (url) {
    const open = new URL(url);
    env.PGPASSWORD = decodeURIComponent(open.password);
    open.password = '';
    to.push('--dbname', open.href);
  }
  return new Promise((resolve, reject) => {
    const child = spawn(join(bin, name), [...to, ...args], { env, stdio: ['ignore', 'ignore', 'pipe'] });
    let said = '';
    child.stderr.on('data', (b) => {
      said = (said + String(b)).slice(-4000);
    });
    child.on('error', reject);
    child.on('close', (code) => {
      if (code === 0) resolve();
      else
        reject(
          new SetupError(
            said
              .trim()
              .split('\n')
              .at(-1)
              ?.replace(/^pg_\w+: (?:error: )?/, '') || `${name} ended with ${code}.`,
          ),
        );
    });
  });
}
