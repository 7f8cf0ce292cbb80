/** The package.json of the output, ready to publish. */
import type { ElementDescription } from './description.ts';

const taken = ['name', 'version', 'description', 'license', 'author', 'repository', 'homepage', 'bugs', 'keywords'];

export function packageFile(
  elements: readonly ElementDescription[],
  project: Readonly<Record<string, unknown>>,
  scripts: readonly string[],
): object {
  const module = (name: string) => ({ types: `./${name}.d.ts`, default: `./${name}.js` });
  const own = Object.fromEntries(taken.filter(key => project[key] !== undefined).map(key => [key, project[key]]));
  return {
    name: 'elements',
    version: '0.0.0',
    ...own,
    type: 'module',
    exports: {
      '.': module('all'),
      ...Object.fromEntries(elements.map(({ tag }) => [`./${tag}`, module(tag)])),
      ...Object.fromEntries(elements.map(({ tag }) => [`./${tag}.js`, module(tag)])),
      './on-demand': module('on-demand'),
      ...(scripts.includes('classic.js') ? { './classic.js': module('classic') } : {}),
      ...(scripts.includes('server.js') ? { './server.js': module('server') } : {}),
      './react': { types: './react.d.ts' },
      './preact': { types: './preact.d.ts' },
      './undefined.css': './undefined.css',
      './custom-elements.json': './custom-elements.json',
      './html-data.json': './html-data.json',
      './package.json': './package.json',
    },
    types: './all.d.ts',
    customElements: 'custom-elements.json',
    // The module of an element registers it; shared chunks have no side effects.
    sideEffects: [...elements.map(({ tag }) => `./${tag}.js`), './all.js', './on-demand.js', './classic.js', '*.css'],
  };
}
