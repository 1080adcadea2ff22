/**
 * A document followed to what its pieces show. The bench worker, exports and thumbnails all follow a document by this,
 * so that pieces which take in others, linked copies and the marker "showing up to here" mean the same everywhere.
 */
import { transformGeometry, type Geometry } from '../core/geometry';
import { textHash } from '../core/math/hash';
import { canonical } from '../core/recipe/canonical';
import { applyPoint, compose, IDENTITY, invert, type Affine } from '../core/math';
import type { Kits, Memory, OtherPiece, Outcome, Reference } from '../core/recipe';
import { branchName, branchOf, isFormula } from '../core/recipe/values';
import { followRecipe } from '../core/steps';
import { dialsNamed, resolved } from './dials';
import { worldSize, worlds } from './placing';
import { sourceOf } from './tree';
import { referencesIn, referencesOfDials } from './references';
import type { Piece, ProjectDocument, Step } from './types';

export interface FollowOptions {
  memory: Memory;
  blob?: (sha: string) => Promise<Uint8Array>;
  cancelled?: () => boolean;
  progress?: (piece: string, step: string, share: number) => void;
  /** Steps to be followed in place of a recipe's own: without subdivision, say. */
  recipe?: (steps: readonly Step[]) => readonly Step[];
  /** Steps after the marker are followed too, so that going back down the list costs nothing. */
  beyond?: boolean;
}

export interface Followed {
  /** The piece whose recipe it is: the piece itself, or what it is linked to. */
  source: Piece;
  outcomes: Outcome[];
  /** What it shows: its last outcome, or the one at the marker. Undefined for an empty recipe. */
  shown: Outcome | undefined;
}

export interface FollowedDocument {
  piece(piece: Piece): Promise<Followed>;
}

