/** Commands of the bench itself: what is in hand, undo, panels, help. */
import { toggleTheme } from '../../parts/theme';
import { cancel, keep, setStage } from '../actions';
import { session } from '../session';
import { copyRecipe, pasteRecipe } from '../actions/text';
import { bench } from '../store';
import { stageDefs } from '../stages/define';
import { defineCommands, type Command } from './define';

/** The step list takes what is typed next; without a piece, one begins with a start. */
function addStep(): void {
  const then = document.querySelector<HTMLElement>('[data-then]');
  if (bench.get().piece !== null && then) then.focus();
  else bench.set({ over: 'start' });
}

export const benchCommands = defineCommands([
  { id: 'keep', title: 'Keep what is in hand', words: 'confirm apply ok done', key: 'Enter', run: keep },
  { id: 'cancel', title: 'Cancel what is in hand', words: 'escape abort stop back', key: 'Escape', run: cancel },
  {
    id: 'undo',
    title: 'Undo',
    words: 'back revert take',
    key: 'Ctrl Z',
    when: (s) => s.canUndo !== undefined || 'Nothing has been done yet.',
    run: () => session.undo(),
  },
  {
    id: 'redo',
    title: 'Redo',
    words: 'again forward',
    key: 'Ctrl Shift Z',
    when: (s) => s.canRedo !== undefined || 'Nothing has been undone.',
    run: () => session.redo(),
  },
  {
    id: 'history',
    title: 'What was done',
    help: 'The list of changes, to go back many at once',
    words: 'history undo list revert',
    run: () => bench.set({ over: 'history' }),
  },
  {
    id: 'start',
    title: 'Start with …',
    help: 'A new piece: a body, a picture, a file, or something from the library',
    words: 'new add create piece object primitive import',
    key: 'Shift A',
    run: () => bench.set({ over: 'start' }),
  },
  { id: 'step', title: 'Add a step', words: 'modifier then recipe', key: '/', run: addStep },
  {
    id: 'library',
    title: 'Library drawer',
    words: 'assets reuse',
    key: 'Shift L',
    pressed: (s) => s.drawer,
    run: () => bench.set((s) => ({ drawer: !s.drawer })),
  },
  {
    id: 'panels',
    title: 'Hide or show the panels',
    words: 'sidebar full screen',
    key: '\\',
    run: () => bench.set((s) => ({ panels: !s.panels })),
  },
  {
    id: 'map',
    title: 'Map of the recipe',
    help: 'The recipe as slips of paper joined by threads, beside the view',
    words: 'graph nodes network tree flow branches',
    key: 'Shift M',
    pressed: (s) => s.map,
    run: () => bench.set((s) => ({ map: !s.map })),
  },
  {
    id: 'solve',
    title: 'Solve for a dial',
    help: 'The value of a dial found by what it should come to',
    words: 'goal seek find value target fit size',
    run: () => bench.set({ over: 'solve' }),
  },
  {
    id: 'variations',
    title: 'Variations',
    help: 'Small pictures over ranges of one dial or two, to choose from',
    words: 'options explore grid sweep random seed gallery',
    run: () => bench.set({ over: 'variations' }),
  },
  {
    id: 'copy-recipe',
    title: 'Copy the recipe as text',
    help: 'Its steps as sentences, and as what Glypta can take in again',
    words: 'clipboard export share mail steps',
    run: () => void copyRecipe(),
  },
  {
    id: 'paste-recipe',
    title: 'Paste steps from text',
    help: 'Adds steps that were copied as text to the recipe of the picked piece',
    words: 'clipboard import steps mail',
    run: () => void pasteRecipe(),
  },
  { id: 'theme', title: 'Light or dark theme', words: 'night colours appearance', run: toggleTheme },
  {
    id: 'search',
    title: 'Find any command',
    words: 'palette menu',
    key: 'Ctrl K',
    run: () => bench.set({ over: 'search' }),
  },
  {
    id: 'keys',
    title: 'Keys and gestures',
    words: 'shortcuts help hotkeys mouse',
    key: '?',
    run: () => bench.set({ over: 'keys' }),
  },
  {
    id: 'tour',
    title: 'A short tour',
    words: 'help tutorial introduction begin',
    run: () => bench.set({ over: 'tour' }),
  },
]);

export const stageCommands = (): Command[] =>
  stageDefs().map(({ id, title, about }) => ({
    id: `stage-${id}`,
    title: `Go to ${title}`,
    help: about,
    pressed: (s) => s.stage === id,
    run: () => setStage(id),
  }));
