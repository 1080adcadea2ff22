/** Polygon tools as plain functions: a mesh in, a new mesh out. What other parts of the program use of it. */
export { extrude } from './extrude';
export { transformVertices } from './transform';
