/** 3MF, both ways. What other parts of the program use of it. */
export { read3mf } from './read';
export { write3mf } from './write';
