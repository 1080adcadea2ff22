/** Subdivision surfaces. What other parts of the program use of it. */
export { subdivide } from './catmullclark';
