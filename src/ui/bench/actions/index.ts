/** What the interface does, by area. Commands, panels and the view all call these; these alone change the document. */
export * from './finish';
export * from './hand';
export * from './pick';
export * from './picked';
export * from './project';
export * from './query';
export * from './recipe';
export * from './seams';
export * from './sheet';
export * from './stage';
