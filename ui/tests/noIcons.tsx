/** Stands for the icon fonts that React Native Paper looks for. */
const NoIcon = () => null;
// React Native Paper takes the module's default.
export default NoIcon;
