/**
 * fast-check as tests have it: unless all that could be tried is asked for (`./glypta test --thorough`), a property is
 * tried for no longer than this, ms, however often it says. What is thrown is other each time, so that what one run
 * does not come to a later one does.
 */
const fc = require('../node_modules/fast-check/lib/cjs/fast-check.js');

const LONGEST = 700;
if (process.env.GLYPTA_THOROUGH !== '1') fc.configureGlobal({ interruptAfterTimeLimit: LONGEST });

module.exports = fc;
