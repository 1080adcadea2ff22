/**
 * `./glypta bench [--only NAME] [--json]`: medians of several runs, each beside a peer where a library does the same
 * job.
 */
import { spawnSync } from 'node:child_process';
import { parseArgs } from '../src/cli/usage';
import type { Result } from './measure';

/** A benchmark in a process of its own, so that none pays for the heap another left behind. */
function alone(name: string): Result[] {
  const r = spawnSync(
    process.execPath,
    ['--max-old-space-size=6144', process.argv[1], 'bench', '--only', name, '--json'],
    { encoding: 'utf8', stdio: ['ignore', 'pipe', 'inherit'], maxBuffer: 1 << 24 },
  );
  return JSON.parse(r.stdout) as Result[];
}

/** Shares of a hundred by hundredths: a bar of 99 % is not met by 98.9. */
function digits(value: number, unit: string): string {
  if (unit === '%') return value.toFixed(2);
  return value.toFixed(value < 10 ? 4 : 0);
}

export async function run(args: string[]): Promise<number> {
  if (process.env.GLYPTA_READS) {
    await (await import('./fuzz')).readMutants();
    return 0;
  }
  const o = parseArgs(args, ['only'], ['json']);
  const json = o.flags.has('json');
  const { all } = await import('./all');
  const named = all.filter((b) => b.name === o.values.only);
  // A name in full means that one, though others hold it: each of several is run by its full name.
  const chosen = named.length > 0 ? named : all.filter((b) => b.name.includes(o.values.only ?? ''));
  if (chosen.length === 0) {
    console.error(`There is no benchmark “${o.values.only}”. There are: ${all.map((b) => b.name).join(', ')}.`);
    return 2;
  }
  const results: Result[] = [];
  for (const b of chosen) {
    if (!json) console.error(`${b.name} …`);
    for (const r of chosen.length > 1 ? alone(b.name) : await b.run()) {
      results.push(r);
      if (!json)
        console.log(
          `${r.ok ? 'ok  ' : 'MISS'} ${r.name.padEnd(34)} ${digits(r.value, r.unit).padStart(8)} ` +
            `${r.unit.padEnd(4)} ` +
            `${r.peer ? `${r.peer} ${digits(r.peerValue!, r.unit)} ${r.unit}, ${r.ratio!.toFixed(1)}×` : ''}  ` +
            `bar ${r.bar}`,
        );
    }
  }
  if (json) console.log(JSON.stringify(results, null, 2));
  return results.every((r) => r.ok) ? 0 : 1;
}