/** Each recipe is followed at most once, when it is first asked for. */
export function followDocument(doc: ProjectDocument, o: FollowOptions): FollowedDocument {
  const by = new Map(doc.pieces.map((p) => [p.id, p]));
  const done = new Map<string, Promise<Followed>>();
  let placed: Map<string, Affine> | undefined;

  /** What dials offer counts as named, whatever they stand at: what places it as a kit may turn them. */
  const offered = (p: Piece): Reference[] => referencesOfDials(dialsNamed(doc, p));

  const plain = new Map<Piece, boolean>();
  const namesNone = (p: Piece): boolean => {
    let is = plain.get(p);
    if (is === undefined) {
      is = ![...referencesIn(p.recipe), ...offered(p)].some((r) => r.to === 'piece');
      plain.set(p, is);
    }
    return is;
  };

  /** Steps of a recipe up to one of them. */
  const until = (steps: readonly Step[], step?: string): readonly Step[] => {
    const at = step === undefined ? -1 : steps.findIndex((x) => x.id === step);
    return at < 0 ? steps : steps.slice(0, at + 1);
  };

  /**
   * Whether following one piece comes, by whatever way, to another. Told from what recipes name, so every order gives
   * the same answer.
   */
  const comesTo = (from: Piece, to: string, step?: string): boolean => {
    // What names no other piece comes to none: of a kit that stands in a thousand places that is asked a thousand
    // times.
    if (from.id !== to && namesNone(from)) return false;
    const seen = new Set<string>();
    const next: [Piece, string | undefined][] = [[from, step]];
    for (let now = next.pop(); now; now = next.pop()) {
      const [p, upTo] = now;
      if (p.id === to && upTo === undefined) return true;
      const name = branchName(p.id, upTo ?? '');
      if (seen.has(name)) continue;
      seen.add(name);
      for (const r of offered(p)) {
        const named = r.to === 'piece' ? by.get(r.id) : undefined;
        if (named) next.push([sourceOf(doc, named), undefined]);
      }
      for (const own of until(p.recipe, upTo))
        for (const r of referencesIn([own])) {
          const named = r.to === 'piece' ? by.get(r.id) : undefined;
          // A branch goes from a step, and knows nothing of what comes after it.
          const at = own.kind === 'branch' && own.values.step ? String(own.values.step) : r.step;
          if (named) next.push([sourceOf(doc, named), at]);
        }
    }
    return false;
  };

  /** What a piece shows as seen from another: kept, so that what only takes it in does not pay for it again. */
  const standing = ({ geometry }: Outcome, hash: string, map: Affine): Geometry => {
    if (map.every((x, k) => x === IDENTITY[k])) return geometry;
    const name = `standing|${hash}`;
    const had = o.memory.get(name);
    if (had) return had.geometry;
    const out = transformGeometry(geometry, map);
    o.memory.set(name, { geometry: out, warnings: [], figures: {} });
    return out;
  };

  const other = async (from: Piece, name: string): Promise<OtherPiece> => {
    const { piece: id, step } = branchOf(name);
    const piece = by.get(id);
    if (!piece || piece.kind !== 'mesh') throw new Error('The other piece is no longer there.');
    const source = sourceOf(doc, piece);
    if (step !== undefined && !source.recipe.some((x) => x.id === step))
      throw new Error(`The step of “${piece.name}” that this goes from is no longer there.`);
    if (comesTo(source, from.id, step))
      throw new Error(`“${piece.name}” takes in this piece, so this one cannot take it in.`);
    const { shown, outcomes } = await (step === undefined ? follow(source) : partly(source, step));
    placed ??= worlds(doc);
    const map = compose(invert(placed.get(from.id) ?? IDENTITY), placed.get(id) ?? IDENTITY);
    const hash = `${shown?.hash ?? 'nothing'}/${map.join()}`;
    const geometry = shown ? standing(shown, hash, map) : {};
    const shaped = outcomes.findIndex((x) => source.recipe.find((step) => step.id === x.step)?.kind === 'shape');
    const rest = shaped > 0 ? outcomes[shaped - 1] : undefined;
    const before = rest && standing(rest, `${rest.hash}/${map.join()}`, map);
    const pivot = applyPoint(map, piece.place.pivot);
    const size = worldSize(doc, id);
    const own = { geometry: shown?.geometry ?? {}, size, hash: `${shown?.hash ?? 'nothing'}/${size}` };
    return { geometry, before, pivot, name: piece.name, hash, own };
  };

  const states = new Map<string, Promise<string>>();
  /** Two recipes may come to the same as they stand and yet not when their dials are turned: what is written counts. */
  const stateOf = async (source: Piece): Promise<string> => {
    const { shown } = await follow(source);
    return textHash(`${shown?.hash}|${source.upTo}|${canonical(source.recipe)}|${canonical(dialsNamed(doc, source))}`);
  };

  const storedAs = (id: string) => doc.images.find((i) => i.id === id);

  const kitNamed = (from: Piece, id: string): Piece => {
    const piece = by.get(id);
    if (!piece || piece.kind !== 'mesh') throw new Error('The kit is no longer there.');
    const source = sourceOf(doc, piece);
    if (comesTo(source, from.id))
      throw new Error(`“${piece.name}” is made of this piece, so this one cannot be made of it.`);
    return source;
  };

  const kitsFor = (from: Piece): Kits => ({
    hash: async (id) => {
      const source = kitNamed(from, id);
      let state = states.get(source.id);
      if (!state) {
        state = stateOf(source);
        states.set(source.id, state);
      }
      return state;
    },
    follow: async (id, own, handed, round) => {
      const source = kitNamed(from, id);
      for (const [name, value] of Object.entries(own))
        if (isFormula(value)) throw new Error(`${name}: ${value.wrong ?? 'this cannot be worked out here.'}`);
      const steps = resolved(o.recipe ? o.recipe(source.recipe) : source.recipe, doc, source.id, own);
      // Each round makes elements of its own.
      const named = round === undefined ? steps : steps.map((step) => ({ ...step, id: `${step.id}/${round}` }));
      const upTo = source.upTo ?? undefined;
      const outcomes = await followRecipe(named, {
        memory: o.memory,
        blob: o.blob,
        materials: doc.materials,
        picture: storedAs,
        cancelled: o.cancelled,
        upTo: round === undefined || upTo === undefined ? upTo : `${upTo}/${round}`,
        piece: (named_) => other(source, named_),
        kits: kitsFor(source),
        handed,
      });
      const failed = outcomes.find((x) => x.error);
      if (failed) throw new Error(`In “${source.name}”: ${failed.error}`);
      return outcomes[outcomes.length - 1]?.geometry ?? {};
    },
  });

  const follow = (source: Piece): Promise<Followed> => {
    let p = done.get(source.id);
    if (!p) {
      p = run(source);
      done.set(source.id, p);
    }
    return p;
  };

  /** A recipe up to one of its steps. What is remembered of the whole serves here too. */
  const partly = async (source: Piece, step: string): Promise<Followed> => run({ ...source, upTo: step }, step);

  const run = async (source: Piece, last?: string): Promise<Followed> => {
    const recipe = resolved(o.recipe ? o.recipe(source.recipe) : source.recipe, doc, source.id);
    const outcomes = await followRecipe(recipe, {
      memory: o.memory,
      blob: o.blob,
      materials: doc.materials,
      picture: storedAs,
      cancelled: o.cancelled,
      upTo: last ?? (o.beyond ? undefined : (source.upTo ?? undefined)),
      progress: (step, share) => o.progress?.(source.id, step, share),
      piece: (id) => other(source, id),
      kits: kitsFor(source),
    });
    const marker = outcomes.findIndex((x) => x.step === source.upTo);
    return { source, outcomes, shown: outcomes[marker >= 0 ? marker : outcomes.length - 1] };
  };

  return { piece: (piece) => follow(sourceOf(doc, piece)) };
}
