export { openHouse, type House } from './house';
export { staged, type Staged } from './staged';
