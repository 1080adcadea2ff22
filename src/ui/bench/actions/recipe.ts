/** Steps and the pieces they begin. */
import { isStart } from '../../../core/recipe/define';
import { stepDef } from '../../../core/steps';
import * as changes from '../../../document/changes';
import { refocus, session } from '../session';
import { bench, say, workedOn } from '../store';
import { keep } from './hand';

/** Adds a step where the piece shows up to, or after one of its steps. */
export function addStep(kind: string, at?: { piece: string; after: string }): void {
  const s = bench.get();
  const def = stepDef(kind);
  if (!def) return;
  keep();
  if (isStart(def)) {
    addPiece(kind);
    return;
  }
  const piece = at ? s.document?.pieces.find((p) => p.id === at.piece) : workedOn(s);
  if (piece?.kind !== 'mesh') {
    say('Pick a piece to add a step to first.');
    return;
  }
  const id = changes.newId();
  const values = kind === 'color' && s.document!.materials[0] ? { base: s.document!.materials[0].id } : {};
  session.change(`add ${def.title.toLowerCase()}`, (d) => {
    changes.addStep(d, piece.id, kind, id, values, at?.after ?? piece.upTo ?? undefined);
    if (piece.upTo !== null && (at?.after ?? piece.upTo) === piece.upTo) changes.setPiece(d, piece.id, { upTo: id });
  });
}

export function addPiece(kind: string, values: Record<string, unknown> = {}): void {
  const s = bench.get();
  const id = changes.newId();
  const step = changes.newId();
  const beside = s.document?.pieces.find((p) => p.id === s.piece);
  const parent = beside?.kind === 'group' ? beside.id : (beside?.parent ?? null);
  session.change(`add a ${kind}`, (d) => {
    changes.addPiece(d, id, kind, parent);
    changes.addStep(d, id, kind, step, values);
  });
  focusPiece(id);
}

export function focusPiece(id: string | null): void {
  keep();
  const s = bench.get();
  bench.set({
    piece: id,
    picked: id === null ? [] : [id],
    step: null,
    hand: null,
    pick: { kind: s.pick.kind, keys: [] },
    last: null,
    facts: null,
  });
  refocus();
}

export function focusStep(id: string): void {
  keep();
  bench.set({ step: id, hand: null });
  refocus();
}

export function setValue(piece: string, step: string, name: string, value: unknown, live = false): void {
  session.change(
    `change ${name}`,
    (d) => changes.setValues(d, piece, step, { [name]: value }),
    live ? `value ${step} ${name}` : undefined,
  );
}
