import { withPulse } from '../../core/math/pulse';
import { edgeKeys } from '../../core/mesh/picks';
import { Cancelled } from '../../core/recipe/define';
import { suggestSeams, type Suggestion } from '../../core/uv/suggest';
import { afterStep, type AtStep } from './afterStep';
import { defineCall } from './define';

/** A seam to be cut or closed; its edges by key. */
export interface SuggestedSeam extends Omit<Suggestion, 'edges'> {
  keys: number[];
}

interface SeamsQuery extends AtStep {
  /** What may be stretched so far is let be. */
  bound: number;
}

/** Seams that would be worth their length, and those that are not needed, in the layout of an unwrap step. */
export const seams = defineCall(async (host, { bound, ...at }: SeamsQuery, task): Promise<SuggestedSeam[]> => {
  const { mesh, step, picked } = await afterStep(host, at, task);
  const hide = typeof step.values.hide === 'number' ? step.values.hide : 0.5;
  const progress = (share: number): void => task.progress({ share });
  const list = withPulse(
    () => {
      if (task.cancelled()) throw new Cancelled();
    },
    () => suggestSeams(mesh, { hold: picked('hold'), bound, hide, progress }),
  );
  const keys = edgeKeys(mesh);
  return list.map(({ edges, ...rest }) => ({ ...rest, keys: edges.map((e) => keys[e]) }));
});
