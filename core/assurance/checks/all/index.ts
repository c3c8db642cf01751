import { deviceFactoryPassword } from './device-factory-password';
import { deviceKeys } from './device-keys';
import { deviceOldFirmware } from './device-old-firmware';
import { deviceUnknownModel } from './device-unknown-model';
import { deviceNatMethod } from './device-nat-method';
import { deviceNotLetIn } from './device-not-let-in';
import { deskLeftSignedOn } from './desk-left-signed-on';
import { siteSipHelper } from './site-sip-helper';
import { wayBroken } from './way-broken';
import { relayAddress } from './relay-address';
import { relayNotAlwaysOn } from './relay-not-always-on';
import { relayStopsReach } from './relay-stops-reach';
import { relayTooSmall } from './relay-too-small';
import { answersByItself } from './answers-by-itself';
import { appAsleep } from './app-asleep';
import { appPoorLine } from './app-poor-line';
import { badNumber } from './bad-number';
import { callsLost } from './calls-lost';
import { ringsTooLong } from './carrier-times';
import { coverOver } from './cover-over';
import { departedFromTemplate } from './departed-from-template';
import { dialPlanContradicts } from './dial-plan';
import { forwardForgotten } from './forward-forgotten';
import { forwardToVoicemail } from './forward-to-voicemail';
import { greetingOfMenu } from './greeting-menu';
import { greetingOfPerson } from './greeting-person';
import { groupEmpty } from './group-empty';
import { groupLeaver } from './group-leaver';
import { groupRingsTooShort } from './group-short';
import { groupTakesTrunk } from './group-trunk';
import { guardLong } from './guard-long';
import { guardShort } from './guard-short';
import { noHolidays } from './holidays';
import { hotDeskOnly } from './hot-desk-only';
import { leadsToLeaver } from './leads-to-leaver';
import { leaverReachesOut } from './leaver-reaches-out';
import { longRinging } from './long-ringing';
import { goesRound } from './loop';
import { mailboxOff } from './mailbox-off';
import { menuHasNoLast } from './menu-has-no-last-rule';
import { menuLeadsToLeaver } from './menu-leaver';
import { moreLegsThanChannels } from './more-legs-than-channels';
import { neverRings } from './never-rings';
import { neverSwitchedOn } from './never-switched-on';
import { noLine } from './no-line';
import { noPermissionOutside } from './no-permission-outside';
import { noTrunk } from './no-trunk';
import { notAgreed } from './not-agreed';
import { outsideHours } from './outside-hours';
import { ownNumberOutside } from './own-number-outside';
import { planForPhone } from './plan-for-phone';
import { premiumOpen } from './premium-open';
import { restartOwed } from './restart-owed';
import { ringsTooShort } from './rings-too-short';
import { ruleNeverFires } from './rule-never-fires';
import { scheduleOver } from './schedule-over';
import { showsForeignNumber } from './shows-foreign-number';
import { templateUnused } from './template-unused';
import { tollReach } from './toll-reach';
import { tollReachOfGroup } from './toll-reach-group';
import { tollReachOfMenu } from './toll-reach-menu';
import { deskPromiseBroken, desksTooFew, noDeskAllows } from './desks-too-few';
import { placeNotSent } from './place-not-sent';
import { emergencyTrunkElsewhere, noCallBack, placeStale, placeUnknown } from './places-of-phones';
import { seatInNoGroup, seatToOwnNumber } from './seat-idle';
import { seatCannotPass, seatToWatchedNumber } from './seat-passing';
import { accessByNumberAlone, accessForNobody, nothingToShow } from './access';
import { numberScreened } from './number-screened';
import { trunkSmall } from './trunk-small';
import { sameNumber } from './two-on-one-number';
import { waitsForNobody } from './waits-for-nobody';
import { weakCode } from './weak-code';
import type { Check } from '../types';

/** Every check, in the order in which findings of one weight are shown. */
export const CHECKS: readonly Check[] = [
  answersByItself,
  appAsleep,
  appPoorLine,
  badNumber,
  callsLost,
  ringsTooLong,
  coverOver,
  departedFromTemplate,
  dialPlanContradicts,
  forwardForgotten,
  forwardToVoicemail,
  greetingOfMenu,
  greetingOfPerson,
  groupEmpty,
  groupLeaver,
  groupRingsTooShort,
  groupTakesTrunk,
  guardLong,
  guardShort,
  noHolidays,
  hotDeskOnly,
  leadsToLeaver,
  leaverReachesOut,
  longRinging,
  goesRound,
  mailboxOff,
  menuHasNoLast,
  menuLeadsToLeaver,
  moreLegsThanChannels,
  neverRings,
  neverSwitchedOn,
  noLine,
  noPermissionOutside,
  noTrunk,
  notAgreed,
  outsideHours,
  ownNumberOutside,
  planForPhone,
  premiumOpen,
  restartOwed,
  ringsTooShort,
  ruleNeverFires,
  scheduleOver,
  showsForeignNumber,
  templateUnused,
  tollReach,
  tollReachOfGroup,
  tollReachOfMenu,
  trunkSmall,
  sameNumber,
  waitsForNobody,
  weakCode,
  deviceFactoryPassword,
  deviceOldFirmware,
  deviceKeys,
  deviceUnknownModel,
  deviceNatMethod,
  deviceNotLetIn,
  deskLeftSignedOn,
  siteSipHelper,
  wayBroken,
  relayAddress,
  relayNotAlwaysOn,
  relayStopsReach,
  relayTooSmall,
  deskPromiseBroken,
  desksTooFew,
  noDeskAllows,
  placeNotSent,
  placeUnknown,
  placeStale,
  emergencyTrunkElsewhere,
  noCallBack,
  seatInNoGroup,
  seatToOwnNumber,
  seatCannotPass,
  seatToWatchedNumber,
  accessByNumberAlone,
  accessForNobody,
  nothingToShow,
  numberScreened,
];
