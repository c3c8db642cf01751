import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import {
  accountHash,
  answerChallenge,
  digestResponse,
  parseChallenge,
  parseCredentials,
  requestHash,
  writeChallenge,
  type HexHash,
} from './digest';
import { answerHeaders, buildSip, sameBranch } from './build';
import { byteText, header, headersOf, shownText, type SipRequest } from './message';
import { cutStream, LIMITS, parseSip, splitList } from './parse';
import { parseNameAddr, parseUri, parseVia, writeNameAddr, writeUri, writeVia } from './uri';
import { parseSdp, priorityOf, writeSdp } from './sdp';

const REQUEST_HEAD = [
  'Via: SIP/2.0/UDP 127.0.0.9:5070;branch=z9hG4bKk1;rport',
  'Max-Forwards: 70',
  'From: "Ann" <sip:201@127.0.0.1>;tag=a1',
  'To: <sip:204@127.0.0.1>',
  'Call-ID: c1@127.0.0.9',
  'CSeq: 7 INVITE',
];
const text = (lines: readonly string[], body = '') => `${lines.join('\r\n')}\r\n\r\n${body}`;
const invite = (change: (lines: string[]) => string[] = (lines) => lines, body = '') =>
  text(['INVITE sip:204@127.0.0.1 SIP/2.0', ...change([...REQUEST_HEAD])], body);
const read = (bytes: string): SipRequest => {
  const parsed = parseSip(bytes);
  if (!parsed.ok) throw new Error(parsed.fault.text);
  if (parsed.message.kind !== 'request') throw new Error('not a request');
  return parsed.message;
};
const faultOf = (bytes: string) => {
  const parsed = parseSip(bytes);
  return parsed.ok ? null : [parsed.fault.code, parsed.fault.status];
};
const replaced = (from: string, to: string) =>
  invite((lines) => lines.map((line) => (line.startsWith(`${from}:`) ? to : line)));

const hash: HexHash = (algorithm, bytes) =>
  createHash(algorithm === 'MD5' ? 'md5' : 'sha256')
    .update(bytes, 'latin1')
    .digest('hex');

