import { pathToFileURL } from 'node:url';
import { join } from 'node:path';

/** `bench`: the benchmarks live in bench/, bundled beside the command line. */
export async function run(args: string[]): Promise<number> {
  const file = pathToFileURL(join(process.env.GLYPTA_ROOT!, '.build/cli/bench/main.mjs')).href;
  return ((await import(file)) as { run(args: string[]): Promise<number> }).run(args);
}
