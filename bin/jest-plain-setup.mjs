// What each thread of bin/jest-plain.mjs does before its first test.
import { createRequire } from 'node:module';

// A line of a failure is one of the sources.
process.setSourceMapsEnabled(true);

// The runner knows of no bound for a test that hangs.
const MOST_MS = 120_000;
const circus = createRequire(createRequire(import.meta.url).resolve('jest-light-runner'))('jest-circus');

const bounded = (fn, ms, what) => async () => {
  let timer;
  const late = new Promise((_, reject) => {
    timer = setTimeout(() => reject(new Error(`${what} was not over after ${ms} ms.`)), ms);
  });
  try {
    await Promise.race([fn(), late]);
  } finally {
    clearTimeout(timer);
  }
};

circus.addEventHandler((event, { currentDescribeBlock }) => {
  if (event.name !== 'add_test' && event.name !== 'add_hook') return;
  const added = (event.name === 'add_test' ? currentDescribeBlock.children : currentDescribeBlock.hooks).at(
    -1,
  );
  if (added.fn) added.fn = bounded(added.fn, event.timeout ?? MOST_MS, event.testName ?? event.hookType);
});
