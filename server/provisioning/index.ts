export { readAuthorities } from './authority';
export { checkPin } from './pin-check';
export { setPin } from './pins';
export { addEvent, addProvisioned, putFirmwareFile, putProgress, readPinDates } from './queries';
export { provisioningRoutes } from './routes';
export { provisioning } from './service';
export { knownPhones, sha256 } from './settings';
export { stockRoutes } from './stock-routes';
export { type TlsService, openTls } from './tls';
