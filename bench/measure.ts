/** What a benchmark is, and how time is taken. */
export interface Result {
  name: string;
  value: number;
  unit: string;
  peer?: string;
  peerValue?: number;
  ratio?: number;
  bar: string;
  ok: boolean;
}
export interface Benchmark {
  name: string;
  run(): Promise<Result[]>;
}

/** Median of `runs` timings in milliseconds, after `warm` runs that do not count. */
export async function median(runs: number, work: () => unknown, warm = 1): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < runs + warm; i++) {
    const start = performance.now();
    await work();
    if (i >= warm) times.push(performance.now() - start);
  }
  return times.sort((a, b) => a - b)[times.length >> 1];
}
