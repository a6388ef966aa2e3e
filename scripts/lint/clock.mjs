// A rule for oxlint: the machine's clock is read in one place of each process, and nowhere else; nor the database's.
// @ts-check

const MESSAGE =
  'Time comes as an argument or from the request (`now`); only the clock of the process reads the machine’s.';
const DATABASE = /(?<![.\w])(now\(\)|current_date|current_timestamp|localtimestamp|clock_timestamp)/i;

/** @param {{ type: string, name?: string }} node @param {string} name */
const named = (node, name) => node.type === 'Identifier' && node.name === name;

/** `new Date()`, `Date()`, `Date.now`, `Temporal.Now`, and SQL that asks the database what time it is. */
const readsClock = {
  meta: { type: 'problem', messages: { clock: MESSAGE } },
  /** @param {any} context */
  create(context) {
    const refuse = (/** @type {any} */ node) => context.report({ node, messageId: 'clock' });
    return {
      NewExpression(/** @type {any} */ node) {
        if (named(node.callee, 'Date') && node.arguments.length === 0) refuse(node);
      },
      CallExpression(/** @type {any} */ node) {
        if (named(node.callee, 'Date')) refuse(node);
      },
      MemberExpression(/** @type {any} */ node) {
        if (named(node.object, 'Date') && named(node.property, 'now')) refuse(node);
        if (
          node.object.type === 'MemberExpression' &&
          named(node.object.object, 'Temporal') &&
          named(node.object.property, 'Now')
        )
          refuse(node);
      },
      TemplateElement(/** @type {any} */ node) {
        if (DATABASE.test(node.value.raw)) refuse(node);
      },
    };
  },
};

export default { meta: { name: 'house' }, rules: { clock: readsClock } };
