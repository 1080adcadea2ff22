import { checkDefs } from '../../core/check';
import { keysOf, type Mesh, type PickKind } from '../../core/mesh';
import { followDocument } from '../../document/follow';
import type { Host, Task } from '../host';
import { defineCall } from './define';

/** What a check found in a piece. */
export interface Fault {
  check: string;
  kind: PickKind;
  count: number;
  /** Of what was found, as many as can be picked. */
  keys: Float64Array;
}
export interface Checked {
  piece: string;
  name: string;
  faults: Fault[];
}

interface ChecksQuery {
  /** One piece as it is at one of its steps (null for the last); or all pieces. */
  piece: string | null;
  step: string | null;
  /** Those that take more than a moment too. */
  deep: boolean;
}

/** More than this cannot be picked in one go: the first of them. */
const MOST = 200_000;

/** Everything that may be wrong with a piece, or with all of them. */
export const checks = defineCall(
  async (host: Host, { piece, step, deep }: ChecksQuery, task: Task): Promise<Checked[]> => {
    const { doc } = host;
    const followed = followDocument(doc, {
      memory: host.memory,
      blob: host.blob,
      cancelled: task.cancelled,
      beyond: true,
    });
    const list = doc.pieces.filter((p) => p.kind === 'mesh' && p.link === null && (piece === null || p.id === piece));
    const wanted = checkDefs().filter((c) => deep || !c.slow);
    const out: Checked[] = [];
    let done = 0;
    for (const p of list) {
      const { shown, outcomes } = await followed.piece(p);
      const mesh = (step === null ? shown : (outcomes.find((o) => o.step === step) ?? shown))?.mesh;
      const faults: Fault[] = [];
      for (const check of mesh ? wanted : []) {
        if (task.cancelled()) break;
        const fault = faultOf(mesh!, check.id, check.kind, check.find(mesh!));
        if (fault) faults.push(fault);
        task.progress({ share: ++done / (list.length * wanted.length) });
      }
      for (const f of faults) task.transfer.push(f.keys.buffer as ArrayBuffer);
      out.push({ piece: p.id, name: p.name, faults });
    }
    return out;
  },
);

function faultOf(mesh: Mesh, check: string, kind: PickKind, found: ArrayLike<number>): Fault | undefined {
  if (found.length === 0) return undefined;
  const keys = keysOf(mesh, kind);
  const n = Math.min(found.length, MOST);
  return { check, kind, count: found.length, keys: Float64Array.from({ length: n }, (_, i) => keys[found[i]]) };
}
