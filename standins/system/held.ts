import type { Ms } from '../../core/estate';
import type { SeatLine } from '../../core/seats';
import { toneMuLaw } from '../../core/wire/rtp';
import { takeChannel } from './channels';
import { confirming } from './confirm';
import type { HeldPhones, HeldWish } from './held-types';
import { callOut } from './leg';
import type { OutLeg } from './leg-types';
import type { CallHost, LiveCall } from './types';

const RING_MS: Ms = 45_000;
const KEY_MS: Ms = 20_000;
const LONGEST_MS: Ms = 12 * 3_600_000;
/** What is heard before a caller is. */
const TONE = toneMuLaw(440, 300);
const SAID_PACKETS = 3;

interface Held {
  readonly wish: HeldWish;
  leg: OutLeg | null;
  isOpen: boolean;
  use: Parameters<HeldPhones['take']>[2] | null;
  readonly end: (why: string) => void;
}

/** The caller is gone, and whoever is on the line is told. */
function letGo(held: Held): void {
  held.use = null;
  held.leg?.say('told The caller has gone.', SAID_PACKETS);
}

/**
 * @param hostNow what calls need of the system around them, as it is now
 * @param enter told of each call while it is there, so that its BYE finds it; null: it is gone
 */
export function openHeld(
  hostNow: (id: string) => CallHost,
  enter: (id: string, call: LiveCall | null) => void,
  tell: (seat: string, at: SeatLine | null) => void,
): HeldPhones {
  const held = new Map<string, Held>();
  const keyOf = ({ seat, phone, sinceMs }: HeldWish) => `held ${seat} ${phone} ${sinceMs}`;

  function begin(id: string, wish: HeldWish): void {
    const host = hostNow(id);
    const { clock, carrier, realm, address } = host.options;
    let over = false;
    let callOff: () => void = () => undefined;
    const bound = (ms: Ms, why: string) => {
      callOff();
      callOff = clock.after(ms, () => each.end(why));
    };
    const each: Held = {
      wish,
      leg: null,
      isOpen: false,
      use: null,
      end: (why) => {
        if (over) return;
        over = true;
        callOff();
        const { use } = each;
        each.use = null;
        each.isOpen = false;
        each.leg?.end();
        giveBack?.();
        enter(id, null);
        use?.onBye();
        // Once it is not wished for any more nobody asks how it stands.
        tell(wish.seat, held.get(id) === each ? { state: 'rings', why } : null);
      },
    };
    held.set(id, each);
    const giveBack = carrier ? takeChannel(host, wish.number) : null;
    if (!carrier || !giveBack) {
      over = true;
      tell(wish.seat, { state: 'rings', why: 'no channel was free' });
      return;
    }
    tell(wish.seat, { state: 'calling', why: null });
    enter(id, {
      id,
      takesBye: (bye, from) => each.leg?.isBye(bye, from) ?? false,
      close: () => each.end('the phone system ended'),
    });
    let onKey: (key: string) => void = () => undefined;
    let before = '';
    /** The hash key twice lets go of the caller, and the phone stays connected. */
    const inCall = (key: string) => {
      const isTwice = key === '#' && before === '#';
      before = isTwice ? '' : key;
      if (!isTwice) return;
      const { use } = each;
      letGo(each);
      use?.onBye();
    };
    bound(RING_MS, 'it was not answered');
    callOut(
      host,
      [{ uri: `sip:${wish.number}@${carrier.host}:${carrier.port};user=phone`, to: carrier }],
      `"${wish.name.replaceAll(/["\\]/g, '')}" <sip:${wish.extension}@${realm ?? address}>`,
      {
        onAlert: () => undefined,
        onAnswer: (byMachine) => {
          if (byMachine) return each.end('a voicemail answered');
          bound(KEY_MS, 'no key was pressed');
          onKey = confirming({
            how: 'key',
            person: null,
            at: wish.phone,
            pins: undefined,
            isOpen: () => !over && !each.isOpen,
            caller: wish.name,
            say: (text) => each.leg?.say(text, SAID_PACKETS),
            onAccept: () => {
              each.isOpen = true;
              bound(LONGEST_MS, 'it was connected for twelve hours');
              each.leg?.say(`told ${wish.name}: stay on the line. Hash twice ends a call.`, SAID_PACKETS);
              tell(wish.seat, { state: 'held', why: null });
            },
            onRefuse: () => each.end('it was refused'),
          });
        },
        onFail: () => each.end('it could not be reached'),
        onKey: (key) => (each.use ? inCall(key) : onKey(key)),
        onPacket: (bytes) => each.use?.onPacket(bytes),
        onBye: () => each.end('they hung up'),
      },
    ).then(
      (leg) => {
        each.leg = leg;
        if (over) leg.end();
      },
      () => each.end('it could not be called'),
    );
  }

  return {
    set: (wishes) => {
      const wanted = new Map(wishes.map((wish) => [keyOf(wish), wish]));
      for (const [id, each] of [...held])
        if (!wanted.has(id)) {
          held.delete(id);
          each.end('signed off');
        }
      for (const [id, wish] of wanted) if (!held.has(id)) begin(id, wish);
    },
    take: (phone, isFor, watch) => {
      const each = [...held.values()].find(
        ({ wish, isOpen, use }) => isOpen && use === null && wish.phone === phone && isFor(wish.seat),
      );
      const leg = each?.leg;
      if (!each || !leg) return null;
      each.use = watch;
      const isMine = () => each.use === watch;
      setImmediate(() => {
        if (!isMine()) return;
        watch.onAlert();
        leg.play(TONE, () => isMine() && watch.onAnswer(false));
      });
      return {
        ...leg,
        end: () => {
          if (isMine()) letGo(each);
        },
        relay: (bytes) => {
          if (isMine()) leg.relay(bytes);
        },
        isBye: () => false,
      };
    },
  };
}
