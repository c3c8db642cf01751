import { header, headersOf, NO_MESSAGES, parseUri, type SipRequest } from '../../core/wire/sip';
import type { Call } from '../../core/calls/engine';
import { bareNumber } from '../../core/calls/dialling';
import { digestAuthenticator } from '../sip/authenticator';
import { openNode, type Asked, type SipNode } from '../sip/node';
import { takeCall } from './call';
import { sipCaller } from './caller-side';
import { takeCode } from './code-call';
import { takeAccess } from './access-call';
import { placeCallBack } from './call-back';
import { placeRoundCall } from './round-call';
import { takeEmergency } from './emergency';
import { openHeld } from './held';
import { openLadders } from './ladders';
import { openMailboxes } from './mailboxes';
import { toldOfMailbox } from './mailbox-call';
import { openNotices } from './notices';
import { openRegistrar, type Binding, type RegistrarEvent } from './registrar';
import { waitingLines } from './waiting';
import { callerOf, isEmergency, isVerified, outsideCaller } from './whose';
import type {
  CallBack,
  CallBackAt,
  CallHost,
  LiveCall,
  PhoneSystem,
  RoundCall,
  RoundCallEnded,
  SystemOptions,
} from './types';

const ALLOW = 'INVITE, ACK, BYE, CANCEL, OPTIONS, REGISTER';
const REALM = 'hostler';
const MOST_CALLS = 500;
const SWEEP_MS = 1000;
const PING_MS = 30_000;
/** The longest that an app is waited for once it was woken, in real ms. */
const WOKEN_WITHIN_MS = 30_000;

