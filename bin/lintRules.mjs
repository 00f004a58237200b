// Lint rules of our own, loaded by .oxlintrc.json.

/** Rejects `new Date()`, which reads the clock. `Date.now` is covered by a standard rule. */
const noCurrentDate = {
  create: (context) => ({
    NewExpression(node) {
      if (node.callee.name === 'Date' && node.arguments.length === 0)
        context.report({ node, message: 'The core has no clock and no randomness: both are passed in.' });
    },
  }),
};

export default { meta: { name: 'understudy' }, rules: { 'no-current-date': noCurrentDate } };
