// Puts fonts, styles and scripts where the application serves them from: it runs with no network.
import { execFileSync } from 'node:child_process';
import { cpSync, mkdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const web = dirname(dirname(fileURLToPath(import.meta.url)));
const built = join(web, 'wwwroot', 'built');
mkdirSync(join(built, 'fonts'), { recursive: true });

for (const family of ['atkinson-hyperlegible-next', 'atkinson-hyperlegible-mono']) {
  for (const weight of [400, 600]) {
    for (const subset of ['latin', 'latin-ext']) {
      const file = `${family}-${subset}-${weight}-normal.woff2`;
      cpSync(join(web, 'node_modules', '@fontsource', family, 'files', file), join(built, 'fonts', file));
    }
  }
}
for (const [weight, name] of [['400Regular', 'Regular'], ['700Bold', 'Bold']]) {
  // Documents for paper need the fonts in the form printers know.
  cpSync(join(web, 'node_modules', '@expo-google-fonts', 'atkinson-hyperlegible-next', weight, `AtkinsonHyperlegibleNext_${weight}.ttf`), join(built, 'fonts', `document-${name}.ttf`));
}
cpSync(join(web, 'node_modules', '@alpinejs', 'csp', 'dist', 'cdn.min.js'), join(built, 'alpine.js'));
for (const script of ['days.js', 'app.js', 'tables.js']) cpSync(join(web, 'Assets', script), join(built, script));
execFileSync(process.execPath, [
  join(web, 'node_modules', '@tailwindcss', 'cli', 'dist', 'index.mjs'),
  '-i', join(web, 'Assets', 'app.css'), '-o', join(built, 'app.css'), '--minify',
], { stdio: ['ignore', 'ignore', 'inherit'], cwd: web });
