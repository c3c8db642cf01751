/** A word of the trade or of ours, as it is explained on screens: one sentence, and one example. */
export interface Term {
  readonly id: string;
  readonly term: string;
  readonly means: string;
  readonly example: string;
  /** What others call it, so that a search finds it. */
  readonly also?: readonly string[];
  /** Whether it is a word of this application alone. */
  readonly ours?: boolean;
}

/** Every term that has a `?` beside it somewhere, and the others that a newcomer asks for. */
export const TERMS = [
  {
    id: 'answer-guard',
    term: 'Answer guard',
    means:
      'An answer sooner than this after dialling is a voicemail, not a person, and does not take the call.',
    example:
      'A mobile that is off answers after 1.2 s; with an answer guard of 2.3 s the call rings on elsewhere.',
    also: ['guard', 'least time before an answer'],
  },
  {
    id: 'stop-ringing-after',
    term: 'Stop ringing after',
    means:
      'A phone is dropped after this time although nobody has answered, before its carrier’s voicemail does.',
    example:
      'The voicemail picks up after 25 s; the mobile stops ringing after 22 s, so the message stays here.',
    also: ['give up', 'longest time to ring'],
  },
  {
    id: 'confirm',
    term: 'Confirm with a key',
    means: 'Whoever answers hears a prompt and presses 1 to accept; a voicemail or a machine cannot.',
    example: 'At home the answering machine picks up, presses nothing, and the call rings on at the desk.',
    also: ['press 1 to accept', 'accept by key', 'call confirmation'],
  },
  {
    id: 'delay',
    term: 'Ring after a delay',
    means: 'A phone begins to ring only so long after its step begins.',
    example: 'The mobile rings 5 s after the desk phone, for those who are at their desk.',
  },
  {
    id: 'simultaneous-ring',
    term: 'Single number reach',
    means: 'One number rings several phones of a person, at once or one after another.',
    example: 'Calls to extension 4101 ring the desk phone and the mobile.',
    also: ['twinning', 'mobile twinning', 'simultaneous ring', 'SNR'],
  },
  {
    id: 'find-me',
    term: 'Find-me sequence',
    means: 'Phones ring in steps, one step after another, until somebody answers.',
    example: 'Step 1: the desk phone for 20 s. Step 2: the mobile for 15 s.',
    also: ['follow me', 'sequence', 'stage'],
  },
  {
    id: 'reach-plan',
    term: 'Reach plan',
    means: 'All that decides how a person is reached: rules with their steps, and the default rule.',
    example: 'By night the mobile rings for status “On call”; the default rule rings the desk phone.',
    ours: true,
    also: ['plan'],
  },
  {
    id: 'default-rule',
    term: 'Default rule',
    means: 'What happens where no other rule of the plan holds.',
    example: 'Ring the desk phone for 25 s, then voicemail.',
    also: ['otherwise', 'last rule'],
  },
  {
    id: 'ring-strip',
    term: 'Ring strip',
    means:
      'The drawing of one call against time: a lane for each phone, and where the call ends at the right.',
    example: 'The mobile’s lane begins at 5 s and stops at 22 s; at 25 s the call goes to voicemail.',
    ours: true,
    also: ['strip', 'timeline'],
  },
  {
    id: 'moment',
    term: 'Moment',
    means: 'The day, time, status and caller that a strip is drawn for.',
    example: 'Tuesday 14:20, status “At sea”, a call from outside.',
    ours: true,
  },
  {
    id: 'week-map',
    term: 'Week map',
    means: 'The week in half hours, each drawn by where a call ends then.',
    example: 'Sunday from 22:00 on is marked lost: no rule covers it.',
    ours: true,
  },
  {
    id: 'try',
    term: 'Try a call',
    means: 'A test call, computed at once, or placed live over the stand-ins.',
    example: 'A caller from outside, the mobile off: who answers, and after how long?',
    ours: true,
  },
  {
    id: 'drill',
    term: 'Drill',
    means: 'A try that was kept with its result; all drills run before changes go live.',
    example: '“Nobody answers Ines: voicemail for Ines within 40 s.”',
    ours: true,
    also: ['test case', 'regression test'],
  },
  {
    id: 'promise',
    term: 'Promise',
    means:
      'A statement that must hold in every case; it is proved by checking all cases, or broken by a call that shows it.',
    example: '“No mobile carrier’s voicemail ever takes a call.”',
    ours: true,
    also: ['proof', 'guarantee'],
  },
  {
    id: 'slate',
    term: 'Slate',
    means: 'Changes that are being prepared together and are not live yet.',
    example: 'Twenty plans for the summer season, put live on 1 May at 06:00.',
    ours: true,
    also: ['draft', 'change set'],
  },
  {
    id: 'ripple',
    term: 'Ripple',
    means: 'What a slate changes for whom: the calls that end differently.',
    example: '“Bookings: an unanswered call now is ended. Before, it was voicemail for Ruth.”',
    ours: true,
    also: ['impact', 'effect of a change'],
  },
  {
    id: 'finding',
    term: 'Finding',
    means:
      'Something wrong or risky in how everything is set, with its evidence and, where there is one, its fix.',
    example: 'A mobile rings longer than its carrier’s voicemail takes to pick up.',
    ours: true,
    also: ['warning', 'audit'],
  },
  {
    id: 'cover',
    term: 'Cover',
    means: 'Somebody else gets a person’s calls until a set time, and then it ends by itself.',
    example: 'Ruth covers for Ines until Friday 17:00.',
    also: ['deputy', 'delegate'],
  },
  {
    id: 'call-forwarding',
    term: 'Call forwarding',
    means: 'A line sends its calls elsewhere: always, when busy, or on no answer.',
    example: 'All calls of 4101 go to +1 250 555 0140 until it is switched off.',
    also: ['forward all calls', 'diversion', 'always forward'],
  },
  {
    id: 'template',
    term: 'Template',
    means: 'A plan that many people follow; it says “first mobile”, and each has their own.',
    example: 'Deck hands: the softphone first, then the mobile.',
  },
  {
    id: 'status',
    term: 'Status',
    means: 'What a person says of themselves, which rules can ask for.',
    example: '“At sea”: the softphone does not ring.',
    also: ['presence', 'profile'],
  },
  {
    id: 'permission',
    term: 'Permission',
    means: 'Which numbers somebody’s calls and forwards may go to.',
    example: 'National: local, mobile and national numbers, nothing abroad.',
    also: ['class of service', 'calling rights'],
  },
  {
    id: 'trunk',
    term: 'Trunk',
    means: 'The connection to a carrier; each call over it takes a channel.',
    example: 'A call from outside that rings a mobile takes two channels.',
    also: ['channel', 'line to the carrier'],
  },
  {
    id: 'caller-id',
    term: 'Caller ID',
    means: 'The number that the called phone shows.',
    example: 'On Ines’s mobile: the caller’s own number, or the organisation’s main number.',
    also: ['presented number', 'CLIP', 'number shown'],
  },
  {
    id: 'group',
    term: 'Ring group',
    means: 'Several people who answer one number: simultaneous, linear, circular or longest idle first.',
    example: 'Bookings, circular: each call begins with whoever comes after the last.',
    also: ['hunt group', 'pickup'],
  },
  {
    id: 'fraud-protection',
    term: 'Fraud protection',
    means:
      'Watches which people, forwards, groups and routes can reach premium numbers and those on its list.',
    example: 'A forward to a premium number is found before somebody else uses it.',
    also: ['toll fraud', 'guard'],
  },
  {
    id: 'route-table',
    term: 'Route table',
    means: 'Which of several phone systems gets a call, by its digits, caller and hours.',
    example: '+1 250 555 01xx goes to the cloud, 4xxx to the system at the terminal.',
    also: ['routing', 'dial plan'],
  },
  {
    id: 'digit-map',
    term: 'Digit map',
    means: 'A pattern of digits as RFC 3435 writes it.',
    example: '9 1 [2-9] x x x x x x x x x: a national number after the outside code.',
    also: ['dial pattern'],
  },
  {
    id: 'provisioning',
    term: 'Provisioning',
    means: 'A desk phone fetches its settings when it is plugged in and its one-time code or PIN is typed.',
    example: 'A new phone at Port Ansel: plugged in, the code typed, registered a minute later.',
    also: ['self-set', 'set up phones', 'zero touch', 'auto-configuration'],
  },
  {
    id: 'registration',
    term: 'Registration',
    means: 'A phone tells the phone system where it is; while it is not registered it cannot ring.',
    example: 'The softphone of Viggo: not registered since 08:12.',
    also: ['registered', 'signed in'],
  },
  {
    id: 'remote-registration',
    term: 'Remote registration',
    means: 'The phone system lets this line register from outside the office.',
    example: 'A desk phone at home is refused until remote registration is allowed.',
    also: ['let in', 'remote worker'],
  },
  {
    id: 'sip-alg',
    term: 'SIP ALG',
    means: 'A router that changes addresses inside SIP messages, which often breaks calls.',
    example: 'Calls to the phone at home have no sound until the SIP ALG is switched off.',
    also: ['SIP helper', 'application layer gateway'],
  },
  {
    id: 'nat-method',
    term: 'NAT method',
    means: 'How a phone behind a router is reached: STUN, TURN, VPN or a session border controller.',
    example: 'At home with STUN: the phone learns its outside address and keeps it open.',
    also: ['STUN', 'TURN', 'border controller', 'NAT traversal'],
  },
  {
    id: 'hot-desk',
    term: 'Shared desk',
    means: 'A phone that becomes whoever’s signs on at it, until they sign off.',
    example: 'Early shift: Ada signs on at desk 3, and extension 4112 rings there.',
    also: ['hot desk', 'hoteling', 'free seating'],
  },
  {
    id: 'access-number',
    term: 'Access number',
    means:
      'Staff ring it from a mobile, type a number, and the phone system calls that with their work number.',
    example: 'From the train Ada rings it and types a client’s number: the client sees her direct number.',
    also: ['DISA', 'dial-in', 'call through'],
  },
  {
    id: 'roster',
    term: 'Roster',
    means: 'When somebody comes to a site to sit at a shared desk, and how likely.',
    example: 'Early shift at the terminal, 80 %: of ten such people eight come on average.',
    also: ['shift plan', 'rota', 'duty schedule'],
  },
  {
    id: 'seat',
    term: 'Seat',
    means: 'A place in a group for whoever is signed on to it, at whichever phone they have today.',
    example: 'Service from home 1: whoever takes it gets calls of the service desk on their mobile.',
    also: ['agent position', 'service position', 'queue member'],
  },
  {
    id: 'rank',
    term: 'Rank',
    means: 'In a group that goes by rank, seats of rank 1 ring first; of equals the longest idle.',
    example: 'Rank 1 in the office, rank 2 at home: home rings when the office does not answer.',
    also: ['priority', 'penalty', 'skill level'],
  },
  {
    id: 'wrap-up',
    term: 'Wrap-up',
    means: 'Time after a call in which a seat gets none, for writing down what was agreed.',
    example: 'With 20 s of wrap-up the next call rings 20 s after the last has ended.',
    also: ['after-call work', 'clerical time'],
  },
  {
    id: 'wake',
    term: 'Wakes for a call',
    means: 'A softphone on a mobile sleeps, and is woken by a push message before it can ring.',
    example: 'The app rings 3 s after the desk phone: so long it takes to wake.',
    also: ['push', 'app asleep'],
  },
  {
    id: 'hand-over-sheet',
    term: 'Hand-over sheet',
    means: 'What a person gets for a new phone: steps and values, printable, with a QR code.',
    example: 'Softphone for Dalia: server, account, password, and what to switch off to save no power.',
    ours: true,
  },
  {
    id: 'stand-in',
    term: 'Stand-in',
    means: 'A simulated phone, phone system or carrier that speaks the real protocol on this machine.',
    example: 'A live try rings the stand-in of Ines’s mobile.',
    ours: true,
    also: ['simulator'],
  },
  {
    id: 'restart-owed',
    term: 'Restart owed',
    means: 'A phone or service still runs the settings of before, until it is restarted.',
    example: 'The keys of the bridge phone changed; it shows them after its restart.',
    ours: true,
  },
  {
    id: 'voicemail-for',
    term: 'Voicemail for somebody',
    means: 'The call ends in that person’s mailbox here, where the organisation hears it.',
    example: '“Nobody answers: voicemail for Ines.”',
    also: ['mailbox', 'message'],
  },
  {
    id: 'carrier-voicemail',
    term: 'Mobile carrier’s voicemail',
    means: 'The voicemail of a mobile itself; a message there is lost to the organisation.',
    example: 'It picks up after 25 s, or at once when the mobile is off.',
    also: ['own voicemail', 'private voicemail', 'foreign mailbox'],
  },
  {
    id: 'round',
    term: 'Round of calls',
    means:
      'A list of numbers is called one after another, each hears a recording, and what became of each is kept.',
    example: 'Sailing 7 is cancelled: 40 passengers hear so, press 1, and two are listed as not reached.',
    also: ['broadcast', 'call list', 'notification', 'outbound'],
    ours: true,
  },
  {
    id: 'never-call-list',
    term: 'Never-call list',
    means: 'Numbers that no round calls, because their owners asked for it.',
    example: 'A passenger presses 9 while the recording plays, and is called by no later round.',
    also: ['do not call', 'opt out', 'suppression'],
  },
  {
    id: 'erlang',
    term: 'Erlang',
    means:
      'How many channels are taken on average, where one channel that is taken all the time is one erlang.',
    example:
      '30 calls an hour of 4 minutes are 2 erlangs; by Erlang B 7 channels leave one call in three hundred without.',
    also: ['traffic', 'erlang b', 'busy hour'],
  },
  {
    id: 'answer-times',
    term: 'Answer times',
    means:
      'How long phones ring until somebody answers, where a phone that stopped before counts only up to then (Kaplan and Meier).',
    example: '80 % of those who answer at all do so within 14 s; five more seconds bring 3 % more.',
    also: ['ring time', 'time to answer', 'survival'],
  },
  {
    id: 'erlang-c',
    term: 'Erlang C and A',
    means:
      'Formulas for how long callers wait where they come by chance and the first free seat takes the first in line.',
    example: '60 calls an hour of 210 s at 6 seats: one in six waits; Erlang A lets callers give up besides.',
    also: ['erlang', 'queueing', 'staffing', 'service level'],
  },
] as const satisfies readonly Term[];

export type TermId = (typeof TERMS)[number]['id'];
