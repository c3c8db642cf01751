import { parseSdp, writeSdp } from '../../core/wire/sip';
import { advertisedIn, rewritten } from './advertised';

const sdp = writeSdp({ address: '192.168.1.20', port: 16_384, codecs: [0], eventType: 101 }, 1);
const message = (contact: string, body = '') =>
  [
    'INVITE sip:1002@198.51.100.2 SIP/2.0',
    'Via: SIP/2.0/UDP 192.168.1.20:5060;branch=z9hG4bKa;rport',
    'From: <sip:1001@198.51.100.2>;tag=a',
    'To: <sip:1002@198.51.100.2>',
    'Call-ID: a',
    'CSeq: 1 INVITE',
    ...(contact === '' ? [] : [`Contact: ${contact}`]),
    ...(body === '' ? [] : ['Content-Type: application/sdp']),
    `Content-Length: ${body.length}`,
    '',
    body,
  ].join('\r\n');
const INSIDE = { address: '192.168.1.20', port: 5060 };
const OUTSIDE = { address: '203.0.113.7', port: 40_001 };

test('what a message says of its sender is read; of what is no SIP nothing is', () => {
  expect(advertisedIn(message('<sip:ann@192.168.1.20:5070;transport=udp>', sdp))).toEqual({
    contact: { address: '192.168.1.20', port: 5070 },
    media: { address: '192.168.1.20', port: 16_384 },
  });
  expect(advertisedIn(message('<sip:ann@192.168.1.20>')).contact).toEqual(INSIDE);
  expect(advertisedIn(message('<sip:ann@phones.invalid>')).contact).toBeNull();
  expect(advertisedIn('\u0080\u0000')).toEqual({ contact: null, media: null });
});

test('a helper writes other sockets, and nothing else of the message changes but its length', () => {
  const before = advertisedIn(message('<sip:ann@192.168.1.20:5060;transport=udp>;expires=60', sdp));
  const text = message('<sip:ann@192.168.1.20:5060;transport=udp>;expires=60', sdp);
  const after = rewritten(text, before, { contact: { ...OUTSIDE, port: 40_000 }, media: OUTSIDE });
  expect(advertisedIn(after)).toEqual({ contact: { ...OUTSIDE, port: 40_000 }, media: OUTSIDE });
  expect(after).toContain('Contact: <sip:ann@203.0.113.7:40000;transport=udp>;expires=60\r\n');
  const [head = '', body = ''] = after.split('\r\n\r\n');
  expect(head).toContain(`Content-Length: ${body.length}`);
  expect(parseSdp(body)).toMatchObject({ ...OUTSIDE, codecs: [0], eventType: 101 });
  // The Via is nobody's business.
  expect(head).toContain('Via: SIP/2.0/UDP 192.168.1.20:5060;branch=z9hG4bKa;rport');
});

test('what is as before stays to the letter', () => {
  const text = message('<sip:ann@192.168.1.20:5060>', sdp);
  const before = advertisedIn(text);
  expect(rewritten(text, before, before)).toBe(text);
  const onlyMedia = rewritten(text, before, { ...before, media: OUTSIDE });
  expect(onlyMedia).toContain('Contact: <sip:ann@192.168.1.20:5060>');
});
