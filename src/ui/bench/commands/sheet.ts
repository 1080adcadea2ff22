import type { Mark } from '../../../document/changes';
import {
  copyLayout,
  endSuggesting,
  layAsCopied,
  carryOver,
  makeTexture,
  markSeams,
  packAll,
  setMode,
  suggestSeams,
  unfold,
} from '../actions';
import { begin } from '../pointing';
import { bench, handOf, workedOn, type BenchState, type PickMode } from '../store';
import { defineCommands, type Command } from './define';

const ELEMENTS: readonly PickMode[] = ['edge', 'face', 'vertex'];
const ANY: readonly PickMode[] = ['piece', ...ELEMENTS];
const anyPiece = (s: BenchState): true | string => s.piece !== null || 'Pick a piece first.';

const mark = (
  id: string,
  mark: Mark,
  title: string,
  label: string,
  key: string,
  help: string,
  icon: string,
): Command => ({
  id,
  title,
  label,
  help,
  words: 'uv seam edge unwrap',
  key,
  icon,
  modes: ELEMENTS,
  menu: ['unwrap'],
  when: (s) => (s.mode !== 'piece' && s.pick.keys.length > 0) || 'Pick edges to mark first.',
  run: () => markSeams(mark),
});

export const sheetCommands = defineCommands([
  mark(
    'cut',
    'cut',
    'Cut seam',
    'Cut',
    'K',
    'Always apart on the sheet',
    'M6 7a2.500 2.5 0 1 0 0-.1 M6 17a2.500 2.5 0 1 0 0-.1 M8 8.500L20 17 M8 15.500L20 7',
  ),
  mark(
    'hold',
    'hold',
    'Hold together',
    'Hold',
    'Shift K',
    'Always together on the sheet',
    'M9 8H6a4 4 0 0 0 0 8h3 M15 8h3a4 4 0 0 1 0 8h-3 M8 12h8',
  ),
  mark('letbe', 'let be', 'Let be', 'Let be', 'Alt K', 'The solver decides', 'M5 12h.01 M12 12h.01 M19 12h.01'),
  {
    id: 'unfold',
    title: 'Unfold',
    help: 'Lays the surface flat, and gives back what was placed by hand',
    words: 'uv unwrap flatten layout',
    key: 'U',
    icon: 'M12 3v6H6v6h12V9h-6 M12 15v6 M6 9l6-6 M12 3l6 6',
    modes: ANY,
    menu: ['unwrap'],
    when: anyPiece,
    run: unfold,
  },
  {
    id: 'trace-seam',
    title: 'Trace a seam',
    label: 'Trace',
    help: 'Click vertices: the seam runs between them along creases and where it hides',
    words: 'uv cut path shortest draw',
    key: 'Shift U',
    icon: 'M4 19l5-6 5 3 6-11 M4 19h.01 M9 13h.01 M14 16h.01 M20 5h.01',
    modes: ANY,
    when: (s) => workedOn(s)?.kind === 'mesh' || 'Pick a piece first.',
    pressed: (s) => handOf(s, 'pointing')?.tool === 'trace-seam',
    run: () => {
      if (bench.get().mode === 'piece') setMode('edge');
      begin('trace-seam');
    },
  },
  {
    id: 'suggest-seams',
    title: 'Suggest seams',
    label: 'Suggest',
    help: 'Seams that would be worth their length, and seams that could be closed',
    words: 'uv cut close stretch islands',
    icon: 'M4 12h2 M9 12h2 M14 12h2 M19 12h1 M6 7l4 2 M14 15l4 2',
    modes: ANY,
    when: (s) => workedOn(s)?.kind === 'mesh' || 'Pick a piece first.',
    pressed: (s) => s.suggested !== null,
    run: () => {
      if (bench.get().suggested) endSuggesting();
      else void suggestSeams();
    },
  },
  {
    id: 'copy-layout',
    title: 'Copy the layout',
    help: 'Takes where everything lies on the sheet, for pieces of the same or a similar shape',
    words: 'uv transfer same clipboard',
    when: (s) => workedOn(s)?.kind === 'mesh' || 'Pick a piece first.',
    run: () => void copyLayout(),
  },
  {
    id: 'lay-as-copied',
    title: 'Lay out as copied',
    help: 'Gives the piece the layout that was copied from another',
    words: 'uv transfer paste same',
    when: (s) => workedOn(s)?.kind === 'mesh' || 'Pick a piece first.',
    run: () => void layAsCopied(),
  },
  { id: 'pack', title: 'Pack', words: 'uv arrange islands layout', when: anyPiece, run: packAll },
  {
    id: 'texture',
    title: 'Make texture',
    label: 'Texture',
    help: 'Writes the colours into a picture on the sheet',
    words: 'bake image map picture',
    icon: 'M4 4h7v7H4z M13 4h7v7h-7z M4 13h7v7H4z M13 13h7v7h-7z',
    modes: ANY,
    when: (s) =>
      workedOn(s)?.recipe.some((x) => x.kind === 'unwrap') || 'Unwrap the piece first: a texture needs a sheet.',
    run: makeTexture,
  },
  {
    id: 'carry-over',
    title: 'Carry the pictures over',
    help: 'Draws the pictures of its materials anew on another layout, and again whenever that changes',
    words: 'transfer resample rebake texture image new uv layout',
    when: (s) => workedOn(s)?.kind === 'mesh' || 'Pick a piece first.',
    run: () => void carryOver(),
  },
]);
