/** Commands for every tool of core: what there is follows from the tools' own declarations. */
import type { PickKind } from '../../../core/mesh/picks';
import { toolDef, toolDefs, type ToolDef } from '../../../core/tools';
import { lastMove, onWhole, repeatMove, runMove, setHandle } from '../actions';
import { takeBrush } from '../brushing';
import { deletePieces } from '../pieceActions';
import { begin } from '../pointing';
import { bench, say, type BenchState, type Handle, type PickMode } from '../store';
import type { Command } from './define';

const NOUNS: Readonly<Record<PickKind, string>> = { vertex: 'vertices', edge: 'edges', face: 'faces' };

function when(def: ToolDef) {
  return (s: BenchState): true | string => {
    if (s.piece === null) return 'Pick a piece first.';
    if (s.mode === 'piece' && onWhole(def)) return true;
    if (s.mode !== 'piece' && s.pick.keys.length === 0 && def.empty === 'all') return true;
    if (s.mode === 'piece' || s.pick.keys.length === 0)
      return `Pick ${def.picks.map((k) => NOUNS[k]).join(' or ')} first.`;
    return true;
  };
}

const spoken = ({ id, title, label, help, words, key, icon }: ToolDef) => ({
  id,
  title,
  label,
  help,
  words,
  key,
  icon,
});

const byHandles = (def: ToolDef): Command => ({
  ...spoken(def),
  pressed: (s) => s.handle === def.id,
  when: (s) => s.piece !== null || 'Pick a piece first.',
  run: () => setHandle(def.id as Handle),
});

const byPoints = (def: ToolDef): Command => ({
  ...spoken(def),
  modes: [...def.picks, 'piece'] as readonly PickMode[],
  menu: ['shape'],
  when: (s) => s.piece !== null || 'Pick a piece first.',
  run: () => begin(def.id),
});

const byMove = (def: ToolDef): Command => ({
  ...spoken(def),
  modes: def.picks as readonly PickMode[],
  ...(def.rare && !def.key ? {} : { menu: ['shape'] }),
  when: when(def),
  run: () => runMove(def.id),
});

/** Delete means whole pieces too, where pieces are picked. */
const alsoPieces = (c: Command): Command => ({
  ...c,
  modes: ['piece', 'vertex', 'edge', 'face'],
  menu: true,
  when: (s) => (s.mode === 'piece' ? s.piece !== null || 'Pick a piece first.' : c.when!(s)),
  run: () => c.run(),
});

const again: Command = {
  id: 'again',
  title: 'The last move again',
  help: 'Does the same, with the same values, to what is picked now',
  words: 'repeat redo last tool once more',
  key: 'R',
  when: (s) =>
    lastMove() === null
      ? 'Nothing has been done yet that could be done again.'
      : s.piece !== null || 'Pick a piece first.',
  run: () => repeatMove(),
};

const BOTH = [null, 'x', 'y', 'z'] as const;
const bothSides: Command = {
  id: 'both-sides',
  title: 'Both sides at once',
  help: 'What is done is done to what lies at its mirror image too; again for Y, for Z, and off',
  words: 'symmetry mirror x axis symmetric editing',
  key: 'Alt M',
  pressed: (s) => s.bothSides !== null,
  run: () => {
    bench.set((s) => ({ bothSides: BOTH[(BOTH.indexOf(s.bothSides) + 1) % BOTH.length] }));
    const axis = bench.get().bothSides;
    say(axis ? `Moves are done on both sides of ${axis.toUpperCase()} = 0.` : 'Moves are done where one picks only.');
  },
};

export function toolCommands(mode: () => PickMode): Command[] {
  return [again, bothSides, ...byTools(mode)];
}

function byTools(mode: () => PickMode): Command[] {
  return toolDefs().map((def) => {
    if (def.begins === 'handles') return byHandles(def);
    if (def.begins === 'points') return byPoints(def);
    if (def.begins === 'strokes') return { ...byPoints(def), pressed: (s) => s.hand?.kind === 'brush', run: takeBrush };
    const own = byMove(def);
    if (def.id !== 'delete') return own;
    return alsoPieces({ ...own, run: () => (mode() === 'piece' ? deletePieces() : own.run()) });
  });
}

/** Whether a tool stands on the strip where this is picked. */
export const onStrip = (id: string, mode: PickMode): boolean => {
  const def = toolDef(id);
  return !def?.strip || mode === 'piece' || def.strip.includes(mode);
};

/** Tools as they stand on the strip of Shape, in their own order. */
export const stripTools = (): string[] =>
  toolDefs()
    .filter((d) => d.begins !== 'handles' && !d.rare && d.id !== 'delete')
    .map((d) => d.id);
