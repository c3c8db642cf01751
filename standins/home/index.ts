export { openHouse, type House } from './house';
export { realOf, staged, type Staged } from './staged';
