import { grow, keysOf, shrink } from '../../../core/mesh/picks';
import { repick, setMode } from '../actions';
import { bench, type BenchState, type PickMode } from '../store';
import { defineCommands, type Command } from './define';

const ELEMENTS: readonly PickMode[] = ['vertex', 'edge', 'face'];
const onElements = (s: BenchState): true | string =>
  s.mode !== 'piece' && s.mesh ? true : 'Pick vertices, edges or faces first: keys 2, 3 and 4.';

const mode = (m: PickMode, key: string, noun: string, label: string, words: string, icon: string): Command => ({
  id: `mode-${m}`,
  title: `Pick ${noun}`,
  label,
  help: `A click picks ${noun}; Shift adds, Ctrl takes away`,
  words,
  key,
  icon,
  pressed: (s) => s.mode === m,
  run: () => setMode(m),
});

export const picking = defineCommands([
  mode('piece', '1', 'pieces', 'Piece', 'select object whole', 'M12 3l8 4.5v9L12 21l-8-4.5v-9z'),
  mode('vertex', '2', 'vertices', 'Vertex', 'select point', 'M12 9.5a2.5 2.5 0 1 0 0 5a2.5 2.5 0 1 0 0-5'),
  mode(
    'edge',
    '3',
    'edges',
    'Edge',
    'select line',
    'M4 17a2 2 0 1 0 4 0a2 2 0 1 0-4 0 M16 7a2 2 0 1 0 4 0a2 2 0 1 0-4 0 M7.5 15.7l9-7.4',
  ),
  mode('face', '4', 'faces', 'Face', 'select polygon', 'M12 4l8 6-3 9H7l-3-9z'),
  {
    id: 'grow',
    title: 'Grow the pick',
    words: 'select more expand larger',
    key: '.',
    modes: ELEMENTS,
    menu: true,
    when: onElements,
    run: () => repick((kind, at) => grow(bench.get().mesh!, kind, at)),
  },
  {
    id: 'shrink',
    title: 'Shrink the pick',
    words: 'select less contract smaller',
    key: ',',
    modes: ELEMENTS,
    menu: ['shape'],
    when: onElements,
    run: () => repick((kind, at) => shrink(bench.get().mesh!, kind, at)),
  },
  {
    id: 'all',
    title: 'Pick all',
    words: 'select everything',
    key: 'Ctrl A',
    when: onElements,
    run: () => repick((kind) => Array.from(keysOf(bench.get().mesh!, kind).keys())),
  },
]);
