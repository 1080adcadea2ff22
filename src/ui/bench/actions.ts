/** What the interface can do: every command, by one name, with its key. Buttons, keys and the command search all call these. */
import {
  convert,
  edgeKeys,
  edgeLoop,
  flatRegion,
  grow,
  keysOf,
  resolve,
  shrink,
  type PickKind,
} from '../../core/mesh/picks';
import { faceNormals } from '../../core/mesh/normals';
import { components } from '../../core/mesh/measure';
import { moveDef } from '../../core/recipe/moves';
import { stepDef, stepDefs } from '../../core/recipe/registry';
import { defaultsOf, type Move } from '../../core/recipe/values';
import * as changes from '../../document/changes';
import type { Placed } from '../../core/uv/unwrap';
import { toggleTheme } from '../parts/theme';
import * as pieces from './pieceActions';
import { keepPlacing } from './placing';
import { begin, finish } from './pointing';
import { refocus, session } from './session';
import {
  bench,
  SHADINGS,
  STAGES,
  workedOn,
  type AboutWhat,
  type BenchState,
  type Handle,
  type PickMode,
  type Shading,
  type Stage,
} from './store';

const meshPiece = (s: BenchState) => {
  const p = workedOn(s);
  return p?.kind === 'mesh' ? p : undefined;
};
const say = (text: string): void => bench.set({ say: text });

export function setStage(stage: Stage): void {
  keep();
  const s = bench.get();
  const shading: Shading =
    stage === 'unwrap'
      ? 'checker'
      : stage === 'finish'
        ? 'materials'
        : s.shading === 'checker' || (s.shading === 'materials' && s.stage === 'finish')
          ? 'clay'
          : s.shading;
  bench.set({
    stage,
    step: null,
    handle: null,
    pointing: null,
    placing: null,
    shading,
    ...(stage === 'gather' ? { mode: 'piece' as const, about: aboutFor('piece', s.about) } : {}),
    ...(stage === 'unwrap' && s.mode !== 'face' ? pickState('edge') : stage === 'finish' ? pickState('face') : {}),
  });
  refocus();
}

const pickState = (kind: PickKind) => ({ mode: kind as PickMode, pick: { kind, keys: [] as number[] }, last: null });

/** Pieces turn about their pivots, elements about their middle, unless something else was chosen. */
const aboutFor = (mode: PickMode, about: AboutWhat): AboutWhat =>
  mode === 'piece' && about === 'pick' ? 'pivot' : mode !== 'piece' && about === 'pivot' ? 'pick' : about;

export function setMode(mode: PickMode): void {
  keep();
  if ((mode === 'piece') !== (bench.get().mode === 'piece')) bench.set((s) => ({ about: aboutFor(mode, s.about) }));
  const { mesh, pick } = bench.get();
  if (bench.get().mode === 'piece' && mode !== 'piece') {
    bench.set({ mode });
    session.refresh();
  }
  if (mode === 'piece') {
    bench.set({ mode, pick: { kind: 'face', keys: [] }, last: null, inHand: null });
    return;
  }
  bench.set({ placing: null, pivoting: false });
  // What is picked is kept, as far as it means something in the other kind.
  const indices = mesh ? convert(mesh, pick.kind, resolve(mesh, pick).indices, mode) : [];
  setPick(mode, mesh ? Array.from(indices, (i) => keysOf(mesh, mode)[i]) : []);
  bench.set({ mode });
}

export function setPick(
  kind: PickKind,
  keys: readonly number[],
  last: number | null = keys[keys.length - 1] ?? null,
): void {
  const pick = { kind, keys };
  bench.set({ pick, last });
  session.askFacts(pick);
}

export function changePick(kind: PickKind, keys: readonly number[], how: 'set' | 'add' | 'remove'): void {
  keep();
  const { pick } = bench.get();
  if (how === 'set' || pick.kind !== kind) {
    setPick(kind, keys);
    return;
  }
  const now = new Set(pick.keys);
  for (const k of keys) {
    if (how === 'add') now.add(k);
    else now.delete(k);
  }
  setPick(kind, [...now], how === 'add' ? (keys[keys.length - 1] ?? null) : null);
}

