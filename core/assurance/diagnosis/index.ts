export { complaintsOf, diagnose, type Cause, type Diagnosis } from './diagnose';
export { COMPLAINTS } from './complaints';
