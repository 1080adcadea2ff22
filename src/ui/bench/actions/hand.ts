/** What is in hand: beginning moves, changing their values, keeping and letting go. */
import { keysOf, resolve, type ElementPick, type PickKind } from '../../../core/mesh/picks';
import { convert } from '../../../core/mesh/walks';
import { isStart } from '../../../core/recipe/define';
import { defaultsOf, type Move } from '../../../core/recipe/values';
import { stepDef } from '../../../core/steps';
import { toolDef, type ToolDef } from '../../../core/tools';
import * as changes from '../../../document/changes';
import { refocus, session } from '../session';
import { bench, handOf, say, workedOn, type Handle, type HandKind, type MoveHand } from '../store';
import { viewer as sight } from '../view/ways';
import { indicesNow, setPick } from './picked';

const NOUNS: Readonly<Record<PickKind, string>> = { vertex: 'vertices', edge: 'edges', face: 'faces' };
const nounsOf = (kinds: readonly PickKind[]): string => kinds.map((k) => NOUNS[k]).join(' or ');

type At = Pick<MoveHand, 'piece' | 'step' | 'after'>;

/** The "shape by hand" step to put a move into: the focused one, or a new one after the step that starts the recipe. */
function shapeStep(): At | null {
  const s = bench.get();
  const piece = workedOn(s);
  if (piece?.kind !== 'mesh') {
    say('Pick a piece to work on first.');
    return null;
  }
  if (piece.locked || s.document!.pieces.find((p) => p.id === s.piece)?.locked) {
    say(`${piece.name} is locked.`);
    return null;
  }
  if (piece.recipe.find((x) => x.id === s.step)?.kind === 'shape') return { piece: piece.id, step: s.step! };
  const after = s.step ?? piece.upTo ?? piece.recipe.findLast((x) => startsRecipe(x.kind))?.id;
  return { piece: piece.id, step: changes.newId(), after };
}

const startsRecipe = (kind: string): boolean => {
  const def = stepDef(kind);
  return def !== undefined && isStart(def);
};

/** Adds a move, and with it the step it goes into where that is not there yet: one change, so one undo. */
function putMove(d: changes.Draft, at: At, move: Move): void {
  if (!changes.pieceOf(d, at.piece).recipe.some((x) => x.id === at.step))
    changes.addStep(d, at.piece, 'shape', at.step, {}, at.after);
  changes.addMove(d, at.piece, at.step, move);
}

/** All there is, whatever that will be: a rule, not a list. */
const everything = (kind: PickKind): ElementPick => ({ kind, keys: [], rule: { id: 'all', values: {} } });

/** Whether it can be done to whole pieces, as many as are picked. */
export const onWhole = (def: Pick<ToolDef, 'empty' | 'whole'>): boolean => def.empty === 'all' || def.whole === true;

/**
 * The other picked pieces, where pieces are picked, each with where a move of it goes: its last step by hand, or one
 * after its first step.
 */
function alsoPicked(main: string): (At & { move: string })[] {
  const { document, picked, mode } = bench.get();
  if (mode !== 'piece' || !document) return [];
  const of = (id: string) => document.pieces.find((p) => p.id === id);
  const sources = new Set(picked.map((id) => of(id)?.link ?? id));
  sources.delete(main);
  return [...sources].flatMap((id) => {
    const piece = of(id);
    if (piece?.kind !== 'mesh' || piece.locked) return [];
    const step = piece.recipe.findLast((x) => x.kind === 'shape')?.id;
    const after = piece.recipe.findLast((x) => startsRecipe(x.kind))?.id;
    return [{ piece: id, step: step ?? changes.newId(), ...(step ? {} : { after }), move: changes.newId() }];
  });
}

/**
 * What a tool works on now: the pick, in a kind it takes; all of it where nothing is picked and the tool wants that.
 */