const indicesNow = (): Uint32Array => {
  const { mesh, pick } = bench.get();
  return mesh ? resolve(mesh, pick).indices : new Uint32Array(0);
};

function repick(make: (kind: PickKind, indices: Uint32Array) => ArrayLike<number>): void {
  const { mesh, pick } = bench.get();
  if (!mesh) return;
  const keys = keysOf(mesh, pick.kind);
  setPick(
    pick.kind,
    Array.from(make(pick.kind, indicesNow()), (i) => keys[i]),
  );
}

/** What a double click picks: an edge's loop, a face's flat region, all that is joined to a vertex. */
export function pickWider(kind: PickKind, index: number, add: boolean): void {
  const { mesh } = bench.get();
  if (!mesh) return;
  let list: ArrayLike<number>;
  if (kind === 'edge') list = edgeLoop(mesh, index);
  else if (kind === 'face') list = flatRegion(mesh, index, faceNormals(mesh));
  else {
    const { of } = components(mesh);
    list = Array.from({ length: mesh.vertexCount }, (_, v) => v).filter((v) => of[v] === of[index]);
  }
  const keys = kind === 'edge' ? edgeKeys(mesh) : keysOf(mesh, kind);
  changePick(
    kind,
    Array.from(list, (i) => keys[i]),
    add ? 'add' : 'set',
  );
}

// Moves

/** The "shape by hand" step to put a move into: the focused one, or a new one after the step that starts the recipe. */
function shapeStep(): { piece: string; step: string; after?: string } | null {
  const s = bench.get();
  const piece = meshPiece(s);
  if (!piece) {
    say('Pick a piece to work on first.');
    return null;
  }
  if (piece.locked || s.document!.pieces.find((p) => p.id === s.piece)?.locked) {
    say(`${piece.name} is locked.`);
    return null;
  }
  if (piece.recipe.find((x) => x.id === s.step)?.kind === 'shape') return { piece: piece.id, step: s.step! };
  const after = s.step ?? piece.upTo ?? piece.recipe.findLast((x) => stepDef(x.kind)?.takes === 'nothing')?.id;
  return { piece: piece.id, step: changes.newId(), after };
}

/** Adds a move, and with it the step it goes into where that is not there yet: one change, so one undo. */
function putMove(d: changes.Draft, at: { piece: string; step: string; after?: string }, move: Move): void {
  if (!changes.pieceOf(d, at.piece).recipe.some((x) => x.id === at.step))
    changes.addStep(d, at.piece, 'shape', at.step, {}, at.after);
  changes.addMove(d, at.piece, at.step, move);
}

/** Begins a move with the pick. It stays in hand, its values open, until it is kept or cancelled. */
export function beginMove(tool: string, values: Record<string, unknown> = {}): string | null {
  keep();
  const def = moveDef(tool),
    { pick, mesh } = bench.get();
  if (!def || !mesh) return null;
  let kind = pick.kind;
  let keys = pick.keys;
  if (indicesNow().length === 0) {
    if (!['move', 'turn', 'size'].includes(tool)) {
      say(`Pick ${def.picks.map((k) => (k === 'vertex' ? 'vertices' : `${k}s`)).join(' or ')} first.`);
      return null;
    }
    kind = 'face';
    keys = Array.from(mesh.faceKey); // nothing picked: the whole piece
  }
  if (!def.picks.includes(kind)) {
    const to = def.picks[0];
    const found = convert(mesh, kind, resolve(mesh, { kind, keys }).indices, to);
    if (found.length === 0) {
      say(`${def.title} works on ${def.picks.map((k) => (k === 'vertex' ? 'vertices' : `${k}s`)).join(' or ')}.`);
      return null;
    }
    keys = Array.from(found, (i) => keysOf(mesh, to)[i]);
    kind = to;
  }
  const at = shapeStep();
  if (!at) return null;
  const { piece, step } = at;
  const id = changes.newId();
  const move = { id, tool, pick: { kind, keys: [...keys] }, values: { ...defaultsOf(def.values), ...values } };
  bench.set({ step, inHand: null });
  session.change(def.title.toLowerCase(), (d) => putMove(d, at, move), `move ${id}`);
  bench.set({ step });
  refocus();
  const list = bench
    .get()
    .document?.pieces.find((p) => p.id === piece)
    ?.recipe.find((x) => x.id === step)?.values.moves as { id: string }[] | undefined;
  const kept = list?.[list.length - 1]?.id ?? id; // a merge keeps the earlier move
  bench.set({ inHand: { ...at, move: kept, fresh: true } });
  return id;
}

