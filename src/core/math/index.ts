/** Hashes, maps, solvers and what else the rest stands on. What other parts of the program use of it. */
export {
  type Affine,
  type Axis,
  IDENTITY,
  NO_PLACE,
  type Place,
  type Triple,
  applyPoint,
  compose,
  invert,
  placeMatrix,
  placeOf,
  rotation,
  scaling,
  translation,
  turned,
} from './affine';
export { keyOf } from './hash';
