/** What is said of picks that lost what they picked, and what can be done about it; until then they wait for it to come back. */
import type { ElementPick, Resolved } from '../mesh/picks';
import type { Warning } from '../recipe/define';

export type Found = Pick<Resolved, 'lost' | 'nearest' | 'at'>;
/** Of a pick that lost nothing. */
export const NOTHING_LOST: Found = { lost: [], nearest: new Map(), at: [] };

/** The same pick without what it lost, or with what is nearest instead. Where elements were is seen anew when they are followed next. */
function without<P extends { keys: readonly number[] }>(pick: P, { lost, nearest }: Found, take: boolean): P {
  const gone = new Set(lost);
  const keys = pick.keys.filter((k) => !gone.has(k));
  const near = take ? lost.flatMap((k) => nearest.get(k) ?? []) : [];
  const { spots: _, ...rest } = pick as P & { spots?: unknown };
  return { ...rest, keys: [...new Set([...keys, ...near])] } as unknown as P;
}

/** `values`: what the step is given for picks that are put right, each in its place. */
export function remedies<P extends { keys: readonly number[] }>(
  picks: readonly { pick: P; found: Found }[],
  values: (right: P[]) => Record<string, unknown>,
): NonNullable<Warning['remedies']> {
  const put = (take: boolean) =>
    values(picks.map(({ pick, found }) => (found.lost.length > 0 ? without(pick, found, take) : pick)));
  const near = picks.some(({ found }) => found.nearest.size > 0);
  return [
    ...(near ? [{ label: 'Take the nearest', values: put(true) }] : []),
    { label: 'Forget them', values: put(false) },
  ];
}

/** "2 of 9 seams lost their edges …", with what can be done. */
export function lostSentence(found: Found, pick: ElementPick, noun: string, value: string): Warning {
  return {
    text: `${found.lost.length} of ${pick.keys.length} ${noun} lost their ${pick.kind}s by a change before this step.`,
    remedies: remedies([{ pick, found }], ([right]) => ({ [value]: right })),
    at: found.at,
  };
}