/** Opens the stand-in phone system (RFC 3261): registrar, and calls steered by the reach model. */
export async function openSystem(given: SystemOptions): Promise<PhoneSystem> {
  const ladders = openLadders(
    () => given.clock.now(),
    (ladder) => tell({ kind: 'call-ladder', ladder }),
  );
  const options: SystemOptions = given.keep
    ? {
        ...given,
        keep: (record) => {
          ladders.kept(record.id, record.startMs);
          return given.keep?.(record) ?? Promise.resolve();
        },
        onCarried: (message) => {
          ladders.carried(message);
          given.onCarried?.(message);
        },
      }
    : given;
  const realm = options.realm ?? REALM;
  const tell = options.onEvent ?? (() => undefined);
  const authenticator = digestAuthenticator(realm, (user) => options.account(user)?.password ?? null);
  const calls = new Map<string, LiveCall | null>();
  const wokenFor = new Map<string, (() => void)[]>();
  const channels = new Map<string, number>();
  const active = new Map<string, number>();
  const groupLast = new Map<string, number>();
  const waiting = waitingLines();

  const mailboxes = openMailboxes((person) => {
    notices.messages();
    tell({ kind: 'messages-waiting', person, waiting: mailboxes.waiting(person) });
  });
  /** Whose phone an account is; null: nobody’s. */
  const personAt = (user: string): string | null =>
    options.estate().endpoints.get(options.account(user)?.endpoint ?? '')?.owner?.id ?? null;
  const registrar = openRegistrar(authenticator, onRegistration);
  function onRegistration(event: RegistrarEvent): void {
    if (event.kind === 'registered' || event.kind === 'refreshed' || event.kind === 'moved') {
      // An app that was woken says so by registering without the means to be woken again.
      const { user, pushId } = event.binding;
      if (pushId === null) {
        for (const each of wokenFor.get(user) ?? []) each();
        wokenFor.delete(user);
      }
    }
    if (event.kind === 'registered') notices.registered(event.binding);
    else if (event.kind === 'removed' || event.kind === 'expired') notices.gone(event.binding);
    tell({ kind: 'registration', event });
  }

  const node: SipNode = await openNode({
    ...options,
    now: () => options.clock.now(),
    stateless: ['REGISTER'],
    onlyProven: true,
    onShed: (times) => options.onShed?.(times),
    onRequest,
  });

  const notices = openNotices({
    address: options.address,
    realm,
    request: node.request,
    bindings: registrar.all,
    waitingAt: (user) => {
      const person = personAt(user);
      return person === null ? NO_MESSAGES : mailboxes.waiting(person);
    },
    log: options.log,
  });

  const woken = ({ user, pushId }: Binding): Promise<void> =>
    new Promise((resolve) => {
      const timer = setTimeout(resolve, WOKEN_WITHIN_MS);
      const done = () => {
        clearTimeout(timer);
        resolve();
      };
      wokenFor.set(user, [...(wokenFor.get(user) ?? []), done]);
      if (pushId !== null) options.wake?.(pushId);
    });

  const bindingsOf = (endpoint: string) => registrar.bindings(options.userOf(endpoint));

  function onRequest(asked: Asked): void {
    const { request } = asked;
    const require = header(request, 'Require');
    if (require !== undefined) return asked.respond(420, { headers: [['Unsupported', require]] });
    const hops = header(request, 'Max-Forwards');
    if (hops !== undefined && !/^\d{1,3}$/.test(hops)) return asked.respond(400);
    switch (request.method) {
      case 'REGISTER': {
        const bytes = registrar.answer(request, asked.from, asked.tag);
        if (bytes !== null) asked.send(bytes);
        return;
      }
      case 'OPTIONS':
        return asked.respond(200, {
          headers: [
            ['Allow', ALLOW],
            ['Accept', 'application/sdp'],
          ],
        });
      case 'INVITE':
        return onInvite(asked, hops);
      case 'BYE': {
        const taken = [...calls.values()].find((call) => call?.takesBye(request, asked.from));
        if (!taken) return asked.respond(481);
        const confirm = () => asked.respond(200);
        return taken.afterKept ? taken.afterKept(confirm) : confirm();
      }
      default:
        return asked.respond(501, { headers: [['Allow', ALLOW]] });
    }
  }

  function onInvite(asked: Asked, hops: string | undefined): void {
    const { request } = asked;
    if (hops === '0') return asked.respond(483);
    if (cameFromHere(request)) return asked.respond(482);
    if (request.to.params.tag !== undefined) return asked.respond(calls.has(request.callId) ? 488 : 481);
    if (calls.size >= (options.mostCalls ?? MOST_CALLS))
      return asked.respond(503, { headers: [['Retry-After', '10']] });
    const verdict = authenticator.judge(request);
    if (!verdict.ok) {
      if (verdict.challenge) return asked.respond(401, { headers: verdict.challenge });
      options.log?.(`a call from ${asked.from.host}:${asked.from.port} was refused: ${verdict.why}`);
      return asked.respond(403);
    }
    // From here on answers are sent again until they are acknowledged: it has shown that it is there.
    asked.proven = true;
    const account = options.account(verdict.user);
    const to = parseUri(request.uri);
    if (!account || !to) return asked.respond(404);
    const id = request.callId;
    calls.set(id, null);
    ladders.began(id, id);
    asked.respond(100);
    const { onCode, onAccess } = options;
    const { endpoint, desk } = account;
    const towards = options.mannerTo?.(verdict.user) ?? null;
    const host = hostNow(id);
    const onGone = () => gone(id);
    const code = options.estate().estate.dialling.codes?.find((each) => each.code === to.user);
    const act = code?.acts;
    if (endpoint !== null && code && act) {
      if (act === 'messages')
        return begin(
          takeCode({ host, asked, towards, act: toldOfMailbox(mailboxes, personAt(verdict.user)), onGone }),
          asked,
        );
      const dialled = { call: id, endpoint, ...(desk === undefined ? {} : { desk }), code: code.code, act };
      if (onCode)
        return begin(
          takeCode({ host, asked, towards, act: (typed) => onCode({ ...dialled, typed }), onGone }),
          asked,
        );
    }
    const access = options.estate().estate.accessNumbers?.find(({ number }) => number === to.user);
    if (access && onAccess)
      return begin(
        takeAccess({
          host,
          asked,
          access,
          from: outsideCaller(callerOf(request, account, host), account, host),
          isVerified: isVerified(request),
          onAccess,
          onGone,
        }),
        asked,
      );
    const { emergency } = options;
    if (emergency && endpoint !== null && isEmergency(host, to.user))
      return begin(
        takeEmergency(host, {
          asked,
          number: bareNumber(to.user),
          desk: emergency.desk,
          known: () => emergency.known(endpoint),
          towards,
          onGone,
        }),
        asked,
      );
    const caller = callerOf(request, account, host);
    const call: Call = {
      from: options.insideByTrunk ? caller : outsideCaller(caller, account, host),
      to: to.user,
      at: options.at(),
      ...(options.arrival ? { arrival: options.arrival } : {}),
    };
    begin(takeCall(host, sipCaller(node, asked, towards?.writes), call, verdict.user, onGone), asked);
  }

  const gone = (id: string): void => {
    calls.delete(id);
    ladders.gone(id);
  };
  const hostNow = (id: string): CallHost => ({
    options,
    index: options.estate(),
    node,
    bindingsOf,
    woken,
    channels,
    active,
    groupLast,
    waiting,
    mailboxes,
    held,
    tell,
    onLeg: (callId) => ladders.leg(id, callId),
  });

  const held = openHeld(
    hostNow,
    (id, call) => {
      if (call) calls.set(id, call);
      else calls.delete(id);
    },
    (seat, at) => tell({ kind: 'seat-held', seat, at }),
  );

  function callListed(order: RoundCall, onEnd: (ended: RoundCallEnded) => void): void {
    const id = `round ${order.id}`;
    if (calls.has(id) || calls.size >= (options.mostCalls ?? MOST_CALLS))
      return onEnd({ end: 'no-channel', playedMs: 0 });
    const call = placeRoundCall(hostNow(id), order, (ended) => {
      calls.delete(id);
      onEnd(ended);
    });
    if (call) calls.set(id, call);
  }

  function callBack(order: CallBack, onStep: (at: CallBackAt) => void): void {
    const { id } = order;
    if (calls.has(id) || calls.size >= (options.mostCalls ?? MOST_CALLS))
      return onStep({ step: 'over', why: 'The phone system has too many calls.' });
    ladders.began(id);
    const call = placeCallBack(hostNow(id), order, (at) => {
      if (at.step === 'over') gone(id);
      onStep(at);
    });
    if (call) calls.set(id, call);
  }

  function begin(taking: Promise<LiveCall>, asked: Asked): void {
    const { callId } = asked.request;
    taking.then(
      (taken) => {
        if (calls.has(callId)) calls.set(callId, taken);
      },
      (error: unknown) => {
        options.log?.(`a call could not be taken: ${error instanceof Error ? error.message : String(error)}`);
        gone(callId);
        asked.respond(500);
      },
    );
  }

  /** Whether this system has seen the request before (RFC 3261, section 16.3, item 4). */
  function cameFromHere(request: SipRequest): boolean {
    return headersOf(request, 'Via')
      .slice(1)
      .some((via) => {
        const { udp, tls } = node.transport.local;
        return via.includes(` ${udp.host}:${udp.port};`) || via.includes(` ${tls.host}:${tls.port};`);
      });
  }

  const sweeping = setInterval(registrar.sweep, SWEEP_MS);
  const pinging = setInterval(pingAll, PING_MS);
  /** Measures the round trip to every device that is registered. */
  function pingAll(): void {
    for (const binding of registrar.all()) {
      if (binding.pushId !== null) continue;
      const from = performance.now();
      node.request(
        {
          method: 'OPTIONS',
          uri: binding.contact,
          headers: [
            ['Max-Forwards', '70'],
            ['From', `<sip:${realm}@${options.address}>;tag=ping`],
            ['To', `<${binding.contact}>`],
            ['Call-ID', `${binding.callId}-ping-${Math.round(from)}`],
            ['CSeq', '1 OPTIONS'],
          ],
        },
        binding.from,
        (answer) => {
          binding.roundTripMs =
            answer.status === 408 ? null : Math.round((performance.now() - from) * 10) / 10;
          tell({ kind: 'registration', event: { kind: 'refreshed', binding } });
        },
      );
    }
  }

  return {
    node,
    notifyProfile: (endpoint) => notices.profile(bindingsOf(endpoint)),
    tellMessages: notices.messages,
    holdPhones: held.set,
    callListed,
    callBack,
    bindings: bindingsOf,
    allBindings: registrar.all,
    callsInProgress: () => calls.size,
    forget: registrar.remove,
    close: async () => {
      clearInterval(sweeping);
      clearInterval(pinging);
      const open = [...calls.values()];
      for (const call of open) call?.close();
      // Whoever is in a call is told of its end before the system is gone.
      await Promise.all(open.map((call) => new Promise<void>((then) => (call?.afterKept ?? soon)(then))));
      for (const resolve of wokenFor.values()) for (const each of resolve) each();
      ladders.close();
      await node.close();
    },
  };
}

const soon = (then: () => void): void => then();
