import { defineConfig } from '@playwright/test';
import { demoUrl, demoFolder, ownUrl, ownFolder, ownLog, resultsFolder } from './places.mjs';

const entry = '../../evensplit';

export default defineConfig({
  testDir: '.',
  testMatch: '*.test.mjs',
  outputDir: 'results/failures',
  workers: 1,
  fullyParallel: false,
  timeout: 120_000,
  expect: { timeout: 10_000 },
  reporter: [['list'], ['json', { outputFile: 'results/report.json' }]],
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
