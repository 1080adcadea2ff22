/** What steps name of a project, told by the kinds of their values alone. */
import { stepDef } from '../core/steps';
import { isFormula } from '../core/recipe/values';
import { toolDef } from '../core/tools';
import type { Move, Reference, Rename, ValueDef, ValueDefs } from '../core/recipe';
import type { Dial, ProjectDocument, Step } from './types';

/**
 * Every value of some steps that has a definition: of the steps, of the moves in them, and of the recipes within them.
 */
function* valuesIn(steps: readonly Step[]): Generator<[ValueDef<unknown>, unknown]> {
  for (const step of steps) yield* valuesOf(stepDef(step.kind)?.values, step.values);
}

function* valuesOf(
  defs: ValueDefs | undefined,
  stored: Readonly<Record<string, unknown>>,
): Generator<[ValueDef<unknown>, unknown]> {
  for (const [name, def] of Object.entries(defs ?? {})) {
    const value = stored[name];
    // What a formula names are dials: these name it.
    if (value === undefined || isFormula(value)) continue;
    yield [def, value];
    for (const inner of def.recipes?.(value) ?? []) yield* valuesIn(inner as Step[]);
    if (def.kind === 'moves')
      for (const move of value as readonly Move[]) yield* valuesOf(toolDef(move.tool)?.values, move.values);
  }
}

export function referencesIn(steps: readonly Step[]): Reference[] {
  const out: Reference[] = [];
  for (const [def, value] of valuesIn(steps)) out.push(...(def.refs?.(value) ?? []));
  return out;
}

const OFFERED: Partial<Record<Dial['kind'], Reference['to']>> = {
  piece: 'piece',
  material: 'material',
  picture: 'image',
};

/** What dials of pieces, of materials and of pictures offer to choose from. */
export const referencesOfDials = (dials: readonly Dial[]): Reference[] =>
  dials.flatMap(({ kind, options = [] }) => {
    const to = OFFERED[kind];
    return to ? options.map((id) => ({ to, id })) : [];
  });

export const renameInDials = (dials: readonly Dial[], to: Rename): Dial[] =>
  dials.map((d) => {
    const what = OFFERED[d.kind];
    return d.options && what ? { ...d, options: d.options.map((id) => to({ to: what, id })) } : d;
  });

/** The same steps, naming other things. */
export function renameReferences(steps: readonly Step[], to: Rename): Step[] {
  return steps.map((step) => ({ ...step, values: renamedValues(stepDef(step.kind)?.values, step.values, to) }));
}

function renamedValues(
  defs: ValueDefs | undefined,
  stored: Readonly<Record<string, unknown>>,
  to: Rename,
): Record<string, unknown> {
  const out: Record<string, unknown> = { ...stored };
  for (const [name, def] of Object.entries(defs ?? {})) {
    if (out[name] === undefined || isFormula(out[name])) continue;
    if (def.renamed) out[name] = def.renamed(out[name], to);
    const inner = def.recipes?.(out[name]);
    if (inner && def.withRecipes)
      out[name] = def.withRecipes(
        out[name],
        inner.map((steps) => renameReferences(steps as Step[], to)),
      );
    if (def.kind === 'moves')
      out[name] = (out[name] as readonly Move[]).map((move) => ({
        ...move,
        values: renamedValues(toolDef(move.tool)?.values, move.values, to),
      }));
  }
  return out;
}

/** The stored files a document needs: those its steps name, and its pictures. */
export function blobsOf(doc: Pick<ProjectDocument, 'pieces' | 'images'>): Set<string> {
  const out = new Set(doc.images.map((i) => i.blob));
  for (const p of doc.pieces) for (const r of referencesIn(p.recipe)) if (r.to === 'blob') out.add(r.id);
  return out;
}
