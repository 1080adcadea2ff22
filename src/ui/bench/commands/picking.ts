import { keysOf } from '../../../core/mesh/picks';
import { askPick, changePick, pickBefore, repick, setMode, setPick } from '../actions';
import { setBrush } from '../brushing';
import { beginChoosing, CHOOSERS } from '../choosing';
import { bench, say, type BenchState, type PickMode } from '../store';
import { defineCommands, type Command } from './define';

const ELEMENTS: readonly PickMode[] = ['vertex', 'edge', 'face'];
const onElements = (s: BenchState): true | string =>
  s.mode !== 'piece' && s.mesh ? true : 'Pick vertices, edges or faces first: keys 2, 3 and 4.';

const onPicked = (s: BenchState): true | string =>
  onElements(s) !== true || s.pick.keys.length > 0 ? onElements(s) : 'Pick something first.';

const hasBrush = (s: BenchState): true | string =>
  s.pickBrush !== null || s.hand?.kind === 'brush' || 'Take up a brush first.';

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
    run: () => repick('grow'),
  },
  {
    id: 'shrink',
    title: 'Shrink the pick',
    words: 'select less contract smaller',
    key: ',',
    modes: ELEMENTS,
    menu: ['shape'],
    when: onElements,
    run: () => repick('shrink'),
  },
  {
    id: 'all',
    title: 'Pick all',
    words: 'select everything',
    key: 'Ctrl A',
    when: onElements,
    run: () => repick('all'),
  },
  {
    id: 'none',
    title: 'Pick nothing',
    words: 'deselect clear unselect',
    key: 'Ctrl Shift A',
    when: onElements,
    run: () => setPick(bench.get().pick.kind, []),
  },
  {
    id: 'invert',
    title: 'Pick the rest',
    help: 'Everything that is not picked',
    words: 'invert select opposite',
    key: 'Ctrl I',
    modes: ELEMENTS,
    when: onElements,
    run: () => repick('invert'),
  },
  {
    id: 'joined',
    title: 'Pick all that is joined',
    words: 'linked connected island part select',
    key: 'Shift .',
    modes: ELEMENTS,
    menu: ['shape'],
    when: onPicked,
    run: () => repick('joined'),
  },
  {
    id: 'border',
    title: 'Pick the border',
    help: 'The edges round picked faces; of edges and vertices those that have an unpicked neighbour',
    words: 'boundary outline edge contour select',
    modes: ELEMENTS,
    when: onPicked,
    run: () => repick('border'),
  },
  {
    id: 'path',
    title: 'Pick the way between',
    help: 'The shortest way from the element picked before to the one picked last',
    words: 'shortest path trace select between',
    key: 'Shift P',
    modes: ELEMENTS,
    when: (s) => (onElements(s) === true && s.pick.keys.length < 2 ? 'Pick two elements first.' : onElements(s)),
    run: pickPath,
  },
  {
    id: 'through',
    title: 'Pick through',
    help: 'Boxes, lassos and brushes take what is hidden too',
    words: 'select hidden behind xray occluded visible only',
    key: 'Alt X',
    pressed: (s) => s.through,
    run: () => {
      bench.set((s) => ({ through: !s.through }));
      say(bench.get().through ? 'Picking goes through: what is hidden too.' : 'Picking takes only what is seen.');
    },
  },
  {
    id: 'pick-brush',
    title: 'Pick by brush',
    help: 'Whatever the brush passes over is picked; Ctrl takes away; [ and ] size it',
    words: 'paint select circle',
    key: 'Shift B',
    modes: ELEMENTS,
    pressed: (s) => s.pickBrush !== null,
    when: onElements,
    run: () => bench.set((s) => ({ pickBrush: s.pickBrush === null ? 24 : null })),
  },
  {
    id: 'brush-smaller',
    title: 'Smaller brush',
    words: 'size radius',
    key: '[',
    when: hasBrush,
    run: () => sizeBrush(1 / 1.25),
  },
  {
    id: 'brush-larger',
    title: 'Larger brush',
    words: 'size radius',
    key: ']',
    when: hasBrush,
    run: () => sizeBrush(1.25),
  },
  {
    id: 'pick-before',
    title: 'The pick before',
    help: 'Goes back through the last ten picks',
    words: 'last previous selection history again',
    key: 'Alt P',
    when: (s) => s.pickedBefore.length > 0 || 'Nothing was picked before this.',
    run: pickBefore,
  },
  ...CHOOSERS.map((c): Command => ({
    id: `pick-${c.id}`,
    title: `Pick ${c.title}`,
    words: c.words,
    modes: c.picks,
    when: c.from ? onPicked : onElements,
    run: () => beginChoosing(c.id),
  })),
]);

function sizeBrush(by: number): void {
  const { pickBrush, hand } = bench.get();
  if (hand?.kind === 'brush') setBrush({ radius: hand.values.radius * by });
  else if (pickBrush !== null) bench.set({ pickBrush: Math.max(4, Math.min(300, Math.round(pickBrush * by))) });
}

function pickPath(): void {
  const { mesh, pick } = bench.get();
  if (!mesh) return;
  const keys = keysOf(mesh, pick.kind);
  const [from, to] = pick.keys.slice(-2).map((k) => keys.indexOf(k));
  if (from < 0 || to < 0) return;
  askPick({ name: 'path', kind: pick.kind, from: Uint32Array.of(from, to) }, ({ indices: way }) => {
    if (way.length === 0) say('Nothing leads from one to the other.');
    else
      changePick(
        pick.kind,
        Array.from(way, (i) => keys[i]),
        'add',
      );
  });
}
