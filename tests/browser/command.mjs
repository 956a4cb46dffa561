// The application's commands, as its user gives them.
import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

export const entry = fileURLToPath(new URL('../../evensplit', import.meta.url));

/** What a command prints; with an input, where its arguments end in one: `command('calc', '-', { input })`. */
export function command(...args) {
  const options = typeof args.at(-1) === 'object' ? args.pop() : {};
  return execFileSync(entry, args, { encoding: 'utf8', maxBuffer: 2 ** 29, stdio: [options.input ? 'pipe' : 'ignore', 'pipe', 'ignore'], ...options });
}
