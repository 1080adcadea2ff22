/** The small renderer for pictures without a graphics card. What other parts of the program use of it. */
export { type SketchItem, type SketchPicture, sketch } from './sketch';
