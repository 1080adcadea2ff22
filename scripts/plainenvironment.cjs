/**
 * Jest's environment for Node in a context of its own, without the proxy that Jest puts before its globals: through that,
 * every look at a global (`Float64Array`, `Infinity`, `undefined`) in a hot loop is a call. All unit tests
 * together take half as long without it.
 */
const vm = require('node:vm');
const { TestEnvironment } = require('jest-environment-node');

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
