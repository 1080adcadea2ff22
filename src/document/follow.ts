/**
 * A document followed to what its pieces show. The bench worker, exports and thumbnails all follow a document by this, so that pieces which
 * take in others, linked copies and the marker "showing up to here" mean the same everywhere.
 */
import { transformGeometry, type Geometry } from '../core/geometry';
import { applyPoint, compose, IDENTITY, invert, type Affine } from '../core/math';
import type { Memory, OtherPiece, Outcome } from '../core/recipe';
import { followRecipe } from '../core/steps';
import { resolved } from './dials';
import { sourceOf, worlds } from './pieces';
import { referencesIn } from './references';
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

  /** Whether following one piece comes, by whatever way, to another. Told from what recipes name, so every order gives the same answer. */
  const comesTo = (from: Piece, to: string): boolean => {
    const seen = new Set<string>();
    const next = [from];
    for (let p = next.pop(); p; p = next.pop()) {
      if (p.id === to) return true;
      if (seen.has(p.id)) continue;
      seen.add(p.id);
      for (const r of referencesIn(p.recipe)) {
        const named = r.to === 'piece' ? by.get(r.id) : undefined;
        if (named) next.push(sourceOf(doc, named));
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

  const other = async (from: Piece, id: string): Promise<OtherPiece> => {
    const piece = by.get(id);
    if (!piece || piece.kind !== 'mesh') throw new Error('The other piece is no longer there.');
    const source = sourceOf(doc, piece);
    if (comesTo(source, from.id))
      throw new Error(`“${piece.name}” takes in this piece, so this one cannot take it in.`);
    const { shown, outcomes } = await follow(source);
    placed ??= worlds(doc);
    const map = compose(invert(placed.get(from.id) ?? IDENTITY), placed.get(id) ?? IDENTITY);
    const hash = `${shown?.hash ?? 'nothing'}/${map.join()}`;
    const geometry = shown ? standing(shown, hash, map) : {};
    const shaped = outcomes.findIndex((x) => source.recipe.find((step) => step.id === x.step)?.kind === 'shape');
    const rest = shaped > 0 ? outcomes[shaped - 1] : undefined;
    const before = rest && standing(rest, `${rest.hash}/${map.join()}`, map);
    const pivot = applyPoint(map, piece.place.pivot);
    return { geometry, before, pivot, name: piece.name, hash };
  };

  const follow = (source: Piece): Promise<Followed> => {
    let p = done.get(source.id);
    if (!p) {
      p = run(source);
      done.set(source.id, p);
    }
    return p;
  };

  const run = async (source: Piece): Promise<Followed> => {
    const recipe = resolved(o.recipe ? o.recipe(source.recipe) : source.recipe, doc);
    const outcomes = await followRecipe(recipe, {
      memory: o.memory,
      blob: o.blob,
      materials: doc.materials,
      cancelled: o.cancelled,
      upTo: o.beyond ? undefined : (source.upTo ?? undefined),
      progress: (step, share) => o.progress?.(source.id, step, share),
      piece: (id) => other(source, id),
    });
    const marker = outcomes.findIndex((x) => x.step === source.upTo);
    return { source, outcomes, shown: outcomes[marker >= 0 ? marker : outcomes.length - 1] };
  };

  return { piece: (piece) => follow(sourceOf(doc, piece)) };
}