describe('messages', () => {
  test('a request is read with its parts', () => {
    const request = read(
      invite((lines) => [...lines, 'Contact: <sip:201@127.0.0.9:5070>;expires=60, <sip:2@h>']),
    );
    expect(request).toMatchObject({
      method: 'INVITE',
      uri: 'sip:204@127.0.0.1',
      callId: 'c1@127.0.0.9',
      cseq: { seq: 7, method: 'INVITE' },
      from: { display: 'Ann', uri: { user: '201', host: '127.0.0.1' }, params: { tag: 'a1' } },
      via: { transport: 'UDP', host: '127.0.0.9', port: 5070, params: { branch: 'z9hG4bKk1', rport: '' } },
    });
    expect(headersOf(request, 'Contact')).toEqual(['<sip:201@127.0.0.9:5070>;expires=60', '<sip:2@h>']);
  });

  test('compact names, folded lines, joined Vias and leading empty lines are understood', () => {
    const request = read(
      `\r\n\r\n${text([
        'OPTIONS sip:h SIP/2.0',
        'v: SIP/2.0/TCP a.example:1;branch=z9hG4bK2, SIP/2.0/UDP b.example',
        'f: <sip:x@h>',
        '  ;tag=1',
        't: sip:y@h;tag=2',
        'i: 9',
        'CSEQ: 1',
        '\tOPTIONS',
        'l: 0',
      ])}`,
    );
    expect(headersOf(request, 'Via')).toHaveLength(2);
    expect(request.via).toMatchObject({ transport: 'TCP', host: 'a.example', port: 1 });
    expect(request.from.params.tag).toBe('1');
    expect(request.to).toMatchObject({ uri: { user: 'y', params: {} }, params: { tag: '2' } });
    expect(request.cseq).toEqual({ seq: 1, method: 'OPTIONS' });
  });

  test.each([
    ['no start line', 'hello\r\n\r\n', ['start-line', 400]],
    ['headers that do not end', 'INVITE sip:a@h SIP/2.0\r\nVia: x', ['cut-off', 400]],
    ['another version', invite().replace('SIP/2.0', 'SIP/7.0'), ['version', 505]],
    ['a URI of another kind', invite().replace('sip:204@127.0.0.1 ', 'http://h/ '), ['uri', 416]],
    ['half a line end in a value', replaced('Call-ID', 'Call-ID: c1\nX-Evil: 1'), ['header', 400]],
    ['a header without a name', invite((lines) => [...lines, ': x']), ['header', 400]],
    ['no Via', invite((lines) => lines.slice(1)), ['via', 400]],
    ['no Call-ID', invite((lines) => lines.filter((line) => !line.startsWith('Call'))), ['missing', 400]],
    ['a To with an open quote', replaced('To', 'To: "x <sip:a@h>'), ['address', 400]],
    ['two different From', invite((lines) => [...lines, 'From: <sip:b@h>']), ['header', 400]],
    ['a method that is not that of CSeq', replaced('CSeq', 'CSeq: 7 BYE'), ['cseq', 400]],
    ['a sequence beyond 2^31', replaced('CSeq', 'CSeq: 36893488147419103232 INVITE'), ['cseq', 400]],
    ['a length beyond the body', invite((lines) => [...lines, 'Content-Length: 5'], 'abc'), ['length', 400]],
    ['a negative length', invite((lines) => [...lines, 'Content-Length: -9'], 'abc'), ['length', 400]],
    [
      'too long a header',
      invite((lines) => [...lines, `X: ${'x'.repeat(LIMITS.headerBytes)}`]),
      ['too-large', 413],
    ],
    [
      'too many headers',
      invite((lines) => [...lines, ...Array.from({ length: LIMITS.headerFields }, () => 'X: 1')]),
      ['too-many-headers', 413],
    ],
    ['more than a datagram holds', invite(undefined, 'x'.repeat(LIMITS.messageBytes)), ['too-large', 413]],
  ])('%s is refused with the answer it deserves', (_, bytes, expected) => {
    expect(faultOf(bytes)).toEqual(expected);
  });

  test('what is written is read back the same, and no value can begin a header of its own', () => {
    const request = read(invite());
    const written = buildSip({
      ...request,
      headers: [...request.headers, ['Subject', 'a\r\nX-Evil: 1']],
      body: 'ab',
    });
    const again = read(written);
    expect(again.body).toBe('ab');
    expect(header(again, 'Content-Length')).toBe('2');
    expect(header(again, 'Subject')).toBe('a X-Evil: 1');
    expect(header(again, 'X-Evil')).toBeUndefined();
  });

  test('an answer keeps the way back, and puts a tag on To once', () => {
    const request = read(invite((lines) => ['Via: SIP/2.0/UDP 127.0.0.8', ...lines]));
    const headers = answerHeaders(request, 't9', [['Contact', '<sip:h>']]);
    expect(headersOf({ headers }, 'Via')).toHaveLength(2);
    expect(header({ headers }, 'To')).toBe('<sip:204@127.0.0.1>;tag=t9');
    const tagged = read(replaced('To', 'To: <sip:204@127.0.0.1>;tag=old'));
    expect(header({ headers: answerHeaders(tagged, 't9') }, 'To')).toBe('<sip:204@127.0.0.1>;tag=old');
    const cancel = sameBranch(request, 'CANCEL');
    expect(headersOf(cancel, 'Via')).toEqual(['SIP/2.0/UDP 127.0.0.8']);
    expect(header(cancel, 'CSeq')).toBe('7 CANCEL');
  });

  test('whatever bytes come, reading them ends in a message or a fault, and never throws', () => {
    const bytes = fc.string({
      unit: fc.integer({ min: 0, max: 255 }).map((code) => String.fromCharCode(code)),
      maxLength: 400,
    });
    const spoilt = fc
      .tuple(fc.nat(300), bytes, fc.nat(20))
      .map(([at, put, cut]) => invite().slice(0, at) + put + invite().slice(at + cut));
    fc.assert(
      fc.property(
        fc.oneof(
          bytes,
          spoilt,
          spoilt.map((each) => each.replace(/\r\n/g, '\n')),
        ),
        (given) => {
          const parsed = parseSip(given);
          expect(typeof parsed.ok).toBe('boolean');
          if (!parsed.ok) expect(parsed.fault.text).toMatch(/\.$/);
          else if (parsed.message.kind === 'request') {
            const again = parseSip(buildSip(parsed.message));
            expect(again.ok && again.message.callId).toBe(parsed.message.callId);
          }
          cutStream(given);
        },
      ),
      { numRuns: 3000 },
    );
  });

  const torture = join(__dirname, '../../../node_modules/sip/test/messages');
  // The messages of RFC 4475 by their names there: those of sections 3.1.2 and 3.3 that a reader must not take.
  const BAD =
    'badinv01 clerr ncl scalar02 scalarlg quotbal ltgtruri lwsruri lwsstart trws badvers mismatch01 mismatch02 bigcode insuf unkscm novelsc unksm2 multi01 mcl01 badaspec'.split(
      ' ',
    );
  const GOOD =
    'wsinv intmeth esc01 escnull esc02 lwsdisp longreq dblreq semiuri transports mpart01 unreason noreason badbranch bext01 invut regaut01 bcast zeromf cparam01 cparam02 regescrt sdp01 inv2543'.split(
      ' ',
    );
  test('the torture messages of RFC 4475 are taken or refused as their sections say', () => {
    expect(existsSync(torture)).toBe(true);
    const there = new Set(readdirSync(torture));
    const taken = (name: string) => parseSip(readFileSync(join(torture, `${name}.dat`), 'latin1')).ok;
    const known = (names: readonly string[]) => names.filter((name) => there.has(`${name}.dat`));
    expect(known(GOOD).length + known(BAD).length).toBeGreaterThan(40);
    expect(known(GOOD).filter((name) => !taken(name))).toEqual([]);
    expect(known(BAD).filter(taken)).toEqual([]);
  });
});

