/**
 * The recipe as a network: slips for steps, threads for what goes from one to the next, laid out from top to bottom.
 */
import { Graph, layout } from '@dagrejs/dagre';
import { branchOf } from '../../../core/recipe/values';
import { stepDef } from '../../../core/steps';
import { referencesIn } from '../../../document/references';
import type { Piece, ProjectDocument, Step } from '../../../document/types';
import type { Flow } from '../../../workers/protocol';

export interface Slip {
  /** Unique on the map. */
  id: string;
  piece: string;
  /** Its steps: one, or all that are folded together. */
  steps: readonly Step[];
  /** Place of the first in the recipe. */
  index: number;
  fold?: string;
  /** Middle of its top edge is at x; pixels of the map. */
  x: number;
  y: number;
  wide: number;
  high: number;
}

export interface Thread {
  id: string;
  from: string;
  to: string;
  /** The step whose result goes along it. */
  step: string;
  piece: string;
  /** Between two steps of one recipe: something may be put in here. */
  within: boolean;
}

export interface RecipeMap {
  slips: Slip[];
  threads: Thread[];
  /** Pieces on it, the one that was asked for first. */
  pieces: Piece[];
}

const WIDE = 236;
const LINE = 21;
const LETTERS = 36;
const FORMULA_LETTERS = 27;
const MOST_SLIPS = 2000;

/** About how high a sentence is on a slip: words run on, a long formula takes lines of its own. */
function highOf(step: Step): number {
  const def = stepDef(step.kind);
  let letters = (def?.title ?? step.kind).length;
  let lines = 0;
  for (const part of (def?.sentence ?? '').split(/\{(\w+)\}/).entries()) {
    const [i, word] = part;
    if (i % 2 === 0) letters += word.length;
    else {
      const written = lengthOf(step.values[word]);
      if (written > FORMULA_LETTERS) lines += Math.ceil(written / FORMULA_LETTERS) + 1;
      else letters += Math.max(8, written);
    }
  }
  return 30 + LINE * Math.max(1, lines + Math.ceil(letters / LETTERS)) + (step.note ? LINE : 0);
}
const lengthOf = (value: unknown): number => {
  if (typeof value !== 'object' || value === null) return 0;
  const { formula, text } = value as { formula?: unknown; text?: unknown };
  const written = formula ?? text;
  return typeof written === 'string' ? written.length : 0;
};

/** The pieces that a recipe hangs on, by whatever way, itself first. */
function piecesOf(doc: ProjectDocument, piece: string): Piece[] {
  const by = new Map(doc.pieces.map((p) => [p.id, p]));
  const source = (id: string) => by.get(by.get(id)?.link ?? id);
  const out = new Map<string, Piece>();
  const next = [source(piece)];
  for (let p = next.shift(); p; p = next.shift()) {
    if (out.has(p.id) || p.kind !== 'mesh') continue;
    out.set(p.id, p);
    for (const r of referencesIn(p.recipe)) {
      const named = r.to === 'piece' ? source(r.id) : undefined;
      if (named && !out.has(named.id)) next.push(named);
    }
  }
  return [...out.values()];
}

/** Steps next to each other of one fold are one slip, but for those that are open. */
function slipsOf(piece: Piece, open: ReadonlySet<string>): Slip[] {
  const out: Slip[] = [];
  piece.recipe.forEach((step, index) => {
    const last = out[out.length - 1];
    const { fold } = step;
    const folded = fold !== undefined && !open.has(`${piece.id}/${fold}`);
    if (folded && last?.fold === fold) {
      last.steps = [...last.steps, step];
      return;
    }
    const id = `${piece.id}/${step.id}`;
    out.push({
      id,
      piece: piece.id,
      steps: [step],
      index,
      ...(folded ? { fold } : {}),
      x: 0,
      y: 0,
      wide: WIDE,
      high: folded ? 46 : highOf(step),
    });
  });
  return out;
}

export function mapOf(doc: ProjectDocument, piece: string, open: ReadonlySet<string> = new Set()): RecipeMap {
  const pieces = piecesOf(doc, piece);
  const slips = pieces.flatMap((p) => slipsOf(p, open)).slice(0, MOST_SLIPS);
  const slipOf = new Map(slips.flatMap((s) => s.steps.map((step) => [`${s.piece}/${step.id}`, s] as const)));
  const threads: Thread[] = [];
  const made = new Set<string>();
  const join = (from: Slip | undefined, to: Slip, step: Step | undefined, within: boolean) => {
    const id = `${from?.id}>${to.id}`;
    if (!from || !step || from === to || made.has(id)) return;
    made.add(id);
    threads.push({ id, from: from.id, to: to.id, step: step.id, piece: from.piece, within });
  };
  const endOf = (id: string): [Slip | undefined, Step | undefined] => {
    const p = doc.pieces.find((x) => x.id === id);
    const own = pieces.find((x) => x.id === (p?.link ?? id));
    const at = own?.recipe.findIndex((s) => s.id === own.upTo) ?? -1;
    const step = own?.recipe[at >= 0 ? at : own.recipe.length - 1];
    return [step && slipOf.get(`${own!.id}/${step.id}`), step];
  };
  for (const p of pieces)
    p.recipe.forEach((step, i) => {
      const slip = slipOf.get(`${p.id}/${step.id}`);
      if (!slip) return;
      const before = p.recipe[i - 1];
      const takes = Object.values(stepDef(step.kind)?.inputs ?? {}).some((x) => x.from === 'before');
      if (before && (takes || !stepDef(step.kind))) join(slipOf.get(`${p.id}/${before.id}`), slip, before, true);
      for (const r of referencesIn([step])) {
        if (r.to !== 'piece') continue;
        const branched = step.kind === 'branch' ? String(step.values.step || '') || undefined : undefined;
        const { piece: id, step: at = branched ?? r.step } = branchOf(r.id);
        const from = at ? slipOf.get(`${id}/${at}`) : undefined;
        if (from)
          join(
            from,
            slip,
            from.steps.find((s) => s.id === at),
            false,
          );
        else {
          const [end, last] = endOf(id);
          join(end, slip, last, false);
        }
      }
    });
  arrange(slips, threads);
  return { slips, threads, pieces };
}

