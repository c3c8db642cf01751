export { menuGreetingFaults, personGreetingFaults, saidOf, type GreetingFault } from './greeting';
