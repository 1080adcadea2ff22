/**
 * What is said of picks that lost what they picked, and what can be done about it; until then they wait for it to come
 * back.
 */
import type { ElementPick, PickKind, Resolved } from '../mesh/picks';
import { toBePicked, type Remedy, type Warning } from '../recipe/define';

export type Found = Pick<Resolved, 'lost' | 'nearest' | 'at'>;
/** Of a pick that lost nothing. */
export const NOTHING_LOST: Found = { lost: [], nearest: new Map(), at: [] };

/** The same pick with other keys. Where elements were is seen anew when they are followed next. */
function withKeys<P extends { keys: readonly number[] }>(pick: P, keys: readonly number[]): P {
  const { spots: _, ...rest } = pick as P & { spots?: unknown };
  return { ...rest, keys } as unknown as P;
}

function kept<P extends { keys: readonly number[] }>({ keys }: P, { lost }: Found): number[] {
  const gone = new Set(lost);
  return keys.filter((k) => !gone.has(k));
}

/** `values`: what the step is given for picks that are put right, each in its place. */
export function remedies<P extends { keys: readonly number[]; kind?: PickKind }>(
  picks: readonly { pick: P; found: Found }[],
  values: (right: P[]) => Record<string, unknown>,
): Remedy[] {
  const put = (right: (keys: number[], found: Found, index: number) => readonly number[] | undefined) =>
    values(
      picks.map(({ pick, found }, i) => {
        const keys = found.lost.length > 0 ? right(kept(pick, found), found, i) : undefined;
        return keys ? withKeys(pick, keys) : pick;
      }),
    );
  const near = picks.some(({ found }) => found.nearest.size > 0);
  // One pick at a time is picked again: the first that lost something; the others wait for their turn.
  const first = picks.findIndex(({ found }) => found.lost.length > 0);
  const again = put((keys, _, i) => (i === first ? toBePicked(keys) : undefined));
  const takeNearest = put((keys, { lost, nearest }) => [
    ...new Set([...keys, ...lost.flatMap((k) => nearest.get(k) ?? [])]),
  ]);
  return [
    ...(near ? [{ label: 'Take the nearest', values: takeNearest }] : []),
    { label: 'Pick again', values: again, again: picks[first]?.pick.kind ?? 'face' },
    { label: 'Forget them', values: put((keys) => keys) },
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
