/** Built widgets, and the library without a build, on the pages of others, driven in a real engine. */
import assert from 'node:assert/strict';
import { join } from 'node:path';
import { after, before, describe, it } from 'node:test';
import { build } from 'vite';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { closeEngines, eltrix, open, project, repository, serve, temporary } from '../support/project.ts';

const out = join(temporary(), 'widgets');
const skip = !engines.chromium.find() && 'no Chromium';
const strict = {
  'content-security-policy':
    "default-src 'none'; script-src 'self'; style-src 'self'; require-trusted-types-for 'script'; trusted-types eltrix",
};

before(() => {
  assert.equal(eltrix(join(repository, 'examples/apiary'), 'build', '--out', out, '--classic', '--no-look').status, 0);
});
after(closeEngines);

/** Opens a page, runs an expression in it, and gives its value. */
async function on<T>(server: { address: string; close(): void }, path: string, expression: string): Promise<T> {
  try {
    const page = (await open(server.address + path))!;
    try {
      return await page.evaluate<T>(expression);
    } finally {
      await page.close();
    }
  } finally {
    server.close();
  }
}

const drive = `(async () => {
  const tick = () => new Promise(resolve => setTimeout(resolve, 50));
  await customElements.whenDefined('hive-card');
  await tick();
  const card = document.querySelector('hive-card');
  const seen = [];
  document.addEventListener('hive-open', event => seen.push(event.detail.name));
  card.shadowRoot.querySelector('button').click();
  const before = card.shadowRoot.querySelector('h3').textContent;
  card.boxes = 5;
  await tick();
  return { before, boxes: card.getAttribute('boxes'), shown: card.shadowRoot.querySelector('dd').textContent, badge: card.shadowRoot.querySelector('slot[name=badge]').assignedElements().map(e => e.textContent), frames: card.shadowRoot.querySelectorAll('li').length, seen: [...seen, ...(globalThis.heard ?? [])], display: getComputedStyle(card).display };
})()`;
const expected = {
  before: 'Rosemary',
  boxes: '5',
  shown: '5',
  badge: ['new'],
  frames: 0,
  seen: ['Rosemary'],
  display: 'flex',
};
const body = '<hive-card name="Rosemary" boxes="2"><b slot="badge">new</b> Quiet.</hive-card>';

describe('on third-party pages', { skip }, () => {
  it('one script tag under a strict policy', async () => {
    const page = `<!doctype html><link rel="stylesheet" href="/w/undefined.css"><script type="module" src="/w/hive-card.js"></script>${body}`;
    assert.deepEqual(await on(await serve({ '/w/': out }, { '/': page }, strict), '/', drive), expected);
  });

  it('a classic script', async () => {
    const page = `<!doctype html>${body}<script src="/w/classic.js"></script>`;
    assert.deepEqual(await on(await serve({ '/w/': out }, { '/': page }, strict), '/', drive), expected);
  });

  it('an import map and no build', async () => {
    const page = `<!doctype html><script type="importmap">{ "imports": { "eltrix": "/lib/index.js" } }</script>
      <script type="module">
        import { contract, integer, markup, text, event, slot, stylesheet } from 'eltrix';
        class HiveCard extends contract('hive-card', { attributes: { name: text(), boxes: integer({ default: 1 }) }, events: { 'hive-open': event() }, slots: { badge: slot('b') } }) {
          static styleSheets = [stylesheet\`:host { display: flex }\`];
          view() { return markup\`<h3>\${() => this.name}</h3><dd>\${() => this.boxes}</dd><slot name="badge"></slot><button onclick=\${() => this.emit('hive-open', { name: this.name })}></button>\`; }
        }
        HiveCard.define();
      </script>${body}`;
    const server = await serve({ '/lib/': join(repository, 'packages/eltrix/dist/production') }, { '/': page });
    assert.deepEqual(await on(server, '/', drive), expected);
  });

  for (const host of ['react', 'preact'] as const) {
    it(`${host === 'react' ? 'React 19' : 'Preact'}: properties, attributes, events, slots, and changes`, async () => {
      const start =
        host === 'react'
          ? "import { createRoot } from 'react-dom/client'; import { flushSync } from 'react-dom'; import { createElement, useState } from 'react'; const root = createRoot(document.getElementById('app')); const show = view => flushSync(() => root.render(view));"
          : "import { h as createElement, render } from 'preact'; import { useState } from 'preact/hooks'; const show = view => render(view, document.getElementById('app'));";
      const app = `${start}
        import '${out}/hive-card.js';
        globalThis.heard = [];
        function App() {
          const [boxes, setBoxes] = useState(2);
          globalThis.setBoxes = setBoxes;
          return createElement('hive-card', { name: 'Rosemary', boxes, compact: true, frames: [{ id: 1, honey: 2, capped: true }, { id: 2, honey: 1, capped: false }], 'onhive-open': event => heard.push(event.detail.name) }, createElement('b', { slot: 'badge' }, 'new'));
        }
        show(createElement(App));`;
      const root = project(
        {
          'app.js': app,
          'index.html': '<!doctype html><div id="app"></div><script type="module" src="/app.js"></script>',
        },
        ['react', 'react-dom', 'preact', 'scheduler'],
      );
      await build({ root, logLevel: 'silent', configFile: false, build: { outDir: 'site' } });
      const result = await on<Record<string, unknown>>(
        await serve({ '/': join(root, 'site') }, {}),
        '/index.html',
        `${drive}.then(async first => {
          setBoxes(7);
          await new Promise(resolve => setTimeout(resolve, 100));
          const card = document.querySelector('hive-card');
          return { ...first, compact: card.compact, later: card.shadowRoot.querySelector('dd').textContent, isProperty: Array.isArray(card.frames) };
        })`,
      );
      assert.deepEqual(result, {
        ...expected,
        seen: ['Rosemary', 'Rosemary'],
        frames: 2,
        compact: true,
        later: '7',
        isProperty: true,
      });
    });
  }

  it('on demand: each element once, also in shadow roots, and after a failed download', async () => {
    const script = `rejected = []; addEventListener('unhandledrejection', event => rejected.push(String(event.reason)));`;
    const foreign = '<svg><font-face></font-face></svg>';
    const page = `<!doctype html><script>${script}</script><script type="module" src="/w/on-demand.js"></script>${body}${foreign}<div id="host"></div>`;
    const server = await serve({ '/w/': out }, { '/': page });
    server.failing.set('/w/keeper-note.js', 1);
    const { asked } = server;
    const result = await on<unknown>(
      server,
      '/',
      `(async () => {
        const errors = [];
        console.error = text => errors.push(text);
        await customElements.whenDefined('hive-card');
        const root = document.getElementById('host').attachShadow({ mode: 'open' });
        document.body.append(document.createElement('p'));
        root.innerHTML = '<keeper-note keeper="Ida">Mild.</keeper-note><hive-card></hive-card>';
        document.getElementById('host').replaceWith(document.getElementById('host'));
        await Promise.race([customElements.whenDefined('keeper-note'), new Promise(resolve => setTimeout(resolve, 6000))]);
        return { note: !!customElements.get('keeper-note'), gauge: !!customElements.get('honey-gauge'), errors, rejected };
      })()`,
    );
    assert.deepEqual(result, {
      note: true,
      gauge: false,
      errors: ['Error (element-unloaded): <keeper-note> could not be loaded. The next try comes in 1 s.'],
      rejected: [],
    });
    assert.equal(asked.filter(path => path === '/w/hive-card.js').length, 1);
    assert.ok(!asked.includes('/w/honey-gauge.js'));
  });
});
