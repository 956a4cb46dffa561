// calc as it is shipped, a program of its own: every sample comes to its right result, and a file that is at fault is told by its places.
import { spawnSync } from 'node:child_process';
import { readFileSync, readdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect, test } from '@playwright/test';
import { command, entry } from './command.mjs';

const samples = fileURLToPath(new URL('../samples/', import.meta.url));
const names = readdirSync(samples).filter((file) => file.endsWith('.result.json')).map((file) => file.slice(0, -'.result.json'.length));

test('every sample comes to its right result', () => {
  expect(names.length).toBeGreaterThan(10);
  for (const name of names) {
    const [is, wanted] = [JSON.parse(command('calc', `${samples}${name}.json`)), JSON.parse(readFileSync(`${samples}${name}.result.json`, 'utf8'))];
    for (const section of Object.keys(wanted)) expect(is[section], `${name}: ${section}`).toEqual(wanted[section]);
  }
});

test('with its traces, from standard input too', () => {
  const input = readFileSync(`${samples}${names[0]}.json`, 'utf8');
  const traced = JSON.parse(command('calc', '-', '--trace', { input }));
  expect(traced.traces.length).toBeGreaterThan(0);
  expect(traced.orders).toEqual(JSON.parse(command('calc', `${samples}${names[0]}.json`)).orders);
});

test('faults are told by their places, each on a line', () => {
  const scenario = JSON.parse(readFileSync(`${samples}${names[0]}.json`, 'utf8'));
  const calc = (input) => {
    const { status, stderr } = spawnSync(entry, ['calc', '-'], { input, encoding: 'utf8' });
    expect(status).toBe(2);
    return stderr;
  };
  expect(calc('{"book":')).toContain('$: not JSON, line 1');
  const faults = calc(JSON.stringify({ ...scenario, book: 1, orders: scenario.orders.map((order) => ({ ...order, placedAt: 'yesterday', colour: 'red' })) }));
  expect(faults).toContain('$.book: 1 is there, but an object was expected.');
  expect(faults).toContain('$.orders[0].placedAt: "yesterday" is there, but an instant with its offset');
  expect(faults).toContain('$.orders[0].colour: there is no such field here');
});

test('where a large result has no room to wait, that is told and nothing is printed', () => {
  const scenario = JSON.parse(readFileSync(`${samples}${names[0]}.json`, 'utf8'));
  const orders = Array.from({ length: 4000 }, (_, i) => ({ ...scenario.orders[0], id: `order-${i}` }));
  const calc = (folder) => spawnSync(entry, ['calc', '-'], { input: JSON.stringify({ ...scenario, orders, refunds: [], runs: [] }), encoding: 'utf8', env: { ...process.env, TMPDIR: folder }, maxBuffer: 1 << 28 });
  const { status, stdout, stderr } = calc('/nowhere');
  expect([status, stdout]).toEqual([1, '']);
  expect(stderr).toContain('The result could not be written: ');
  expect(JSON.parse(calc(process.env.TMPDIR ?? '/tmp').stdout).orders.length).toBe(4000);
});
