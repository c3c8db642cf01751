export { complaintsOf, diagnose, type Cause, type Diagnosis } from './diagnose';
export { COMPLAINTS } from './complaints';
export { isWayComplaint, wayCauses, wayComplaintsOf, type WayCause } from './ways';
