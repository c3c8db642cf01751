const path = require('node:path');
const { getDefaultConfig } = require('expo/metro-config');

const config = getDefaultConfig(__dirname);

// The icons are our own drawings: the icon font that React Native Paper would bring is left out.
const ICON_FONTS = /^(@expo\/vector-icons|@react-native-vector-icons|react-native-vector-icons)(\/|$)/;
const resolve = config.resolver.resolveRequest;
config.resolver.resolveRequest = (context, name, platform) => {
  if (ICON_FONTS.test(name)) return { type: 'empty' };
  return (resolve ?? context.resolveRequest)(context, name, platform);
};
const own = (folder) =>
  new RegExp(`^${path.join(__dirname, folder).replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}/.*`);
config.resolver.blockList = [own('var'), own('dist')];

module.exports = config;
