/** An open project: its history, its outbox, its worker, and how they are joined to the bench's state. */
import { History } from '../../document/history';
import { applyChange } from '../../document/patches';
import type { ElementPick } from '../../core/mesh/picks';
import { uvSetCalled } from '../../core/mesh';
import { resolve } from '../../core/mesh/picks';
import type { Patch, ProjectDocument } from '../../document/types';
import { Crew } from '../../workers/crew';
import { WorkCancelled } from '../../workers/link';
import { api, type ShelfEntry } from '../parts/api';
import { Neighbours } from '../saving/neighbours';
import { Outbox, type Unsent } from '../saving/outbox';
import { IDENTITY } from '../../core/math/affine';
import { noteSpots } from '../../document/pieces';
import { worlds } from '../../document/placing';
import type { AskedAnchor, StepReport } from '../../workers/protocol';
import { becameOfPicks } from './followed';
import { bench, layingOut, meshOf, sayBriefly, takeShown, workedOn } from './store';
import { viewer } from './view/ways';

/** Milliseconds of rest after which picks are written down: a change that goes on would be answered in vain. */
const WHEREABOUTS_AFTER = 800;

const POINTING = ['pointerdown', 'pointerup', 'pointercancel'] as const;
const FOLLOWED = 'The project was changed in another window: this one has followed.';

type Opened = { document: ProjectDocument; revision: number };
type Since = { patches?: Patch[]; revision: number };

class Session {
  history: History | undefined;
  crew: Crew | undefined;
  private outbox: Outbox | undefined;
  private neighbours: Neighbours | undefined;
  /** The revision that another window of this browser told of last. */
  private newest = 0;
  /** A pointer is held down: something may be on its way that is not in the document yet. */
  private pressed = false;
  private id = '';
  get project(): string {
    return this.id;
  }
  private leftovers: Unsent[] = [];
  private factsFor: unknown;
  private uvTimer: ReturnType<typeof setTimeout> | undefined;

  async open(id: string): Promise<void> {
    this.close();
    this.id = id;
    bench.reset();
    const crew = new Crew();
    this.crew = crew;
    crew.onProgress = ({ step = '', share }) => bench.set({ working: { step, share } });
    crew.onNote = ({ tree }) => bench.set((s) => ({ trees: [...s.trees.filter((x) => x.piece !== tree.piece), tree] }));
    const outbox = new Outbox(id, 0, (saving, revision) => {
      if (this.outbox !== outbox) return;
      bench.set({ saving, revision });
      if (saving.kind === 'saved') this.neighbours?.saved(revision);
    });
    this.outbox = outbox;
    this.neighbours = new Neighbours(id, (revision) => {
      this.newest = revision;
      if (revision > bench.get().revision) void this.followOthers();
    });
    this.newest = 0;
    window.addEventListener('focus', this.followOthers);
    for (const name of POINTING) window.addEventListener(name, this.press, true);
    outbox.onOvertaken = () => void this.followOthers();
    let opened = false;
    outbox.onAside = (aside) => {
      if (this.outbox !== outbox) return;
      bench.set((s) => ({ aside, asideSeen: aside.length ? s.asideSeen : 0 }));
      if (opened && aside.length) void this.withoutAside(outbox);
    };
    try {
      this.leftovers = await outbox.sendLeftovers();
      bench.set({ aside: outbox.aside });
      outbox.letGo();
      opened = true;
      const { document, revision } = await api<Opened>(`/api/projects/${id}`);
      if (this.outbox !== outbox) return;
      outbox.startAt(revision);
      this.history = new History(document, (c) => outbox.add(c));
      const first =
        document.pieces.find((p) => p.kind === 'mesh' && p.visible) ?? document.pieces.find((p) => p.kind === 'mesh');
      bench.set({
        ready: true,
        document: this.history.document,
        revision,
        piece: first?.id ?? null,
        picked: first ? [first.id] : [],
        saving: this.leftovers.length ? { kind: 'conflict', revision } : { kind: 'saved' },
      });
      refocus();
    } catch (e) {
      if (this.outbox === outbox) bench.set({ failed: (e as Error).message });
    }
  }

  /** What was set apart is taken out of what is seen: the project is as the server has it, once all else is saved. */
  private async withoutAside(outbox: Outbox): Promise<void> {
    for (;;) {
      await new Promise((r) => setTimeout(r, 250));
      if (this.outbox !== outbox) return;
      if (outbox.unsent.length || this.history?.isLive) continue;
      const found = await api<Opened>(`/api/projects/${this.id}`).catch(() => undefined);
      if (!found) continue;
      if (this.outbox !== outbox) return;
      if (outbox.unsent.length || this.history?.isLive) continue; // something was done meanwhile: that first
      this.goOnFrom(found, outbox);
      outbox.letGo();
      return;
    }
  }

  /** From here on the project is as the server has it; what was done before cannot be taken back from here. */
  private goOnFrom({ document, revision }: Opened, outbox: Outbox): void {
    outbox.startAt(revision);
    this.history = new History(document, (c) => outbox.add(c));
    bench.set({ hand: null, typed: null, revision });
    this.publish();
  }

