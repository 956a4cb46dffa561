import config from './playwright.config.mjs';

/** The pictures of the documentation, from a fresh demonstration book. */
export default { ...config, testMatch: 'screenshots.mjs', reporter: 'list', webServer: config.webServer.slice(0, 1) };