/** While dragging: the move is made anew from where it began, with these values. */
export function dragMove(id: string, tool: string, values: Record<string, unknown>): void {
  const { inHand, pick, mesh } = bench.get(),
    def = moveDef(tool);
  if (!inHand || !def || !mesh) return;
  const empty = resolve(mesh, pick).indices.length === 0;
  const move = {
    id,
    tool,
    pick: empty ? { kind: 'face' as const, keys: Array.from(mesh.faceKey) } : { kind: pick.kind, keys: [...pick.keys] },
    values: { ...defaultsOf(def.values), ...values },
  };
  session.change(def.title.toLowerCase(), (d) => putMove(d, inHand, move), `move ${id}`);
}

/** Changes values of the move in hand; while it is fresh this is still the same change. */
export function setInHand(values: Record<string, unknown>, scrub = false): void {
  const h = bench.get().inHand,
    history = session.history;
  if (!h || !history) return;
  if (h.fresh && history.isLive) {
    // The live change is replayed from its base: add the move again with the new values.
    const current = inHandMove();
    if (!current) return;
    session.change(
      moveDef(current.tool)!.title.toLowerCase(),
      (d) => {
        const move = { ...current, values: { ...current.values, ...values } };
        const list = changes.pieceOf(d, h.piece).recipe.find((x) => x.id === h.step)?.values.moves as
          Move[] | undefined;
        const at = list?.findIndex((m) => m.id === h.move) ?? -1;
        if (at >= 0) list![at] = move;
        else putMove(d, h, move);
      },
      `move ${h.move}`,
    );
    return;
  }
  session.change(
    'change a move',
    (d) => changes.setMove(d, h.piece, h.step, h.move, values),
    scrub ? `set ${h.move} ${Object.keys(values).join()}` : undefined,
  );
}

export function inHandMove(): Move | undefined {
  const { inHand: h, document } = bench.get();
  const step = h && document?.pieces.find((p) => p.id === h.piece)?.recipe.find((x) => x.id === h.step);
  return step ? (step.values.moves as Move[]).find((m) => m.id === h.move) : undefined;
}

/** Enter: what is in hand is kept. */
export function keep(): void {
  if (bench.get().pointing) {
    finish();
    return;
  }
  if (bench.get().placing && session.history?.isLive) keepPlacing();
  else session.settle();
  if (bench.get().inHand?.fresh) bench.set((s) => ({ inHand: s.inHand && { ...s.inHand, fresh: false } }));
}

/** Esc: what is in hand is let go; then handles; then the pick. */
export function cancel(): void {
  const s = bench.get();
  if (s.pointing) {
    bench.set({ pointing: null });
    return;
  }
  if (s.wall !== null) {
    bench.set({ wall: null });
    return;
  }
  if (session.history?.isLive) {
    session.cancel();
    bench.set({ inHand: null, placing: null });
    return;
  }
  if (s.placing) {
    bench.set({ placing: null });
    return;
  }
  if (s.pivoting) {
    bench.set({ pivoting: false });
    return;
  }
  if (s.mode === 'piece' && !s.handle) {
    pieces.pickPieces([]);
    return;
  }
  if (s.inHand) {
    bench.set({ inHand: null });
    return;
  }
  if (s.handle) {
    bench.set({ handle: null });
    return;
  }
  setPick(s.pick.kind, []);
}

export function runMove(tool: string): void {
  if (beginMove(tool) && ['delete', 'fill', 'weld'].includes(tool)) {
    keep();
    if (tool === 'delete') setPick(bench.get().pick.kind, []);
  }
}

export function setHandle(handle: Handle): void {
  keep();
  bench.set((s) => ({ handle: s.handle === handle ? null : handle }));
}

