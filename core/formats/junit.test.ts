import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { writeJUnit } from './junit';

test('a report counts its failures, by suite, and stays XML whatever the texts hold', () => {
  const text = writeJUnit('All', [
    { suite: 'One & <two>', name: 'Ada "A"', failure: null },
    { suite: 'One & <two>', name: 'Ben\u0007', failure: 'Expected: <b> & "c"' },
    { suite: 'Other', name: 'Cleo', failure: null },
  ]);
  expect(XMLValidator.validate(text)).toBe(true);
  const read = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '' }).parse(text) as {
    testsuites: {
      tests: string;
      failures: string;
      testsuite: { name: string; failures: string; testcase: unknown }[];
    };
  };
  expect(read.testsuites).toMatchObject({ tests: '3', failures: '1' });
  expect(read.testsuites.testsuite.map(({ failures }) => failures)).toEqual(['1', '0']);
  expect(read.testsuites.testsuite[0]!.testcase).toMatchObject([
    { name: 'Ada "A"' },
    { name: 'Ben\ufffd', failure: { message: 'Expected: <b> & "c"' } },
  ]);
});
