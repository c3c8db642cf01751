export { personSetUp, type SetUpPart } from './set-up';
