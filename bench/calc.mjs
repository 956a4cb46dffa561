// Measures the whole command calc by a process that only reads the same JSON, in turns: seconds by the clock and of both processors, and the most memory.
// The medians of three are compared.
import { spawn } from 'node:child_process';
import { closeSync, existsSync, mkdirSync, openSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const [folder, calc, reader] = process.argv.slice(2);
const sizes = [10_000, 100_000, 1_000_000];
const rounds = 3;
const wanted = { clock: 1.5, processors: 2 };

/** Runs a command to its end; what it used is read from the system while it is no more than ended. */
async function measured(command, ...parameters) {
  const output = openSync('/dev/null', 'w');
  const started = process.hrtime.bigint();
  const child = spawn('bash', ['-c', 'TIMEFORMAT="%R %U %S"; time "$@"', 'time', command, ...parameters], { stdio: ['ignore', output, 'pipe'] });
  let [told, memory] = ['', 0];
  child.stderr.on('data', (text) => { told += text; });
  const look = setInterval(() => { memory = Math.max(memory, peak(child.pid)); }, 100);
  const code = await new Promise((ended) => { child.on('close', ended); });
  clearInterval(look);
  closeSync(output);
  if (code !== 0) throw new Error(`${command} ${parameters.join(' ')} ended with ${code}: ${told}`);
  const [, user, system] = told.trim().split('\n').at(-1).split(' ').map(Number);
  return { clock: Number(process.hrtime.bigint() - started) / 1e9, processors: user + system, memory };
}

/** The most memory that the command under the shell had so far, in bytes; 0 where it is gone. */
function peak(shell) {
  try {
    const [child] = readFileSync(`/proc/${shell}/task/${shell}/children`, 'utf8').trim().split(' ');
    return Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${child || shell}/status`, 'utf8'))[1]) * 1024;
  } catch {
    return 0;
  }
}

const median = (runs, of) => runs.map((run) => run[of]).sort((a, b) => a - b)[Math.floor(runs.length / 2)];

mkdirSync(folder, { recursive: true });
let isWithin = true;
for (const size of sizes) {
  const file = join(folder, `${size}.json`);
  if (!existsSync(file)) await measured('dotnet', reader, 'make', file, String(size));
  const [own, reading] = [[], []];
  for (let round = 0; round < rounds; round++) {
    reading.push(await measured('dotnet', reader, 'read', file));
    own.push(await measured(calc, file));
  }
  const ratio = (of) => median(own, of) / median(reading, of);
  isWithin &&= ratio('clock') <= wanted.clock && ratio('processors') <= wanted.processors;
  const times = (runs) => `${median(runs, 'clock').toFixed(2)} s, processors ${median(runs, 'processors').toFixed(2)} s, ${Math.round(median(runs, 'memory') / 1e6)} MB`;
  console.log(`calc of ${size.toLocaleString('en')} orders: ${times(own)}; reading the JSON: ${times(reading)}; ratio ${ratio('clock').toFixed(2)} and ${ratio('processors').toFixed(2)}`);
}
console.log(`wanted: ${wanted.clock} and ${wanted.processors}${isWithin ? '' : ', which is not reached'}`);
