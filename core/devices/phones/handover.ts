import type { EndpointKind } from '../../estate';
import type { AccountValues } from './steps';

/** One step of a hand-over sheet: what to do, and what is to be seen when it was done. */
export interface HandoverStep {
  readonly says: string;
  readonly value?: string;
  readonly expect?: string;
}

/** What a mobile's system must let an app do so that it rings, in general terms. */
export const APP_PERMISSIONS = [
  { id: 'notifications', says: 'May show notifications, with sound' },
  { id: 'microphone', says: 'May use the microphone' },
  { id: 'quiet-hours', says: 'May ring in quiet hours' },
  { id: 'lock-screen', says: 'May show calls on the lock screen' },
  { id: 'battery', says: 'Is not put to sleep to save the battery' },
] as const;
export type AppPermission = (typeof APP_PERMISSIONS)[number]['id'];

/** The check that it rang with the screen locked: the proof of all the others. */
export const RANG_LOCKED = 'rang-locked';
/** Everything that somebody can tick for an app on their mobile. */
export const APP_CHECKS: readonly string[] = [...APP_PERMISSIONS.map(({ id }) => id), RANG_LOCKED];

/** The account as one line that apps read from a code: a SIP URI (RFC 3261, section 19.1), without the password. */
export const accountUri = ({ user, server, port, transport }: AccountValues): string =>
  `sip:${user}@${server}:${port};transport=${transport.toLowerCase()}`;

/** What somebody uses with a softphone, and what is to be known of it. */
export const SOUND_THINGS = ['headset', 'microphone', 'camera'] as const;
export type SoundThing = (typeof SOUND_THINGS)[number];
export type SoundNotes = Readonly<Partial<Record<SoundThing, string>>>;

/**
 * The steps by which a person sets up a softphone, in order.
 * @param placing of `sayPlacing`: from which of their phones they place calls
 */
export function handoverSteps(
  kind: EndpointKind,
  account: AccountValues,
  extension: string,
  notes: SoundNotes = {},
  placing = '',
): readonly HandoverStep[] {
  const isMobile = kind === 'mobile-app';
  return [
    {
      says: isMobile
        ? 'Install the organisation’s softphone from your mobile’s store.'
        : 'Start the softphone on your computer.',
    },
    { says: 'Choose to add a SIP account, and read the code on this sheet, or type:' },
    { says: 'User', value: account.user },
    { says: 'Password', value: account.password ?? 'given to you apart from this sheet' },
    { says: 'Server', value: account.server },
    { says: 'Port', value: String(account.port) },
    { says: 'Transport', value: account.transport, expect: 'The app says that it is registered.' },
    ...(isMobile
      ? APP_PERMISSIONS.map(({ says }) => ({
          says: `In your mobile’s settings for the app: ${says.charAt(0).toLowerCase()}${says.slice(1)}.`,
        }))
      : [{ says: 'Choose your headset as microphone and speaker, and your camera if you have one.' }]),
    ...SOUND_THINGS.flatMap((thing) => {
      const note = notes[thing]?.trim() ?? '';
      return note === '' ? [] : [{ says: `Your ${thing}`, value: note }];
    }),
    ...(placing === '' ? [] : [{ says: placing }]),
    ...(isMobile
      ? [
          {
            says: 'Lock the screen and have somebody call you.',
            expect: 'It rings with the screen locked, and shows who calls.',
          },
        ]
      : []),
    { says: `Have a colleague call ${extension}.`, expect: 'The softphone rings, and you hear each other.' },
  ];
}

/** A hand-over sheet as plain text, for a mail or a printer. */
export function handoverText(title: string, steps: readonly HandoverStep[], uri: string): string {
  const lines = steps.map(({ says, value, expect }, i) =>
    [`${i + 1}. ${says}${value === undefined ? '' : `: ${value}`}`, ...(expect ? [`   ${expect}`] : [])].join(
      '\n',
    ),
  );
  return `${title}\n\n${lines.join('\n')}\n\n${uri}\n`;
}
