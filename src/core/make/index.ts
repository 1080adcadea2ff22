/** Simple bodies with lasting keys. What other parts of the program use of it. */
export { box, cubeSphere } from './primitives';
