import { writeLayout } from '../../core/uv/layout';
import { followDocument } from '../../document/follow';
import { defineCall } from './define';

/** The layout of a piece as it is after one of its unwrap steps, as a file to be kept. */
export const layout = defineCall(
  async (host, { piece, step }: { piece: string; step: string }, task): Promise<Uint8Array> => {
    const found = host.doc.pieces.find((p) => p.id === piece);
    if (!found) throw new Error('The piece is no longer there.');
    const { outcomes } = await followDocument(host.doc, {
      memory: host.memory,
      blob: host.blob,
      cancelled: task.cancelled,
    }).piece(found);
    const outcome = outcomes.find((o) => o.step === step);
    if (!outcome || outcome.error) throw new Error(outcome?.error ?? 'The step is no longer there.');
    const bytes = writeLayout(outcome.mesh);
    task.transfer.push(bytes.buffer as ArrayBuffer);
    return bytes;
  },
);
