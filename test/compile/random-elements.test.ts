/**
 * Compiled elements do the same as those that are as they were written: random ones, made both ways, in real engines. On one
 * page something brings signals, on the other nothing does, so that compiled elements are without the graph.
 */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { foundEngines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { pageScript, withPages } from '../support/bundled-page.ts';
import { random, seed } from '../support/random.ts';

const count = 150;
type Next = (below: number) => number;
const pick = <T>(next: Next, list: readonly T[]): T => list[next(list.length)]!;

/** Kinds with the texts that are tried on them, and the values. */
const kinds = [
  ['text()', 'text'],
  ['text({ nullable: true })', 'text?'],
  ["choice(['calm', 'busy'], { missing: 'calm', invalid: 'busy' })", 'text'],
  ["choice(['on', 'off'], { nullable: true, aliases: { yes: 'on' } })", 'text?'],
  ['flag()', 'flag'],
  ['integer({ default: 3 })', 'number'],
  ['nonNegative()', 'number'],
  ['positive({ default: 5, fallback: true })', 'number'],
  ['clamped(1, 9)', 'number'],
  ['decimal()', 'number'],
  ['positiveDecimal({ default: 0.5 })', 'number'],
  ['url()', 'text'],
] as const;
const names = ['name', 'level', 'isOpen', 'kindOfIt', 'rest'];
const values = [
  "'a'",
  "''",
  "'busy'",
  "'12'",
  "'javascript:x'",
  "'/x?y'",
  '3',
  '-2.5',
  '0',
  'true',
  'false',
  'null',
  '70',
];

/** Properties without attributes, with expressions that read them: what they give may be shown as text, or not. */
const properties = {
  item: {
    code: 'data<Item | undefined>(() => undefined)',
    texts: [
      'this.item?.label',
      'this.item?.inner?.size',
      "(this.item?.note ?? '–')",
      'this.item!.count',
      'this.item?.on',
    ],
    any: ['this.item', 'this.item?.inner'],
  },
  amount: { code: 'data(() => 2)', texts: ['this.amount', 'this.amount.toFixed(1)', 'this.amount * 2'], any: [] },
  word: {
    code: 'data<string | null>(() => null)',
    texts: ['this.word', 'this.word?.length', 'this.word?.trim()', 'this.word!.at(0)'],
    any: [],
  },
  isShown: { code: 'data((): boolean => false)', texts: ['this.isShown', '!this.isShown'], any: [] },
  rows: {
    code: 'data<readonly (Item | undefined)[]>(() => [])',
    texts: ['this.rows.length', 'this.rows[0]?.label', 'this.rows[1].inner?.tags.length'],
    any: ['this.rows', 'this.rows[0]'],
  },
  sure: { code: 'data<Item[]>(() => [])', texts: ['this.sure.length'], any: ['this.sure'] },
  notes: {
    code: 'live<Item[]>(() => [])',
    texts: ['this.notes.length', 'this.notes[0]?.label', 'this.notes[0]?.inner?.size'],
    any: ['this.notes', 'this.notes[0]'],
  },
  rest2: {
    code: 'data<unknown>(() => null)',
    texts: ["(this.rest2 ? 'some' : 'none')", '!this.rest2'],
    any: ['this.rest2'],
  },
} as const;
const types = `
interface Named { readonly label: string }
interface Item extends Named { count: number; on: boolean; note?: string; inner: { size: number; tags: string[] } | null }`;

interface Member {
  readonly name: string;
  readonly kind: string;
  readonly type: string;
}

type Property = (typeof properties)[keyof typeof properties];

function expression(next: Next, members: readonly Member[], given: readonly Property[], depth = 0): string {
  const member = () => pick(next, members);
  const inner = () => expression(next, members, given, depth + 1);
  if (given.length > 0 && next(3) === 0) return pick(next, pick(next, given).texts);
  if (depth > 2) return `this.${member().name}`;
  const one = member();
  const own = `this.${one.name}`;
  const ways = [
    own,
    own,
    `\`<\${${inner()}} \${${inner()}}\``,
    `(${inner()} ? ${inner()} : ${inner()})`,
    `(${inner()} ?? '–')`,
    `(${inner()} && ${inner()})`,
    `(${inner()} > ${inner()})`,
    `${inner()} + ${inner()}`,
    `Math.max(2, Number(${inner()}))`,
    `String(${inner()}).length`,
    `unit + ${inner()}`,
    `${pick(next, ['mark', 'join', 'helpers.join', 'half', 'short', 'ended', 'counted'])}(${inner()})`,
    `join(${inner()}, ${inner()})`,
    'helpers.title + heading',
    `labels.${pick(next, ['first', 'amount', 'shown'])}`,
    `own.${pick(next, ['first', "of('q')"])}`,
    `own.of(${inner()})`,
    ...(one.kind.startsWith('choice([') ? [`helpers.words[${own}]`] : []),
    'this.both',
    ...(one.type === 'text?' ? [`${own}?.toUpperCase()`, `${own}?.length`, `${own}.slice(1)`] : []),
    ...(one.type === 'text' ? [`${own}.toUpperCase()`, `'★'.repeat(${own}.length - 1)`] : []),
    ...(one.type === 'number' ? [`${own}.toFixed(1)`, `'x'.repeat(${own})`] : []),
  ];
  return pick(next, ways);
}

/**
 * A keyed list. @param read makes a live expression of the element.
 * @param isPiece whether an expression around may run again, without the graph also for other reasons: then nothing is
 * shown as it was at first.
 */
function list(next: Next, items: string, read: () => string, isPiece = false, depth = 0): string {
  const names = [`row${depth}`, `at${depth}`];
  const item = `${names[0]}()`;
  const member = () =>
    `${item}${pick(next, ['.', '.', '?.'])}${pick(next, ['label', 'count', 'note', 'inner', 'on', 'inner?.tags.length'])}`;
  const parts = Array.from({ length: 1 + next(3) }, () =>
    pick(next, [
      `<b title=\${() => ${member()}}>\${() => ${member()}}</b>`,
      `<b class="a \${() => ${item}.label} b">${read()}</b>`,
      `<b class=\${() => [${member()}, 'set']}>\${${isPiece ? '() => ' : ''}${item}?.label}</b>`,
      `<q \${{ thing: ${names[0]}, title: () => ${member()}, onclick: () => note('clicked ' + ${item}?.label) }}></q>`,
      `<i onclick=\${this.press}>${read()}</i>`,
      `<i>\${() => ${member()} && markup\`<b>\${() => ${member()}}</b>\`}</i>`,
      `<i>\${() => ${names[1]}()}</i>`,
      `<i>\${given}</i>`,
      ...(depth > 0 ? [] : [`<ol>${list(next, `${item}.inner?.tags`, read, isPiece, 1)}</ol>`]),
    ]),
  ).join('');
  const inside = depth > 0 ? `<i>\${${names[0]}}\${() => ${item}.length}${read()}</i>` : parts;
  const row = pick(next, [`<li>${inside}</li>`, `<li>${inside}</li>`, `\n  <li>${inside}</li>\n`, `${inside}<br>`]);
  const given = pick(next, [
    isPiece ? "const given = () => 'given';" : `const { label: given } = ${item};`,
    `const given = () => ${item}.${depth > 0 ? 'length' : 'label'};`,
  ]);
  const made = row.includes('${given}') ? `{ ${given} return markup\`${row}\`; }` : `markup\`${row}\``;
  const key = pick(next, [
    '(_, at) => at',
    'one => one',
    ...(depth > 0 ? [] : ['one => one?.count', 'one => one.label']),
  ]);
  const parameters = row.includes(`${names[1]}()`) ? names.join(', ') : names[0];
  return `\${each(() => ${items}${next(6) || depth > 0 ? '' : '.filter(Boolean)'}, ${key}, (${parameters}) => ${made})}`;
}

function element(next: Next, index: number): string {
  const members = names.slice(0, 1 + next(names.length)).map(name => {
    const [kind, type] = pick(next, kinds);
    return { name, kind, type };
  });
  const given = Object.entries(properties).filter(() => index % 2 === 1 && next(2) === 0);
  const expressed = () =>
    expression(
      next,
      members,
      given.map(([, property]) => property),
    );
  const read = () => `\${() => ${expressed()}}`;
  const objects = given.flatMap(([, { any }]) => any);
  const object = () => (objects.length > 0 ? pick(next, objects) : expressed());
  const texts = members.filter(({ type }) => type === 'text' || type === 'number');
  const lists = given.flatMap(([name]) =>
    name === 'rows' || name === 'notes' ? [`this.${name}`, `this.${name}`] : [],
  );
  const joined = texts.length > 0 ? ` title="a \${() => this.${pick(next, texts).name}} b"` : '';
  const view = Array.from({ length: 1 + next(4) }, () =>
    pick(next, [
      `<p>${read()} and <b>${read()}</b></p>`,
      `<i class=${read()} aria-label=${read()}></i>`,
      `<a href=${read()}>x</a>`,
      `<u class=\${() => [${expressed()}, 'set']} style=\${() => ({ width: ${expressed()}, '--mine': ${expressed()} })}></u>`,
      `<s class=\${() => ({ one: ${expressed()}, two: ${expressed()} })}></s>`,
      `<em${joined} style="color: red">&amp;</em>`,
      `<svg viewBox="0 0 9 9"><circle r=${read()} class=${read()}></circle></svg>`,
      `<button onclick=\${this.press}>${read()}</button>`,
      `<button onclick=\${helpers.press}>\${heading}</button>`,
      `<button onclick=\${event => this.emit('pressed', [event.type, this.${members[0]!.name}])}></button>`,
      `<q \${{ thing: () => ${object()} }}></q>`,
      `<div>\${() => ${object()} ? markup\`<b>${read()}</b>\` : ''}</div>`,
      `<div>\${() => ${object()} && markup\`<b class=${read()}></b>${read()}\`}</div>`,
      ...lists.map(name => `<ul>${list(next, name, read)}</ul>`),
      ...lists.map(
        name => `<menu>\${() => ${object()} && markup\`<li>${read()}</li>${list(next, name, read, true)}\`}</menu>`,
      ),
      '<slot name="x">none</slot> plain <!-- no --> text',
      '<table><tr><td>1</td></tr></table>',
    ]),
  ).join('');
  const attributes = members.map(({ name, kind }) => `${name}: ${kind}`).join(', ');
  const shown = () =>
    pick(next, [`this.${pick(next, members).name}`, 'this.both', ...given.flatMap(({ 1: { texts } }) => [...texts])]);
  const isForm = next(3) === 0;
  return `export class Made${index} extends contract('made-${index}', { ${isForm ? 'form: true, ' : ''}attributes: { ${attributes} },${given.length > 0 ? ` properties: { ${given.map(([name, { code }]) => `${name}: ${code}`).join(', ')} },` : ''} events: { pressed: event() } }) {
    ${next(4) ? 'static styleSheets = [stylesheet`:host { display: block } b { color: teal }`];' : ''}
    get both() { return this.${pick(next, members).name} + '/' + this.${pick(next, members).name}; }
    ${isForm && next(4) ? `formValue() { return String(${shown()}); }` : ''}
    ${isForm && next(4) ? `validate() { return ${shown()} ? { flags: { customError: true }, message: String(${shown()}) + '!' } : null; }` : ''}
    ${isForm && next(2) ? `formReset() { note('reset'); this.${pick(next, members).name} = ${pick(next, values)}; }` : ''}
    ${next(2) ? "disconnected() { note('disconnected'); }" : ''}
    ${next(3) ? '' : "connected(scope) { note('connected'); scope.use(() => note('ended')); }"}
    ${next(3) ? '' : "attributeChanged(name, before, after) { note('attribute ' + name + before + after + this.both); }"}
    ${next(3) ? '' : "propertyChanged(name, before, after) { note('property ' + name + String(before) + String(after)); }"}
    press(event) { this.${pick(next, members).name} = ${pick(next, values)}; this.emit('pressed', event.type); }
    view() { return markup\`${view}\`; }
  }`;
}

/** FNV-1a. */
function digest(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return hash;
}

const withGraph = `
import { batch, contract, effect, live, settled } from 'eltrix';
class Holder extends contract('made-holder', { properties: {
  record: live(() => ({ label: 'r', count: 1, on: true, inner: { size: 1, tags: ['a', 'b'] } })),
  rows: live(() => [{ label: 's', count: 2, on: false, inner: null }]),
} }) { static made = new (Holder.define())(); }`;

/** In place of what brings the graph. */
const withoutGraph = `
const settled = () => wait();
const batch = change => change();
const effect = () => () => {};`;

/** Functions and constants in a module that the elements' module imports: pure ones, and others. */
const helpers = (graph: boolean) => `
${graph ? "import { signal } from 'eltrix';" : 'const signal = value => ({ get: () => value, set() {} });'}
export { default as mark } from './marks.ts';
export * from './marks.ts';
const amounts = new Intl.NumberFormat('en', { minimumFractionDigits: 2 });
export const title = 'T';
export const words = Object.freeze({ calm: 'all quiet', busy: 'at work', on: 1, off: null });
export function join(one, other = '+') { return one === other ? \`\${one}\` : \`\${one}-\${other}\`; }
export const labels = { first: 'f', amount: -2, shown: \`\${title}!\` } as const;
export const half = n => { const parsed = Number(n); if (parsed > 5) return amounts.format(parsed / 2); return parsed / 2; };
export const short = text => text.slice(0, 2);
export const end = signal('.');
export const ended = text => text + end.get();
export let calls = 0;
export function counted(value) { calls++; return value; }
export function press(event) { note('pressed ' + event.type + this?.localName); }`;

const marks = `
const marked = value => '*' + String(value) + '*';
export { marked as default, heading };
const heading = 'H';`;

/** Apart from what is done to them, since names in a module make it uncertain what its elements need. */
const classesOf = (classes: string) => `
import { choice, clamped, contract, data, decimal, each, event, flag, integer, live, markup, nonNegative, positive, positiveDecimal, stylesheet, text, url } from 'eltrix';
import * as helpers from './helpers.ts';
import { counted, ended, half, heading, join, labels, mark, short } from './helpers.ts';
const own = { first: 1, of: (value: any) => '<' + value + '>' };
const unit = 'kg ';
${types}
${classes.replace(/^class /gm, 'export class ')}
export class Source extends contract('made-source', { attributes: { label: text(), count: integer(), on: flag() }, properties: { inner: data(() => ({ size: 7, tags: ['t'] })) } }) {
  view() { return markup\`<i>\${() => this.label}</i>\`; }
}`;

/** Does the same to each: what it is given, and when, comes from the seed. */
const script = (graph: boolean) => `
import * as made from 'classes';
import * as helpers from './helpers.ts';
import { random } from 'random';
${graph ? withGraph : withoutGraph}
made.Source.define();
const sources = [document.createElement('made-source')${graph ? ', Holder.made.record, Holder.made.rows[0]' : ''}];
const item = n => n === 1 ? undefined : n === 2 ? sources[0] : n === 3 ? sources.at(-1) : n === 4 ? sources.at(-2) ?? sources[0]
  : { label: 'l' + n, count: n, on: n > 5, inner: n % 2 ? { size: n, tags: ['t'] } : null, ...(n > 6 ? { note: 'n' + n } : {}) };
const given = {
  item, amount: n => n / 2, word: n => (n < 3 ? null : 'w' + n), isShown: n => n % 2 === 0,
  rows: n => ${graph ? 'n === 3 ? Holder.made.rows : ' : ''}Array.from({ length: n % 4 }, (_, at) => item(at + n)), sure: n => Array.from({ length: n % 5 }, (_, at) => item(at + 2)), notes: n => Array.from({ length: n % 3 }, (_, at) => ({ ...item(at + 5) })), rest2: n => [null, 0, '', 'text', {}, [], sources[0], NaN][n],
};
const all = [${Array.from({ length: count }, (_, i) => `made.Made${i}`).join(', ')}];
const values = [${values.join(', ')}];
const shown = node => [...node.childNodes].map(child => child.nodeType === 3 ? child.data : child.nodeType === 1
  ? '<' + child.localName + [...child.attributes].map(a => ' ' + a.name + '=' + a.value).sort().join('') + '>' + shown(child) + '</>' : '').join('');
const wait = () => new Promise(resolve => { const { port1, port2 } = new MessageChannel(); port1.onmessage = () => { port1.close(); resolve(); }; port2.postMessage(0); });
export async function run() {
  const next = random(${seed});
  const logs = [];
  const frame = document.createElement('iframe');
  document.body.append(frame);
  // In quirks mode lengths may go without a unit.
  frame.contentDocument.write('<!doctype html><base href="/"><body>');
  frame.contentDocument.close();
  for (const [index, Made] of all.entries()) {
    const log = [];
    const tell = (what, value) => log.push(what + ': ' + value);
    const errors = new Set();
    globalThis.note = text => tell('notes', text);
    const caught = event => { errors.add(String(event.error ?? event.message).replace(/(TypeError): .*/, '$1')); event.preventDefault(); };
    addEventListener('error', caught);
    let descriptors = {};
    for (let p = Object.getPrototypeOf(Made.prototype); p !== HTMLElement.prototype; p = Object.getPrototypeOf(p))
      descriptors = { ...Object.getOwnPropertyDescriptors(p), ...descriptors };
    const members = Object.keys(descriptors).filter(name => !/^(?:constructor|emit|internals|states|slotted|isFilled|form|labels|validity|validationMessage|willValidate|(?:check|report)Validity)$|Callback$/.test(name));
    const kebab = name => name.replace(/[A-Z]/g, letter => '-' + letter.toLowerCase());
    const one = document.createElement('made-' + index);
    one.setAttribute('name', 'on');
    const home = document.createElement('form');
    document.body.append(home);
    const put = (name, value) => { if (name in given) value = given[name](next(8)); try { one[name] = value; } catch (error) { tell('refused', error.name); } };
    const early = members[next(members.length)];
    if (next(3) === 0) one[early] = early in given ? given[early](next(8)) : values[next(values.length)];
    one.setAttribute(kebab(members[next(members.length)]), String(values[next(values.length)]));
    if (next(4) === 0) { const root = one.attachShadow({ mode: 'open' }); root.innerHTML = '<q>old</q>'; }
    Made.define();
    customElements.upgrade(one);
    home.append(one);
    one.addEventListener('pressed', event => tell('pressed', JSON.stringify(event.detail) + event.bubbles + event.composed + event.cancelable));
    const look = () => tell('shows', shown(one.shadowRoot) + ' | ' + [...one.attributes].map(a => a.name + '=' + a.value).sort() + ' | ' + members.map(name => String(one[name]))
      + ' | ' + [...one.shadowRoot.querySelectorAll('q')].map(({ thing }) => String(thing) + thing?.label)
      + ' | ' + [...new FormData(home)] + one.validationMessage + one.validity?.customError
      + ' | ' + one.shadowRoot.adoptedStyleSheets.length + getComputedStyle(one).display);
    look();
    let seen = 0;
    const stop = effect(() => { members.forEach(name => one[name]); seen++; });
    for (let step = 0; step < 12; step++) {
      const name = members[next(members.length)];
      const value = values[next(values.length)];
      switch (next(16)) {
        case 0: one.setAttribute(kebab(name), String(value)); break;
        case 1: one.removeAttribute(kebab(name)); break;
        case 2: one.setAttributeNS('urn:x', kebab(name), String(value)); break;
        case 3: batch(() => put(name, value)); ${graph ? 'look();' : ''} break;
        case 4: one.shadowRoot.querySelector('button')?.click(); break;
        case 5: one.remove(); put(name, value); if (next(2)) sources[next(sources.length)].label = 'away' + step; if (next(2)) helpers.end.set('!' + step); if (next(2)) await settled(); home.append(one); look(); break;
        case 6: frame.contentDocument.body.append(one); look(); home.append(one); break;
        case 7: if (next(2)) helpers.end.set('.' + step); else sources[next(sources.length)].label = 'c' + step; break;
        case 11: { const notes = one.notes; if (!notes) break; if (next(2)) notes.push({ label: 'n' + step, count: step, on: true, inner: { size: step, tags: [] } }); else if (notes[0]) notes[0].label += '+'; if (notes[0]?.inner) notes[0].inner.size++; break; }
        case 8: sources[0].count++; sources.at(-1).on = !sources.at(-1).on; break;
        case 9: ${graph ? "{ const { rows, record } = Holder.made; if (next(2)) rows.push({ label: 'p' + step, count: 1, on: true, inner: null }); else { rows.length = 1; record.inner = next(2) ? null : { size: step, tags: [] }; } break; }" : 'break;'}
        case 12: {
          await settled();
          const [list] = one.shadowRoot.querySelectorAll('ul');
          const row = list?.children[next(list.children.length || 1)];
          if (!row) break;
          if (next(3) === 0) row.remove();
          else if (next(2)) list.append(row);
          else list.insertBefore(document.createElement('hr'), row);
          // A list notices it when it is shown again.
          for (const name of ['rows', 'sure', 'notes']) if (name in one) one[name] = [...one[name]];
          break;
        }
        case 13: await settled(); for (const clicked of [...one.shadowRoot.querySelectorAll('li q, li i')].slice(0, 3)) clicked.click(); break;
        case 14: home.reset(); break;
        case 15: home.remove(); put(name, value); look(); document.body.append(home); break;
        default: put(name, value);
      }
      if (next(3)) { await settled(); look(); }
    }
    const sibling = one.cloneNode(true);
    document.body.append(sibling);
    tell('copy', shown(sibling.shadowRoot));
    await wait();
    look();
    ${graph ? "tell('calls', helpers.calls);" : '// Without the graph, what an expression reads is known by property, so it may run more often or less.'}
    stop();
    tell('effect ran', seen);
    for (const name of members) {
      const { get, set, enumerable, configurable } = descriptors[name];
      try { get.call(document.body); tell('brand', 'none'); } catch (error) { tell('brand', error.name + enumerable + configurable); }
    }
    removeEventListener('error', caught);
    tell('errors', [...errors].sort());
    home.remove();
    sibling.remove();
    logs.push(log);
  }
  return logs;
}`;

describe('a compiled element', () => {
  const next = random(seed);
  const sources = Array.from({ length: count }, (_, i) => element(next, i));
  const modules = (graph: boolean) => ({
    page: "import { run } from 'elements'; globalThis.logs = run().then(logs => logs.map(log => log.join('\\n')));",
    elements: script(graph),
    'classes.ts': classesOf(sources.join('\n')),
    'helpers.ts': helpers(graph),
    'marks.ts': marks,
    random: `export ${random.toString()}`,
  });

  // Bundled once for all engines.
  const lean = new Set<string>();
  const counting = {
    name: 'counting',
    transform(code: string) {
      for (const [, tag] of code.matchAll(/\$eltrix\.lean\("([\w-]+)"/g)) lean.add(tag!);
    },
  };
  const scriptsOf = (graph: boolean) =>
    Promise.all([pageScript(modules(graph), 'as written'), pageScript(modules(graph), {}, [counting])]);
  const bundled = new Map([true, false].map(graph => [graph, scriptsOf(graph)]));
  for (const graph of [true, false])
    for (const engine of foundEngines())
      it(`${count} random ones do the same as written and compiled, ${graph ? 'beside signals' : 'without the graph'}, in ${engine.name}`, async t => {
        t.diagnostic(`ELTRIX_SEED=${seed}`);
        const scripts = await bundled.get(graph)!;
        const brings = scripts.map(code => code.includes('set-in-computed') && code.includes('eltrix.queue'));
        assert.deepEqual(brings, [true, graph], 'only one of them is without the graph');
        t.diagnostic(`${lean.size} are static`);
        assert.ok(lean.size > count / 3);
        await withPages(engine, async open => {
          const pages = [await open(scripts[0]!), await open(scripts[1]!)];
          const ask = <T>(expression: string) => Promise.all(pages.map(page => page.evaluate<T>(expression)));
          // Whole logs would be some megabytes, which engines are slow to send.
          const [written, compiled] = await ask<number[]>(`logs.then(logs => logs.map(${digest.toString()}))`);
          assert.equal(written!.length, count);
          const different = written!.findIndex((sum, i) => sum !== compiled![i]);
          if (different < 0) return;
          const [expected, actual] = await ask<string>(`logs.then(logs => logs[${different}])`);
          assert.equal(actual, expected, sources[different]);
        });
      });
});
