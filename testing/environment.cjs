const { TestEnvironment } = require("jest-environment-node");

/** What is made once for all files of tests that a worker runs. */
const keptByWorker = new Map();

/** Node's own environment, with a shelf that outlives a file of tests. */
module.exports = class extends TestEnvironment {
  async setup() {
    await super.setup();
    this.global.keptByWorker = keptByWorker;
  }
};