describe('streams', () => {
  const one = buildSip(read(invite()));
  test('messages are cut out wherever the pieces end, and the rest is kept', () => {
    const whole = `${one}\r\n\r\n${one}${one.slice(0, 40)}`;
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 400 }), { maxLength: 30 }), (sizes) => {
        let rest = '';
        let at = 0;
        const got: string[] = [];
        let pings = 0;
        for (const size of [...sizes, whole.length]) {
          const cut = cutStream(rest + whole.slice(at, at + size));
          at += size;
          got.push(...cut.messages);
          pings += cut.pings;
          rest = cut.rest;
          expect(cut.fault).toBeNull();
        }
        expect(got.map((each) => each.trimStart())).toEqual([one, one]);
        expect(pings).toBeLessThanOrEqual(1);
        expect(rest).toBe(one.slice(0, 40));
      }),
    );
  });
  test('without Content-Length, or without an end, a stream is given up', () => {
    expect(cutStream(invite()).fault?.at).toBe('Content-Length');
    expect(cutStream('x'.repeat(LIMITS.messageBytes + 1)).fault?.status).toBe(413);
    expect(cutStream(invite((lines) => [...lines, 'Content-Length: 99999999'])).fault?.status).toBe(413);
  });
});

describe('addresses', () => {
  test.each([
    ['sip:ann@h.example', 'ann', 'h.example', null],
    ['SIPS:a%40b@[2001:db8::1]:5061;transport=tls', 'a@b', '[2001:db8::1]', 5061],
    ['sip:ann:secret@h', 'ann', 'h', null],
    ['tel:+1-604-555-0101', '+16045550101', '', null],
  ])('%s is read', (uri, user, host, port) => {
    expect(parseUri(uri)).toMatchObject({ user, host, port });
  });
  test.each([
    '',
    'sip:',
    'sip:@h',
    'http://h',
    'sip:a@h:0',
    'sip:a@h:70000',
    'sip:a@h:5x',
    'sip:a b@h',
    'sip:a@[::1',
    'tel:x',
  ])('"%s" is none', (uri) => expect(parseUri(uri)).toBeNull());
  test('any user name goes into a URI and a display name into an address and comes out again', () => {
    fc.assert(
      fc.property(fc.string({ minLength: 1, unit: 'binary' }), (name) => {
        const uri = { scheme: 'sip' as const, user: byteText(name), host: 'h', port: 5060, params: {} };
        expect(parseUri(writeUri(uri))?.user).toBe(uri.user);
        const display = byteText(name.replace(/[\r\n]/g, ' '));
        const back = parseNameAddr(writeNameAddr({ display, uri, params: { tag: 'x' } }));
        expect(back?.display).toBe(display);
        expect(shownText(byteText(name))).toBe(
          name.isWellFormed?.() === false ? shownText(byteText(name)) : name,
        );
      }),
    );
  });
  test('parameters with quotes, and names from an object of the language, do no harm', () => {
    const via = parseVia('SIP/2.0/UDP h;branch="a;b\\"c";constructor=1;received=127.0.0.2');
    expect(via?.params).toMatchObject({ branch: 'a;b"c', received: '127.0.0.2' });
    expect(parseVia('SIP/2.0/UDP h;__proto__=1')).toBeNull();
    expect(parseVia(writeVia(via!))).toEqual(via);
    expect(splitList('"a,b" <sip:x,y@h>, <sip:z@h>')).toEqual(['"a,b" <sip:x,y@h>', '<sip:z@h>']);
  });
});

