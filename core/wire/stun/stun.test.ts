import { createHash, createHmac } from 'node:crypto';
import {
  attribute,
  buildChannelData,
  buildStun,
  crc32,
  cutStunStream,
  hasOwnFingerprint,
  isSigned,
  parseChannelData,
  parseStun,
  readXorAddress,
  socketOf,
  text,
  textOf,
  numberOf,
  unknownOf,
  xorAddress,
} from '.';

const hmac = (key: Uint8Array, bytes: Uint8Array) => createHmac('sha1', key).update(bytes).digest();
const bytesOf = (hex: string) => Uint8Array.from(Buffer.from(hex.replace(/\s/g, ''), 'hex'));

/** The worked request and answer of RFC 5769, sections 2.1 and 2.2. */
const REQUEST = bytesOf(`
  00 01 00 58 21 12 a4 42 b7 e7 a7 01 bc 34 d6 86 fa 87 df ae 80 22 00 10 53 54 55 4e 20 74 65 73 74 20 63 6c
  69 65 6e 74 00 24 00 04 6e 00 01 ff 80 29 00 08 93 2f f9 b1 51 26 3b 36 00 06 00 09 65 76 74 6a 3a 68 36 76
  59 20 20 20 00 08 00 14 9a ea a7 0c bf d8 cb 56 78 1e f2 b5 b2 d3 f2 49 c1 b5 71 a2 80 28 00 04 e5 7a 3b cf`);
const ANSWER = bytesOf(`
  01 01 00 3c 21 12 a4 42 b7 e7 a7 01 bc 34 d6 86 fa 87 df ae 80 22 00 0b 74 65 73 74 20 76 65 63 74 6f 72 20
  00 20 00 08 00 01 a1 47 e1 12 a6 43 00 08 00 14 2b 91 f5 99 fd 9e 90 c3 8c 74 89 f9 2a f9 ba 53 f0 6b e7 d7
  80 28 00 04 c0 7d 4c 96`);
/** RFC 5769, section 2.4: a request with long-term credentials. */
const LONG_TERM = bytesOf(`
  00 01 00 60 21 12 a4 42 78 ad 34 33 c6 ad 72 c0 29 da 41 2e 00 06 00 12 e3 83 9e e3 83 88 e3 83 aa e3 83 83
  e3 82 af e3 82 b9 00 00 00 15 00 1c 66 2f 2f 34 39 39 6b 39 35 34 64 36 4f 4c 33 34 6f 4c 39 46 53 54 76 79
  36 34 73 41 00 14 00 0b 65 78 61 6d 70 6c 65 2e 6f 72 67 00 00 08 00 14 f6 70 24 65 6d d6 4a 3e 02 b8 e0 71
  2e 85 c9 a2 8c a8 96 66`);

const read = (bytes: Uint8Array) => {
  const message = parseStun(bytes);
  if (!message) throw new Error('no message');
  return message;
};

describe('the worked messages of RFC 5769', () => {
  const key = text('VOkJxbRl1RmTxUk/WvJxBt');
  test('a request: its integrity, its fingerprint, what must be known of it', () => {
    const message = read(REQUEST);
    expect([message.method, message.kind, textOf(message, 'username')]).toEqual([
      'binding',
      'request',
      'evtj:h6vY',
    ]);
    expect([isSigned(message, key, hmac), hasOwnFingerprint(message)]).toEqual([true, true]);
    expect(isSigned(message, text('another'), hmac)).toBe(false);
    expect(unknownOf(message)).toEqual([]);
    expect(numberOf(message, 'priority')).toBe(0x6e0001ff);
  });
  test('an answer: the mapped socket', () => {
    const message = read(ANSWER);
    expect(socketOf(message, 'xorMappedAddress')).toEqual({ address: '192.0.2.1', port: 32_853 });
    expect([message.kind, isSigned(message, key, hmac), hasOwnFingerprint(message)]).toEqual([
      'success',
      true,
      true,
    ]);
  });
  test('long-term credentials', () => {
    const message = read(LONG_TERM);
    const user = textOf(message, 'username');
    const longTerm = createHash('md5').update(`${user}:example.org:TheMatrIX`).digest();
    expect([user?.length, textOf(message, 'realm'), isSigned(message, longTerm, hmac)]).toEqual([
      6,
      'example.org',
      true,
    ]);
  });
  test('one octet changed: neither integrity nor fingerprint is right', () => {
    const changed = Uint8Array.from(REQUEST);
    changed[30] = (changed[30] ?? 0) ^ 1;
    expect([isSigned(read(changed), key, hmac), hasOwnFingerprint(read(changed))]).toEqual([false, false]);
  });
});

