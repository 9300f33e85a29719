const { join } = require('node:path');

/** Where our screens are: the only sources with components, and so with class names, of ours. */
const SCREENS = [join(__dirname, 'app'), join(__dirname, 'src'), join(__dirname, 'test')];
const inScreens = (file) => SCREENS.some((place) => file?.startsWith(place));

// No animation by worklets here, and nothing of Expo's own interface: their plugins would only walk each file.
const unused = { worklets: false, reanimated: false, expoUi: false };

module.exports = (api) => {
  api.cache(true);
  return {
    overrides: [
      {
        test: inScreens,
        presets: [['babel-preset-expo', { jsxImportSource: 'nativewind', ...unused }], 'nativewind/babel'],
      },
      // Packages and our own core: no class names, nothing to memoise: the passes for those would only walk each file.
      { exclude: inScreens, presets: [['babel-preset-expo', { ...unused, 'react-compiler': false }]] },
    ],
  };
};