describe('digest', () => {
  // The worked example of RFC 7616, section 3.9.1, both algorithms.
  test.each([
    ['MD5', '8ca523f5e9506fed4657c9700eebdbec'],
    ['SHA-256', '753927fa0e85d155564e2e272a28d1802ca10daf4496794697cf8db5856cb6c1'],
  ] as const)('%s gives the response of the standard', (algorithm, expected) => {
    const ha1 = accountHash(hash, algorithm, 'Mufasa', 'http-auth@example.org', 'Circle of Life');
    const given = {
      algorithm,
      nonce: '7ypf/xlj9XXwfDPEoM4URrv/xwf94BcCAzFZH4GiTo0v',
      uri: '/dir/index.html',
      qop: 'auth' as const,
      ncText: '00000001',
      cnonce: 'f2/wE4q74E6zIJEtWaHKaf5wv/H5QzzpXusqGemxURZJ',
    };
    expect(digestResponse(hash, given, ha1, requestHash(hash, given, 'GET'))).toBe(expected);
  });
  test('a challenge is answered, and the answer read and found right', () => {
    const challenge = { realm: 'a "realm"', nonce: 'n', algorithm: 'SHA-256' as const };
    const read = parseChallenge(writeChallenge({ ...challenge, stale: true }));
    expect(read).toEqual({ ...challenge, stale: true });
    const request = { method: 'REGISTER', uri: 'sip:h' };
    const account = { username: 'u"1', password: 'p' };
    const given = parseCredentials(answerChallenge(hash, read!, account, request, { nc: 11, cnonce: 'c' }))!;
    expect(given).toMatchObject({ username: 'u"1', nc: 11, ncText: '0000000b', qop: 'auth' });
    const ha1 = accountHash(hash, 'SHA-256', 'u"1', challenge.realm, 'p');
    expect(digestResponse(hash, given, ha1, requestHash(hash, given, 'REGISTER'))).toBe(given.response);
    expect(digestResponse(hash, given, ha1, requestHash(hash, given, 'INVITE'))).not.toBe(given.response);
  });
  test('names in capitals, spaces, quotes in quotes and what is not known are taken as they are meant', () => {
    const value =
      'Digest  Username = "a \\\\ \\"b\\"" , REALM="r,s",nonce="n", uri="u" ,opaque="",response="AB",algorithm=md5';
    expect(parseCredentials(value)).toEqual({
      username: 'a \\ "b"',
      realm: 'r,s',
      nonce: 'n',
      uri: 'u',
      response: 'ab',
      algorithm: 'MD5',
      qop: null,
      nc: 0,
      ncText: '',
      cnonce: '',
    });
  });
  test.each([
    'Basic abc',
    'Digest username="a",Username="a",realm="r",nonce="n",uri="u",response="x"',
    'Digest username="a\\"",realm="r",nonce="n",uri="u",response="x\\"',
    'Digest username="a",realm="r",nonce="n",uri="u",response="x" y',
    'Digest username="a",realm="r",nonce="n",uri="u",response=x y',
    `Digest username="a",realm="r",nonce="n",uri="u",response="x"${',z=1'.repeat(30)}`,
    'Digest ',
    'Digest username="a"',
    'Digest username="a",realm="r",nonce="n",uri="u",response="x",algorithm=SHA-1',
    'Digest username="a",realm="r",nonce="n",uri="u",response="x",qop=auth-int,nc=00000001',
    'Digest username="a",username="b",realm="r",nonce="n",uri="u",response="x"',
    'Digest username="a",realm="r",nonce="n",uri="u",response="x",qop=auth,nc=1',
  ])('%s is not taken', (value) => expect(parseCredentials(value)).toBeNull());
});

