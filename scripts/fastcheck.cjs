/**
 * fast-check as tests have it: unless all that could be tried is asked for (`./glypta test --thorough`), a property is
 * tried for no longer than this, ms, however often it says; one that waits for something, which cannot be stopped
 * within its first time, a third as often. What is thrown is other each time, so that what one run does not come to a
 * later one does. A property that counts what it met says itself how long it may take: on a slow machine it would meet
 * too little.
 */
const fc = require('../node_modules/fast-check/lib/cjs/fast-check.js');

const LONGEST = 400;

const assert = (property, o = {}) =>
  fc.assert(
    property,
    property.isAsync()
      ? { ...o, numRuns: Math.ceil((o.numRuns ?? 100) / 3) }
      : { interruptAfterTimeLimit: LONGEST, ...o },
  );

const thorough = process.env.GLYPTA_THOROUGH === '1';
module.exports = thorough ? fc : { ...fc, assert, default: { ...fc.default, assert } };
Object.defineProperty(module.exports, '__esModule', { value: true });
