import { withPulse } from '../../core/math/pulse';
import { edgeKeys, resolve } from '../../core/mesh/picks';
import { Cancelled } from '../../core/recipe/define';
import type { ElementPick } from '../../core/mesh';
import { suggestSeams, type Suggestion } from '../../core/uv/suggest';
import { followDocument } from '../../document/follow';
import { defineCall } from './define';

/** A seam to be cut or closed; its edges by key. */
export interface SuggestedSeam extends Omit<Suggestion, 'edges'> {
  keys: number[];
}

interface SeamsQuery {
  piece: string;
  /** The unwrap step whose layout is looked at. */
  step: string;
  /** What may be stretched so far is let be. */
  bound: number;
}

/** Seams that would be worth their length, and those that are not needed. */
export const seams = defineCall(async (host, { piece, step, bound }: SeamsQuery, task): Promise<SuggestedSeam[]> => {
  const found = host.doc.pieces.find((p) => p.id === piece);
  const at = found?.recipe.find((s) => s.id === step);
  if (!found || !at) throw new Error('The piece is no longer there.');
  const { outcomes } = await followDocument(host.doc, {
    memory: host.memory,
    blob: host.blob,
    cancelled: task.cancelled,
  }).piece(found);
  const outcome = outcomes.find((o) => o.step === step);
  if (!outcome || outcome.error) throw new Error(outcome?.error ?? 'The step is no longer there.');
  const { mesh } = outcome;
  const hold = new Set(resolve(mesh, at.values.hold as ElementPick).indices);
  const hide = typeof at.values.hide === 'number' ? at.values.hide : 0.5;
  const progress = (share: number): void => task.progress({ share });
  const list = withPulse(
    () => {
      if (task.cancelled()) throw new Cancelled();
    },
    () => suggestSeams(mesh, { hold, bound, hide, progress }),
  );
  const keys = edgeKeys(mesh);
  return list.map(({ edges, ...rest }) => ({ ...rest, keys: edges.map((e) => keys[e]) }));
});