test('what is written is read as it was', () => {
  const transaction = Uint8Array.from({ length: 12 }, (_each, i) => i * 7);
  const key = text('key');
  const bytes = buildStun({
    method: 'createPermission',
    kind: 'request',
    transaction,
    attributes: [
      ['xorPeerAddress', xorAddress({ address: '203.0.113.7', port: 49_152 })],
      ['username', text('ruth')],
    ],
    integrity: { key, hmac },
    fingerprint: true,
  });
  const message = read(bytes);
  expect([message.method, message.kind, [...message.transaction]]).toEqual([
    'createPermission',
    'request',
    [...transaction],
  ]);
  expect(socketOf(message, 'xorPeerAddress')).toEqual({ address: '203.0.113.7', port: 49_152 });
  expect([textOf(message, 'username'), isSigned(message, key, hmac), hasOwnFingerprint(message)]).toEqual([
    'ruth',
    true,
    true,
  ]);
});

test('what stands after the integrity is not believed', () => {
  const key = text('key');
  const signed = buildStun({
    method: 'allocate',
    kind: 'request',
    transaction: new Uint8Array(12),
    integrity: { key, hmac },
  });
  const added = new Uint8Array(signed.length + 12);
  added.set(signed);
  added.set([0x00, 0x06, 0x00, 0x05, ...text('admin'), 0, 0, 0], signed.length);
  new DataView(added.buffer).setUint16(2, added.length - 20);
  expect([textOf(read(added), 'username'), isSigned(read(added), key, hmac)]).toEqual([null, true]);
});

test('bytes that are no message are told by nothing but null', () => {
  for (let length = 0; length < REQUEST.length; length += 1)
    expect(parseStun(REQUEST.subarray(0, length))).toBeNull();
  const long = Uint8Array.from([...REQUEST, 0, 0, 0, 0]);
  expect(parseStun(long)).toBeNull();
  const outside = Uint8Array.from(REQUEST);
  outside.set([0xff, 0xff], 22);
  expect(parseStun(outside)).toBeNull();
  expect([readXorAddress(null), readXorAddress(new Uint8Array(20))]).toEqual([null, null]);
});

test('channel data, and a stream of both', () => {
  const data = text('sound');
  const one = { channel: 0x4001, data };
  const [datagram, streamed] = [buildChannelData(one, false), buildChannelData(one, true)];
  expect([datagram.length, streamed.length]).toEqual([9, 12]);
  for (const each of [datagram, streamed])
    expect(parseChannelData(each)).toEqual({ channel: 0x4001, data: expect.anything() });
  expect(parseChannelData(datagram.subarray(0, 8))).toBeNull();
  const stream = Uint8Array.from([...REQUEST, ...streamed, ...ANSWER.subarray(0, 30)]);
  const cut = cutStunStream(stream);
  expect([cut.pieces.map(({ length }) => length), cut.rest.length, cut.isBroken]).toEqual([
    [REQUEST.length, 12],
    30,
    false,
  ]);
  for (const other of ['REGISTER sip:a', '\u0016\u0003\u0001\u0002\u0000abc'])
    expect(cutStunStream(text(other)).isBroken).toBe(true);
});

test('the checksum of the nine digits', () => {
  expect(crc32(text('123456789')).toString(16)).toBe('cbf43926');
  expect(attribute(read(ANSWER), 'fingerprint')).toHaveLength(4);
});