  /**
   * What was saved in another window is seen in this one too, as long as nothing is being done here. What is done at
   * the same time is refused, and told.
   */
  private readonly followOthers = async (): Promise<void> => {
    const { outbox, history } = this;
    const resting = (): boolean =>
      this.outbox === outbox &&
      this.history === history &&
      !this.pressed &&
      !history?.isLive &&
      outbox?.unsent.length === 0;
    if (!outbox || !history || !resting() || bench.get().saving.kind !== 'saved') return;
    const since = bench.get().revision;
    const found = await api<Since>(`/api/projects/${this.id}?since=${since}`).catch(() => undefined);
    if (!found?.patches || !resting() || bench.get().revision !== since) return;
    history.follow(found.patches);
    outbox.startAt(found.revision);
    bench.set({ hand: null, typed: null, revision: found.revision });
    this.publish();
    if (!bench.get().say.includes(FOLLOWED)) sayBriefly(FOLLOWED);
    if (this.newest > found.revision) void this.followOthers();
  };

  private readonly press = ({ buttons }: PointerEvent): void => {
    this.pressed = buttons !== 0;
    if (!this.pressed && this.newest > bench.get().revision) void this.followOthers();
  };

  async dropAside(): Promise<void> {
    await this.outbox?.dropAside();
  }

  close(): void {
    this.crew?.end();
    this.outbox?.end();
    this.neighbours?.end();
    window.removeEventListener('focus', this.followOthers);
    for (const name of POINTING) window.removeEventListener(name, this.press, true);
    this.history = undefined;
  }

  /** Changes the document. With `live`, later changes of the same key replace this one until it settles. */
  change(label: string, edit: (d: ProjectDocument) => void, live?: string): void {
    if (!this.history) return;
    try {
      this.history.change(label, edit, live);
    } catch (e) {
      bench.set({ say: (e as Error).message });
    }
    this.publish();
  }
  settle(): void {
    if (this.history?.isLive) {
      this.history.settle();
      this.publish();
    }
  }
  cancel(): void {
    if (this.history?.isLive) {
      this.history.cancel();
      this.publish();
    }
  }
  undo(): void {
    const l = this.history?.undo();
    if (l) bench.set({ say: `Undid: ${l}`, hand: null });
    this.publish();
  }
  redo(): void {
    const l = this.history?.redo();
    if (l) bench.set({ say: `Did again: ${l}`, hand: null });
    this.publish();
  }

  /** What was done since it was opened. */
  past(): ReturnType<History['list']> {
    return this.history?.list() ?? { entries: [], done: 0 };
  }
  goTo(done: number): void {
    this.history?.goTo(done);
    bench.set({ hand: null, typed: null });
    this.publish();
  }

  /** The last change gets a picture of how it looks, once that is drawn. */
  private picture(): void {
    const { entries, done } = this.past();
    const last = entries[done - 1];
    if (!last || last.picture !== undefined) return;
    last.picture = '';
    setTimeout(() => {
      void viewer.picture().then((found) => {
        last.picture = found ?? '';
      });
    }, 150);
  }

  /** Writes down what follows from the document itself: nothing to be undone. */
  note(label: string, edit: (d: ProjectDocument) => void): void {
    this.history?.note(label, edit);
    this.publish();
  }

  private publish(): void {
    const h = this.history;
    if (!h) return;
    const s = bench.get();
    const piece = h.document.pieces.some((p) => p.id === s.piece)
      ? s.piece
      : (h.document.pieces.find((p) => p.kind === 'mesh')?.id ?? null);
    const there =
      s.document === h.document ? s.picked : s.picked.filter((id) => h.document.pieces.some((p) => p.id === id));
    let picked = there.length === s.picked.length ? s.picked : there;
    if (piece !== null && !there.includes(piece)) picked = [piece];
    bench.set({ document: h.document, canUndo: h.canUndo, canRedo: h.canRedo, piece, picked });
    refocus();
  }

  private whereaboutsTimer: ReturnType<typeof setTimeout> | undefined;

  /**
   * Picks get to keep where their elements are as soon as that was seen: by that they are followed when a count
   * changes.
   */
  private askWhereabouts(): void {
    clearTimeout(this.whereaboutsTimer);
    this.whereaboutsTimer = setTimeout(() => {
      const { history, crew } = this;
      const source = workedOn(bench.get());
      if (!history || !crew || history.isLive || source?.kind !== 'mesh') return;
      void crew.ask('whereabouts', { piece: source.id }).then(
        (seen) => {
          if (this.history !== history || history.isLive || seen.length === 0) return;
          history.note('where picks are', (d) => noteSpots(d, source.id, seen));
          this.publish();
        },
        () => undefined, // asked again after the next change
      );
    }, WHEREABOUTS_AFTER);
  }

