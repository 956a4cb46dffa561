import { fileURLToPath } from 'node:url';

/** Which half of the tests this is, 1 or 2: each has books and ports of its own, so that both run beside each other. Without HALF it is all of them. */
export const half = Number(process.env.HALF ?? 0);
const first = 5180 + 20 * half;

export const resultsFolder = fileURLToPath(new URL(`./results/${half || 'all'}/`, import.meta.url));
export const demoUrl = `http://127.0.0.1:${first + 1}`;
/** Beside its application, where `evensplit demo` puts it. */
export const shopUrl = `http://127.0.0.1:${first + 2}`;
export const ownUrl = `http://localhost:${first + 11}`;
export const demoFolder = `${resultsFolder}demo`;
export const ownFolder = `${resultsFolder}own`;
/** What the own book's server writes on its console: the code of its owner is there. */
export const ownLog = `${resultsFolder}own.log`;
export const killUrl = `http://127.0.0.1:${first + 13}`;
export const firstUrl = `http://localhost:${first + 15}`;
export const firstFolder = `${resultsFolder}first`;
export const killFolder = `${resultsFolder}kill`;
export const artifacts = fileURLToPath(new URL('../../artifacts', import.meta.url));
