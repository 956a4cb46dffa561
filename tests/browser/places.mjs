import { fileURLToPath } from 'node:url';

export const resultsFolder = fileURLToPath(new URL('./results/', import.meta.url));

export const demoUrl = 'http://127.0.0.1:5181';
export const ownUrl = 'http://localhost:5191';
export const shopUrl = 'http://127.0.0.1:5182';
export const demoFolder = `${resultsFolder}demo`;
export const ownFolder = `${resultsFolder}own`;
/** What the own book's server writes on its console: the code of its owner is there. */
export const ownLog = `${resultsFolder}own.log`;
export const killUrl = 'http://127.0.0.1:5193';
export const firstUrl = 'http://localhost:5195';
export const firstFolder = `${resultsFolder}first`;
export const killFolder = `${resultsFolder}kill`;
export const artifacts = fileURLToPath(new URL('../../artifacts', import.meta.url));
