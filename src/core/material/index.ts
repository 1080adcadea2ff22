/** What surfaces look like. What other parts of the program use of it. */
export { type Laid, type Look, lookOf, mapMaps, type MapName, type Maps, MAPS } from './look';