function pickFor(tool: string): ElementPick | null {
  const def = toolDef(tool);
  const { pick, mesh } = bench.get();
  if (def?.whole) return everything(def.picks[0]);
  if (!def || (!mesh && bench.get().mode !== 'piece')) return null;
  const { kind, keys } = pick;
  if (!mesh) return onWhole(def) ? everything(def.picks.includes('face') ? 'face' : def.picks[0]) : null;
  if (indicesNow().length === 0) {
    if (def.empty !== 'all') {
      say(`Pick ${nounsOf(def.picks)} first.`);
      return null;
    }
    return everything(def.picks.includes('face') ? 'face' : def.picks[0]);
  }
  if (def.picks.includes(kind) && pick.rule && kind === pick.kind) return { kind, keys: [], rule: pick.rule };
  if (def.picks.includes(kind)) return kind === pick.kind && keys === pick.keys ? pick : { kind, keys };
  const to = def.picks[0];
  const found = convert(mesh, kind, resolve(mesh, { kind, keys }).indices, to);
  if (found.length === 0) {
    say(`${def.title} works on ${nounsOf(def.picks)}.`);
    return null;
  }
  return { kind: to, keys: Array.from(found, (i) => keysOf(mesh, to)[i]) };
}

const sides = (): Pick<Move, 'mirror'> => {
  const { bothSides } = bench.get();
  return bothSides ? { mirror: bothSides } : {};
};

/** The way it is looked at, in the space of a piece, for tools that go by it. */
function lookedAt(piece: string, def: ToolDef): Record<string, number> {
  const { document } = bench.get();
  if (!('vx' in def.values) || !document) return {};
  const [x, y, z] = sight.way();
  const [a, b] = [[0, 0, 0] as const, [x, y, z] as const].map((p) => changes.toOwn(document, piece, [...p]));
  return { vx: b[0] - a[0], vy: b[1] - a[1], vz: b[2] - a[2] };
}

/** Begins a move with the pick. It stays in hand, its values open, until it is kept or cancelled. */
export function beginMove(tool: string, values: Record<string, unknown> = {}): string | null {
  keep();
  const def = toolDef(tool);
  const pick = def && pickFor(tool);
  const at = pick && shapeStep();
  if (!at) return null;
  const { piece, step } = at;
  const id = changes.newId();
  const own = { ...defaultsOf(def.values), ...lookedAt(piece, def), ...values };
  const move: Move = { id, tool, pick, values: own, ...sides() };
  const also = alsoPicked(piece);
  bench.set({ step, hand: null });
  session.change(
    also.length > 0 ? `${def.title.toLowerCase()} ${also.length + 1} pieces` : def.title.toLowerCase(),
    (d) => {
      putMove(d, at, move);
      for (const x of also) putMove(d, x, { ...move, id: x.move });
    },
    `move ${id}`,
  );
  if (also.length > 0) say(`Done to ${also.length + 1} pieces: values are set for all of them.`);
  bench.set({ step });
  refocus();
  const list = bench
    .get()
    .document?.pieces.find((p) => p.id === piece)
    ?.recipe.find((x) => x.id === step)?.values.moves as Move[] | undefined;
  const kept = list?.[list.length - 1]?.id ?? id; // a merge keeps the earlier move
  bench.set({ hand: { kind: 'move', ...at, move: kept, also, fresh: true }, typed: null });
  return id;
}

/** What the last drag worked on, so that its frames send no new list of keys. */
let dragged: { id: string; pick: ElementPick } | null = null;

/** While dragging: the move is made anew from where it began, with these values. */
export function dragMove(id: string, tool: string, values: Record<string, unknown>): void {
  const hand = handOf(bench.get(), 'move');
  const def = toolDef(tool);
  if (!hand || !def) return;
  if (dragged?.id !== id) {
    const pick = pickFor(tool);
    if (!pick) return;
    dragged = { id, pick };
  }
  const move: Move = { id, tool, pick: dragged.pick, values: { ...defaultsOf(def.values), ...values }, ...sides() };
  session.change(def.title.toLowerCase(), (d) => putMove(d, hand, move), `move ${id}`);
}

