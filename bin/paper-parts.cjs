// Where each part of React Native Paper lies: its own list, and the two themes that its list leaves out.
const own = require('react-native-paper/lib/mappings.json');

const themes = 'lib/module/styles/themes';
module.exports = {
  ...own,
  mappings: {
    ...own.mappings,
    MD3DarkTheme: { path: themes, name: 'MD3DarkTheme' },
    MD3LightTheme: { path: themes, name: 'MD3LightTheme' },
  },
};
