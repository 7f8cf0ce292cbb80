/** Elements in a page that is XHTML, where the browser parses what scripts write as XML. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { foundEngines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { pageScript, withPages } from '../support/bundled-page.ts';

const page = `
import { contract, data, markup, signal, stylesheet, sync, text, url } from 'eltrix';

const chosen = signal('b');
class HiveForm extends contract('hive-form', { attributes: { name: text(), link: url() }, properties: { frames: data(() => [1, 2]) } }) {
  static styleSheets = [stylesheet\`:host { display: block }\`];
  view() {
    return markup\`<h3>\${() => this.name}</h3><br><img alt="&nbsp;a \${() => this.name} &amp; b" hidden>
      <select \${sync(chosen)}>\${['a', 'b'].map(value => markup\`<option value=\${value}>\${value}</option>\`)}</select>
      <ul>\${() => this.frames.map(frame => markup\`<li>\${frame}<hr></li>\`)}</ul><svg><circle r="1"/></svg><textarea>\${() => this.name}</textarea>\`;
  }
}
HiveForm.define();
/** Nothing but attributes. */
class HivePlain extends contract('hive-plain', { attributes: { name: text() } }) {
  view() { return markup\`<p>\${() => this.name}<br><input value="x"></p>\`; }
}
HivePlain.define();

async function run() {
  const hive = document.createElement('hive-form');
  const plain = document.createElement('hive-plain');
  document.body.append(hive, plain);
  hive.name = plain.name = '<R>';
  hive.frames = [3];
  await new Promise(resolve => setTimeout(resolve));
  const root = hive.shadowRoot;
  const shown = node => [...node.childNodes].map(child => child.nodeType === 3 ? child.data.trim() : child.nodeType === 1 ? '<' + child.localName + '>' + shown(child) : '').join('');
  return [shown(root), root.querySelector('img').alt, root.querySelector('select').value, root.querySelector('svg').namespaceURI.slice(-3), root.querySelector('textarea').value, shown(plain.shadowRoot)];
}
globalThis.seen = run();`;

const expected = [
  '<h3><R><br><img><select><option>a<option>b<ul><li>3<hr><svg><circle><textarea><R>',
  '\u00a0a <R> & b',
  'b',
  'svg',
  '<R>',
  '<p><R><br><input>',
];

describe('in a page of XHTML', () => {
  const bundled = Promise.all([pageScript({ page }, 'as written'), pageScript({ page })]);
  for (const engine of foundEngines())
    it(`views are what they are in HTML, in ${engine.name}`, async () => {
      const scripts = await bundled;
      await withPages(engine, async open => {
        for (const script of scripts)
          for (const kind of ['html', 'xhtml'] as const)
            assert.deepEqual(
              await (await open(script, kind)).evaluate('Promise.resolve(globalThis.loaded).then(() => seen)'),
              expected,
              kind,
            );
      });
    });
});
