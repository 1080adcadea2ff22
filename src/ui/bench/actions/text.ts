/** Recipes as plain text, by the clipboard. */
import * as changes from '../../../document/changes';
import { stepsAsText, stepsFromText } from '../../../document/recipetext';
import { session } from '../session';
import { bench, say, workedOn } from '../store';

export async function copyRecipe(): Promise<void> {
  const s = bench.get();
  const piece = workedOn(s);
  if (!piece || piece.recipe.length === 0 || !s.document) {
    say('Pick a piece with a recipe first.');
    return;
  }
  try {
    await navigator.clipboard.writeText(stepsAsText(piece.recipe, s.document));
    say(`${piece.recipe.length} steps of ${piece.name} are on the clipboard, as text.`);
  } catch {
    say('The browser does not let this page write to the clipboard.');
  }
}

export async function pasteRecipe(): Promise<void> {
  let text: string;
  try {
    text = await navigator.clipboard.readText();
  } catch {
    say('The browser does not let this page read the clipboard.');
    return;
  }
  pasteText(text);
}

/** Steps in a text, added to the piece that is worked on. */
export function pasteText(text: string): void {
  const piece = workedOn(bench.get());
  if (piece?.kind !== 'mesh') {
    say('Pick the piece that the steps are to be added to first.');
    return;
  }
  try {
    const steps = stepsFromText(text);
    if (!steps) {
      say('There are no steps in that text.');
      return;
    }
    const taken = new Set(piece.recipe.map((x) => x.id));
    // Ids stay where they are free: what was picked of what these steps make stays picked.
    const added = steps.map((step) => (taken.has(step.id) ? { ...step, id: changes.newId() } : step));
    session.change(`paste ${added.length} steps`, (d) => changes.pieceOf(d, piece.id).recipe.push(...added));
    say(`${added.length} steps were added to ${piece.name}.`);
  } catch (e) {
    say((e as Error).message);
  }
}
