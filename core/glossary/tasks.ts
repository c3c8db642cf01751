import { fold } from '../search';

/** Something that people want to do, where in the application it is done, and how it goes on there. */
export interface Task {
  readonly says: string;
  /** The page where it begins; of one person's page, the list in which the person is chosen. */
  readonly at: string;
  readonly then: string;
  /** Other words that people ask for it by. */
  readonly also?: readonly string[];
}

const PERSON = '/people';

export const TASKS: readonly Task[] = [
  { says: 'Add a person', at: PERSON, then: 'People › Add person', also: ['new starter', 'joiner', 'user'] },
  {
    says: 'See why a phone at home does not ring, or has sound one way only',
    at: '/networks',
    then: 'Networks › the site',
    also: ['nat', 'stun', 'one-way sound', 'keep-alive', 'router', 'firewall'],
  },
  {
    says: 'See what the servers are doing, and what is wrong with them',
    at: '/server',
    then: 'Organisation › Servers',
    also: ['health', 'jobs', 'disk', 'certificate', 'monitoring', 'metrics', 'status page'],
  },
  {
    says: 'Change many people at once',
    at: '/people',
    then: 'On a wide screen: tick them in the table, then set a status, a permission or a template',
    also: ['bulk', 'mass change', 'several users'],
  },
  {
    says: 'See how many seats a service group needs',
    at: '/groups',
    then: 'The group › How many seats are needed',
    also: ['erlang', 'staffing', 'service level', 'waiting time', 'agents'],
  },
  {
    says: 'See the calls that went, and who answered',
    at: '/calls',
    then: 'Record › Calls',
    also: ['cdr', 'call log', 'call records', 'did it ring', 'history of calls'],
  },
  {
    says: 'Try with real packets whether a phone at home works',
    at: '/networks',
    then: 'Networks › the site › Try it with real packets',
    also: ['nat', 'router', 'stun', 'turn', 'ice', 'remote phone', 'packets', 'home'],
  },
  {
    says: 'Read the SIP messages of a call',
    at: '/calls',
    then: 'Calls › the call › Signalling',
    also: ['ladder', 'sip trace', 'packet capture', 'pcap', 'signalling'],
  },
  {
    says: 'Call everybody on a list with a recording',
    at: '/rounds',
    then: 'Rounds › Add a round; somebody else approves it',
    also: ['broadcast', 'cancelled', 'announce', 'message to many', 'passengers'],
  },
  {
    says: 'Keep a number from being called by rounds',
    at: '/rounds',
    then: 'Rounds › Never call',
    also: ['do not call', 'opt out', 'unsubscribe'],
  },
  {
    says: 'Add many people from a list',
    at: '/import',
    then: 'Import staff › Choose a file',
    also: ['csv', 'bulk', 'vcard'],
  },
  {
    says: 'Let a mobile ring with the desk phone',
    at: PERSON,
    then: 'The person › Phones › Add phone › Mobile',
    also: ['twinning', 'single number reach', 'simultaneous ring', 'cell'],
  },
  {
    says: 'Give somebody a softphone',
    at: PERSON,
    then: 'The person › Phones › Add phone; the hand-over sheet comes next',
    also: ['app', 'qr code', 'client', 'account'],
  },
  {
    says: 'Give somebody a desk phone',
    at: PERSON,
    then: 'The person › Phones › Add phone, with its model and MAC address',
    also: ['handset', 'telephone', 'mac'],
  },
  {
    says: 'Take a desk phone home',
    at: '/devices',
    then: 'The device › Where it stands, then its steps at the keypad',
    also: ['remote phone', 'home office', 'nat'],
  },
  {
    says: 'Forward calls always, when busy or on no answer',
    at: PERSON,
    then: 'The person › Plan › Call forwarding',
    also: ['divert', 'call forwarding', 'cfb', 'cfna', 'redirect'],
  },
  {
    says: 'Have somebody covered until a time',
    at: PERSON,
    then: 'The person › Cover › Cover for today',
    also: ['deputy', 'stand in', 'holiday', 'delegate'],
  },
  {
    says: 'Plan leave from one day to another',
    at: PERSON,
    then: 'The person › Cover › With dates, such as leave',
    also: ['vacation', 'absence', 'status', 'out of office'],
  },
  {
    says: 'Change a name, an extension, a direct number or a permission',
    at: PERSON,
    then: 'The person › More › Name, lines and permission',
    also: ['second line', 'did', 'rename', 'class of service', 'calls at once'],
  },
  {
    says: 'Switch voicemail on or off, or send copies',
    at: PERSON,
    then: 'The person › Cover › Voicemail',
    also: ['mailbox', 'messages'],
  },
  {
    says: 'Find out why a phone does not ring',
    at: PERSON,
    then: 'The person › More › Troubleshoot, with the day and hour of the complaint',
    also: ['diagnose', 'fault', 'complaint', 'did not ring'],
  },
  { says: 'Try a call', at: PERSON, then: 'The person › Try a call', also: ['test call', 'simulate'] },
  {
    says: 'Remove a phone',
    at: PERSON,
    then: 'The person › Phones › the three points › Remove this phone',
    also: ['delete'],
  },
  {
    says: 'Somebody leaves',
    at: PERSON,
    then: 'The person › More › Leaves',
    also: ['leaver', 'remove person', 'delete user', 'successor'],
  },
  {
    says: 'Sign somebody on at a shared desk',
    at: '/desks',
    then: 'The desk › Sign somebody on',
    also: ['hot desk', 'hoteling', 'log in'],
  },
  {
    says: 'See who sits where, now or at another moment',
    at: '/desks',
    then: 'Who sits where',
    also: ['where is', 'hot desk', 'free desk'],
  },
  {
    says: 'Sign somebody on to a seat of a group',
    at: '/groups',
    then: 'The seat › Sign somebody on',
    also: ['service desk', 'agent', 'call queue', 'log in'],
  },
  {
    says: 'Let staff call with their work number from a mobile',
    at: '/access',
    then: 'The access number',
    also: ['access number', 'dial-in', 'call through', 'work number'],
  },
  {
    says: 'Promise that nobody of a shift is without a desk',
    at: '/sites',
    then: 'The site › Promises about shared desks',
    also: ['hot desk', 'capacity', 'guarantee'],
  },
  {
    says: 'See what stands on the phone of a shared desk, and whether it has it',
    at: '/desks',
    then: 'The desk › On its display and keys now',
    also: ['hot desk', 'speed dial', 'labels', 'language', 'profile'],
  },
  {
    says: 'See whether there are enough shared desks',
    at: '/desks',
    then: 'Are there enough?',
    also: ['hot desk', 'hoteling', 'roster', 'shift'],
  },
  {
    says: 'Set opening hours and holidays',
    at: '/hours',
    then: 'The hours',
    also: ['schedule', 'closed', 'calendar'],
  },
  {
    says: 'Change a menu',
    at: '/groups',
    then: 'The menu',
    also: ['ivr', 'auto attendant', 'greeting', 'keys'],
  },
  { says: 'Change a group', at: '/groups', then: 'The group', also: ['hunt group', 'ring group', 'pickup'] },
  {
    says: 'See what a number does',
    at: '/routes',
    then: 'What does this number do?',
    also: ['did', 'inbound'],
  },
  {
    says: 'Change how numbers are dialled, permissions and trunks',
    at: '/routes/dialling',
    then: 'Dial plan, Permissions, Trunks',
    also: ['outside code', 'class of service', 'toll', 'provider'],
  },
  {
    says: 'Change many things and put them live together',
    at: '/slates',
    then: 'Begin a slate',
    also: ['batch', 'maintenance window', 'schedule a change'],
  },
  {
    says: 'Undo something that is live',
    at: '/record',
    then: 'The entry › Undo',
    also: ['restore', 'rollback', 'revert', 'history'],
  },
  {
    says: 'Have phones set themselves up',
    at: '/provisioning',
    then: 'Add from a list, or Add one',
    also: ['auto provisioning', 'zero touch', 'batch', 'firmware'],
  },
  {
    says: 'Save everything as a file, or read one',
    at: '/organisation',
    then: 'The estate as a file',
    also: ['export', 'import', 'backup'],
  },
  {
    says: 'Prove promises for everybody',
    at: '/today',
    then: 'Promises › Go through all',
    also: ['audit', 'guarantee'],
  },
];

/** The tasks that a query finds, by their words, by where they are done and by what others call them. */
export function findTasks(query: string): readonly Task[] {
  const words = fold(query.trim()).split(/\s+/).filter(Boolean);
  return TASKS.filter(({ says, then, also = [] }) => {
    const text = fold([says, then, ...also].join(' '));
    return words.every((word) => text.includes(word));
  });
}
