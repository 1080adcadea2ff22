import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './setup';
import { parseArgs } from './usage';

export interface LockedPackage {
  version?: string;
  integrity?: string;
  license?: string;
  dev?: boolean;
  optional?: boolean;
  resolved?: string;
}
export interface Lock {
  packages: Readonly<Record<string, LockedPackage>>;
}

/**
 * Licences under which a part may be used in a product and handed on with it; LGPL for libraries that stay apart from
 * it.
 */
const ACCEPTED = new Set([
  '0BSD',
  'Apache-2.0',
  'BSD-2-Clause',
  'BSD-3-Clause',
  'BlueOak-1.0.0',
  'CC-BY-4.0',
  'CC0-1.0',
  'ISC',
  'LGPL-3.0-or-later',
  'MIT',
  'MPL-2.0',
  'OFL-1.1',
  'Python-2.0',
]);

/** An SPDX expression of AND and OR: of alternatives one must do, of parts all. */
export const isAccepted = (expression: string): boolean =>
  expression
    .replace(/[()]/g, '')
    .split(' OR ')
    .some((one) => one.split(' AND ').every((id) => ACCEPTED.has(id.trim())));

const nameOf = (path: string): string => path.slice(path.lastIndexOf('node_modules/') + 'node_modules/'.length);
const parts = (lock: Lock): [string, LockedPackage][] => Object.entries(lock.packages).filter(([path]) => path !== '');

/**
 * What is wrong with a lock file, and with what is installed by it: a sentence each. Nothing is asked of the network.
 */
export function problemsOf(lock: Lock, installed: Lock): string[] {
  const out: string[] = [];
  for (const [path, p] of parts(lock)) {
    const name = nameOf(path);
    if (!/^sha512-[\w+/]{86}==$/.test(p.integrity ?? ''))
      out.push(`${name} is locked without a sha512 of its content.`);
    if (p.resolved && !p.resolved.startsWith('https://registry.npmjs.org/'))
      out.push(`${name} does not come from the package registry.`);
    if (!p.license) out.push(`${name} does not say under which licence it is given.`);
    else if (!isAccepted(p.license)) out.push(`${name} is given under ${p.license}, which is not accepted.`);
    const here = installed.packages[path];
    if (!here && !p.optional) out.push(`${name} is locked and not installed.`);
    if (here && (here.version !== p.version || here.integrity !== p.integrity))
      out.push(`${name} is installed as ${here.version}, not as the lock file has it, ${p.version}.`);
  }
  for (const path of Object.keys(installed.packages))
    if (!lock.packages[path]) out.push(`${nameOf(path)} is installed and not locked.`);
  return out;
}

/** The page that lists them: what goes out with the application first, then what only builds and tests it. */
export function licencePage(lock: Lock): string {
  const table = (of: [string, LockedPackage][]) => {
    const by = new Map<string, string[]>();
    for (const [path, p] of of) {
      const list = by.get(p.license ?? 'not said') ?? [];
      list.push(`${nameOf(path)} ${p.version}`);
      by.set(p.license ?? 'not said', list);
    }
    const rows = [...by].sort(([a], [b]) => (a < b ? -1 : 1));
    return rows.map(([licence, list]) => `**${licence}** (${list.length}): ${[...new Set(list)].sort().join(', ')}`);
  };
  const all = parts(lock);
  return [
    '# Licences of the packages we use',
    'Written by `./glypta licences --write` from the lock file; `./glypta test` sees to it that this page is ' +
      'what the lock file says.',
    '## In the application',
    ...table(all.filter(([, p]) => !p.dev)),
    '## For building and testing it',
    ...table(all.filter(([, p]) => p.dev)),
  ]
    .join('\n\n')
    .concat('\n');
}

/** `licences [--write]`: whether all packages are locked, installed as locked, and given under licences we accept. */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, [], ['write']);
  const read = (path: string) => JSON.parse(readFileSync(join(root, path), 'utf8')) as Lock;
  const lock = read('package-lock.json');
  const problems = problemsOf(lock, read('node_modules/.package-lock.json'));
  const page = join(root, 'docs/licences.md');
  if (o.flags.has('write')) writeFileSync(page, licencePage(lock));
  else if (!existsSync(page) || readFileSync(page, 'utf8') !== licencePage(lock))
    problems.push('docs/licences.md is not what the lock file says: run ./glypta licences --write.');
  for (const p of problems) console.error(p);
  return problems.length > 0 ? 1 : 0;
}
