/** Loads each built file alone in an empty page of a real engine, and reports problems. */
import { startLocalServer } from '../serving/local-server.ts';
import type { Engine } from './engine.ts';

export interface Loaded {
  readonly tag: string;
  readonly defined: boolean;
  /** Console output, errors, policy violations, and requests to other hosts. */
  readonly problems: readonly string[];
}

const policy =
  "default-src 'none'; script-src 'self'; style-src 'self'; connect-src 'self'; frame-src 'self'; img-src data:; require-trusted-types-for 'script'; trusted-types eltrix";

/** Runs in each page before the element's module, and records everything. */
const probe = `
const problems = [];
const report = text => problems.push(String(text).slice(0, 300));
for (const level of ['log', 'info', 'warn', 'error', 'debug']) console[level] = (...values) => report('console.' + level + ': ' + values.join(' '));
addEventListener('error', event => report(event.error instanceof Error || event.error instanceof DOMException ? 'Uncaught ' + event.error : event.message || 'a file could not be loaded'), true);
addEventListener('unhandledrejection', event => report('unhandled: ' + event.reason));
addEventListener('securitypolicyviolation', event => report('the policy blocked ' + event.violatedDirective + ' ' + event.blockedURI));
const tag = document.currentScript.dataset.tag;
addEventListener('load', async () => {
  await Promise.race([customElements.whenDefined(tag), new Promise(resolve => setTimeout(resolve, 1000))]);
  await new Promise(resolve => setTimeout(resolve, 30));
  for (const { name } of performance.getEntriesByType('resource')) if (new URL(name).origin !== location.origin) report('requests another host: ' + name);
  parent.postMessage({ tag, defined: !!customElements.get(tag), problems }, location.origin);
});`;

/** The page around them: one frame for each file, several at a time. */
const around = `
const tags = JSON.parse(document.currentScript.dataset.tags);
const answers = new Map();
const frames = new Map();
let next = 0;
globalThis.answers = new Promise(resolve => {
  const more = () => {
    if (answers.size === tags.length) return resolve(tags.map(tag => answers.get(tag)));
    if (next === tags.length) return;
    const tag = tags[next++];
    const frame = document.createElement('iframe');
    frame.src = '/alone/' + tag;
    frames.set(tag, frame);
    document.body.append(frame);
  };
  addEventListener('message', ({ data }) => { answers.set(data.tag, data); frames.get(data.tag).remove(); more(); });
  addEventListener('load', () => { for (let i = 0; i < 8; i++) more(); if (tags.length === 0) resolve([]); });
});`;

export async function loadAlone(folder: string, tags: readonly string[], engine: Engine): Promise<Loaded[]> {
  const server = await startLocalServer({
    answer({ path, response, send, file, refuse }) {
      const page = (text: string) => {
        response.setHeader('content-security-policy', policy);
        send(`<!doctype html><html lang="en"><title>eltrix</title><link rel="icon" href="data:,">${text}`, 'page.html');
      };
      if (path === 'probe') return send(probe, 'probe.js');
      if (path === 'around') return send(around, 'around.js');
      if (path === '') return page(`<body><script src="/around" data-tags='${JSON.stringify(tags)}'></script>`);
      const alone = /^alone\/(.+)$/.exec(path)?.[1];
      if (alone !== undefined && tags.includes(alone))
        return page(
          `<script src="/probe" data-tag="${alone}"></script><script type="module" src="/${alone}.js"></script>`,
        );
      return alone === undefined ? file(folder, path) : refuse(404);
    },
  });
  const session = await engine.start();
  try {
    const page = await session.open(server.address);
    return await page.evaluate<Loaded[]>('globalThis.answers');
  } finally {
    await session.close();
    await server.close();
  }
}
