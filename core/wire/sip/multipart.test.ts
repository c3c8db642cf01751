import fc from 'fast-check';
import { readMultipart, writeMultipart } from './multipart';

const line = fc.string({ unit: fc.constantFrom('a', 'z', ' ', '-', '\r\n', '<', '=') });

test('what was written is read, part by part', () => {
  fc.assert(
    fc.property(
      fc.array(fc.record({ type: fc.constant('application/sdp'), body: line }), {
        minLength: 1,
        maxLength: 5,
      }),
      (parts) => {
        const named = parts.map((part, n) => (n % 2 === 0 ? part : { ...part, id: `p${n}@here` }));
        const { contentType, body } = writeMultipart(named, 'Q1w2');
        return (
          JSON.stringify(readMultipart(contentType, body)) ===
          JSON.stringify(named.map(({ type, body: b, ...rest }) => ({ type, ...rest, body: b })))
        );
      },
    ),
  );
});

test('a plain body is its own part; what cannot be read is nothing, whatever it is', () => {
  expect(readMultipart('application/sdp', 'v=0')).toEqual([{ type: 'application/sdp', body: 'v=0' }]);
  expect(readMultipart('multipart/mixed', '--x\r\n\r\n--x--')).toBeNull();
  expect(readMultipart('multipart/mixed;boundary=x', 'no boundary')).toBeNull();
  const { contentType, body } = writeMultipart(
    Array.from({ length: 12 }, () => ({ type: 'a/b', body: '' })),
    'x',
  );
  expect(readMultipart(contentType, body)).toBeNull();
  fc.assert(
    fc.property(fc.string({ maxLength: 300 }), (noise) => {
      const read = readMultipart('multipart/mixed;boundary=x', noise);
      return read === null || read.length <= 10;
    }),
  );
});
