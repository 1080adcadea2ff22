import { spawn } from 'node:child_process';
import { setPriority } from 'node:os';
import { join } from 'node:path';
import { buildApplication, debianPackages, root } from './setup';

/** More than any test takes on a slow machine that does all else beside it, ms. */
const LONGEST = 600_000;
/** How far behind what comes first the rest stands. */
const GENTLY = 4;

/**
 * `test`: format, types, lint, import boundaries and dead code, then Jest: unit tests and whole-application tests in
 * headless Chromium. With `--thorough` all that could be tried; see `core/testing/thorough.ts`.
 */
export async function run(given: string[]): Promise<number> {
  const args = given.filter((a) => a !== '--thorough');
  const thorough = args.length < given.length;
  const bin = (name: string) => join(root, 'node_modules/.bin', name);
  const step = (title: string, command: string, parameters: string[], quiet: boolean, gently = quiet) =>
    new Promise<number>((resolve) => {
      const child = spawn(command, parameters, {
        cwd: root,
        stdio: ['ignore', quiet ? 'pipe' : 'inherit', quiet ? 'pipe' : 'inherit'],
        // With more room for what is soon done with, less time goes into clearing it away.
        env: {
          ...process.env,
          FORCE_COLOR: '0',
          ...(thorough ? { GLYPTA_THOROUGH: '1' } : {}),
          NODE_OPTIONS: `${process.env.NODE_OPTIONS ?? ''} --max-semi-space-size=32`,
        },
      });
      // The build and the tests in a browser take longest, and come first; all else goes on where they wait.
      try {
        if (gently && child.pid !== undefined) setPriority(child.pid, GENTLY);
      } catch {
        // It has ended already.
      }
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
  const tests = (project: string, workers: number, gently: boolean): Promise<number> =>
    step(
      `Tests: ${project}`,
      bin('jest'),
      [
        `--selectProjects=${project}`,
        '--passWithNoTests',
        `--testTimeout=${LONGEST}`,
        `--maxWorkers=${workers}`,
        ...args,
      ],
      false,
      gently,
    );
  // All at once, each as soon as it has what it needs; what is not shown as it goes says what it has to say at its end.
  // Types are looked at after the build, which writes those of its own routes. Tests in a browser wait more than they
  // work: more of them than cores.
  const packages = debianPackages({ postgres: true, chromium: true });
  const built = buildApplication();
  const all: Record<string, Promise<number>> = {
    Format: step('Format', bin('prettier'), ['--check', '--log-level', 'warn', '.'], true),
    Lint: step('Lint', bin('eslint'), ['.'], true),
    'Import boundaries': step(
      'Import boundaries',
      bin('depcruise'),
      ['src', '--config', '.dependency-cruiser.cjs'],
      true,
    ),
    Licences: step('Licences', join(root, 'glypta'), ['licences'], true),
    'Dead code': step('Dead code', bin('knip'), ['--no-config-hints'], true),
    // The one made of native code takes a quarter of the time; what reads types for lint and build needs the other.
    Types: built.then(() =>
      step('Types', process.execPath, [join(root, 'node_modules/typescript-native/bin/tsc'), '--noEmit'], true),
    ),
    'Unit tests': packages.then(() => tests('unit', 2, true)),
    'Whole-application tests': Promise.all([packages, built]).then(() => tests('whole', 3, false)),
  };
  const ends = await Promise.all(Object.values(all));
  const failed = Object.keys(all).filter((_, i) => ends[i] !== 0);
  if (failed.length > 0) console.error(`\nNot right: ${failed.join(', ')}.`);
  return failed.length > 0 ? (ends.find((code) => code !== 0) ?? 1) : 0;
}
