import { defineConfig } from '@playwright/test';
import { demoUrl, demoFolder, half, ownUrl, ownFolder, ownLog, resultsFolder } from './places.mjs';

const entry = '../../evensplit';
/** About half of the time by the clock; the other half is all that is not named here, a new file too. */
const firstHalf = ['access', 'bad-input', 'calc', 'each-payee', 'figures', 'first-hour', 'joining', 'kill', 'own-book', 'watch'].map((name) => `**/${name}.test.mjs`);
const all = '**/*.test.mjs';

export default defineConfig({
  testDir: '.',
  testMatch: half === 1 ? firstHalf : all,
  testIgnore: half === 2 ? firstHalf : [],
  outputDir: `${resultsFolder}failures`,
  workers: 1,
  fullyParallel: false,
  // Two halves on two slow cores: what comes late is not wrong.
  timeout: 300_000,
  expect: { timeout: 30_000 },
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
