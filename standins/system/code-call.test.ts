import type { Estate } from '../../core/estate';
import { workedEstate } from '../../core/tests/worked';
import type { FromStandins } from '../messages';
import { openTown, type Town } from '../town';
import type { CodeDialled, CodeReply } from './types';

const worked = workedEstate();
const estate: Estate = {
  ...worked,
  dialling: {
    ...worked.dialling,
    codes: [
      { code: '*21', does: 'Twinning', acts: 'twinning' },
      { code: '*70', does: 'Nothing here' },
    ],
  },
};
const DESK = 'ines-desk';
const accounts = estate.people.flatMap(({ endpoints }) =>
  endpoints.flatMap(({ id, number }) =>
    number === undefined ? [{ user: id, endpoint: id, password: `secret of ${id}` }] : [],
  ),
);

let town: Town;
let dialled: CodeDialled[] = [];
let reply: (asked: CodeDialled) => CodeReply;
beforeEach(async () => {
  dialled = [];
  const tell = (_message: FromStandins) => undefined;
  town = await openTown({
    port: 0,
    tell,
    onCode: (asked) => {
      dialled.push(asked);
      return Promise.resolve(reply(asked));
    },
  });
  await town.setEstate(estate);
  await town.setAccounts(accounts);
});
afterEach(() => town.close());
const press = (code: string, ...typed: string[]) => town.press({ endpoint: DESK, code, typed });

test('a code is answered, does what it is for, says so and ends', async () => {
  reply = () => ({ says: 'Twinning is off.', asks: false });
  expect(await press('*21')).toEqual(['told Twinning is off.']);
  expect(dialled).toMatchObject([{ endpoint: DESK, code: '*21', act: 'twinning', typed: [] }]);
});

test('what it asks is typed at the keys, one after the other, each ended with the hash key', async () => {
  reply = ({ typed }) =>
    typed.length < 2 ? { says: `question ${typed.length + 1}`, asks: true } : { says: 'done', asks: false };
  expect(await press('*21', '4101', '480263')).toEqual(['ask question 1', 'ask question 2', 'told done']);
  expect(dialled.at(-1)!.typed).toEqual(['4101', '480263']);
});

test('one that asks without end is ended after a few questions', async () => {
  reply = ({ typed }) => ({ says: `question ${typed.length + 1}`, asks: true });
  expect(await press('*21', '1', '2', '3', '4', '5', '6', '7', '8')).toHaveLength(6);
});

test('a code that does nothing here goes the way of any number, and a phone that is not there presses nothing', async () => {
  reply = () => ({ says: 'never', asks: false });
  expect(await press('*70')).toEqual([]);
  expect(dialled).toEqual([]);
  expect(await town.press({ endpoint: 'nobody', code: '*21', typed: [] })).toBeNull();
});

test('while a code asks, another phone dials the same code without being heard', async () => {
  const other = accounts.find(({ endpoint }) => endpoint !== DESK)!.endpoint;
  reply = ({ endpoint, typed }) =>
    endpoint === DESK && typed.length === 0
      ? { says: 'yours', asks: true }
      : { says: `told ${endpoint}`, asks: false };
  const [first, second] = await Promise.all([
    press('*21', '7'),
    town.press({ endpoint: other, code: '*21', typed: [] }),
  ]);
  expect(first).toEqual(['ask yours', `told told ${DESK}`]);
  expect(second).toEqual([`told told ${other}`]);
});
