import { SOUND, ZONE, number, roundTests, until } from '../test/rounds';

const { ask, page, made, caller } = roundTests();

test('keys play other recordings, and the report says which were pressed', async () => {
  const other = (await ask('POST', '/api/recordings?name=Next sailing', SOUND)).body.id as number;
  const keys = [
    { key: '2', play: null },
    { key: '3', play: other },
  ];
  const id = await made(`Number,Name,Zone\n${number(70)},Ona,${ZONE}`, { keys });
  expect((await page(id)).keys).toEqual([
    { key: '2', recording: null },
    { key: '3', recording: expect.objectContaining({ id: other, name: 'Next sailing' }) },
  ]);
  const calls = caller(() => null);
  await calls.look();
  expect(calls.played).toEqual([['2 again', '3 8000']]);
  calls.over([...calls.going.keys()][0]!, 'key-1', '3');
  await until(calls.look, async () => (await page(id)).state === 'done');
  const { body } = await ask('GET', `/api/rounds/${id}/numbers`);
  expect(body.numbers[0]).toMatchObject({ state: 'heard', why: 'pressed 3, then pressed 1' });
  await calls.end();
});

test('keys of a round are each checked: no key twice, none that has its meaning, no recording that is not there', async () => {
  const id = await made(`Number,Name,Zone\n${number(71)},Ona,${ZONE}`, {}, []);
  const { version, plan } = await page(id);
  for (const [keys, path] of [
    [[{ key: '1', play: null }], 'plan.keys[0].key'],
    [[{ key: '2', play: 999_999 }], 'plan.keys[0].play'],
    [[{ key: '2' }], 'plan.keys[0].play'],
    [
      [
        { key: '2', play: null },
        { key: '2', play: null },
      ],
      'plan.keys',
    ],
  ] as const) {
    const { status, body } = await ask('PUT', `/api/rounds/${id}`, { version, plan: { ...plan, keys } });
    expect([status, body.faults?.[0]?.path]).toEqual([400, path]);
  }
  expect((await page(id)).plan.keys).toBeUndefined();
});
