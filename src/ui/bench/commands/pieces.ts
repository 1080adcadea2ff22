import * as changes from '../../../document/changes';
import * as pieces from '../pieceActions';
import { shareOneSheet } from '../actions';
import { begin } from '../pointing';
import { session } from '../session';
import { bench, type BenchState, type PickMode } from '../store';
import { defineCommands, type Command } from './define';

const PIECES: readonly PickMode[] = ['piece'];
const FACES: readonly PickMode[] = ['face'];
const anyPiece = (s: BenchState): true | string => s.piece !== null || 'Pick a piece first.';
const anyFace = (s: BenchState): true | string =>
  (s.pick.kind === 'face' && s.pick.keys.length > 0) || 'Pick the faces first.';
const anyLinked = (s: BenchState): true | string =>
  s.document?.pieces.some((p) => s.picked.includes(p.id) && p.link !== null) ||
  'None of what is picked is a linked copy.';
const severalPieces = (s: BenchState): true | string => s.picked.length > 1 || 'Pick two pieces or more first.';

/** What can be done with the pieces that are picked. */
const onPieces = (c: Omit<Command, 'modes' | 'menu'> & { menu?: false }): Command => ({
  when: anyPiece,
  ...c,
  modes: PIECES,
  menu: c.menu === false ? undefined : true,
});

