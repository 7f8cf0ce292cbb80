/** Built widgets in a page whose scripts have extended and replaced methods of the platform, as older libraries do. */
import assert from 'node:assert/strict';
import { join } from 'node:path';
import { after, it } from 'node:test';
import type { EngineName } from '../../packages/eltrix-tool/src/engines/index.ts';
import { closeEngines, eltrix, open, project, serve } from '../support/project.ts';

/** Enumerable additions, and replacements that do less than the standard says. */
const oldLibrary = `<script>
const add = (target, methods) => { for (const name of Object.keys(methods)) target[name] = methods[name]; };
add(Object.prototype, { each(fn) { for (const key in this) fn(this[key], key); } });
add(Array.prototype, {
  entries() { return this.slice(); }, toArray() { return this.slice(); }, clone() { return this.slice(); },
  first() { return this[0]; }, last() { return this[this.length - 1]; }, include(item) { return this.indexOf(item) >= 0; },
  reduce() { return this.length > 1 ? this : this[0]; }, inject(memo, fn) { for (const item of this.slice()) memo = fn(memo, item); return memo; },
  find(fn, context) { for (let i = 0; i < this.length; i++) if (fn.call(context, this[i], i)) return this[i]; },
  flatten() { return [].concat(...this); }, flat() { return [].concat(...this); }, uniq() { return [...new Set(this)]; }, without(item) { return this.filter(one => one !== item); },
});
Array.from = iterable => { if (!iterable) return []; let length = iterable.length || 0; const results = new Array(length); while (length--) results[length] = iterable[length]; return results; };
add(Function.prototype, {
  bind(context, ...given) { const fn = this; return function (...more) { return fn.apply(context, given.concat(more)); }; },
  wrap(wrapper) { const fn = this; return function (...args) { return wrapper.call(this, fn, ...args); }; }, delay() {}, defer() {},
});
add(String.prototype, { strip() { return this.replace(/^\\s+|\\s+$/g, ''); }, include(part) { return this.indexOf(part) >= 0; }, startsWith(part) { return this.lastIndexOf(part, 0) === 0; }, times(n) { return n < 1 ? '' : new Array(n + 1).join(this); } });
add(Number.prototype, { times(fn) { for (let i = 0; i < this; i++) fn(i); return this; }, succ() { return this + 1; } });
add(Element.prototype, {
  remove() { if (this.parentNode) this.parentNode.removeChild(this); return this; }, update(html) { this.innerHTML = html; return this; }, insert(node) { this.appendChild(node); return this; },
  show() { return this; }, hide() { return this; }, toggle() { return this; }, visible() { return true; }, get(name) { return this[name]; }, set(name, value) { this[name] = value; return this; },
  match(selector) { return this.matches(selector); }, select(selector) { return [...this.querySelectorAll(selector)]; }, wrap() { return this; }, up() { return this.parentNode; },
});
window.$ = id => document.getElementById(id); window.$$ = selector => document.querySelectorAll(selector);
</script>`;

