export { openHouse, type House, type Lost } from './house';
export { staged, type Staged } from './staged';
