/** Picks that follow from others, from the screen and from likeness. What other parts of the program use of it. */
export { alike, LIKENESSES, type Likeness } from './alike';
export { mirrored } from './mirrored';
export { type Outline, withinOutline } from './outline';
export { pathBetween } from './path';
export { border, flat, invert, joined, loops, rings } from './spread';
