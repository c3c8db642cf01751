import { defineConfig } from '@playwright/test';
import { existsSync } from 'node:fs';

/** The same browser without windows needs less, where it is there. */
const WITHOUT_WINDOWS = '/usr/lib/chromium/chromium-headless-shell';
export const CHROMIUM = existsSync(WITHOUT_WINDOWS) ? WITHOUT_WINDOWS : '/usr/bin/chromium';
export const ARGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  // The certificate of the stand-in relay is made by itself.
  '--ignore-certificate-errors',
  // Pages live for seconds here: what V8 would make of their code to run it fast is not paid back.
  '--js-flags=--no-maglev,--no-turbofan,--min-semi-space-size=16,--max-semi-space-size=32',
  // One process for all pages of the application: what one has compiled the next need not.
  '--process-per-site',
];

export default defineConfig({
  testDir: 'e2e',
  // Two browsers, two servers and their worker threads share what cores there are, and not every machine is quick.
  timeout: 120_000,
  expect: { timeout: 25_000 },
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