const source = `
import { choice, computed, contract, data, each, event, flag, handle, integer, json, live, markup, matches, signal, slot, stylesheet, sync, text, tokens, url } from 'eltrix';
import { ask, context, offer, readConfiguration } from 'eltrix/context';
import { messages, formats } from 'eltrix/language';
import { eachInView, leaving, region } from 'eltrix/views';
import { autosave, history, store } from 'eltrix/store';
import { routes } from 'eltrix/routes';

export class OldCard extends contract('old-card', {
  attributes: { name: text(), boxes: integer({ default: 1 }), mood: choice(['calm', 'busy'], { missing: 'calm', invalid: 'calm' }), big: flag() },
  events: { 'card-open': event() }, slots: { '': slot('x') },
}) {
  static styleSheets = [stylesheet\`:host { display: block }\`];
  view() { return markup\`<h3 class=\${() => [this.mood, this.big && 'big']} style=\${() => ({ color: this.big ? 'red' : null, '--n': this.boxes })}>\${() => this.name} \${() => this.boxes}</h3><button onclick=\${this.open}>Open</button><slot></slot>\`; }
  open() { this.boxes++; this.emit('card-open'); }
}
const place = context('place');
const texts = messages('en', { n: { one: '{count} jar', other: '{count} jars' } });
const book = store({ rows: [{ id: 1, t: 'one' }, { id: 2, t: 'two' }], n: 0 }, { add: (s, t) => ({ ...s, n: s.n + 1, rows: [...s.rows, { id: s.rows.length + 1, t }] }) });
const past = history(book);
export class OldList extends contract('old-list', {
  form: true,
  attributes: { tags: tokens(), conf: json({ default: { a: 1 } }), href: url(), chosen: integer() },
  properties: { rows: live(() => [{ id: 1, t: 'a' }, { id: 2, t: 'b' }, { id: 3, t: 'c' }]), groups: live(() => new Map([['x', 1]])), title2: data(() => 'T') },
}) {
  many = signal(['b']); boxes = signal(['x']); one = signal('2'); picked = signal(0);
  isPicked = matches(this.picked); text = texts(this); format = formats(this); here = ask(this, place); field = handle();
  total = computed(() => this.rows.length + book.state.n);
  long = eachInView(() => [...new Array(50).keys()], i => i, i => markup\`<i>\${() => i()}</i>\`, { estimate: 20 });
  view() { return markup\`
    <p \${{ title: () => this.title2, className: 'c' }} class=\${() => ({ full: this.rows.length > 2, none: this.rows.length === 0 })}>\${() => this.total.get()} \${() => this.text('n', { count: this.rows.length })} \${() => this.format.number(1234)} \${() => this.here.get() ?? 'nowhere'}</p>
    <ol>\${each(() => this.rows, row => row.id, (row, index) => markup\`<li \${leaving(() => null)} class=\${() => this.isPicked(row().id) && 'picked'}>\${() => index() + 1}. \${() => row().t}<input \${{ value: () => row().t }}></li>\`)}</ol>
    <ul>\${() => book.state.rows.map(row => markup\`<li>\${row.t}</li>\`)}</ul>
    \${each(() => [...this.groups], ([k]) => k, e => markup\`<b>\${() => e().join('=')}</b>\`)}
    \${() => [...this.tags].join('+')} \${() => this.conf.a} \${() => this.href}
    <select id="many" multiple \${sync(this.many)}><option>a</option><option>b</option><option>c</option></select>
    <input id="x" type="checkbox" value="x" \${sync(this.boxes)}><input id="y" type="checkbox" value="y" \${sync(this.boxes)}>
    <select id="one" \${sync(this.one)}>\${each(() => this.rows, row => row.id, row => markup\`<option>\${() => row().id}</option>\`)}</select>
    \${region(() => markup\`<em>\${() => { if (this.chosen > 1) throw new Error('no'); return this.chosen; }}</em>\`, (error, again) => markup\`<button id="again" onclick=\${() => { this.chosen = 0; again(); }}>\${String(error)}</button>\`)}
    <div style="height: 100px; overflow: auto">\${this.long}</div>\`; }
  formValue() { const data = new FormData(); for (const row of this.rows) data.append('row', row.t); return data; }
  validate() { return this.rows.length === 0 ? { flags: { valueMissing: true }, message: 'none' } : null; }
}
export class OldLight extends contract('old-light', { shadow: 'none', slots: { '': slot('x'), head: slot('y') }, attributes: { open: flag() } }) {
  static styleSheets = [stylesheet\`p { color: red }\`];
  connected(scope) { readConfiguration(this); scope.use(offer(this, place, signal('here'))); scope.every(100_000, () => {}); scope.on(window, 'resize', () => {}); }
  view() { return markup\`<header hidden=\${() => !this.isFilled('head')}><slot name="head"></slot></header>\${() => this.open ? markup\`<section><slot></slot></section>\` : markup\`<p><slot>empty</slot></p>\`}\`; }
}
OldCard.define(); OldList.define(); OldLight.define();
const saving = autosave(book, { key: 'book' });
OldList.shared = { book, past, saving, start: () => routes(document.querySelector('main'), [{ path: '/', element: 'old-card', title: 'Home' }, { path: '/cards/:name', element: 'old-card', title: ({ name }) => name }, { path: '*', element: 'old-light' }]) };
`;

