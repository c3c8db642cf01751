import { defineConfig } from '@playwright/test';

export const CHROMIUM = '/usr/bin/chromium';
export const ARGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  // The certificate of the stand-in relay is made by itself.
  '--ignore-certificate-errors',
];

export default defineConfig({
  testDir: 'e2e',
  timeout: 60_000,
  // Two browsers, two servers and their worker threads share what cores there are.
  expect: { timeout: 12_000 },
  workers: 2,
  retries: 1,
  reporter: 'list',
  outputDir: 'test-results',
  use: {
    launchOptions: { executablePath: CHROMIUM, args: ARGS },
    timezoneId: 'America/Vancouver',
    locale: 'en-CA',
    trace: 'off',
  },
  // What does not depend on the width runs at one: on a phone, or where it is tagged so, on a wide screen or on both.
  projects: [
    {
      name: 'phone',
      grepInvert: /@wide/,
      use: { viewport: { width: 390, height: 844 }, hasTouch: true },
    },
    { name: 'wide', grep: /@(wide|both)/, use: { viewport: { width: 1280, height: 800 } } },
  ],
});
