/**
 * Mutants of every kind of file, each taken as bringing it in takes it: what is said, what comes in, how long and with
 * how much memory.
 */
import { fork, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { dice, fuzzSeeds, mutant } from '../src/core/testing/mutants';
import { takeFile, type Finding } from '../src/core/testing/reading';
import type { Benchmark, Result } from './measure';

const MUTANTS = Number(process.env.GLYPTA_MUTANTS ?? 20000);
const DEADLINE = 10_000;
const MOST_MEMORY = 1 << 30;

/** In the process that reads: mutant `n` of seed `k`. */
export async function readMutants(): Promise<void> {
  const seeds = await fuzzSeeds();
  process.on('message', (n: number) => {
    const [name, bytes] = seeds[n % seeds.length];
    void takeFile(name, mutant(bytes, dice(n + 1))).then((found) => process.send!({ n, name, found }));
  });
  process.send!('ready');
  await new Promise((r) => process.once('disconnect', r));
}

const resident = (pid: number): number => {
  try {
    return 4096 * Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]);
  } catch {
    return 0;
  }
};

async function run(): Promise<Result[]> {
  const tally = { 'engine words': 0, 'NaN accepted': 0, invalid: 0, slow: 0, died: 0, large: 0 };
  let slowest = 0;
  const show = (n: number, kind: string, said: string) => console.error(`  mutant ${n}: ${kind}: ${said}`);
  let next = 0;
  const lane = async () => {
    let child: ChildProcess | undefined;
    const begin = () =>
      new Promise<ChildProcess>((resolve) => {
        const c = fork(process.argv[1], ['bench'], {
          env: { ...process.env, GLYPTA_READS: '1' },
          serialization: 'advanced',
          stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
        });
        c.once('message', () => resolve(c));
      });
    while (next < MUTANTS) {
      const n = next++;
      child ??= await begin();
      const c = child;
      const begun = performance.now();
      const outcome = await new Promise<{ name: string; found: Finding[] } | 'slow' | 'died' | 'large'>((resolve) => {
        c.removeAllListeners('message').removeAllListeners('exit');
        const end = (o: { name: string; found: Finding[] } | 'slow' | 'died' | 'large') => {
          clearTimeout(timer);
          clearInterval(watch);
          resolve(o);
        };
        const timer = setTimeout(() => end('slow'), DEADLINE);
        const watch = setInterval(() => {
          if (resident(c.pid!) > MOST_MEMORY) end('large');
        }, 50);
        c.once('message', (m) => end(m as { name: string; found: Finding[] }));
        c.once('exit', () => end('died'));
        c.send(n);
      });
      slowest = Math.max(slowest, performance.now() - begun);
      if (typeof outcome === 'string') {
        tally[outcome]++;
        show(n, outcome, '');
        c.kill('SIGKILL');
        child = undefined;
      } else
        for (const f of outcome.found) {
          tally[f.kind]++;
          show(n, `${outcome.name}: ${f.kind}`, f.said);
        }
    }
    child?.kill('SIGKILL');
  };
  await Promise.all([lane(), lane()]);
  const count = (name: string, value: number): Result => ({ name, value, unit: '', bar: '0', ok: value === 0 });
  return [
    { name: 'mutants taken', value: MUTANTS, unit: '', bar: '≥ 20,000', ok: MUTANTS >= 20000 },
    count('… answered in engine words', tally['engine words']),
    count('… accepted with NaN or infinity', tally['NaN accepted']),
    count('… over 10 s', tally.slow),
    count('… over 1 GB', tally.large),
    count('… that ended the process', tally.died),
    { name: '… slowest', value: slowest, unit: 'ms', bar: '≤ 10,000', ok: slowest <= DEADLINE },
  ];
}

export const fuzz: Benchmark[] = [{ name: 'fuzz', run }];
