import type { Person, Route, KeptRouteTable } from '../core/estate';

const SYSTEM = 'terminals';
const FLEET = 'fleet';
const own = (people: readonly Person[], has: (person: Person) => boolean): string[] =>
  people.filter(has).flatMap(({ lines }) => lines.flatMap(({ numbers }) => numbers ?? []));
const hasApp = ({ endpoints }: Person) => endpoints.some(({ kind }) => kind === 'mobile-app');

/**
 * How the ferry line's systems are joined: the phone system of the terminals, the softphone service of the crews, two
 * carriers and the old system of the yard. It has the mistakes that such tables have.
 */
export function ferryRoutes(people: readonly Person[]): KeptRouteTable {
  const route = (id: string, name: string, when: Route['when'], then: Route['then']): Route => ({
    id,
    name,
    enabled: true,
    when,
    then,
  });
  return {
    peers: [
      {
        id: SYSTEM,
        name: 'Terminal phone system',
        role: 'phones of terminals and offices',
        expects: 'dialled',
      },
      {
        id: FLEET,
        name: 'Fleet softphones',
        role: 'softphones of the crews',
        expects: 'e164',
        sendsBack: {},
      },
      { id: 'coast', name: 'Coast carrier', role: 'provider', expects: 'e164', limit: 12, trunk: 'terminal' },
      { id: 'ocean', name: 'Ocean carrier', role: 'provider', expects: 'e164', limit: 2, trunk: 'overseas' },
      { id: 'yard', name: 'Old yard system', role: 'phones of the yard', expects: 'national' },
      { id: 'rescue', name: 'Emergency gateway', role: 'emergency calls', expects: 'any' },
    ],
    lines: SYSTEM,
    lists: [
      { id: 'two-systems', name: 'Phones on two systems', numbers: own(people, hasApp) },
      {
        id: 'yard-people',
        name: 'Yard people',
        numbers: own(people, ({ id }) => ['ruth', 'jonah', 'amara'].includes(id)),
      },
    ],
    routes: [
      route('emergency', 'Emergency', { dialled: { map: '(911|9911)' } }, { send: { peer: 'rescue' } }),
      route(
        'form-abroad',
        'Abroad into E.164',
        { from: [SYSTEM], dialled: { prefixes: ['9011'] } },
        { rewrite: { rewrite: { drop: 4, prepend: '+' } } },
      ),
      route(
        'form-home',
        'National into E.164',
        { from: [SYSTEM], dialled: { map: '91[2-9]xx[2-9]xxxxxx' } },
        { rewrite: { rewrite: { drop: 1, prepend: '+' } } },
      ),
      route(
        'form-local',
        'Local into E.164',
        { from: [SYSTEM], dialled: { map: '9250xxxxxxx' } },
        { rewrite: { rewrite: { drop: 1, prepend: '+1' } } },
      ),
      route(
        'no-premium',
        'No premium numbers',
        { dialled: { prefixes: ['+1900'] } },
        { refuse: { cause: 403 } },
      ),
      // Placed above the fork of people with phones on two systems, it takes most of them.
      route(
        'own',
        'Our own numbers',
        { dialled: { prefixes: ['+12505550'] }, from: ['coast', 'ocean', 'yard'] },
        { send: { peer: SYSTEM } },
      ),
      route(
        'both',
        'People with phones on two systems',
        { list: { id: 'two-systems', of: 'dialled' } },
        {
          fork: {
            branches: [
              { peer: SYSTEM, rewrite: { drop: 2, prepend: '9' } },
              { peer: FLEET, delayMs: 3000 },
            ],
          },
        },
      ),
      // The softphone service sends back what it does not know, and this sends it there again.
      route(
        'fleet-numbers',
        'Numbers of the fleet',
        { dialled: { prefixes: ['+1778555'] } },
        { send: { peer: FLEET } },
      ),
      route(
        'night-abroad',
        'Nothing abroad at night',
        { from: [SYSTEM], dialled: { map: '+[2-9]x.' }, schedule: { id: 'night-watch', inside: true } },
        { refuse: { cause: 403 } },
      ),
      route(
        'home',
        'North America',
        { dialled: { map: '+1[2-9]xxxxxxxxx' } },
        { send: { peer: 'coast', orElse: ['ocean'] } },
      ),
      route(
        'abroad',
        'Abroad',
        { dialled: { prefixes: ['+'], minDigits: 8, maxDigits: 15 } },
        { send: { peer: 'ocean' } },
      ),
      // Everything it could take is taken above it.
      route(
        'yard-late',
        'Yard people after hours',
        {
          list: { id: 'yard-people', of: 'dialled' },
          schedule: { id: 'office', inside: false },
        },
        { send: { peer: 'yard', rewrite: { drop: 2, prepend: '' } } },
      ),
    ],
  };
}
