import { bench, say, type BenchState } from '../store';
import { command, type Command } from './define';

/** True where a command can be done now; otherwise why not, in one sentence. */
export const whenOf = (c: Command, s: BenchState = bench.get()): true | string => c.when?.(s) ?? true;

/** Does it, or says why it cannot be done. */
export function runCommand(c: Command | string): void {
  const found = typeof c === 'string' ? command(c) : c;
  if (!found) return;
  const can = whenOf(found);
  if (can === true) found.run();
  else say(can);
}
