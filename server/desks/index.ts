export { colleagueRoutes } from './colleagues';
export { signOnByCode } from './at-phone';
export { markOf } from './marks';
export { beginIdleAnew, insertSignOn, openAt, openSignOns } from './queries';
export { deskRoutes } from './routes';
export { isInCall, siteOf } from './sign-on';
export { signOnRoutes } from './sign-on-routes';
export { atDesks } from './there';
export { noteCalls, signOffDue, whoIsSignedOn } from './sweep';
