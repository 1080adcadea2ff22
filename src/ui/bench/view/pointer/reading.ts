/** The shown attribute under the pointer: asked of the worker, one question at a time, the last place first. */
import { toOwn } from '../../../../document/changes';
import { session } from '../../session';
import { bench, workedOn } from '../../store';

let busy = false;
let next: { x: number; y: number; z: number } | null = null;

export function readUnder(point: { x: number; y: number; z: number } | null): void {
  const s = bench.get();
  const piece = workedOn(s);
  if (!s.coloured || !point || !piece || !s.document || !session.crew) {
    if (s.reading) bench.set({ reading: null });
    return;
  }
  if (busy) {
    next = point;
    return;
  }
  busy = true;
  const at = toOwn(s.document, s.piece ?? piece.id, [point.x, point.y, point.z]);
  const done = (reading: readonly number[] | null): void => {
    busy = false;
    bench.set({ reading });
    const again = next;
    next = null;
    if (again) readUnder(again);
  };
  session.crew.ask('attributeAt', { piece: piece.id, name: s.coloured, at }).then(done, () => done(null));
}