  /** Asks the worker for what is to be seen now. */
  refresh(): void {
    const s = bench.get();
    const { document } = s;
    if (!document || !this.crew) return;
    const source = workedOn(s);
    this.crew.show({
      document,
      query: {
        focus: source?.kind === 'mesh' ? { piece: source.id, step: s.step } : null,
        textures: s.shading === 'materials' || s.textures,
        coloured: s.coloured,
        sheet: s.stage === 'unwrap' ? uvSetCalled(String(layingOut(s)?.values.set ?? '')) : undefined,
        peek: s.peek,
        anchors: anchorsOf(document),
        elements: s.mode !== 'piece' || s.stage === 'unwrap' || s.stage === 'finish',
      },
      done: (r) => {
        const had = bench.get();
        const shown = takeShown(had.shown, r.gone, r.shown);
        const part =
          r.edited === undefined ? {} : { edited: r.edited, mesh: r.edited ? meshOf(r.edited, had.mesh) : null };
        bench.set({ shown, working: null, anchors: r.anchors, followed: document, ...part });
        if (!this.history?.isLive) {
          if (source) this.tellFollowed(source.id, shown.get(source.id)?.reports);
          this.picture();
          if (this.past().entries.length > 0) this.askWhereabouts(); // to look at a project is not to change it
        }
        if (r.edited !== undefined) {
          this.askFacts(bench.get().pick, true);
          this.askUv();
        }
      },
      failed: (e) => {
        if (!(e instanceof WorkCancelled)) bench.set({ say: e.message, working: null });
      },
    });
  }

  /** Of the piece worked on, when it last stood still. */
  private settled: { piece: string; reports: readonly StepReport[] } | undefined;

  private tellFollowed(piece: string, reports: readonly StepReport[] | undefined): void {
    if (!reports) return;
    const before = this.settled?.piece === piece ? this.settled.reports : undefined;
    this.settled = { piece, reports };
    const text = becameOfPicks(before, reports);
    if (text) sayBriefly(text);
  }

  askFacts(pick: ElementPick, again = false): void {
    const { mesh } = bench.get();
    if (!mesh || !this.crew || (!again && this.factsFor === pick)) return;
    this.factsFor = pick;
    const { indices } = resolve(mesh, pick);
    if (indices.length === 0) {
      bench.set({ facts: null });
      return;
    }
    const at = bench.get().document;
    const world = (at && worlds(at).get(bench.get().piece ?? '')) ?? IDENTITY;
    void this.crew.ask('facts', { kind: pick.kind, indices, world }).then(
      (facts) => {
        if (this.factsFor === pick) bench.set({ facts });
      },
      () => undefined,
    );
  }

  private askUv(): void {
    clearTimeout(this.uvTimer);
    if (bench.get().stage !== 'unwrap') return;
    const { document, piece, step } = bench.get();
    const recipe = document?.pieces.find((p) => p.id === piece)?.recipe;
    const sheets = Number(recipe?.find((x) => x.id === step)?.values.sheets ?? 1) || 1;
    const ask = () =>
      this.crew?.ask('uv', { sheets }).then(
        (uv) => bench.set({ uv }),
        () => undefined,
      );
    this.uvTimer = setTimeout(() => void ask(), 60);
  }

  /** The other window's work: everything here that was not saved is let go. */
  async reload(): Promise<void> {
    await this.outbox?.forgetLeftovers();
    location.reload();
  }

  /** This window's work, as a project of its own beside the other. */
  async keepAsCopy(): Promise<void> {
    let doc = this.history?.document;
    if (this.leftovers.length) {
      doc = (await api<Opened>(`/api/projects/${this.id}?revision=${this.leftovers[0].base}`)).document;
      for (const l of this.leftovers) doc = applyChange(doc, l.patches);
    }
    if (!doc) return;
    const copy = await api<ShelfEntry>(`/api/projects/${this.id}/copy`, {
      json: { name: `${doc.name} (mine)`, document: doc },
    });
    await this.outbox?.forgetLeftovers();
    location.href = `/bench/${copy.id}`;
  }
}

/** The step to work in, by the stage: where by-hand edits, seams or colours are kept. */
export function refocus(): void {
  const s = bench.get();
  const piece = workedOn(s);
  if (!piece) {
    bench.set({ step: null });
    session.refresh();
    return;
  }
  const end = piece.upTo === null ? piece.recipe.length : piece.recipe.findIndex((x) => x.id === piece.upTo) + 1;
  const followed = piece.recipe.slice(0, end);
  if (!(s.step && followed.some((x) => x.id === s.step)))
    bench.set({ step: followed.findLast((x) => x.kind === s.focusKind)?.id ?? null });
  session.refresh();
}

export const session = new Session();

/** The elements that pinned measures hold on to. */
function anchorsOf(doc: ProjectDocument): AskedAnchor[] {
  return doc.tapes.flatMap((t) =>
    t.ends.flatMap((e, i): AskedAnchor[] => {
      const p = e.piece === null ? undefined : doc.pieces.find((x) => x.id === e.piece);
      return p && (e.kind === 'vertex' || e.kind === 'edge' || e.kind === 'face')
        ? [{ name: `${t.id}/${i}`, piece: p.link ?? p.id, kind: e.kind, key: e.key, t: e.t, spots: e.spots }]
        : [];
    }),
  );
}
