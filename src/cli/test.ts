import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { buildApplication, debianPackages, root } from './setup';

/** `test`: types, lint and import boundaries, then Jest: unit tests and whole-application tests in headless Chromium. */
export async function run(args: string[]): Promise<number> {
  debianPackages({ postgres: true, chromium: true });
  const bin = (name: string) => join(root, 'node_modules/.bin', name);
  const step = (title: string, command: string, parameters: string[]) =>
    new Promise<number>((resolve) => {
      console.error(`\n${title}`);
      spawn(command, parameters, {
        cwd: root,
        stdio: ['ignore', 'inherit', 'inherit'],
        env: { ...process.env, FORCE_COLOR: '0' },
      }).on('exit', (code) => resolve(code ?? 1));
    });
  buildApplication(); // first: it writes the types of its own routes
  for (const [title, command, parameters] of [
    ['Types', bin('tsc'), ['--noEmit']],
    ['Lint', bin('eslint'), ['.', '--max-warnings', '0']],
    ['Import boundaries', bin('depcruise'), ['src', '--config', '.dependency-cruiser.cjs']],
    ['Tests', bin('jest'), ['--testTimeout=60000', ...args]],
  ] as const) {
    const code = await step(title, command, [...parameters]);
    if (code !== 0) return code;
  }
  return 0;
}