/** Changes values of the move in hand; while it is fresh this is still the same change. */
export function setInHand(values: Record<string, unknown>, scrub = false): void {
  const h = handOf(bench.get(), 'move');
  const history = session.history;
  if (!h || !history) return;
  const current = inHandMove();
  if (!h.fresh || !history.isLive || !current) {
    const live = scrub ? `set ${h.move} ${Object.keys(values).join()}` : undefined;
    session.change(
      'change a move',
      (d) => {
        for (const x of [h, ...(h.also ?? [])]) changes.setMove(d, x.piece, x.step, x.move, values);
      },
      live,
    );
    return;
  }
  // The live change is replayed from its base: the move is added again with the new values.
  const move = { ...current, values: { ...current.values, ...values } };
  session.change(
    toolDef(current.tool)!.title.toLowerCase(),
    (d) => {
      for (const x of [h, ...(h.also ?? [])]) {
        const list = changes.pieceOf(d, x.piece).recipe.find((s) => s.id === x.step)?.values.moves as
          Move[] | undefined;
        const at = list?.findIndex((m) => m.id === x.move) ?? -1;
        if (at >= 0) list![at] = { ...move, id: x.move };
        else putMove(d, x, { ...move, id: x.move });
      }
    },
    `move ${h.move}`,
  );
}

export function inHandMove(): Move | undefined {
  const { document } = bench.get();
  const h = handOf(bench.get(), 'move');
  const step = h && document?.pieces.find((p) => p.id === h.piece)?.recipe.find((x) => x.id === h.step);
  return step ? (step.values.moves as Move[]).find((m) => m.id === h.move) : undefined;
}

/** How each kind of thing in hand is kept and let go. A new kind says it here, where its tools are. */
export interface HandWays {
  /** Enter, and whenever something else is taken up. */
  keep(): void;
  /** Esc, once a change that was still open has been taken back. */
  cancel(): void;
}
const ways = new Map<HandKind, HandWays>();
export const giveHand = (kind: HandKind, way: HandWays): void => {
  ways.set(kind, way);
};

giveHand('move', {
  keep: () => {
    session.settle();
    const h = handOf(bench.get(), 'move');
    const move = inHandMove();
    if (move) done = { tool: move.tool, values: move.values };
    if (h?.fresh) bench.set({ hand: { ...h, fresh: false } });
  },
  cancel: () => bench.set({ hand: null }),
});
giveHand('wall', { keep: () => {}, cancel: () => bench.set({ hand: null }) });

/** Enter: what is in hand is kept. */
export function keep(): void {
  const { hand } = bench.get();
  if (hand) ways.get(hand.kind)?.keep();
  else session.settle();
  if (bench.get().typed) bench.set({ typed: null });
}

/** Esc: what is in hand is let go; then handles; then the pick. */
export function cancel(): void {
  const s = bench.get();
  bench.set({ typed: null });
  if (session.history?.isLive) {
    session.cancel();
    bench.set({ hand: null });
  } else if (s.hand) ways.get(s.hand.kind)?.cancel();
  else if (s.projecting || s.relaxing) dropLive();
  else if (s.pivoting) bench.set({ pivoting: false });
  else if (s.handle) bench.set({ handle: null });
  else if (s.mode === 'piece') dropPick();
  else setPick(s.pick.kind, []);
}

/** Ends what is tried on the sheet and not kept yet; filled in by the actions on the sheet. */
let dropLive: () => void = () => {};
export const giveDropLive = (drop: () => void): void => {
  dropLive = drop;
};

/** Picks no piece; filled in by the actions on pieces, which build on these. */
let dropPick: () => void = () => {};
export const giveDropPick = (drop: () => void): void => {
  dropPick = drop;
};

/** Takes up a tool: a move that stays in hand, or one that is kept at once. */
export function runMove(tool: string): void {
  const def = toolDef(tool);
  if (!beginMove(tool) || def?.begins !== 'at once') return;
  keep();
  if (def.clears) setPick(bench.get().pick.kind, []);
}

/** What was done last, wherever that was. */
let done: { tool: string; values: Record<string, unknown> } | null = null;
export const lastMove = (): typeof done => inHandMove() ?? done;

/** The same tool with the same values on what is picked now. */
export function repeatMove(): void {
  const last = lastMove();
  if (last && beginMove(last.tool, last.values)) keep();
}

export function setHandle(handle: Handle): void {
  keep();
  bench.set((s) => ({ handle: s.handle === handle ? null : handle }));
}
