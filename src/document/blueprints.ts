/** Blueprints: cut apart, tied to a side, and pieces put where they say. */
import {
  IDENTITY,
  NO_PLACE,
  type Triple,
  applyPoint,
  compose,
  invert,
  placeOf,
  rotation,
  translation,
} from '../core/math';
import { defaultsOf } from '../core/recipe';
import { sideTurn } from '../core/blueprint';
import { stepDef } from '../core/steps';
import type { Blueprint, Piece } from './types';
import { type Draft, pieceOf, plain, topmost, uniqueName } from './tree';
import { addPiece, blank } from './pieces';
import { pivotOf, placeInWorld, worlds } from './placing';

export function addBlueprint(
  doc: Draft,
  id: string,
  name: string,
  blueprint: NonNullable<Piece['blueprint']>,
  turn: Triple = [0, 0, 0],
  parent: string | null = null,
): void {
  doc.pieces.push({
    ...blank(id, uniqueName(doc, name), 'blueprint', parent),
    place: { ...plain(NO_PLACE), turn: [...turn] as unknown as Triple },
    blueprint: plain(blueprint),
  });
}

/**
 * A part of a blueprint's picture as a blueprint of its own, beside it, with the same calibration; its origin at the
 * frame's middle, low.
 */
export function cutBlueprint(doc: Draft, id: string, made: string, frame: [number, number, number, number]): void {
  const p = pieceOf(doc, id);
  const b = p.blueprint;
  if (!b) return;
  const [x0, y0, x1, y1] = frame.map((x, i) => Math.max(b.frame[i % 2], Math.min(b.frame[2 + (i % 2)], x)));
  addBlueprint(
    doc,
    made,
    p.name,
    { ...plain(b), frame: [x0, y0, x1, y1], origin: [(x0 + x1) / 2, y1], stations: [], rounds: [] },
    p.place.turn,
    p.parent,
  );
}

/** Ties a blueprint to the side it shows: turned to face it. */
export function setSide(doc: Draft, id: string, side: Blueprint['side']): void {
  const p = pieceOf(doc, id);
  if (!p.blueprint) return;
  p.blueprint.side = side;
  if (side !== 'free') p.place = { ...plain(p.place), turn: sideTurn(side) };
}

/**
 * Puts pieces with their pivots at a station of a blueprint, square to it: on the drawing where it is free to choose.
 */
export function placeAtStation(doc: Draft, blueprint: string, station: string, ids: readonly string[]): void {
  const p = pieceOf(doc, blueprint);
  const q = p.blueprint?.stations.find((s) => s.id === station);
  if (!q) throw new Error('That station is no longer there.');
  const now = worlds(doc);
  const m = now.get(blueprint) ?? IDENTITY;
  const origin = applyPoint(m, [0, 0, 0]);
  const at = applyPoint(m, q.along === 'u' ? [q.at, 0, 0] : [0, q.at, 0]);
  const way = at.map((x, k) => x - origin[k]);
  const far = applyPoint(m, q.along === 'u' ? [1, 0, 0] : [0, 1, 0]).map((x, k) => x - origin[k]);
  const l = Math.hypot(...far) || 1;
  const dir = far.map((x) => x / l);
  for (const id of topmost(doc, ids)) {
    // Only the distance along the drawing is the station's to say; where the piece stands across it is kept.
    const pivot = pivotOf(doc, pieceOf(doc, id), now);
    const has = pivot.reduce((s, x, k) => s + (x - origin[k]) * dir[k], 0);
    const wants = way.reduce((s, x, k) => s + x * dir[k], 0);
    placeInWorld(
      doc,
      id,
      compose(
        translation(dir[0] * (wants - has), dir[1] * (wants - has), dir[2] * (wants - has)),
        now.get(id) ?? IDENTITY,
      ),
      now,
    );
  }
}

/** A section curve where a round was laid on a blueprint: a piece of its own, facing as the drawing does. */
export function sectionFromRound(doc: Draft, blueprint: string, round: string, id: string, stepId: string): void {
  const p = pieceOf(doc, blueprint);
  const r = p.blueprint?.rounds.find((x) => x.id === round);
  if (!r) throw new Error('That round is no longer there.');
  const m = worlds(doc).get(blueprint) ?? IDENTITY;
  const above = p.parent === null ? IDENTITY : (worlds(doc).get(p.parent) ?? IDENTITY);
  const place = placeOf(compose(invert(above), compose(m, compose(translation(r.u, r.v, 0), rotation('z', r.turn)))));
  addPiece(
    doc,
    id,
    `${p.name} section`,
    p.parent,
    [
      {
        id: stepId,
        kind: 'section',
        on: true,
        values: { ...defaultsOf(stepDef('section')!.values), wide: 2 * r.a, high: 2 * r.b, facing: 'z' },
      },
    ],
    place,
  );
}