test('a session description is written and read, and one without usable sound is none', () => {
  const sound = { address: '127.0.0.4', port: 4002, codecs: [0, 8], eventType: 101 };
  expect(parseSdp(writeSdp(sound, 5))).toEqual(sound);
  const own = writeSdp(sound, 5).replace('a=ptime:20', 'c=IN IP4 127.0.0.5');
  expect(parseSdp(own)?.address).toBe('127.0.0.5');
  expect(parseSdp('v=0\r\nm=video 4 RTP/AVP 0\r\n')).toBeNull();
  expect(parseSdp(writeSdp({ ...sound, port: 0 }, 5))).toBeNull();
});

test('candidates of ICE are written and read; what is broken of them is left out, and no more than twenty are read', () => {
  const ice = {
    ufrag: 'a1b2c3d4',
    password: '0123456789abcdef01234567',
    candidates: (['host', 'srflx', 'relay'] as const).map((type, n) => ({
      type,
      address: `127.0.0.${n + 4}`,
      port: 4000 + n,
      priority: priorityOf(type),
    })),
  };
  const sound = { address: '127.0.0.4', port: 4000, codecs: [0], eventType: null, ice };
  const written = writeSdp(sound, 5);
  expect(parseSdp(written)).toEqual(sound);
  // RFC 8445, section 5.1.2.1, with a local preference of 65535 and component 1.
  expect(ice.candidates.map(({ priority }) => priority)).toEqual([2_130_706_431, 1_694_498_815, 16_777_215]);
  const broken = written.replace('4001 typ srflx', '99999 typ srflx').replace('typ relay', 'typ elsewhere');
  expect(parseSdp(broken)?.ice?.candidates).toEqual(ice.candidates.slice(0, 1));
  expect(parseSdp(written.replace(/a=ice-pwd.*\r\n/, ''))?.ice).toBeUndefined();
  const many = {
    ...sound,
    ice: { ...ice, candidates: Array.from({ length: 60 }, () => ice.candidates[0]!) },
  };
  expect(parseSdp(writeSdp(many, 5))?.ice?.candidates).toHaveLength(20);
});
