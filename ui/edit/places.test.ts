import { pageOf, pageOfSetting } from './places';

test.each([
  ['person', 'ines okafor', '/people/ines%20okafor'],
  ['group', 'bookings', '/groups/bookings'],
  ['schedule', 'office', '/hours/office'],
  ['trunk', 'terminal', '/routes/dialling'],
  ['routing', 'routing', '/routes/table'],
  ['settings', 'settings', '/routes'],
])('a %s has the page it is changed on', (kind, id, page) => {
  expect(pageOf(kind, id)).toBe(page);
});

test.each([
  ['people[ines].plan[r-night].stages[0].ring[ines-mobile]', '/people/ines'],
  ['schedules[office].closed', '/hours/office'],
  ['permissions[coast].allow', '/routes/dialling'],
  ['dialling', '/routes/dialling'],
  ['elsewhere', null],
])('the setting %s is found on its page', (setting, page) => {
  expect(pageOfSetting(setting)).toBe(page);
});
