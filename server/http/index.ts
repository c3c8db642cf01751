export { readBody } from './body';
export { sendChunks } from './chunks';
export { endGently } from './ending';
export { isOwnHost, isPrivate } from './host';
export { me } from './me';
export { HTTP_LIMITS, limitServer } from './limits';
export {
  type OpenRoute,
  type Route,
  type Services,
  type CallGoingOn,
  type SignedIn,
  checkedBody,
} from './routes';
export { openNews, type News } from './news';
export { openStreams } from './streams';
