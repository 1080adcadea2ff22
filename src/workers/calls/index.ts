/** Everything that a worker can be asked. */
import { anchor } from './anchor';
import { attributeAt, attributes } from './attributes';
import { brush } from './brush';
import { checks } from './checks';
import { check, ship } from './ship';
import { compare } from './compare';
import { facts } from './facts';
import { keep } from './keep';
import { laidOut, layout } from './layout';
import { packing } from './packing';
import { parts } from './parts';
import { pick } from './pick';
import { placed } from './placed';
import { places } from './places';
import { seams } from './seams';
import { show } from './show';
import { sheetDrawing, sheetEdit, sheetFaults, sheetLook } from './sheet';
import { projecting } from './projecting';
import { relaxing } from './relaxing';
import { sharers } from './sharers';
import { rules, solve } from './solve';
import { uv } from './uv';
import { variations } from './variations';
import { whereabouts } from './whereabouts';
import type { Call } from './define';

export const calls = {
  show,
  brush,
  sheetEdit,
  sheetLook,
  sheetFaults,
  sheetDrawing,
  facts,
  uv,
  ship,
  check,
  checks,
  keep,
  laidOut,
  layout,
  anchor,
  packing,
  parts,
  pick,
  placed,
  places,
  projecting,
  relaxing,
  seams,
  sharers,
  whereabouts,
  rules,
  solve,
  variations,
  attributeAt,
  attributes,
  compare,
};

export type Calls = typeof calls;
export type CallName = keyof Calls;
export type Query<K extends CallName> = Calls[K] extends Call<infer Q, unknown> ? Q : never;
export type Answer<K extends CallName> = Calls[K] extends Call<never, infer A> ? A : never;
