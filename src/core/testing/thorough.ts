/** What `./glypta test` does of long sweeps, and what `./glypta test --thorough`. */

/** There is time for all that could be tried. */
export const THOROUGH = process.env.GLYPTA_THOROUGH === '1';

/** All of them where there is time, else the first few. */
export const someOf = <T>(all: readonly T[], few: number): T[] => (THOROUGH ? [...all] : all.slice(0, few));

/** How long a property may take that counts what it met, ms: stopped early on a slow machine, it would meet too little. */
export const ENOUGH = 20_000;
