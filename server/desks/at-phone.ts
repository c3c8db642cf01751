import { sayRefusal } from '../../core/desks';
import type { Desk, Person } from '../../core/estate';
import { codeAsks, codeTells } from '../../standins/messages';
import type { CodeReply } from '../../standins/system';
import { forgetAttempts, mayTry, type Bound } from '../auth';
import type { LiveEstate } from '../estate';
import type { Services } from '../http';
import { checkPin } from '../pins';
import { codeOfDay, personOfBadge } from './marks';
import { noteUse, openAt } from './queries';
import { isInCall, signOff, signOn, siteOf, type Wanted } from './sign-on';

type Needs = Pick<Services, 'db' | 'store' | 'now' | 'phones' | 'secrets'>;

const SIGN_OFF = '1';
const SIGN_ON = '2';
/** Tries at badges at one desk within a quarter of an hour. */
const badgeBound = (desk: string): Bound => ({ subject: `badges at ${desk}`, most: 5 });

/** What was typed to show who somebody is, or what is asked next. */
type Shown =
  | { readonly person: string | undefined; readonly credential: Wanted['credential'] }
  | { readonly ask: string }
  | { readonly says: string };

/**
 * Signs on and off at a shared desk by its code and what is typed then: at a free desk who one is, at a taken one
 * first whether to sign off or on.
 * @param id the desk whose phone it is; undefined: the phone is no shared desk
 */
export async function signOnByCode(
  services: Needs,
  live: LiveEstate,
  id: string | undefined,
  typed: readonly string[],
): Promise<CodeReply> {
  const desk = live.estate.desks?.find((each) => each.id === id);
  if (!desk) return codeTells(sayRefusal('no-such-desk'));
  await noteUse(services.db, [desk.id], services.now());
  const [here] = await openAt(services.db, desk.id, '');
  let rest = typed;
  if (here) {
    const name = live.finder.person(here.person)?.name ?? 'Somebody';
    const [choice, ...more] = typed;
    if (choice !== SIGN_OFF && choice !== SIGN_ON)
      return codeAsks(
        `${name} is signed on. ${SIGN_OFF} signs off, ${SIGN_ON} signs on. End with the hash key.`,
      );
    if (isInCall(services, live, here, desk.id)) return codeTells(sayRefusal('in-call'));
    if (choice === SIGN_OFF) {
      await signOff(services, here, 'by-hand', name);
      services.phones.signOnsChanged();
      return codeTells(`${name} is signed off.`);
    }
    if (desk.taken === undefined || desk.taken === 'refuse')
      return codeTells(sayRefusal('taken', { occupant: name, atPhone: true }));
    rest = more;
  }
  const shown = await whoIs(services, live, desk, rest);
  if ('ask' in shown) return codeAsks(shown.ask);
  if ('says' in shown) return codeTells(shown.says);
  // Whether there is such a person is not told by what is said here.
  if (shown.credential !== 'right')
    return codeTells(
      shown.credential === 'locked'
        ? sayRefusal('locked')
        : desk.credential === 'badge'
          ? 'This badge is not known.'
          : sayRefusal('wrong-credential', { atPhone: true }),
    );
  const signed = await signOn(services, {
    desk: desk.id,
    ...shown,
    how: desk.credential === 'badge' ? 'by-badge' : 'by-code',
    // Who chose to sign on at a taken desk was told who sits there.
    confirmed: here !== undefined,
    who: live.finder.person(shown.person ?? '')?.name ?? 'the phone itself',
  });
  return codeTells(
    signed.ok
      ? `${signed.person.name} is signed on.`
      : sayRefusal(signed.why, {
          occupant: signed.occupant?.name ?? null,
          taken: 'refuse',
          atPhone: true,
        }),
  );
}

async function whoIs(
  services: Needs,
  live: LiveEstate,
  desk: Desk,
  typed: readonly string[],
): Promise<Shown> {
  const { credential = 'pin' } = desk;
  if (credential === 'page') return { says: 'Sign on from your own page.' };
  if (credential === 'badge') {
    const [badge] = typed;
    if (badge === undefined) return { ask: 'Your badge, then the hash key.' };
    if (!(await mayTry(services.db, [badgeBound(desk.id)])))
      return { person: undefined, credential: 'locked' };
    const person = await personOfBadge(services, badge);
    if (person === null) return { person: undefined, credential: 'wrong' };
    await forgetAttempts(services.db, [badgeBound(desk.id).subject]);
    return { person, credential: 'right' };
  }
  const [extension, first, second] = typed;
  if (extension === undefined) return { ask: 'Your extension, then the hash key.' };
  const needsCode = credential === 'code-and-pin';
  if (first === undefined)
    return { ask: `${needsCode ? 'The code of this desk' : 'Your PIN'}, then the hash key.` };
  if (needsCode && second === undefined) return { ask: 'Your PIN, then the hash key.' };
  const person = live.estate.people.find(({ lines }) => lines.some((line) => line.extension === extension));
  const pin = needsCode ? second! : first;
  const verdict = await verdictOf(services, person, extension, pin, desk.id);
  const site = siteOf(live.estate, desk);
  const code = needsCode
    ? await codeOfDay(services, desk.id, site?.timeZone ?? live.estate.timeZone, services.now().getTime())
    : first;
  return { person: person?.id, credential: verdict === 'right' && first !== code ? 'wrong' : verdict };
}

/** An extension that is nobody's is counted and answered like a wrong PIN. */
async function verdictOf(
  services: Needs,
  person: Person | undefined,
  extension: string,
  typed: string,
  at: string,
): Promise<Wanted['credential']> {
  const verdict = await checkPin(services, { person: person?.id ?? `extension ${extension}`, typed, at });
  if (verdict === 'locked') return 'locked';
  return person && verdict === 'right' ? 'right' : 'wrong';
}
