import { answer, type Found, type PickQuery } from '../../core/pick';
import { defineCall } from './define';

/** What follows from a pick, on the mesh that is worked on; null where that is another by now. */
export const pick = defineCall((host, query: PickQuery & { of: string }, task): Found | null => {
  if (!host.edited || host.sentEdited !== query.of) return null;
  const found = answer(host.edited, query);
  const indices = Uint32Array.from(found.indices);
  task.transfer.push(indices.buffer);
  return { ...found, indices };
});