// Steps and pieces

export function addStep(kind: string): void {
  const s = bench.get(),
    def = stepDef(kind);
  if (!def) return;
  keep();
  if (def.takes === 'nothing') {
    addPiece(kind);
    return;
  }
  const piece = meshPiece(s);
  if (!piece) {
    say('Pick a piece to add a step to first.');
    return;
  }
  const id = changes.newId();
  const values = kind === 'color' && s.document!.materials[0] ? { base: s.document!.materials[0].id } : {};
  session.change(`add ${def.title.toLowerCase()}`, (d) => {
    changes.addStep(d, piece.id, kind, id, values, piece.upTo ?? undefined);
    if (piece.upTo !== null) changes.setPiece(d, piece.id, { upTo: id });
  });
}

export function addPiece(kind: string): void {
  const s = bench.get(),
    id = changes.newId(),
    step = changes.newId();
  const beside = s.document?.pieces.find((p) => p.id === s.piece);
  const parent = beside ? (beside.kind === 'group' ? beside.id : beside.parent) : null;
  session.change(`add a ${kind}`, (d) => {
    changes.addPiece(d, id, kind, parent);
    changes.addStep(d, id, kind, step);
  });
  focusPiece(id);
}

export function focusPiece(id: string | null): void {
  keep();
  const s = bench.get();
  bench.set({
    piece: id,
    picked: id === null ? [] : [id],
    step: null,
    inHand: null,
    placing: null,
    pick: { kind: s.pick.kind, keys: [] },
    last: null,
    facts: null,
  });
  refocus();
}

export function focusStep(id: string): void {
  keep();
  bench.set({ step: id, inHand: null });
  refocus();
}

export function setValue(piece: string, step: string, name: string, value: unknown, live = false): void {
  session.change(
    `change ${name}`,
    (d) => changes.setValues(d, piece, step, { [name]: value }),
    live ? `value ${step} ${name}` : undefined,
  );
}

// Unwrap

function unwrapStep(): { piece: string; step: string } | null {
  const s = bench.get(),
    piece = meshPiece(s);
  if (!piece) {
    say('Pick a piece to unwrap first.');
    return null;
  }
  const had =
    piece.recipe.find((x) => x.id === s.step && x.kind === 'unwrap') ??
    piece.recipe.findLast((x) => x.kind === 'unwrap');
  if (had) return { piece: piece.id, step: had.id };
  const id = changes.newId();
  // Before anything that colours: the texture needs UVs.
  const before = piece.recipe.find((x) => x.kind === 'color' || x.kind === 'texture');
  const after = before ? piece.recipe[piece.recipe.indexOf(before) - 1]?.id : undefined;
  session.change('unwrap', (d) => changes.addStep(d, piece.id, 'unwrap', id, {}, after));
  bench.set({ step: id });
  refocus();
  return { piece: piece.id, step: id };
}

export function markSeams(mark: changes.Mark): void {
  const { mesh, pick } = bench.get();
  const indices = mesh ? convert(mesh, pick.kind, indicesNow(), 'edge') : [];
  if (!mesh || indices.length === 0) {
    say('Pick edges to mark first.');
    return;
  }
  const keys = Array.from(indices, (e) => edgeKeys(mesh)[e]);
  const at = unwrapStep();
  if (at)
    session.change(mark === 'cut' ? 'cut seams' : mark === 'hold' ? 'hold edges together' : 'let edges be', (d) =>
      changes.markSeams(d, at.piece, at.step, keys, mark),
    );
}

export function unfold(): void {
  const had = bench
    .get()
    .document?.pieces.find((p) => p.id === bench.get().piece)
    ?.recipe.some((s) => s.kind === 'unwrap');
  const at = unwrapStep();
  if (!at) return;
  if (had) session.change('unfold anew', (d) => changes.releasePlaces(d, at.piece, at.step));
  say(had ? 'Unfolded and packed anew; places set by hand were given back.' : 'Unfolded.');
}

/** Packs everything anew at one density; islands placed by hand keep the shape they were given. */
export function packAll(): void {
  const at = unwrapStep();
  if (at) session.change('pack', (d) => changes.setValues(d, at.piece, at.step, { repack: true }));
}

