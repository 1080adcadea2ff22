/** glTF, both ways. What other parts of the program use of it. */
export { checkGltf } from './check';
export { dracoProgram } from './io';
export { readGlb, readGltf } from './read';
export { SMOOTH_ANGLE, writeGlb, writeGltf } from './write';