export const pieceCommands = defineCommands([
  {
    id: 'draw-line',
    title: 'Draw a line',
    help: 'A curve through points clicked on the ground and on pieces, for others to go along',
    words: 'path spline curve polyline rail pen',
    modes: PIECES,
    menu: true,
    run: () => begin('draw-line'),
  },
  onPieces({
    id: 'copy',
    title: 'Copy the pieces',
    label: 'Copy',
    words: 'duplicate clone double',
    key: 'Ctrl D',
    icon: 'M4 8h11v12H4z M9 8V4h11v12h-5',
    run: () => pieces.copyPieces(false),
  }),
  onPieces({
    id: 'linked',
    title: 'Linked copy',
    label: 'Linked',
    help: 'A copy that follows the recipe of its original',
    words: 'instance duplicate alias clone',
    key: 'Ctrl Shift D',
    icon: 'M10 14a4 4 0 0 0 5.7 0l3-3a4 4 0 0 0-5.7-5.7l-.9.9 M14 10a4 4 0 0 0-5.7 0l-3 3A4 4 0 0 0 11 18.700l.9-.9',
    run: () => pieces.copyPieces(true),
  }),
  onPieces({
    id: 'as-kit',
    title: 'Place as a kit',
    help: 'A piece made of this one: it follows it, with dials of its own where you turn them',
    words: 'kit asset instance prefab component variant placement',
    run: () => pieces.placeAsKit(),
  }),
  onPieces({
    id: 'mirror-copy',
    title: 'Mirrored copy across x',
    words: 'flip symmetry reflect',
    run: () => pieces.mirrorCopy({ axis: 'x', across: 'parent', linked: false, frontRear: false }),
  }),
  onPieces({
    id: 'own',
    title: 'Make its own',
    words: 'unlink unique independent',
    when: anyLinked,
    run: pieces.makeOwn,
  }),
  onPieces({
    id: 'draw-over',
    title: 'Draw over it',
    help: 'A light mesh drawn over a heavy one, strip by strip, and kept on its surface',
    words: 'retopology clean mesh quads remesh low poly',
    run: pieces.drawOver,
  }),
  onPieces({
    id: 'put-cage',
    title: 'Put a cage round it',
    help: 'A box of lines whose vertices the piece follows',
    words: 'lattice deform ffd bend free form control',
    run: pieces.putCage,
  }),
  onPieces({
    id: 'group-picked',
    title: 'Group what is picked',
    label: 'Group',
    words: 'folder parent',
    key: 'Ctrl G',
    icon: 'M3 6h6l2 2h10v11H3z M12 11v5 M9.500 13.5h5',
    run: pieces.groupPicked,
  }),
  onPieces({
    id: 'merge',
    title: 'Merge into one',
    words: 'join combine attach',
    when: severalPieces,
    run: pieces.mergePicked,
  }),
  onPieces({
    id: 'share-sheet',
    title: 'Lay on one sheet',
    words: 'atlas uv pack together unwrap shared',
    when: severalPieces,
    run: () => shareOneSheet(pieces.pickedPieces()),
  }),
  onPieces({
    id: 'split',
    title: 'Split into loose parts',
    words: 'separate explode',
    run: () => void pieces.splitPicked('part'),
  }),
  onPieces({
    id: 'split-material',
    title: 'Split by material',
    words: 'separate',
    menu: false,
    run: () => void pieces.splitPicked('material'),
  }),
  onPieces({
    id: 'split-set',
    title: 'Split by set',
    words: 'separate group',
    menu: false,
    run: () => void pieces.splitPicked('set'),
  }),
  onPieces({
    id: 'save-file',
    title: 'Save as a file of its own',
    help: 'One ZIP with the pieces, dials, materials and files it needs; dropped on a project it goes in there',
    words: 'export kit share asset download',
    run: () => void import('../library').then((l) => l.savePicked()),
  }),
  onPieces({
    id: 'keep-library',
    title: 'Keep in the library',
    words: 'save reuse asset',
    run: () => void import('../library').then((l) => l.keepPicked()),
  }),
  onPieces({
    id: 'only',
    title: 'Only the picked',
    label: 'Only',
    words: 'isolate solo alone',
    key: 'O',
    icon:
      'M4 8V5a1 1 0 0 1 1-1h3 M16 4h3a1 1 0 0 1 1 1v3 M20 16v3a1 1 0 0 1-1 1h-3 M8 20H5a1 1 0 0 1-1-1v-3 M9 ' +
      '9h6v6H9z',
    when: (s) => s.only !== null || anyPiece(s),
    run: pieces.isolate,
  }),
  onPieces({
    id: 'ghost',
    title: 'Ghost: lines over the others',
    words: 'template transparent wire reference',
    key: 'Shift O',
    run: pieces.toggleGhost,
  }),
  onPieces({
    id: 'hide',
    title: 'Hide the pieces',
    words: 'invisible',
    key: 'H',
    run: () => pieces.setPicked('hide', { visible: false }),
  }),
  {
    id: 'show',
    title: 'Show all pieces',
    words: 'unhide visible',
    key: 'Shift H',
    modes: PIECES,
    menu: true,
    run: () =>
      session.change('show all', (d) => {
        for (const p of d.pieces) if (!p.visible) p.visible = true;
      }),
  },
  onPieces({
    id: 'lock',
    title: 'Lock the pieces',
    words: 'freeze protect',
    menu: false,
    run: () => pieces.setPicked('lock', { locked: true }),
  }),
  onPieces({
    id: 'rename',
    title: 'Rename the piece',
    words: 'name call',
    menu: false,
    run: () => {
      const row = document.querySelector<HTMLElement>('[data-rename]');
      row?.dispatchEvent(new MouseEvent('dblclick', { bubbles: true }));
    },
  }),
  {
    id: 'group',
    title: 'New group',
    words: 'folder empty',
    run: () => session.change('add a group', (d) => changes.addGroup(d, changes.newId(), 'group')),
  },
  {
    id: 'detach-piece',
    title: 'Detach as a piece',
    words: 'separate extract new',
    key: 'Shift D',
    modes: FACES,
    menu: ['shape'],
    when: anyFace,
    run: () => pieces.detachPicked(false),
  },
  {
    id: 'copy-piece',
    title: 'Copy faces as a piece',
    words: 'duplicate extract new',
    modes: FACES,
    when: anyFace,
    run: () => pieces.detachPicked(true),
  },
  {
    id: 'bake',
    title: 'Bake placement',
    words: 'apply freeze transform reset',
    when: anyPiece,
    run: pieces.bakePlaces,
  },
  {
    id: 'pivot',
    title: 'Place the pivot',
    words: 'origin center axis',
    key: 'P',
    when: anyPiece,
    run: () => begin('pivot'),
  },
  {
    id: 'pivot-move',
    title: 'Move pivots, not pieces',
    words: 'origin axis',
    when: anyPiece,
    pressed: (s) => s.pivoting,
    run: () => bench.set((s) => ({ pivoting: !s.pivoting, handle: 'move', mode: 'piece' })),
  },
  {
    id: 'pivot-centre',
    title: 'Pivot to the centre',
    words: 'origin middle',
    when: anyPiece,
    run: () => pieces.movePivot('centre'),
  },
  {
    id: 'pivot-bottom',
    title: 'Pivot to the bottom',
    words: 'origin base floor',
    when: anyPiece,
    run: () => pieces.movePivot('bottom'),
  },
  {
    id: 'pivot-world',
    title: 'Pivot to the world’s origin',
    words: 'zero',
    when: anyPiece,
    run: () => pieces.movePivot('world'),
  },
  {
    id: 'pivot-pick',
    title: 'Pivot to the pick',
    words: 'origin selection',
    when: anyPiece,
    run: () => pieces.movePivot('pick'),
  },
]);
