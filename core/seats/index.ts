export {
  isOwnNumber,
  saySeatRefusal,
  SEAT_REFUSALS,
  seatRefusal,
  type SeatRefusal,
  type SeatSigning,
} from './signing';
export {
  afterCall,
  afterOffer,
  isMiss,
  offersIn,
  phoneId,
  seatNow,
  seatsNow,
  stateOf,
  type SeatLeaving,
  type SeatLine,
  type SeatOffer,
  type SeatOn,
} from './state';
