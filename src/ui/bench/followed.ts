/** What became of picks by a change before them, told in a few words. */
import type { StepReport } from '../../workers/protocol';

type Report = Pick<StepReport, 'step' | 'figures'>;

const NAMES = ['kept', 'followed', 'lost'] as const;
const sum = (reports: readonly Report[], name: string): number =>
  reports.reduce((n, r) => n + (r.figures[name] ?? 0), 0);

/**
 * "Picks: 412 kept, 3 followed, 1 lost" where a change made that another than it was; nothing where steps came or went.
 */
export function becameOfPicks(before: readonly Report[] | undefined, now: readonly Report[]): string | undefined {
  if (!before || before.length !== now.length || before.some((r, i) => r.step !== now[i].step)) return undefined;
  const same = sum(before, 'followed') === sum(now, 'followed') && sum(before, 'lost') === sum(now, 'lost');
  if (same) return undefined;
  return `Picks: ${NAMES.map((name) => `${sum(now, name)} ${name}`).join(', ')}`;
}
