import type { ElementPick } from '../mesh/picks';
import type { Warning } from '../recipe/define';

/** "2 of 9 seams lost their edges …", with the remedy of forgetting them for good; until then they wait for their edges to come back. */
export function lostSentence(lost: readonly number[], pick: ElementPick, noun: string, value: string): Warning {
  const gone = new Set(lost);
  return {
    text: `${lost.length} of ${pick.keys.length} ${noun} lost their ${pick.kind}s by a change before this step.`,
    remedy: {
      label: 'Forget them',
      values: { [value]: { kind: pick.kind, keys: pick.keys.filter((k) => !gone.has(k)) } },
    },
  };
}
