export { seatByCode } from './at-phone';
export { endLostCalls } from './calls';
export { insertSeatOn, openSeats } from './queries';
export { seatRoutes } from './routes';
export { signOffGone } from './sign-on';
export { followSeats, whoIsAtSeats } from './watch';
