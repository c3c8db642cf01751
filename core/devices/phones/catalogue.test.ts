import {
  KEYPAD_SETTINGS,
  MODELS,
  compareFirmware,
  modelOf,
  readHardwareAddress,
  showHardwareAddress,
} from './catalogue';

test.each([
  ['3.4.0', '3.4', 0],
  ['3.10', '3.9.9', 1],
  ['1.18', '1.18.1', -1],
  ['2', '10', -1],
])('%s against %s', (a, b, sign) => {
  expect(Math.sign(compareFirmware(a, b))).toBe(sign);
  expect(Math.sign(compareFirmware(b, a))).toBe(sign === 0 ? 0 : -sign);
});

test.each(['00:1B:2c:33:44:5f', '001b-2c33-445f', '001B.2C33.445F', ' 00 1b 2c 33 44 5f '])(
  'the hardware address %s is read',
  (text) => expect(readHardwareAddress(text)).toBe('001B2C33445F'),
);
test.each(['', '00:1B:2C:33:44', '00:1B:2C:33:44:5G', '001B2C33445F00'])('"%s" is none', (text) =>
  expect(readHardwareAddress(text)).toBeNull(),
);
test('a hardware address is shown in pairs, and read back', () => {
  expect(showHardwareAddress('001B2C33445F')).toBe('00:1B:2C:33:44:5F');
});

test('each model of the catalogue tells the way to every setting, and has an id of its own', () => {
  expect(new Set(MODELS.map(({ id }) => id)).size).toBe(MODELS.length);
  for (const model of MODELS) {
    expect(modelOf(model.id)).toBe(model);
    for (const setting of KEYPAD_SETTINGS) expect(model.menus[setting].length).toBeGreaterThan(1);
    expect(model.methods.length).toBeGreaterThan(0);
  }
});
