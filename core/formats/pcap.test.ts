import { maskSip } from '../privacy';
import { writePcap } from './pcap';

const packet = {
  epochMs: 1_700_000_000_123.5,
  from: { host: '127.0.30.1', port: 5060 },
  to: { host: '127.0.30.2', port: 5062 },
  payload: new TextEncoder().encode('OPTIONS sip:a SIP/2.0\r\n\r\n'),
};
const sum = (bytes: Uint8Array, seed = 0) => {
  let total = seed;
  for (let i = 0; i < bytes.length; i += 2) total += (bytes[i]! << 8) | (bytes[i + 1] ?? 0);
  while (total > 0xffff) total = (total & 0xffff) + (total >>> 16);
  return total;
};

test('each packet stands with its time, addresses and ports, and its checksums are right', () => {
  const file = writePcap([packet, packet]);
  const view = new DataView(file.buffer);
  expect(view.getUint32(0, true)).toBe(0xa1b2c3d4);
  expect(view.getUint32(20, true)).toBe(101);
  expect([view.getUint32(24, true), view.getUint32(28, true)]).toEqual([1_700_000_000, 123_500]);
  const length = view.getUint32(32, true);
  expect(file.length).toBe(24 + 2 * (16 + length));
  const ip = file.subarray(40, 40 + length);
  expect([...ip.subarray(12, 20)]).toEqual([127, 0, 30, 1, 127, 0, 30, 2]);
  expect(sum(ip.subarray(0, 20))).toBe(0xffff);
  expect(sum(ip.subarray(20), sum(ip.subarray(12, 20)) + 17 + length - 20)).toBe(0xffff);
});

test('a payload too large for a packet is left out', () => {
  expect(writePcap([{ ...packet, payload: new Uint8Array(65_600) }])).toHaveLength(24);
});

test('masking a message keeps its length, its own numbers and what it is', () => {
  const bytes = 'INVITE sip:+17785550101@h;user=phone SIP/2.0\r\nFrom: <sip:%2B12505550101@h>\r\n\r\n';
  const masked = maskSip(bytes, (number) => number === '+12505550101');
  expect(masked).toHaveLength(bytes.length);
  expect(masked).toBe(bytes.replace('+17785550101', '+1778xxxxx01'));
});
