const { TestEnvironment } = require("jest-environment-node");

/** Tells the tests of a file that one has failed already: the mutation tester needs no second (jest bails by file only). */
module.exports = class extends TestEnvironment {
  async handleTestEvent(event) {
    if (event.name === "test_fn_failure") this.global.oneHasFailed = true;
  }
};
