/** Runs elements as they were written, as `eltrix build` writes them, and rendered by a server, in Chromium, and says what each did. */
import { existsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { eltrix as plugins } from 'eltrix-tool/vite';
import { build } from 'vite';
import type { EngineName } from '../../packages/eltrix-tool/src/engines/index.ts';
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
const sheets = plugins().find(({ name }) => name === 'eltrix-sheets');

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
  for (const { name, tag, html, steps, rendered } of JSON.parse(document.getElementById('cases').textContent)) {
    const seen = all[name] = now = [];
    const shown = root => root.innerHTML.replace(/<!--.*?-->/gs, '');
    try {
      if (rendered === undefined) document.body.innerHTML = html ?? '<' + tag + '></' + tag + '>';
      else takeOver(rendered);
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
  // Nodes of the view are connected, none is added or removed.
  function takeOver(rendered) {
    const box = document.createElement('div');
    box.setHTMLUnsafe(rendered);
    const observer = new MutationObserver(() => {});
    const observe = root => {
      observer.observe(root, { childList: true, subtree: true });
      for (const element of root.querySelectorAll('*')) if (element.shadowRoot) observe(element.shadowRoot);
    };
    observe(box);
    document.body.replaceChildren(box);
    const ours = node => node.nodeType === 1 && node.hasAttribute('data-eltrix');
    for (const { target, addedNodes, removedNodes } of observer.takeRecords())
      for (const [what, nodes] of Object.entries({ added: addedNodes, removed: removedNodes }))
        for (const node of nodes)
          if (!ours(node)) now.push(what + ' ' + (node.outerHTML ?? node.nodeName + ' ' + node.data) + ' in ' + (target.localName ?? 'a root'));
    observer.disconnect();
  }
})();`;

type Way = 'written' | 'built' | 'rendered';

/**
 * What each case showed, each way; what the build prints otherwise than by its report is an error.
 *
 * @param options.render whether they are also rendered by a server, and taken over as they were written and as they were
 *   built: `rendered` and `built` are that then.
 */
export async function writtenAndBuilt(
  cases: readonly Case[],
  { render = false }: { readonly render?: boolean } = {},
): Promise<Record<Way, Seen>> {
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
  const bundled = async (lines: readonly string[], conditions: readonly string[]) => {
    const { output } = (await build({
      root,
      configFile: false,
      logLevel: 'silent',
      resolve: { conditions: [...conditions, 'module'] },
      plugins: [
        sheets!,
        {
          name: 'entry',
          resolveId: id => (id === 'entry' ? join(root, 'entry.js') : undefined),
          load: id => (id.endsWith('/entry.js') ? lines.join('\n') : undefined),
        },
      ],
      build: {
        write: false,
        target: 'es2022',
        minify: false,
        rolldownOptions: { input: 'entry', preserveEntrySignatures: 'strict' },
      },
    })) as { output: { code: string }[] };
    return output[0]!.code;
  };
  const written = await bundled(definitions, ['production', 'browser']);
  if (render) writeFileSync(join(root, 'eltrix.config.js'), 'export default { render: true };');
  const { status, stderr, stdout } = eltrix(root, 'build', '--no-look');
  if (status !== 0 || stderr !== '') throw new Error(`The build ended with ${status}.\n${stderr}\n${stdout}`);
  const lost = cases.filter(({ tag }) => !existsSync(join(root, `dist/${tag}.js`)));
  if (lost.length > 0)
    throw new Error(`Not built: ${lost.map(({ tag, files }) => `${tag} of ${JSON.stringify(files)}`)}`);
  const rendered = render
    ? await renderedBy(root, await bundled(["export * from 'eltrix/server';", ...definitions], ['production']), cases)
    : undefined;
  const page = (src: string, isRendered: boolean) => {
    const json = JSON.stringify(
      cases.map(({ files: _, ...rest }, at) => ({ ...rest, rendered: isRendered ? rendered?.[at] : undefined })),
    ).replaceAll('<', '\\u003c');
    return `<!doctype html><script>onerror = what => { globalThis.failure ??= what; };</script><script type="application/json" id="cases">${json}</script><script type="module">${src}\n${script}</script><body>`;
  };
  const asWritten = written.replaceAll('</script', '<\\/script');
  const server = await serve(
    { '/w/': join(root, 'dist') },
    {
      '/written': page(asWritten, false),
      '/rendered': page(asWritten, true),
      '/built': page(cases.map(({ tag }) => `import '/w/${tag}.js';`).join('\n'), render),
    },
  );
  const run = async (path: string) => {
    // Another engine for a run by hand.
    const engine = process.env['ELTRIX_ENGINE'] as EngineName | undefined;
    const page = (await open(server.address + path, engine))!;
    try {
      return await page.evaluate<Seen>(
        `globalThis.seen ?? Promise.reject(new Error('${path}: ' + globalThis.failure))`,
      );
    } finally {
      await page.close();
    }
  };
  try {
    return {
      written: await run('/written'),
      built: await run('/built'),
      rendered: render ? await run('/rendered') : {},
    };
  } finally {
    server.close();
  }
}

/** The HTML of each case as a server renders it; what cannot be rendered is left to the browser. */
async function renderedBy(root: string, code: string, cases: readonly Case[]): Promise<string[]> {
  const file = join(root, 'server.mjs');
  writeFileSync(file, code);
  const globals = globalThis as { note?: unknown };
  globals.note = () => {};
  const { renderPage } = (await import(file)) as typeof import('eltrix/server');
  return cases.map(({ tag, html = `<${tag}></${tag}>` }) => renderPage(html, { onError() {} }));
}
