import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { buildApplication, debianPackages, root } from './setup';

/**
 * `test`: format, types, lint, import boundaries and dead code, then Jest: unit tests and whole-application tests in
 * headless Chromium.
 */
export async function run(args: string[]): Promise<number> {
  debianPackages({ postgres: true, chromium: true });
  const bin = (name: string) => join(root, 'node_modules/.bin', name);
  const step = (title: string, command: string, parameters: string[], quiet: boolean) =>
    new Promise<number>((resolve) => {
      const child = spawn(command, parameters, {
        cwd: root,
        stdio: ['ignore', quiet ? 'pipe' : 'inherit', quiet ? 'pipe' : 'inherit'],
        // With more room for what is soon done with, less time goes into clearing it away.
        env: {
          ...process.env,
          FORCE_COLOR: '0',
          NODE_OPTIONS: `${process.env.NODE_OPTIONS ?? ''} --max-semi-space-size=32`,
        },
      });
      let said = `\n${title}\n`;
      for (const from of [child.stdout, child.stderr])
        from?.on('data', (b) => {
          said += String(b);
        });
      child.on('close', (code) => {
        if (quiet) console.error(said.trimEnd());
        resolve(code ?? 1);
      });
    });
  // The build and the checks do not depend on one another; each says what it has to say when it has ended.
  const checks = await Promise.all([
    buildApplication(),
    step('Format', bin('prettier'), ['--check', '--log-level', 'warn', '.'], true),
    step('Lint', bin('eslint'), ['.'], true),
    step('Import boundaries', bin('depcruise'), ['src', '--config', '.dependency-cruiser.cjs'], true),
    step('Licences', join(root, 'glypta'), ['licences'], true),
    step('Dead code', bin('knip'), ['--no-config-hints'], true),
  ]);
  const failed = checks.find((code) => typeof code === 'number' && code !== 0);
  if (typeof failed === 'number') return failed;
  console.error('\nTests');
  // Types after the build, which writes those of its own routes. Whole-application tests begin with an application of
  // their own, which takes half a minute: unit tests do not wait for it. Tests in a browser wait more than they work:
  // more of them than cores.
  const tests = (project: string, workers: number): Promise<number> =>
    step(
      `Tests: ${project}`,
      bin('jest'),
      [`--selectProjects=${project}`, '--passWithNoTests', '--testTimeout=180000', `--maxWorkers=${workers}`, ...args],
      false,
    );
  const ends = await Promise.all([step('Types', bin('tsc'), ['--noEmit'], true), tests('unit', 2), tests('whole', 3)]);
  return ends.find((code) => code !== 0) ?? 0;
}
