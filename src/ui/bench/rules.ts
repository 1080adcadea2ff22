/** Dials that are kept by a rule: looked for anew when the document has come to rest after a change. */
import { setDial } from '../../document/dials';
import { WorkCancelled } from '../../workers/link';
import type { ProjectDocument } from '../../document/types';
import { session } from './session';
import { bench, say, useBench } from './store';

const REST = 700;

const hasRules = (d: ProjectDocument): boolean =>
  [...(d.dials ?? []), ...d.pieces.flatMap((p) => p.dials ?? [])].some((x) => x.rule);

/** Follows the document until what it returns is called. */
export function keepRules(): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  let seen: ProjectDocument | null | undefined;
  const turn = async (): Promise<void> => {
    const { history, crew } = session;
    const asked = bench.get().document;
    if (!history || !crew || !asked || history.isLive) return;
    try {
      const found = await crew.long(asked, 'rules', {}, {});
      // What has changed meanwhile is asked after again.
      if (history !== session.history || history.isLive || bench.get().document !== asked || found.length === 0) return;
      session.note('dials kept by rules', (d) => {
        for (const { id, x } of found) setDial(d, id, { value: x });
      });
      const missed = found.find((f) => !f.reached);
      if (missed) say(`${missed.name} cannot reach what it is kept for: it stands as near as it gets.`);
    } catch (e) {
      if (!(e instanceof WorkCancelled)) say((e as Error).message);
    }
  };
  const stop = useBench.subscribe(() => {
    const { document } = bench.get();
    if (document === seen) return;
    seen = document;
    clearTimeout(timer);
    if (document && hasRules(document)) timer = setTimeout(() => void turn(), REST);
  });
  return () => {
    clearTimeout(timer);
    stop();
  };
}
