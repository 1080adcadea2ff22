/** The intake worker: reads what was dropped. One per drop, so that it can be stopped at any moment. */
import './decoders';
import { readDrop, type ReadDrop } from './intake';

export type IntakeMessage = { progress: { file: string; share: number } } | { done: ReadDrop } | { failed: string };
const scope = self as unknown as {
  postMessage(message: IntakeMessage, transfer?: Transferable[]): void;
  onmessage: ((e: MessageEvent<[string, Uint8Array][]>) => void) | null;
};

scope.onmessage = (e) => {
  let last = 0;
  readDrop(e.data, (file, share) => {
    const now = performance.now();
    if (share > 0 && now - last < 100) return;
    last = now;
    scope.postMessage({ progress: { file, share } });
  }).then(
    (done) =>
      scope.postMessage({ done }, [
        ...new Set([
          ...done.models.flatMap((m) => [m.stored.buffer, ...m.images.map((i) => i.bytes.buffer)]),
          ...done.pictures.map((p) => p.bytes.buffer),
          ...done.heights.map((h) => h.bytes.buffer),
        ]),
      ] as ArrayBuffer[]),
    (error: unknown) =>
      scope.postMessage({ failed: error instanceof Error ? error.message : 'That could not be read.' }),
  );
};