/** Does the same in every page, and says what shows after each step. */
const script = `(async () => {
  await import('/w/all.js');
  const { book, past, saving, start } = customElements.get('old-list').shared;
  const seen = [];
  const errors = [];
  addEventListener('error', event => { errors.push(String(event.message)); event.preventDefault(); });
  const rest = () => new Promise(resolve => setTimeout(resolve, 30));
  const list = document.querySelector('old-list'), card = document.querySelector('old-card'), light = document.querySelector('old-light');
  const root = list.shadowRoot;
  // The rows out of view are measured some frames later.
  const html = node => node.innerHTML.replace(/<!--.*?-->/g, '').replace(/\\s+/g, ' ').replace(/height: \\d+px(?=[^"]*" data-eltrix="gap")/g, 'height');
  const look = async step => {
    await rest();
    const fields = [...root.querySelectorAll('#many option')].map(option => option.selected);
    seen.push([step, html(root), root.querySelector('#one').value, fields, root.querySelector('#x').checked, root.querySelector('#y').checked, html(card.shadowRoot), html(light), [...new FormData(document.forms[0]).entries()]]);
  };
  await look('start');
  list.rows.push({ id: 4, t: 'd' }); list.rows.reverse(); await look('pushed and reversed');
  list.rows = [list.rows[2], { id: 9, t: 'n' }, list.rows[0]]; list.picked.set(9); await look('replaced');
  list.groups.set('y', 2); list.tags.add('k', 'l'); list.conf = { a: 5 }; list.setAttribute('href', '/p'); list.title2 = 'U'; await look('properties');
  root.querySelector('#many').options[2].selected = true; root.querySelector('#many').dispatchEvent(new Event('change'));
  root.querySelector('#y').click(); list.one.set('9'); await look('fields ' + list.many.get() + ' ' + list.boxes.get());
  list.chosen = 3; await look('failed'); root.querySelector('#again').click(); await look('again');
  card.shadowRoot.querySelector('button').click(); card.big = true; card.mood = 'busy'; await look('card');
  light.open = true; light.insertAdjacentHTML('beforeend', '<h2 slot="head">H</h2>'); await look('light');
  book.change('add', 'three'); past.undo(); past.redo(); await look('store ' + JSON.stringify(book.state));
  light.append(list); await look('moved');
  list.rows.splice(0); await look('empty ' + list.validity.valid);
  const router = start();
  await rest(); await router.go('/cards/Rosemary'); await rest();
  seen.push(['route', document.title, document.querySelector('main').innerHTML]);
  await saving.stop();
  seen.push(['saved', localStorage.getItem('book')]);
  return [seen, errors];
})()`;

after(closeEngines);

it('work the same in a page with extended prototypes', async t => {
  const root = project({ 'src/old-list.js': source });
  const body =
    '<body><main></main><form><old-list name="l" tags="a b"></old-list></form><old-card name="A"><p>x</p></old-card><old-light><p>light</p></old-light>';
  const built = eltrix(root, 'build', '--no-look');
  assert.equal(built.status, 0, built.stderr);
  const server = await serve(
    { '/w/': join(root, 'dist') },
    { '/': `<!doctype html>${body}`, '/old': `<!doctype html>${oldLibrary}${body}` },
  );
  t.after(() => server.close());
  for (const engine of ['chromium', 'firefox', 'webkit'] satisfies EngineName[]) {
    const results: unknown[] = [];
    for (const path of ['/', '/old']) {
      const page = await open(server.address + path, engine);
      if (!page) return t.skip(`${engine} is not installed`);
      await page.evaluate("localStorage.removeItem('book')");
      results.push(await page.evaluate(script));
      await page.close();
    }
    assert.deepEqual(results[1], results[0], engine);
  }
});
