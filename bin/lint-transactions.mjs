// A rule for the linter: inside a transaction only its own connection is asked. Whoever asks for another can wait for
// itself for ever. The server refuses it at once when it happens; here it does not come so far.
const OPENS = 'inTransaction|inSnapshot|changeEstate';
const inside = `CallExpression[callee.name=/^(${OPENS})$/] > ArrowFunctionExpression`;

const ownConnection = {
  create: (context) => {
    const refuse = (message) => (node) => context.report({ node, message });
    return {
      [`${inside} CallExpression[callee.property.name=/^(current|judgements)$/]`]: refuse(
        'Read the estate before the transaction, or through changeEstate: this asks for another connection.',
      ),
      [`${inside} MemberExpression[object.name="services"][property.name="db"]`]: refuse(
        'Inside a transaction only its own connection (tx) can be asked.',
      ),
      [`${inside} CallExpression[callee.name=/^(${OPENS}|changePerson|changeDevice)$/]`]: refuse(
        'A transaction within a transaction needs a second connection.',
      ),
    };
  },
};

export default { meta: { name: 'transactions' }, rules: { 'own-connection': ownConnection } };
