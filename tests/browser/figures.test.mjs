// One figure, one meaning: whatever bears the same name is the same number on every page of the demonstration book.
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { figuresAgree, october, signIn } from './book.mjs';

test('figures of one name agree on every page, and no page shows code', async ({ page }) => {
  test.setTimeout(300_000);
  await signIn(page, 'lead');
  const { pages, figures } = await figuresAgree(page, [october, '/2026-09']);
  expect(pages).toBeGreaterThan(150);
  const names = new Set([...figures.keys()].map((name) => name.split(' of ')[0]));
  // Each is written down, and what is written down is shown.
  const written = [...readFileSync(new URL('../../docs/figures.md', import.meta.url), 'utf8').matchAll(/^\| `([a-z-]+)` \|/gm)].map(([, name]) => name);
  expect([...names].filter((name) => !written.includes(name))).toEqual([]);
  expect(written.filter((name) => !names.has(name))).toEqual([]);
});
