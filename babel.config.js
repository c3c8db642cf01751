module.exports = function (api) {
  api.cache(true);
  return {
    presets: ['babel-preset-expo'],
    // Only the parts of Paper that are used go into the built application.
    env: {
      production: {
        plugins: [['react-native-paper/babel', { mappings: require.resolve('./bin/paper-parts.cjs') }]],
      },
    },
  };
};