export function placeByHand(places: Placed, live: string): void {
  const at = unwrapStep();
  if (at) session.change('place on the sheet', (d) => changes.placeByHand(d, at.piece, at.step, places), live);
}

export function releaseIsland(faces: ReadonlySet<number>): void {
  const at = unwrapStep();
  if (at) session.change('give back to the solver', (d) => changes.releasePlaces(d, at.piece, at.step, faces));
}

// Finish

export function giveMaterial(material: string): void {
  const s = bench.get(),
    piece = meshPiece(s);
  if (!piece) {
    say('Pick a piece first.');
    return;
  }
  const keys = s.mode === 'piece' ? [] : s.pick.kind === 'face' ? s.pick.keys : [];
  let step = piece.recipe.findLast((x) => x.kind === 'color')?.id;
  session.change('colour', (d) => {
    if (!step) {
      step = changes.newId();
      const before = piece.recipe.find((x) => x.kind === 'texture');
      changes.addStep(
        d,
        piece.id,
        'color',
        step,
        {},
        before ? piece.recipe[piece.recipe.indexOf(before) - 1]?.id : undefined,
      );
    }
    changes.colorFaces(d, piece.id, step, material, keys);
  });
}

export function makeTexture(): void {
  const s = bench.get(),
    piece = meshPiece(s);
  if (!piece) {
    say('Pick a piece first.');
    return;
  }
  if (!piece.recipe.some((x) => x.kind === 'unwrap')) {
    say('There are no UVs yet: unwrap the piece first.');
    return;
  }
  if (piece.recipe.some((x) => x.kind === 'texture')) {
    say('This piece has its texture; it follows every change.');
    return;
  }
  session.change('make texture', (d) => changes.addStep(d, piece.id, 'texture', changes.newId()));
}

// Commands

export interface Command {
  id: string;
  title: string;
  key?: string;
  stages?: readonly Stage[];
  run(): void;
}

const viewKey = { fit: 'Home', pick: 'End' };
/** The viewer puts its own ways here. */
export const viewer: { see(all: boolean): void; back(way: -1 | 1): void } = {
  see: () => undefined,
  back: () => undefined,
};

