export { readAuthorities } from './authority';
export { addEvent, addProvisioned, putFirmwareFile, putProgress } from './queries';
export { deskPhoneRoutes } from './desk-phone';
export { provisioningRoutes } from './routes';
export { provisioning } from './service';
export { knownPhones, sha256 } from './settings';
export { stockRoutes } from './stock-routes';
export { type TlsService, openTls } from './tls';
