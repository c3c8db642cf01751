import { pinFault } from './pin';

test.each([
  ['12a456', 'must be digits only'],
  ['48259', 'must have 6 digits at least'],
  ['48259173604', 'must have 10 digits at most'],
  ['777777', 'is the same over and over'],
  ['272727', 'is the same over and over'],
  ['481481', 'is the same over and over'],
  ['456789', 'counts up or down'],
  ['432109', 'counts up or down'],
  ['147369', 'is drawn along the keys'],
  ['25802580', 'is the same over and over'],
  ['147258', 'is drawn along the keys'],
  ['170384', 'is a day in figures'],
  ['840317', 'is a day in figures'],
  ['19840317', 'is a day in figures'],
  ['17031984', 'is a day in figures'],
  ['410193', 'has the person’s own number in it'],
  ['550171', 'has the person’s own number in it'],
])('%s: %s', (pin, why) => {
  expect(pinFault(pin, ['4101', '+12505550171'])).toBe(why);
});

test.each(['482591', '7305182946', '918273', '206693'])('%s will do', (pin) => {
  expect(pinFault(pin, ['4101', '+12505550171'])).toBeNull();
});
