/** Definitions of steps and values, and the evaluator that follows them. What other parts of the program use of it. */
export { Cancelled, type Material, TEXTURE_ENDS, type Warning } from './define';
export { type Lasting } from './lasting';
export { type Kits, type OtherPiece, type Outcome } from './evaluate';
export { Memory } from './memory';
export { type LengthUnit } from './quantity';
export {
  type Coloured,
  type Move,
  type Reference,
  type Rename,
  type Step,
  type ValueDef,
  type ValueDefs,
  complete,
  defaultsOf,
  pickSchema,
  schemaOf,
} from './values';
export { holdingOf, ownerOf, type Seen, seenOf, sumOf } from './whereabouts';
