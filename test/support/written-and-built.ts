/** Runs elements as they were written and as `eltrix build` writes them, in Chromium, and tells what each did. */
import { join } from 'node:path';
import { eltrix as plugins } from 'eltrix-tool/vite';
import { build } from 'vite';
import { eltrix, open, project, serve } from './project.ts';

/** One way of writing a source. */
export interface Case {
  readonly name: string;
  readonly tag: string;
  /** The module of its class. */
  readonly file: string;
  readonly files: Readonly<Record<string, string>>;
  /** What stands on the page; the bare tag unless given. */
  readonly html?: string;
  /** What is done with it, as the bodies of functions of `el` and `turn`; what they return is compared, or else what shows. */
  readonly steps?: readonly string[];
  /** What is seen, where that is worth being said. */
  readonly shows?: readonly string[];
}

/** What each case showed, by its name. */
export type Seen = Record<string, string[]>;

// What is as written but for the sheets, which not every engine loads.
const [, sheets] = plugins();

/** What the page runs: each case makes its element, and tells what it sees, and what the console and listeners of errors hear. */
const script = `
globalThis.seen = (async () => {
  const turn = () => new Promise(resolve => setTimeout(resolve));
  const all = {};
  let now = [];
  globalThis.note = text => now.push(text);
  addEventListener('error', event => { now.push('error: ' + event.message); event.preventDefault(); });
  addEventListener('unhandledrejection', event => { now.push('rejected: ' + event.reason); event.preventDefault(); });
  for (const name of ['error', 'warn']) console[name] = (...args) => now.push(name + ': ' + args.map(String).join(' '));
  for (const { name, tag, html, steps } of JSON.parse(document.getElementById('cases').textContent)) {
    const seen = all[name] = now = [];
    const shown = root => root.innerHTML.replace(/<!--.*?-->/gs, '');
    try {
      document.body.innerHTML = html ?? '<' + tag + '></' + tag + '>';
      const el = document.querySelector(tag + ', [is]');
      await turn();
      const look = () => seen.push(shown(el.shadowRoot ?? el) + [...el.attributes].map(({ name, value }) => ' ' + name + '=' + value).sort().join(''));
      look();
      for (const step of steps ?? []) {
        const value = (0, eval)('(async (el, turn) => {' + step + '})');
        const given = await value(el, turn);
        await turn();
        if (given !== undefined) seen.push(JSON.stringify(given)); else look();
      }
      document.body.replaceChildren();
      await turn();
    } catch (error) { seen.push('threw: ' + error.message); }
  }
  return all;
})();`;

/** Both ways; what the build says otherwise than by its report is an error. */
export async function writtenAndBuilt(cases: readonly Case[]): Promise<Record<'written' | 'built', Seen>> {
  const root = project(
    {
      ...Object.assign({}, ...cases.map(({ files }) => files)),
      'package.json': '{ "type": "module", "imports": { "#parts/*": "./src/*" } }',
    },
    [],
  );
  const definitions = cases.map(
    ({ file }, at) =>
      `import * as m${at} from './${file}';\nfor (const Class of Object.values(m${at})) if (/^class /.test(String(Class))) Class.define?.();`,
  );
  const { output } = (await build({
    root,
    configFile: false,
    logLevel: 'silent',
    resolve: { conditions: ['production', 'browser', 'module'] },
    plugins: [
      sheets!,
      {
        name: 'entry',
        resolveId: id => (id === 'entry' ? join(root, 'entry.js') : undefined),
        load: id => (id.endsWith('/entry.js') ? definitions.join('\n') : undefined),
      },
    ],
    build: { write: false, target: 'es2022', minify: false, rolldownOptions: { input: 'entry' } },
  })) as { output: { code: string }[] };
  const { status, stderr, stdout } = eltrix(root, 'build', '--no-look');
  if (status !== 0 || stderr !== '') throw new Error(`The build ended with ${status}.\n${stderr}\n${stdout}`);
  const json = JSON.stringify(cases.map(({ files: _, ...rest }) => rest)).replaceAll('<', '\\u003c');
  const page = (src: string) =>
    `<!doctype html><script type="application/json" id="cases">${json}</script><script type="module">${src}\n${script}</script><body>`;
  const server = await serve(
    { '/w/': join(root, 'dist') },
    {
      '/written': page(output[0]!.code.replaceAll('</script', '<\\/script')),
      '/built': page(cases.map(({ tag }) => `import '/w/${tag}.js';`).join('\n')),
    },
  );
  const run = async (path: string) => {
    const page = (await open(server.address + path))!;
    try {
      return await page.evaluate<Seen>('seen');
    } finally {
      await page.close();
    }
  };
  try {
    return { written: await run('/written'), built: await run('/built') };
  } finally {
    server.close();
  }
}
