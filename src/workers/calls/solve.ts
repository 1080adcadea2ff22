import { dialsByRule, solveDial, type Wanted } from '../../document/facts';
import { defineCall } from './define';

/** Turns a dial until a fact of a piece is as wanted; nothing is changed by asking. */
export const solve = defineCall((host, query: Wanted, task) =>
  solveDial(host.doc, query, {
    memory: host.memory,
    blob: host.blob,
    cancelled: task.cancelled,
    share: (share) => task.progress({ share }),
  }),
);

/** What dials that are kept by a rule have to stand at now. */
export const rules = defineCall(async (host, _: object, task) => {
  const found = await dialsByRule(host.doc, { memory: host.memory, blob: host.blob, cancelled: task.cancelled });
  return found.map(({ dial, x, found: reached }) => ({ id: dial.id, name: dial.name, x, reached }));
});
