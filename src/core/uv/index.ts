/**
 * Unwrapping: seams, charts, unfolding, packing and figures of the sheet. What other parts of the program use of it.
 */
export { type UvFigures, triangleFigures, uvFigures } from './measure';
export { type HandPlaces, pinsOf } from './follow/placed';
export { unwrapMesh, type UnwrapOptions } from './unwrap';
