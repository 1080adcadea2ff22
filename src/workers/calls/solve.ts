import { solveDial, type Wanted } from '../../document/facts';
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
