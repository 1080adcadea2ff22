/** OBJ and MTL, both ways. What other parts of the program use of it. */
export { readObj } from './read';
export { writeObj } from './write';
