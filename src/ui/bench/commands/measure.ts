import { begin } from '../pointing';
import { bench, handOf } from '../store';
import { defineCommands } from './define';

export const measureCommands = defineCommands([
  {
    id: 'tape',
    title: 'Measure with the tape',
    label: 'Tape',
    help: 'The distance between two points, pinned to what they stand on',
    words: 'ruler distance length dimension',
    key: 'Q',
    icon: 'M3 15L15 3l6 6L9 21z M7 11l2 2 M10 8l3 3 M13 5l2 2',
    modes: ['piece', 'vertex', 'edge', 'face'],
    run: () => begin('tape'),
  },
  { id: 'angle', title: 'Measure an angle', words: 'protractor degrees', run: () => begin('angle') },
  { id: 'diameter', title: 'Measure a diameter', words: 'circle radius', run: () => begin('diameter') },
  {
    id: 'wall',
    title: 'Wall thickness under the pointer',
    words: 'measure thin print',
    pressed: (s) => handOf(s, 'wall') !== null,
    run: () => bench.set((s) => ({ hand: handOf(s, 'wall') ? null : { kind: 'wall', thickness: 0 } })),
  },
  {
    id: 'snap',
    title: 'Snapping on or off',
    words: 'magnet grid align',
    pressed: (s) => s.snap.on,
    run: () => bench.set((s) => ({ snap: { ...s.snap, on: !s.snap.on } })),
  },
]);
