import { defineConfig } from '@playwright/test';
import { demoUrl, demoFolder, ownUrl, ownFolder, ownLog, part, resultsFolder } from './places.mjs';

const entry = '../../evensplit';

// What looks at the demonstration book as it comes, or has a book of its own. The other part is the story of one month, in the order of its files.
const first = ['access', 'bad-input', 'calc', 'figures', 'first-hour', 'joining', 'kill', 'own-book'].map((name) => `${name}.test.mjs`);

export default defineConfig({
  testDir: '.',
  testMatch: part === 1 ? first : '*.test.mjs',
  testIgnore: part === 2 ? first : [],
  outputDir: `${resultsFolder}failures`,
  workers: 1,
  fullyParallel: false,
  timeout: 120_000,
  expect: { timeout: 10_000 },
  reporter: [['list'], ['json', { outputFile: `${resultsFolder}report.json` }]],
  use: {
    baseURL: demoUrl,
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--no-first-run', '--lang=en-US'],
    },
  },
  webServer: [
    { command: `rm -rf ${demoFolder} && ${entry} demo --data ${demoFolder} --port ${new URL(demoUrl).port}`, url: `${demoUrl}/sign-in`, timeout: 180_000 },
    { command: `mkdir -p ${resultsFolder} && rm -rf ${ownFolder} && ${entry} serve --data ${ownFolder} --port ${new URL(ownUrl).port} > ${ownLog}`, url: `${ownUrl}/setup`, timeout: 60_000 },
  ],
});
