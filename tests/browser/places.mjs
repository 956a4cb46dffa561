import { fileURLToPath } from 'node:url';

/** Two parts of the suite may run side by side, each with books, servers and results of its own; 0 where all of it runs as one. */
export const part = Number(process.env.BROWSER_PART ?? 0);

const port = (first) => first + 20 * part;

export const resultsFolder = fileURLToPath(new URL(part ? `./results/part-${part}/` : './results/', import.meta.url));

export const demoUrl = `http://127.0.0.1:${port(5181)}`;
export const ownUrl = `http://localhost:${port(5191)}`;
export const shopUrl = `http://127.0.0.1:${port(5182)}`;
export const demoFolder = `${resultsFolder}demo`;
export const ownFolder = `${resultsFolder}own`;
/** What the own book's server writes on its console: the code of its owner is there. */
export const ownLog = `${resultsFolder}own.log`;
export const killUrl = `http://127.0.0.1:${port(5193)}`;
export const firstUrl = `http://localhost:${port(5195)}`;
export const firstFolder = `${resultsFolder}first`;
export const killFolder = `${resultsFolder}kill`;
export const artifacts = fileURLToPath(new URL('../../artifacts', import.meta.url));
