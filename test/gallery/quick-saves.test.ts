/** What the gallery's server gives after files were saved while it still worked on earlier versions of them. */
import assert from 'node:assert/strict';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { it } from 'node:test';
import { setTimeout as pause } from 'node:timers/promises';
import { project, running } from '../support/project.ts';

const card = (word: string) => `import { contract, markup } from 'eltrix';
import { word } from './word.js';
export class BeeCard extends contract('bee-card', {}) { view() { return markup\`${word} \${word}\`; } }
BeeCard.define();
`;
/** A plugin that needs longer than the watcher is blind. */
const slow = `export default { plugins: [{ name: 'slow', async transform(code, id) {
  if (id.includes('/src/')) await new Promise(resolve => setTimeout(resolve, 150));
} }] };
`;
/** Milliseconds between two saves. */
const gaps = [10, 20, 25, 30, 35, 40, 45, 60, 120, 200];

it('the last of several quick saves is served, however slow a plugin is', async () => {
  const word = (text: string) => `export const word = '${text}';\n`;
  const root = project({
    'vite.config.js': slow,
    'src/bee-card.js': card('Hum'),
    'src/word.js': word('Hum'),
    'src/bee-card.specimen.html': '<template title="A bee"><bee-card></bee-card></template>',
  });
  const tool = running(root, 'serve', '--port', '0');
  try {
    const address = /http:\S+/.exec(await tool.until(/ready in/))![0];
    const read = async (path: string) => await (await fetch(address + path)).text();
    const paths = ['src/bee-card.js', 'src/word.js'];
    await Promise.all([...paths, '@eltrix/elements/bee-card.js'].map(read));
    for (const gap of gaps) {
      for (const [at, text] of ['Drone', `Whirr${gap}`].entries()) {
        if (at > 0) await pause(gap / 2);
        // A frame that starts between two saves.
        void Promise.all(paths.map(read));
        await pause(gap / 2);
        writeFileSync(join(root, paths[0]!), card(text));
        writeFileSync(join(root, paths[1]!), word(text));
      }
      const last = new RegExp(`Whirr${gap}\\b`);
      for (const path of paths) {
        // A busy machine may be slow to notice; what was missed would never come.
        for (const end = performance.now() + 15_000; !last.test(await read(path)) && performance.now() < end; )
          await pause(50);
        assert.match(await read(path), last, `${path}, ${gap} ms apart`);
      }
    }
  } finally {
    await tool.end();
  }
});
