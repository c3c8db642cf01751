export * from './types';
export { compileEstate, type EstateIndex, type KnownEndpoint, type Destination } from './compile';
export { runCall } from './run';
export { callFaults, callSchema, strangersInWorld } from './call-schema';
export { chooseTreatment, scheduleHolds, type Circumstances, type Chosen } from './choose';
export { endingPhrase, endpointName, legEndText, outcomeText, shortName, whose } from './explain';