const GAP = 40;

/**
 * From top to bottom; each recipe's own steps stay one below the other. Slips in a row that nothing joins or leaves are
 * laid out as one block: by the layout alone 500 slips in a row took 400 ms, as a block 11 to 37.
 */
function arrange(slips: readonly Slip[], threads: readonly Thread[]): void {
  const out = new Map<string, number>();
  const into = new Map<string, number>();
  for (const t of threads) {
    out.set(t.from, (out.get(t.from) ?? 0) + 1);
    into.set(t.to, (into.get(t.to) ?? 0) + 1);
  }
  const byId = new Map(slips.map((s) => [s.id, s]));
  const next = new Map<string, Slip>();
  const follows = new Set<string>();
  for (const t of threads)
    if (t.within && out.get(t.from) === 1 && into.get(t.to) === 1) {
      next.set(t.from, byId.get(t.to)!);
      follows.add(t.to);
    }
  const blockOf = new Map<string, string>();
  const blocks = slips
    .filter((s) => !follows.has(s.id))
    .map((first) => {
      const list = [first];
      for (let s = next.get(first.id); s; s = next.get(s.id)) list.push(s);
      for (const s of list) blockOf.set(s.id, first.id);
      return list;
    });
  const g = new Graph();
  g.setGraph({ rankdir: 'TB', nodesep: 28, ranksep: GAP, marginx: 16, marginy: 16 });
  g.setDefaultEdgeLabel(() => ({}));
  const highOfAll = (list: readonly Slip[]) => list.reduce((n, s) => n + s.high, GAP * (list.length - 1));
  for (const list of blocks) g.setNode(list[0].id, { width: WIDE, height: highOfAll(list) });
  for (const t of threads) {
    const [from, to] = [blockOf.get(t.from)!, blockOf.get(t.to)!];
    if (from !== to) g.setEdge(from, to, { weight: t.within ? 8 : 1 });
  }
  layout(g);
  for (const list of blocks) {
    const at = g.node(list[0].id) as { x: number; y: number };
    let y = at.y - highOfAll(list) / 2;
    for (const s of list) {
      s.x = at.x - s.wide / 2;
      s.y = y;
      y += s.high + GAP;
    }
  }
}

/** "7,296 faces", "7 copies": what goes along a thread, in words. */
export function flowWords(flow: Flow | undefined): string {
  if (!flow) return '';
  const say = (n: number, one: string, many: string) =>
    n > 0 ? [`${n.toLocaleString('en')} ${n === 1 ? one : many}`] : [];
  return [
    ...say(flow.copies, 'copy', 'copies'),
    ...(flow.copies > 0 ? [] : say(flow.faces, 'face', 'faces')),
    ...say(flow.points, 'point', 'points'),
    ...say(flow.curves, 'curve', 'curves'),
  ].join(', ');
}

/** Milliseconds as a slip shows them. */
export const tookWords = (ms: number): string => (ms >= 1000 ? `${(ms / 1000).toFixed(1)} s` : `${Math.round(ms)} ms`);

/** The slip from which one goes that way by the arrow keys: along threads up and down, across to the nearest beside. */
export function neighbour(map: RecipeMap, id: string, way: 'up' | 'down' | 'left' | 'right'): string | undefined {
  const at = map.slips.find((s) => s.id === id);
  if (!at) return map.slips[0]?.id;
  const byId = new Map(map.slips.map((s) => [s.id, s]));
  const near = (list: readonly (Slip | undefined)[]) =>
    list
      .filter((s): s is Slip => s !== undefined)
      .sort((a, b) => Math.abs(a.x - at.x) + Math.abs(a.y - at.y) - Math.abs(b.x - at.x) - Math.abs(b.y - at.y))[0]?.id;
  if (way === 'up') return near(map.threads.filter((t) => t.to === id).map((t) => byId.get(t.from)));
  if (way === 'down') return near(map.threads.filter((t) => t.from === id).map((t) => byId.get(t.to)));
  return near(map.slips.filter((s) => (way === 'left' ? s.x < at.x - 1 : s.x > at.x + 1)));
}
