import type { Confirm } from '../../core/estate';

/**
 * The keys by which a call is taken, refused, and who calls is heard; where a PIN is asked for, whose digits may be
 * any, `*` refuses and `#` ends it.
 */
const CONFIRM_KEYS = { accept: '1', refuse: '2', who: '3' } as const;
const PIN_KEYS = { refuse: '*', end: '#' } as const;
const MOST_DIGITS = 12;

export type PinVerdict = 'right' | 'wrong' | 'locked';

/** What a phone system asks of whoever knows the PINs, of which it has none itself. */
export interface Pins {
  readonly isSet: (person: string) => Promise<boolean>;
  /** @param at the phone where it was typed */
  readonly check: (person: string, typed: string, at: string) => Promise<PinVerdict>;
}

export interface Confirming {
  readonly how: Confirm;
  /** Whose phone it is; null: nobody's. */
  readonly person: string | null;
  /** The phone that was answered. */
  readonly at: string;
  /** Left out: nobody has a PIN, and the key alone takes the call. */
  readonly pins: Pins | undefined;
  readonly isOpen: () => boolean;
  /** Who calls, for whoever asks. */
  readonly caller: string;
  readonly say: (text: string) => void;
  readonly onAccept: () => void;
  readonly onRefuse: () => void;
}

const SAID: Readonly<Record<Exclude<PinVerdict, 'right'>, string>> = {
  wrong: 'This PIN is not right. Once more, then the hash key.',
  locked: 'Too many wrong tries. This call cannot be taken here.',
};

/**
 * Says how a call that was answered is taken, and hears the keys pressed there before it is: accept, refuse, who
 * calls; or a PIN, where the plan asks for one and the person has set one. Keys are dealt with one after the other.
 */
export function confirming(options: Confirming): (key: string) => void {
  const { how, person, pins, isOpen, say, onAccept, onRefuse } = options;
  let digits = '';
  let queue = Promise.resolve();
  let asksPin = false;

  function byKey(key: string): void {
    if (key === CONFIRM_KEYS.who) say(`call from ${options.caller}`);
    else if (key === CONFIRM_KEYS.refuse) onRefuse();
    else if (key === CONFIRM_KEYS.accept) onAccept();
  }

  async function byPin(key: string): Promise<void> {
    if (key === PIN_KEYS.refuse) return onRefuse();
    if (key !== PIN_KEYS.end) {
      digits = (digits + key).slice(-MOST_DIGITS);
      return;
    }
    const typed = digits;
    digits = '';
    if (typed === '' || person === null || !pins) return;
    const verdict = await pins.check(person, typed, options.at).catch(() => 'wrong' as const);
    if (!isOpen()) return;
    if (verdict === 'right') onAccept();
    else say(SAID[verdict]);
  }

  if (how === 'pin' && pins && person !== null)
    queue = pins
      .isSet(person)
      .catch(() => true)
      .then((isSet) => {
        asksPin = isSet;
        if (isOpen()) say(isSet ? 'confirm pin' : 'confirm key');
      });
  else say(how === 'pin' ? 'confirm key' : `confirm ${how}`);

  return (key) => {
    queue = queue.then(() => {
      if (!isOpen()) return undefined;
      return asksPin ? byPin(key) : byKey(key);
    });
  };
}
