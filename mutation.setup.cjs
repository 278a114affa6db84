// Lets Mocha, which keeps what it has loaded from one mutant to the next, run tests that are written in the words of Jest.
const { expect } = require('expect');
const { bind } = require('jest-each');
const { interfaces } = require('mocha');

// These take seconds each, and what they ask is asked in small by others.
const slow =
  /told the same by both kernels|has the same future as another|JSON Schema that takes whatever|answers anything at all with faults/;

const { bdd } = interfaces;
interfaces.bdd = (suite) => {
  bdd(suite);
  suite.on('pre-require', (context) => {
    const { it } = context;
    context.it = (title, run) => (slow.test(title) ? null : it(title, run));
    context.it.each = bind(context.it, false);
    context.describe.each = bind(context.describe, false);
    context.test = context.it;
    context.beforeAll = context.before;
    context.afterAll = context.after;
    context.expect = expect;
  });
};
