/**
 * Jest's environment for Node in a context of its own, without the proxy that Jest puts before its globals: through that,
 * every look at a global (`Float64Array`, `Infinity`, `undefined`) in a hot loop is a call. All unit tests
 * together take half as long without it.
 */
const v8 = require('node:v8');
const vm = require('node:vm');
const { TestEnvironment } = require('jest-environment-node');

/**
 * Each file of tests begins with nothing compiled, and what a test runs is mostly over before it would pay to have it
 * compiled with care: so that is done later. On two cores that had nothing to spare, six files took 63 s of processor
 * time with it for 84 without, the mean of three in turns; twice as much of it is no better.
 */
v8.setFlagsFromString('--interrupt-budget=800000');

class PlainEnvironment extends TestEnvironment {
  constructor(...given) {
    const { createContext } = vm;
    vm.createContext = () => createContext(vm.constants?.DONT_CONTEXTIFY ?? {});
    try {
      super(...given);
    } finally {
      vm.createContext = createContext;
    }
  }
}
module.exports = PlainEnvironment;
