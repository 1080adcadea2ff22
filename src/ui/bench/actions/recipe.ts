/** Steps and the pieces they begin. */
import { isStart } from '../../../core/recipe/define';
import { stepDef } from '../../../core/steps';
import * as changes from '../../../document/changes';
import { refocus, session } from '../session';
import { bench, say, workedOn } from '../store';
import { convert, edgeKeys, pickOf } from '../../../core/mesh/picks';
import { keep } from './hand';
import { indicesNow } from './picked';

export function addStep(kind: string): void {
  const s = bench.get();
  const def = stepDef(kind);
  if (!def) return;
  keep();
  if (isStart(def)) {
    addPiece(kind);
    return;
  }
  const piece = workedOn(s);
  if (piece?.kind !== 'mesh') {
    say('Pick a piece to add a step to first.');
    return;
  }
  const id = changes.newId();
  const values = kind === 'color' && s.document!.materials[0] ? { base: s.document!.materials[0].id } : {};
  session.change(`add ${def.title.toLowerCase()}`, (d) => {
    changes.addStep(d, piece.id, kind, id, values, piece.upTo ?? undefined);
    if (piece.upTo !== null) changes.setPiece(d, piece.id, { upTo: id });
  });
}

export function addPiece(kind: string): void {
  const s = bench.get();
  const id = changes.newId();
  const step = changes.newId();
  const beside = s.document?.pieces.find((p) => p.id === s.piece);
  const parent = beside?.kind === 'group' ? beside.id : (beside?.parent ?? null);
  session.change(`add a ${kind}`, (d) => {
    changes.addPiece(d, id, kind, parent);
    changes.addStep(d, id, kind, step);
  });
  focusPiece(id);
}

/** Edges that the next subdivision keeps sharp, or no longer; where there is none yet, one is added. */
export function creaseEdges(on: boolean): void {
  const s = bench.get();
  const piece = workedOn(s);
  const { mesh, pick } = s;
  const indices = mesh ? convert(mesh, pick.kind, indicesNow(), 'edge') : [];
  if (piece?.kind !== 'mesh' || !mesh || indices.length === 0) {
    say('Pick edges to crease first.');
    return;
  }
  keep();
  const from = Math.max(
    0,
    piece.recipe.findIndex((x) => x.id === s.step),
  );
  const next = piece.recipe.slice(from).find((x) => x.kind === 'subdivide');
  if (!next && !on) {
    say('Nothing after this subdivides, so nothing is creased.');
    return;
  }
  const keys = edgeKeys(mesh);
  const rule = pick.kind === 'edge' ? pick.rule : undefined;
  const edges = rule ? { kind: 'edge' as const, keys: [], rule } : pickOf(mesh, 'edge', indices);
  const step = next?.id ?? changes.newId();
  session.change(on ? 'crease edges' : 'take creases away', (d) => {
    if (!next) changes.addStep(d, piece.id, 'subdivide', step, { levels: 1 });
    changes.markCreases(
      d,
      piece.id,
      step,
      on ? edges : { kind: 'edge', keys: Array.from(indices, (e) => keys[e]) },
      on,
    );
  });
  if (!next) say('A subdivision was added for the creases.');
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
