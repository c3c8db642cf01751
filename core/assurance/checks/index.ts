export { METHOD_WORDS } from './devices';
export { menuGreetingFaults, personGreetingFaults, saidOf, type GreetingFault } from './greeting';
export {
  outsideNumbers,
  ownOutsideNumbers,
  tollGuard,
  type OpenTo,
  type TollFinding,
  type TollReport,
} from './toll';
export * from './types';
export { CHECKS } from './all';
export { checkContext, leaverStatuses } from './context';
export {
  audit,
  auditorOf,
  type Auditor,
  type FindingsChange,
  auditBy,
  auditGroup,
  auditMenu,
  auditOrganisation,
  auditPerson,
  auditStarts,
  changedFindings,
  mergeFindings,
  sortFindings,
} from './audit';
export { sarifLog } from './sarif';
