export { takeBlock } from './block';
export { openHouse, type House } from './house';
export { isOurs, SOUND_PORTS, standingBehind, withOurPorts, type Standing } from './standing';
export { mannerTowards, openHelpers, phoneWay, registersAt } from './out';
export { realOf, staged, type Staged } from './staged';
