/** Files: one reader and writer a format, and what they hold in between. What other parts of the program use of it. */
export { planDrop } from './drop';
export { dracoProgram, writeGlb, writeGltf } from './gltf';
export { readHeights, writeHeightsPng, writeHeightsTiff } from './heights';
export { type Intake, intakeOf } from './intake';
export { KINDS } from './kinds';
export { readObj, writeObj } from './obj';
export { packScene } from './pack';
export { pictureInfo } from './pictures';
export { readPng, writePng } from './png';
export { readAny } from './read';
export { type Report, reportOf } from './report';
export { FileError, type Scene, type SceneMaterial, emptyScene, flatten, fromHex, safeName, toHex } from './scene';
export { readStl, writeStl } from './stl';
export { write3mf } from './threemf';
export { readTiff } from './tiff';
export { readingError } from './words';
export { isZip, readZipPaths, writeZip } from './zip';
