/** Picks that follow from others, from the screen and from likeness. What other parts of the program use of it. */
export { LIKENESSES, type Likeness } from './alike';
export { type Outline, withinOutline } from './outline';
export { answer, type Found, type PickQuery, type QueryName } from './queries';
