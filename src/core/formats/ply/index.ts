/** PLY: reader and writer. */
export { readPly } from './read';
export { writePly } from './write';
