/**
 * Shape by hand: direct edits, kept as moves. Every move's result is remembered, so while one is dragged only that one
 * runs: the last remembered result is looked for from the end, and what came before it is not even resolved (48,600
 * faces, 200 moves: a frame took 570 ms when each move's pick was resolved anew, 3 ms since).
 */
import { keyOf, textHash } from '../math/hash';
import type { Mesh } from '../mesh/mesh';
import { keysOf, type ElementPick } from '../mesh/picks';
import { canonical } from '../recipe/canonical';
import { onBothSides } from '../edit/bothsides';
import { Cancelled, defineStep, input, type Kept, type StepContext } from '../recipe/define';
import { complete, moves, type Move } from '../recipe/values';
import { ruleDef } from '../rules';
import { toolDef } from '../tools';
import { NOTHING_LOST, remedies } from './lost';

export const shape = defineStep({
  kind: 'shape',
  title: 'Shape by hand',
  sentence: ', {moves}',
  help: 'Pick vertices, edges or faces and move, extrude, cut …',
  words: 'edit model polygons',
  inputs: { mesh: input('mesh') },
  values: { moves: moves('moves') },
  names: ({ moves: list }) => list.flatMap((m) => (m.off ? [] : namedBy(m))),
  run: ({ mesh }, { moves: list }, context) => {
    const hashes: string[] = [];
    let hash = 'start';
    for (const move of list) {
      const others = move.off ? [] : namedBy(move).map((id) => seenOf(id, context));
      hashes.push((hash = textHash(`${hash}|${canonical(move)}|${others.join()}`)));
    }
    let at = list.length;
    let done: Kept | undefined;
    while (at > 0 && !done) done = context.recall(hashes[--at]);
    let now = done ?? { geometry: { mesh }, warnings: [], figures: { kept: 0, lost: 0, losing: 0, followed: 0 } };
    for (let i = done ? at + 1 : 0; i < list.length; i++) {
      context.progress(i / list.length);
      now = after(now, list[i], i, context);
      context.keep(hashes[i], now);
    }
    now.warnings.forEach((w) => context.warn(w));
    const { kept, lost, losing, followed } = now.figures;
    for (const [name, value] of Object.entries({ kept, lost, followed })) context.tell(name, value);
    if (lost)
      context.warn({
        text:
          `${losing} of ${list.length} moves lost ${lost} of what ${losing === 1 ? 'it' : 'they'} picked, by a ` +
          'change before that. They come back if that change is undone.',
        remedies: remedies(
          list.map(({ id, pick }) => ({ pick, found: now.losses?.get(id) ?? NOTHING_LOST })),
          (right) => ({ moves: list.map((m, i) => ({ ...m, pick: right[i] })) }),
        ),
        at: list.flatMap(({ id }) => now.losses?.get(id)?.at ?? []),
      });
    return now.geometry;
  },
});

/** Other pieces that the values of a move name. */
function namedBy(move: Move): string[] {
  const out: string[] = [];
  for (const [name, def] of Object.entries(toolDef(move.tool)?.values ?? {}))
    for (const r of def.refs?.(move.values[name] ?? def.default) ?? []) if (r.to === 'piece') out.push(r.id);
  return out;
}

/** The first and the last of what was picked one by one, of those that are still there. */
function endsOf(mesh: Mesh, { kind, keys }: ElementPick, indices: Uint32Array): [number, number] | undefined {
  if (keys.length < 2 || keys.length > MOST_ENDS) return undefined;
  const all = keysOf(mesh, kind);
  const place = new Map(Array.from(indices, (i) => [all[i], i]));
  const there = keys.flatMap((k) => place.get(k) ?? []);
  return there.length > 1 ? [there[0], there[there.length - 1]] : undefined;
}
/** More than so many were not picked one by one. */
const MOST_ENDS = 1000;

/** What tells one result of another piece from the next. */
function seenOf(id: string, context: StepContext): string {
  try {
    return context.other(id).hash;
  } catch {
    return 'none';
  }
}

/** What there is after one more move, with all that was to be said so far. */
function after(before: Kept, move: Move, index: number, { find, other }: StepContext): Kept {
  if (move.off) return before;
  const def = toolDef(move.tool);
  const told = (text: string): Kept => ({ ...before, warnings: [...before.warnings, { text }] });
  if (!def)
    return told(`Move ${index + 1} is of a kind this version does not know (“${move.tool}”). It was passed over.`);
  const mesh = before.geometry.mesh!;
  const { indices, lost, followed, nearest, at } = find(mesh, move.pick, move.id);
  const losses = lost.length ? new Map(before.losses).set(move.id, { lost, nearest, at }) : before.losses;
  const { kept, losing } = before.figures;
  const figures = {
    kept: kept + move.pick.keys.length - lost.length - followed.length,
    lost: before.figures.lost + lost.length,
    losing: losing + (lost.length ? 1 : 0),
    followed: before.figures.followed + followed.length,
  };
  // What works on all there is may have nothing to begin with: strips are drawn beside nothing.
  const none = indices.length === 0 && !def.whole;
  if (none && move.pick.rule) {
    const known = ruleDef(move.pick.rule.id) !== undefined;
    const why = known ? 'nothing fits its rule now.' : `its rule “${move.pick.rule.id}” is not known to this version.`;
    return { ...told(`Move ${index + 1}, ${def.title.toLowerCase()}: ${why}`), figures, losses };
  }
  if (none) return { ...before, figures, losses };
  let made: Mesh;
  const said: Kept['warnings'] = [];
  const says = (text: string) => `Move ${index + 1}, ${def.title.toLowerCase()}: ${text}`;
  try {
    const values = complete(def.values, move.values);
    const run = (of: Uint32Array) =>
      def.run(
        mesh,
        { kind: move.pick.kind, indices: of, ends: endsOf(mesh, move.pick, of) },
        values,
        keyOf(move.id),
        (text) => said.push({ text: says(text) }),
        { other },
      );
    made = run(indices);
    if (move.mirror) made = onBothSides(mesh, made, move.pick.kind, indices, move.mirror, run);
  } catch (e) {
    // Work that was overtaken is no result: kept as one, the move would be without effect ever after.
    if (e instanceof Cancelled) throw e;
    const why = e instanceof Error ? e.message : 'it could not be done.';
    return { ...told(says(why)), figures, losses };
  }
  const warnings = said.length > 0 ? [...before.warnings, ...said] : before.warnings;
  return { geometry: { mesh: made }, warnings, figures, losses };
}
