import { setShading } from '../actions';
import { viewer } from '../view/ways';
import { bench, SHADINGS, type ViewName } from '../store';
import { defineCommands, type Command } from './define';

const face = (id: string, view: ViewName, title: string): Command => ({
  id,
  title,
  words: 'camera orthographic look',
  pressed: (s) => s.view === view,
  run: () => bench.set({ view }),
});

export const viewCommands = defineCommands([
  { id: 'see-all', title: 'See all', words: 'fit frame zoom everything', key: 'Home', run: () => viewer.see(true) },
  {
    id: 'see-pick',
    title: 'See the pick',
    label: 'See',
    words: 'fit frame zoom focus selection',
    key: 'End',
    icon:
      'M4 8V5a1 1 0 0 1 1-1h3 M16 4h3a1 1 0 0 1 1 1v3 M20 16v3a1 1 0 0 1-1 1h-3 M8 20H5a1 1 0 0 1-1-1v-3 M11 8a3 ' +
      '3 0 1 0 0 6a3 3 0 1 0 0-6 M13.300 13.3L16.500 16.5',
    menu: true,
    modes: ['piece', 'vertex', 'edge', 'face'],
    run: () => viewer.see(false),
  },
  {
    id: 'shading',
    title: 'Next shading',
    words: 'display mode wireframe clay materials checker',
    key: 'Y',
    run: () => {
      const i = SHADINGS.findIndex((x) => x[0] === bench.get().shading);
      setShading(SHADINGS[(i + 1) % SHADINGS.length][0]);
    },
  },
  {
    id: 'four',
    title: 'Four views, or one',
    words: 'quad split panes layout',
    key: 'J',
    pressed: (s) => s.four,
    run: () => bench.set((s) => ({ four: !s.four })),
  },
  { id: 'view-back', title: 'The view before', words: 'camera undo', key: 'Alt ArrowLeft', run: () => viewer.back(-1) },
  {
    id: 'view-forward',
    title: 'The view after',
    words: 'camera redo',
    key: 'Alt ArrowRight',
    run: () => viewer.back(1),
  },
  face('front', 'Front', 'Front view'),
  face('side', 'Side', 'Side view'),
  face('top', 'Top', 'Top view'),
  face('persp', 'Persp', 'Perspective view'),
]);
