import { THOROUGH } from './thorough';

/**
 * A test of `./glypta test --thorough` alone: of what changes seldom, or is much like what another test does, and takes
 * long.
 */
export const thoroughly = THOROUGH ? test : test.skip;
