import { parseSdp, writeMultipart } from '../../core/wire/sip';
import { openMedia } from '../media/port';
import type { Asked } from '../sip/node';
import { newToken } from '../sip/token';
import type { Peer } from '../sip/transport';
import { sipCaller } from './caller-side';
import { callOut } from './leg';
import type { OutLeg } from './leg-types';
import { soundTowards } from './sound';
import type { CallHost, EmergencyAnswer, LiveCall, ServerManner } from './types';

export interface EmergencyCall {
  readonly asked: Asked;
  /** As it was dialled. */
  readonly number: string;
  /** Where the emergency desk is. */
  readonly desk: Peer;
  readonly known: () => Promise<EmergencyAnswer>;
  /** How the phone that calls is treated; null: as one at the machine. */
  readonly towards: ServerManner | null;
  readonly onGone: () => void;
}

/** A call for help waits no longer than this for its place. */
const PLACE_WITHIN_MS = 2000;
const UNKNOWN: EmergencyAnswer = { callerId: null, pidf: null };
/** Bodies are bytes, kept as latin-1. */
const asBytes = (text: string) => Buffer.from(text, 'utf8').toString('latin1');

/**
 * Takes an emergency call to the emergency desk, with the number to call back and the place of the phone: PIDF-LO
 * beside the SDP, named by Geolocation (RFC 6442), and not to be used for routing. Where the place is not known the call
 * goes out all the same.
 */
export async function takeEmergency(
  host: CallHost,
  { asked, number, desk, known, towards, onGone }: EmergencyCall,
): Promise<LiveCall> {
  const { options, node } = host;
  const late = new Promise<EmergencyAnswer>((resolve) => setTimeout(() => resolve(UNKNOWN), PLACE_WITHIN_MS));
  const { callerId, pidf } = await Promise.race([known().catch(() => UNKNOWN), late]);
  let leg: OutLeg | null = null;
  let over = false;
  const { address } = options;
  const media = await openMedia({
    address,
    socket: await soundTowards(address, towards, false),
    onPacket: (bytes) => leg?.relay(bytes),
  });
  const caller = sipCaller(node, asked, towards?.writes);
  media.aim(parseSdp(caller.offer));
  const end = (isOurs: boolean) => {
    if (over) return;
    over = true;
    if (isOurs) caller.end();
    leg?.end();
    media.close();
    onGone();
  };
  const fail = (status: number) => {
    asked.respond(status);
    end(false);
  };
  caller.whenGivenUp(() => fail(487));
  const cid = `place-${newToken(6)}@${options.realm ?? options.address}`;
  leg = await callOut(
    host,
    [{ uri: `sip:${number}@${desk.host}:${desk.port};user=phone`, to: desk }],
    callerId === null
      ? '"Anonymous" <sip:anonymous@anonymous.invalid>'
      : `<sip:${callerId}@${options.realm ?? options.address}>`,
    {
      onAlert: () => asked.respond(180),
      onAnswer: () => {
        caller.whenUnheard(() => end(false));
        asked.respond(200, {
          headers: [
            ['Contact', caller.contact],
            ['Content-Type', 'application/sdp'],
          ],
          body: media.sdp,
        });
      },
      onFail: (_how, status) => fail(status),
      onKey: () => undefined,
      onPacket: (bytes) => media.relay(bytes),
      onBye: () => end(true),
    },
    (sdp) => {
      if (pidf === null) return { headers: [['Content-Type', 'application/sdp']], body: sdp };
      const { contentType, body } = writeMultipart(
        [
          { type: 'application/sdp', body: sdp },
          { type: 'application/pidf+xml', id: cid, body: asBytes(pidf) },
        ],
        `b${newToken(9)}`,
      );
      return {
        headers: [
          ['Geolocation', `<cid:${cid}>`],
          ['Geolocation-Routing', 'no'],
          ['Content-Type', contentType],
        ],
        body,
      };
    },
  );
  return {
    id: asked.request.callId,
    takesBye: (bye, from) => {
      if (over) return false;
      if (caller.isBye(bye, from)) {
        end(false);
        return true;
      }
      return leg?.isBye(bye, from) ?? false;
    },
    close: () => end(true),
  };
}