export function commands(): Command[] {
  const s = bench.get();
  const list: Command[] = [
    { id: 'mode-piece', title: 'Pick pieces', key: '1', run: () => setMode('piece') },
    { id: 'mode-vertex', title: 'Pick vertices', key: '2', run: () => setMode('vertex') },
    { id: 'mode-edge', title: 'Pick edges', key: '3', run: () => setMode('edge') },
    { id: 'mode-face', title: 'Pick faces', key: '4', run: () => setMode('face') },
    { id: 'move', title: 'Move', key: 'M', run: () => setHandle('move') },
    { id: 'turn', title: 'Turn', key: 'T', run: () => setHandle('turn') },
    { id: 'size', title: 'Size', key: 'S', run: () => setHandle('size') },
    { id: 'extrude', title: 'Extrude', key: 'X', run: () => runMove('extrude') },
    { id: 'inset', title: 'Inset', key: 'Shift X', run: () => runMove('inset') },
    { id: 'loop', title: 'Loop cuts', key: 'L', run: () => runMove('loop') },
    { id: 'fill', title: 'Fill or join', key: 'F', run: () => runMove('fill') },
    { id: 'weld', title: 'Weld', key: 'W', run: () => runMove('weld') },
    {
      id: 'delete',
      title: 'Delete',
      key: 'Delete',
      run: () => (s.mode === 'piece' ? pieces.deletePieces() : runMove('delete')),
    },
    { id: 'copy', title: 'Copy the pieces', key: 'Ctrl D', run: () => pieces.copyPieces(false) },
    { id: 'linked', title: 'Linked copy', key: 'Ctrl Shift D', run: () => pieces.copyPieces(true) },
    { id: 'own', title: 'Make its own', run: pieces.makeOwn },
    {
      id: 'mirror',
      title: 'Mirrored copy across x',
      run: () => pieces.mirrorCopy({ axis: 'x', across: 'parent', linked: false, frontRear: false }),
    },
    { id: 'group', title: 'Group what is picked', key: 'Ctrl G', run: pieces.groupPicked },
    { id: 'merge', title: 'Merge into one', run: pieces.mergePicked },
    { id: 'split', title: 'Split into loose parts', run: () => void pieces.splitPicked('part') },
    { id: 'split-material', title: 'Split by material', run: () => void pieces.splitPicked('material') },
    { id: 'split-set', title: 'Split by set', run: () => void pieces.splitPicked('set') },
    {
      id: 'detach',
      title: 'Detach',
      key: 'D',
      run: () => {
        if (beginMove('detach')) keep();
      },
    },
    {
      id: 'copy-out',
      title: 'Copy faces out',
      run: () => {
        if (beginMove('copy-out')) keep();
      },
    },
    { id: 'detach-piece', title: 'Detach as a piece', key: 'Shift D', run: () => pieces.detachPicked(false) },
    { id: 'copy-piece', title: 'Copy faces as a piece', run: () => pieces.detachPicked(true) },
    { id: 'bake', title: 'Bake placement', run: pieces.bakePlaces },
    { id: 'pivot', title: 'Place the pivot', key: 'P', run: () => begin('pivot') },
    {
      id: 'pivot-move',
      title: 'Move pivots, not pieces',
      run: () => bench.set((x) => ({ pivoting: !x.pivoting, handle: 'move', mode: 'piece' })),
    },
    { id: 'pivot-centre', title: 'Pivot to the centre', run: () => pieces.movePivot('centre') },
    { id: 'pivot-bottom', title: 'Pivot to the bottom', run: () => pieces.movePivot('bottom') },
    { id: 'pivot-world', title: 'Pivot to the world’s origin', run: () => pieces.movePivot('world') },
    { id: 'pivot-pick', title: 'Pivot to the pick', run: () => pieces.movePivot('pick') },
    { id: 'tape', title: 'Measure with the tape', key: 'Q', run: () => begin('tape') },
    { id: 'angle', title: 'Measure an angle', run: () => begin('angle') },
    { id: 'diameter', title: 'Measure a diameter', run: () => begin('diameter') },
    {
      id: 'wall',
      title: 'Wall thickness under the pointer',
      run: () => bench.set((x) => ({ wall: x.wall === null ? 0 : null })),
    },
    { id: 'only', title: 'Only the picked', key: 'O', run: pieces.isolate },
    { id: 'ghost', title: 'Ghost: lines over the others', key: 'Shift O', run: pieces.toggleGhost },
    { id: 'lock', title: 'Lock the pieces', run: () => pieces.setPicked('lock', { locked: true }) },
    { id: 'four', title: 'Four views, or one', key: 'J', run: () => bench.set((x) => ({ four: !x.four })) },
    { id: 'view-back', title: 'The view before', key: 'Alt ArrowLeft', run: () => viewer.back(-1) },
    { id: 'view-forward', title: 'The view after', key: 'Alt ArrowRight', run: () => viewer.back(1) },
    {
      id: 'keep-library',
      title: 'Keep in the library',
      run: () => void import('./library').then((l) => l.keepPicked()),
    },
    { id: 'library', title: 'Library drawer', key: 'Shift L', run: () => bench.set((x) => ({ drawer: !x.drawer })) },
    {
      id: 'rename',
      title: 'Rename the piece',
      run: () => document.querySelector<HTMLElement>('[data-rename]')?.focus(),
    },
    { id: 'grow', title: 'Grow the pick', key: '.', run: () => repick((k, i) => grow(bench.get().mesh!, k, i)) },
    { id: 'shrink', title: 'Shrink the pick', key: ',', run: () => repick((k, i) => shrink(bench.get().mesh!, k, i)) },
    {
      id: 'all',
      title: 'Pick all',
      key: 'Ctrl A',
      run: () => repick((k) => Array.from(keysOf(bench.get().mesh!, k).keys())),
    },
    { id: 'hide', title: 'Hide the pieces', key: 'H', run: () => pieces.setPicked('hide', { visible: false }) },
    {
      id: 'show',
      title: 'Show all pieces',
      key: 'Shift H',
      run: () =>
        session.change('show all', (d) => {
          for (const p of d.pieces) if (!p.visible) p.visible = true;
        }),
    },
    { id: 'cut', title: 'Cut seam', key: 'K', run: () => markSeams('cut') },
    { id: 'hold', title: 'Hold together', key: 'Shift K', run: () => markSeams('hold') },
    { id: 'letbe', title: 'Let be', key: 'Alt K', run: () => markSeams('let be') },
    { id: 'unfold', title: 'Unfold', key: 'U', run: unfold },
    { id: 'pack', title: 'Pack', run: packAll },
    { id: 'texture', title: 'Make texture', run: makeTexture },
    {
      id: 'shading',
      title: 'Next shading',
      key: 'Y',
      run: () => {
        const i = SHADINGS.findIndex((x) => x[0] === bench.get().shading);
        setShading(SHADINGS[(i + 1) % SHADINGS.length][0]);
      },
    },
    { id: 'see-all', title: 'See all', key: viewKey.fit, run: () => viewer.see(true) },
    { id: 'see-pick', title: 'See the pick', key: viewKey.pick, run: () => viewer.see(false) },
    { id: 'front', title: 'Front view', run: () => bench.set({ view: 'Front' }) },
    { id: 'side', title: 'Side view', run: () => bench.set({ view: 'Side' }) },
    { id: 'top', title: 'Top view', run: () => bench.set({ view: 'Top' }) },
    { id: 'persp', title: 'Perspective view', run: () => bench.set({ view: 'Persp' }) },
    { id: 'snap', title: 'Snapping on or off', run: () => bench.set((x) => ({ snap: { ...x.snap, on: !x.snap.on } })) },
    { id: 'undo', title: 'Undo', key: 'Ctrl Z', run: () => session.undo() },
    { id: 'redo', title: 'Redo', key: 'Ctrl Shift Z', run: () => session.redo() },
    { id: 'panels', title: 'Hide or show the panels', key: '\\', run: () => bench.set((x) => ({ panels: !x.panels })) },
    { id: 'theme', title: 'Light or dark theme', run: toggleTheme },
    { id: 'search', title: 'Find any command', key: 'Ctrl K', run: () => bench.set({ search: true }) },
    { id: 'keys', title: 'Keys that work now', key: '?', run: () => bench.set({ keysHelp: true }) },
    {
      id: 'step',
      title: 'Add a step',
      key: '/',
      run: () => document.querySelector<HTMLElement>('[data-then]')?.focus(),
    },
    {
      id: 'group',
      title: 'New group',
      run: () => session.change('add a group', (d) => changes.addGroup(d, changes.newId(), 'group')),
    },
    { id: 'keep', title: 'Keep what is in hand', key: 'Enter', run: keep },
    { id: 'cancel', title: 'Cancel what is in hand', key: 'Escape', run: cancel },
    ...STAGES.map(([stage, title]) => ({ id: `stage-${stage}`, title: `Go to ${title}`, run: () => setStage(stage) })),
    ...stepDefs()
      .filter((d) => !d.hidden)
      .map((d) => ({
        id: `step-${d.kind}`,
        title: d.takes === 'nothing' ? `New piece: ${d.kind}` : `Then: ${d.title.toLowerCase()}`,
        run: () => addStep(d.kind),
      })),
  ];
  return list;
}

export function setShading(shading: Shading): void {
  bench.set({ shading });
  session.refresh();
}

/** The command a key press means, if any. */
export function commandFor(e: KeyboardEvent): Command | undefined {
  const name = e.key === ' ' ? 'Space' : e.key.length === 1 ? e.key.toUpperCase() : e.key;
  const letters = /^[A-Z]$/.test(name);
  const parts = [
    e.ctrlKey || e.metaKey ? 'Ctrl' : '',
    e.altKey ? 'Alt' : '',
    e.shiftKey && (letters || name.length > 1) ? 'Shift' : '',
    name,
  ]
    .filter(Boolean)
    .join(' ');
  return commands().find((c) => c.key === parts || (c.key === 'Delete' && parts === 'Backspace'));
}
