export { menuGreetingFaults, personGreetingFaults, saidOf, type GreetingFault } from './greeting';
export {
  outsideNumbers,
  ownOutsideNumbers,
  tollGuard,
  type OpenTo,
  type TollFinding,
  type TollReport,
} from './toll';
