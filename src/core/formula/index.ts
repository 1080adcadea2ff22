/** Formulas: parsed, checked by dimensions, and run over columns. What other parts of the program use of it. */
export { type Code, type Known, type Scope } from './code';
export { answerOf, compile, evaluate, valueOf } from './compile';
export { colourParts, knownOfDial, typeOfDial, type DialValue } from './dial';
export { curveScope } from './curvenames';
export { elementScope, type Domain } from './names';
export { FormulaError, parse } from './parse';
export { ANGLE, LENGTH, PLACE, PLAIN, TRUTH, type Type } from './types';
export { completions, type Word } from './words';
