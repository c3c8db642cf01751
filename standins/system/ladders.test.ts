import type { Carried } from '../sip/node';
import { openLadders } from './ladders';
import type { CallLadder } from './types';

const at = (port: number) => ({ transport: 'udp', host: '127.0.0.1', port }) as const;
const message = (callId: string, method = 'INVITE', more = '', atMs = 0): Carried => ({
  atMs,
  from: at(5060),
  to: at(5070),
  bytes: `${method} sip:x SIP/2.0\r\nCall-ID: ${callId}\r\nCSeq: 1 ${method}\r\n${more}\r\n`,
});
function opened() {
  const told: CallLadder[] = [];
  const ladders = openLadders(
    () => 1000,
    (ladder) => told.push(ladder),
  );
  /** What is told in the end, by the first words of each message. */
  const end = () => {
    ladders.close();
    return told.map(({ id, startMs, messages }) => [
      id,
      startMs,
      ...messages.map(({ bytes }) => bytes.split(' ')[0]),
    ]);
  };
  return { ladders, end, told };
}

test('a call has the INVITE that it came of, its legs, and nothing of other calls', () => {
  const { ladders, end, told } = opened();
  ladders.carried(message('a', 'INVITE', '', 990));
  ladders.carried(message('other'));
  ladders.began('a', 'a');
  ladders.leg('a', 'leg');
  ladders.carried(message('leg', 'INVITE'));
  ladders.carried(message('other', 'ACK'));
  ladders.carried(message('a', 'BYE', '', 5000));
  ladders.kept('a', 77);
  expect(end()).toEqual([['a', 77, 'INVITE', 'INVITE', 'BYE']]);
  // Times are from the beginning of the call.
  expect([told[0]!.messages[0]!.atMs, told[0]!.messages[2]!.atMs]).toEqual([-10, 4000]);
});

test('a call without a record is told to nobody, and one that is told is told once', () => {
  const { ladders, end } = opened();
  for (const id of ['a', 'b']) {
    ladders.began(id, id);
    ladders.carried(message(id));
  }
  ladders.kept('b', 1);
  ladders.gone('a');
  ladders.gone('b');
  expect(end()).toEqual([['b', 1, 'INVITE']]);
  expect(end()).toHaveLength(1);
});

test('a call that is named as one that ended just now takes nothing of it', () => {
  const { ladders, end } = opened();
  ladders.began('a', 'a');
  ladders.leg('a', 'first leg');
  ladders.carried(message('a'));
  ladders.kept('a', 1);
  ladders.gone('a');
  ladders.began('a', 'a');
  ladders.carried(message('first leg', 'BYE'));
  ladders.carried(message('a', 'CANCEL'));
  ladders.kept('a', 2);
  expect(end()).toEqual([
    ['a', 1, 'INVITE'],
    ['a', 2, 'CANCEL'],
  ]);
});

test('a call that is sent without end is kept up to a bound', () => {
  const { ladders, told, end } = opened();
  ladders.began('a', 'a');
  for (let n = 0; n < 500; n += 1) ladders.carried(message('a', 'INFO'));
  ladders.began('long', 'long');
  for (let n = 0; n < 50; n += 1) ladders.carried(message('long', 'INFO', `X: ${'x'.repeat(8000)}\r\n`));
  ladders.kept('a', 1);
  ladders.kept('long', 2);
  end();
  expect(told[0]!.messages).toHaveLength(120);
  expect(told[1]!.messages.length).toBeLessThan(14);
});

test('neither what proves a password nor a header that is written otherwise gets past', () => {
  const { ladders, told, end } = opened();
  ladders.began('a', 'a');
  const proof =
    'Digest username="u", nonce="n", uri="sip:x", response="0123456789abcdef0123456789abcdef", cnonce="c"';
  ladders.carried(message('a', 'INVITE', `Authorization: ${proof}\r\n`));
  ladders.carried(message('a', 'INVITE', `proxy-authorization : ${proof}\r\n`));
  ladders.carried(
    message('a', 'INVITE', `Authorization: ${proof.replace(', response=', ',\r\n response = ')}\r\n`),
  );
  ladders.carried(message('a', 'INVITE', `Authorization: ${proof.replace(/"(0\w+)"/, '$1')}\r\n`));
  ladders.kept('a', 1);
  end();
  expect(told[0]!.messages).toHaveLength(4);
  for (const { bytes } of told[0]!.messages) {
    expect(bytes).not.toContain('0123456789abcdef');
    expect(bytes).toContain('cnonce="c"');
  }
});
