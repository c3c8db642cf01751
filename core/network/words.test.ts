import { pathAnswers, readNetwork, REASON_WORDS, topologyOf, verdictsOf } from '.';
import worked from '../golden/networks.json';

const answersOf = (name: string) => {
  const each = worked.find((one) => one.name === name);
  const read = readNetwork(each?.network);
  if (!each || !read.ok) throw new Error(name);
  const phone = read.network.phones.find(({ id }) => id === each.phone);
  if (!phone) throw new Error('no phone');
  return Object.fromEntries(
    pathAnswers(verdictsOf(topologyOf(read.network), phone), (id) =>
      id === 'internet' ? 'the internet' : `<${id}>`,
    ).map(({ id, works, says }) => [id, { works, says }]),
  );
};

test('each answer says yes or no, and where and why a packet died', () => {
  expect(answersOf('Keep-alive too long')).toMatchObject({
    registers: { works: true },
    rings: {
      works: false,
      says: 'After 30 s it does not ring: behind <home> no phone has the port it is sent to.',
    },
    addressChange: { works: true, says: 'No call comes for 35 s.' },
  });
  expect(answersOf('A system that does not know it')).toMatchObject({
    rings: { works: true },
    soundOut: { works: false, says: 'Nobody on the internet has that address.' },
    soundIn: { works: false, says: '<home> lets only answers in, and this is not one.' },
    staysUp: { works: false },
    addressChange: { says: 'No call comes for 10 s.' },
  });
  expect(answersOf('Private contact')).toMatchObject({
    rings: { works: false, says: 'It never rings: nobody on the internet has that address.' },
    addressChange: { works: false, says: 'No call comes any more.' },
  });
});

test('every reason has its words', () => {
  for (const words of Object.values(REASON_WORDS)) expect(words('there').length).toBeGreaterThan(10);
});
