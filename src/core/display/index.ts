/** What the view needs of geometry, ready for the graphics card. What other parts of the program use of it. */
export { type DisplayBuffers, displayBuffers, edgeBuffers, memoryOf } from './buffers';
export { applyPatch, type DisplayPatch, movedVertices } from './patch';
