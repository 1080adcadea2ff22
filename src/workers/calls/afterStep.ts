import { resolve, uvSetCalled, withSetAhead, type ElementPick, type Mesh } from '../../core/mesh';
import { ownerOf } from '../../core/recipe';
import { followDocument } from '../../document/follow';
import type { Step } from '../../document/types';
import type { Host, Task } from '../host';

export interface AtStep {
  piece: string;
  step: string;
}

/**
 * A piece as it is after one of its steps, the UV set of that step ahead of others; the step, and the elements that a
 * pick of the step means there. Throws one sentence where there is none.
 */
export async function afterStep(
  host: Host,
  { piece, step }: AtStep,
  task: Task,
): Promise<{ mesh: Mesh; step: Step; picked(name: string): Set<number> }> {
  const found = host.doc.pieces.find((p) => p.id === piece);
  if (!found) throw new Error('The piece is no longer there.');
  const { outcomes } = await followDocument(host.doc, {
    memory: host.memory,
    blob: host.blob,
    cancelled: task.cancelled,
  }).piece(found);
  const own = found.recipe.find((s) => s.id === step);
  const outcome = outcomes.find((o) => o.step === step);
  if (!own || !outcome || outcome.error) throw new Error(outcome?.error ?? 'The step is no longer there.');
  // What the step lays out is what there is of UVs here, whichever set it is for.
  const mesh = withSetAhead(outcome.mesh, uvSetCalled(String(own.values.set ?? '')));
  const picked = (name: string): Set<number> => {
    const pick = own.values[name] as ElementPick | undefined;
    return new Set(pick && resolve(mesh, pick, host.memory.witnesses.of(ownerOf(own, name))).indices);
  };
  return { mesh, step: own, picked };
}
