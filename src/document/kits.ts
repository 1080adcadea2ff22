/**
 * Kits in a document: a piece that others are made of. Placing one, taking its values over, and making a placement a
 * piece of its own.
 */
import { turned, type OwnValues } from './dials';
import { addPiece, pieceOf, stepOf } from './changes';
import { stepDef } from '../core/steps';
import { insertContent, isSameEdition, type LibraryContent } from './library';
import type { Dial, Edition, ProjectDocument, Step } from './types';

/** Of drafts as well: documents are plain JSON. */
const plainCopy = <T>(x: T): T => JSON.parse(JSON.stringify(x)) as T;

/** The kit that a step follows; undefined where it follows none. */
export function kitOf(step: Step): string | undefined {
  const def = stepDef(step.kind);
  const { kit } = step.values;
  return def?.kits && typeof kit === 'string' && kit !== '' ? kit : undefined;
}

/** Dials of a kit, as a placement of it may turn them. */
export function kitDials(doc: ProjectDocument, kit: string): Dial[] {
  const piece = doc.pieces.find((p) => p.id === kit);
  return piece ? (doc.pieces.find((p) => p.id === (piece.link ?? piece.id))?.dials ?? []) : [];
}

/** A new piece that is made of another one. */
export function placeKit(doc: ProjectDocument, kit: string, id: string, stepId: string): void {
  const piece = pieceOf(doc, kit);
  addPiece(doc, id, `${piece.name} placed`, piece.parent);
  const made = pieceOf(doc, id);
  made.place = plainCopy(piece.place);
  made.smooth = piece.smooth;
  made.recipe.push({ id: stepId, kind: 'kit', on: true, values: { kit, own: {} } });
}

/** Notes which edition of its kit a piece is now: the first of a kit of its own, or the one after the newest kept. */
export function nextEdition(
  doc: ProjectDocument,
  piece: string,
  kept: readonly (Edition | undefined)[],
  kitId: string,
): Edition {
  const p = pieceOf(doc, piece);
  const kit = p.edition?.kit ?? kitId;
  const newest = kept.reduce((most, e) => (e?.kit === kit ? Math.max(most, e.number) : most), 0);
  p.edition = { kit, number: Math.max(newest, p.edition?.number ?? 0) + 1 };
  return p.edition;
}

/**
 * Another edition of a kit in the place of a piece: its steps, dials and text. The piece stays what others name, where
 * it stands, and what placements turned stays turned. Throws one sentence where the edition is of something else.
 */
export function takeEdition(doc: ProjectDocument, piece: string, content: LibraryContent): void {
  const into = pieceOf(doc, piece);
  const from = content.pieces.find((p) => isSameEdition(p.edition, content.edition));
  if (!from || from.kind !== 'mesh' || from.edition?.kit !== into.edition?.kit)
    throw new Error(`That is no edition of “${into.name}”.`);
  const before = new Set(doc.pieces.map((p) => p.id));
  insertContent(doc, content);
  const at = doc.pieces.findIndex((p) => !before.has(p.id) && isSameEdition(p.edition, content.edition));
  const [made] = doc.pieces.splice(at, 1);
  // Dials that were there under the same name and of the same kind are the same dials.
  const had = into.dials ?? [];
  const dials = (made.dials ?? []).map((d) => {
    const same = had.find((x) => x.name === d.name && x.kind === d.kind);
    return same ? { ...d, id: same.id } : d;
  });
  Object.assign(into, { recipe: made.recipe, smooth: made.smooth, upTo: made.upTo, edition: made.edition });
  for (const [name, value] of [
    ['dials', dials.length > 0 ? dials : undefined],
    ['about', made.about],
    ['sets', made.sets],
  ] as const)
    if (value === undefined) delete into[name];
    else Object.assign(into, { [name]: value });
}

/** What a placement turns a dial to; undefined gives it back to the kit. */
export function setOwn(doc: ProjectDocument, piece: string, step: string, name: string, value: unknown): void {
  const { values } = stepOf(doc, piece, step);
  const own = { ...(values.own as OwnValues | undefined) };
  if (value === undefined) delete own[name];
  else own[name] = value;
  values.own = own;
}

/**
 * The kit's steps in the place of a step that starts with it, its dials as they stand there among the piece's own.
 * Steps keep their ids, so what was picked of what they make stays picked. Throws one sentence where that cannot be.
 */
export function unpackKit(doc: ProjectDocument, piece: string, step: string): void {
  const into = pieceOf(doc, piece);
  const at = stepOf(doc, piece, step);
  const kit = at.kind === 'kit' ? kitOf(at) : undefined;
  const named = doc.pieces.find((p) => p.id === kit);
  const source = named && doc.pieces.find((p) => p.id === (named.link ?? named.id));
  if (!source) throw new Error('The kit is no longer there.');
  const own = (at.values.own ?? {}) as OwnValues;
  const formula = Object.keys(own).find((name) => typeof own[name] !== 'number');
  if (formula)
    throw new Error(`“${formula}” goes by a formula here: give it a number, then make it a piece of its own.`);
  const taken = new Set((into.dials ?? []).map((d) => d.name));
  const twice = (source.dials ?? []).find((d) => taken.has(d.name));
  if (twice) throw new Error(`This piece has a dial “${twice.name}” already: name one of the two otherwise.`);
  const ids = new Set(into.recipe.map((s) => s.id));
  if (source.recipe.some((s) => ids.has(s.id))) throw new Error('These steps are in this piece already.');
  const dials = turned(source.dials ?? [], own).map((d) => ({
    ...plainCopy(d),
    id: `${d.id}-${into.id}`.slice(0, 60),
  }));
  into.recipe.splice(into.recipe.indexOf(at), 1, ...plainCopy(source.recipe));
  if (dials.length > 0) into.dials = [...(into.dials ?? []), ...dials];
}

/** Dials that mean something for a piece, under what keeps them: its own, those of its groups, the project's. */
export function dialLists(
  doc: ProjectDocument,
  piece: string | null,
): { holder?: string; name: string; dials: Dial[] }[] {
  const out: { holder?: string; name: string; dials: Dial[] }[] = [];
  for (let p = doc.pieces.find((x) => x.id === piece), i = 0; p && i < 1000; i++) {
    if (i === 0 || p.dials?.length) out.push({ holder: p.id, name: p.name, dials: p.dials ?? [] });
    const { parent } = p;
    p = doc.pieces.find((x) => x.id === parent);
  }
  return [...out, { name: 'the project', dials: doc.dials ?? [] }];
}
