export { readPidfLo, writePidfLo, type Location, type LocationOrFault } from './pidf';
export {
  callBackOf,
  callsByUs,
  emergencyTrunkOf,
  isInRange,
  isOld,
  PLACE_FAULTS,
  placeFaults,
  placeOf,
  saysOwnPlace,
  STALE_DAYS,
  type PlaceAsked,
  type PlaceBasis,
  type Placed,
  type PlaceFault,
} from './place';
export { sayBasis, sayCivic, sayPlaceFault } from './words';
