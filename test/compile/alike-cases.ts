import type { Case } from '../support/written-and-built.ts';

const all =
  "import { contract, text, integer, flag, choice, data, live, event, slot, markup, stylesheet, signal, computed, effect, each, matches, on, handle, sync } from 'eltrix';\n";
let count = 0;

/** A case of one module. */
function one(name: string, code: (tag: string, Name: string) => string, more: Partial<Case> = {}): Case {
  const number = ++count;
  const tag = `case-${String.fromCharCode(97 + Math.floor(number / 26))}${String.fromCharCode(97 + (number % 26))}`;
  const Name = `Case${tag.slice(5)}`;
  return {
    name,
    tag,
    file: `src/${tag}.js`,
    ...more,
    files: { [`src/${tag}.js`]: all + code(tag, Name), ...more.files },
  };
}

/** The same in TypeScript. */
function typed(name: string, code: (tag: string, Name: string) => string, more: Partial<Case> = {}): Case {
  const made = one(name, code, more);
  const rename = (text: string) => text.replace(/\.js$/, '.ts');
  const files = Object.entries(made.files).map(([file, source]) => [rename(file), source]);
  return { ...made, file: rename(made.file), files: Object.fromEntries(files) };
}

const hooks = "connected() { note('connected'); } attributeChanged(name) { note('changed ' + name); }";
const text = 'attributes: { label: text() }';

const colours =
  "const { color, borderTopColor } = getComputedStyle((el.shadowRoot ?? el).querySelector('p')); return [color, borderTopColor];";

/** What browsers do that translate pages. */
const translate = `const walker = document.createTreeWalker(el.shadowRoot, NodeFilter.SHOW_TEXT); const texts = [];
    while (walker.nextNode()) if (walker.currentNode.data.trim()) texts.push(walker.currentNode);
    for (const text of texts) { const font = document.createElement('font'); font.append('*' + text.data); text.replaceWith(font); }`;

export const cases: readonly Case[] = [
  one(
    'a view that is given to the prototype later',
    (tag, Name) =>
      `export class ${Name} extends contract('${tag}', { ${text} }) {}\n${Name}.prototype.view = function () { return markup\`<p>\${() => this.label}</p>\`; };`,
    { steps: ["el.label = 'b';"], shows: ['<p></p>', '<p>b</p> label=b'] },
  ),
  one(
    'a view that is given to the prototype of a member',
    (tag, Name) =>
      `export class ${Name} extends contract('${tag}', { ${text} }) {}\nconst all = { ${Name} };\nall.${Name}.prototype.view = function () { return markup\`<p>\${() => this.label}</p>\`; };`,
    { steps: ["el.label = 'b';"], shows: ['<p></p>', '<p>b</p> label=b'] },
  ),
  one(
    'a view that computed names give to the prototype',
    (tag, Name) =>
      `export class ${Name} extends contract('${tag}', { ${text} }) {}\n${Name}['proto' + 'type'].view = function () { return markup\`<p>\${() => this.label}</p>\`; };`,
    { steps: ["el.label = 'b';"], shows: ['<p></p>', '<p>b</p> label=b'] },
  ),
  one(
    'a private field of an attribute’s name',
    (tag, Name) => `export class ${Name} extends contract('${tag}', { ${text} }) {
    #label = ['x', 'y'];
    view() { return markup\`<p title=\${() => this.#label}>\${() => this.#label}</p>\`; } }`,
  ),
  one(
    'a private signal of an attribute’s name',
    (tag, Name) => `export class ${Name} extends contract('${tag}', { ${text} }) {
    #label = signal('one');
    set(value) { this.#label.set(value); }
    view() { return markup\`<p>\${() => this.#label.get()}</p>\`; } }`,
    { steps: ["el.set('two')"] },
  ),
  one(
    'a private getter of an attribute’s name that gives markup',
    (tag, Name) => `export class ${Name} extends contract('${tag}', { ${text} }) {
    get #label() { return markup\`<b>\${this.label}</b>\`; }
    view() { return markup\`<p>\${() => this.#label}</p>\`; } }`,
    { steps: ["el.label = 'two'"] },
  ),
  one(
    'a private method of a public one’s name',
    (tag, Name) => `export class ${Name} extends contract('${tag}', { ${text} }) {
    #press = null;
    press() { note('pressed'); }
    view() { return markup\`<button onclick=\${this.#press}></button>\`; } }`,
    { steps: ["el.shadowRoot.querySelector('button').click()"] },
  ),
  one(
    'hooks beside a mixin',
    (tag, Name) => `const Loud = Base => class extends Base { disconnected() { note('gone'); } };
    export class ${Name} extends Loud(contract('${tag}', { ${text} })) { ${hooks} view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
    { steps: ["el.label = 'a'", 'el.remove()'] },
  ),
  one(
    'hooks of a base in a namespace',
    (_tag, Name) => `import * as bases from './space-base.js';
    export class ${Name} extends bases.Base { ${hooks} }`,
    {
      tag: 'space-base',
      files: {
        'src/space-base.js': `${all}export class Base extends contract('space-base', { ${text} }) { view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
      },
      steps: ["el.label = 'a'"],
    },
  ),
  one(
    'hooks of a base by an alias of the package',
    (_tag, Name) => `import { Base } from '#parts/alias-base.js';
    export class ${Name} extends Base { ${hooks} }`,
    {
      files: {
        'src/alias-base.js': `${all}export class Base extends contract('alias-base', { ${text} }) { view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
      },
      tag: 'alias-base',
      steps: ["el.label = 'a'"],
    },
  ),
  one(
    'a base that is renamed on its way',
    (_tag, Name) => `import { Other } from './renamed-hub.js';
    export class ${Name} extends Other { ${hooks} }`,
    {
      files: {
        'src/renamed-hub.js': "export { Renamed as Other } from './renamed-base.js';",
        'src/renamed-base.js': `${all}export class Renamed extends contract('renamed-base', { ${text} }) { view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
      },
      tag: 'renamed-base',
      steps: ["el.label = 'a'"],
    },
  ),
  one(
    'a base that a mixin is given',
    (_tag, Name) => `import { Given } from './given-base.js';
    const Loud = Base => class extends Base { connected() { note('loud'); } };
    export class ${Name} extends Loud(Given) { }`,
    {
      files: {
        'src/given-base.js': `${all}export class Given extends contract('given-base', { ${text} }) { view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
      },
      tag: 'given-base',
      steps: ["el.label = 'a'"],
    },
  ),
  one(
    'a base in a variable',
    (_tag, Name) => `import { Held } from './held-base.js';
    const Base = Held;
    export class ${Name} extends Base { ${hooks} }`,
    {
      files: {
        'src/held-base.js': `${all}export class Held extends contract('held-base', { ${text} }) { view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
      },
      tag: 'held-base',
      steps: ["el.label = 'a'"],
    },
  ),
  one(
    'a base with a name beyond ASCII',
    (_tag, Name) => `import { Größe } from './groesse-base.js';
    export class ${Name} extends Größe { ${hooks} }`,
    {
      files: {
        'src/groesse-base.js': `${all}export class Größe extends contract('groesse-base', { ${text} }) { view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
      },
      tag: 'groesse-base',
      steps: ["el.label = 'a'"],
    },
  ),
  one(
    'a default export as base',
    (_, Name) => `import Any from './default-base.js';
    export class ${Name} extends Any { ${hooks} }`,
    {
      files: {
        'src/default-base.js': `${all}class Plain extends contract('default-base', { ${text} }) { view() { return markup\`<p>\${() => this.label}</p>\`; } }\nexport { Plain as default };`,
      },
      tag: 'default-base',
      steps: ["el.label = 'a'"],
    },
  ),
  one(
    'hooks with a computed name',
    (tag, Name) => `export class ${Name} extends contract('${tag}', { ${text} }) {
    ['connected']() { note('connected'); } view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
  ),
  one(
    'hooks with a name that is known when it runs',
    (tag, Name) => `const hook = ['conn', 'ected'].join('');
    export class ${Name} extends contract('${tag}', { ${text} }) {
    [hook]() { note('connected'); } view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
  ),
  one(
    'a hook that is a field',
    (tag, Name) => `const once = fn => fn;
    export class ${Name} extends contract('${tag}', { ${text} }) {
    connected = once(() => note('connected')); view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
  ),
  one(
    'a hook that is put on the prototype',
    (tag, Name) => `export class ${Name} extends contract('${tag}', { ${text} }) {
    view() { return markup\`<p>\${() => this.label}</p>\`; } }
    ${Name}.prototype.connected = function () { note('connected'); };`,
  ),
  one(
    'members used by a helper of another module',
    (tag, Name) => `import { howMany } from './helper.js';
    export class ${Name} extends contract('${tag}', { ${text}, slots: { '': slot('All.') } }) {
    count() { return howMany(this); } view() { return markup\`<slot></slot>\`; } }`,
    {
      files: { 'src/helper.js': 'export const howMany = host => host.slotted().length;' },
      html: '<case-bd><b></b><i></i></case-bd>',
      steps: ['return el.count()'],
    },
  ),
  one(
    'an octal escape in a sheet',
    (tag, Name) => `export class ${Name} extends contract('${tag}', { ${text} }) {
    static styleSheets = [stylesheet\`p::before { content: '\\201C' }\`];
    view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
    { steps: ["return getComputedStyle(el.shadowRoot.querySelector('p'), '::before').content"] },
  ),
  one(
    'a sequence in an expression',
    (tag, Name) => `export class ${Name} extends contract('${tag}', { ${text} }) {
    view() { return markup\`<p>\${(note('a'), 'b')}</p><i>\${'c', 'd'}</i><b title=\${'e', 'f'}></b>\`; } }`,
  ),
  one(
    'an import at the end',
    (tag, Name) => `export class ${Name} extends contract('${tag}', { ${text} }) {
    static early = markup\`<i>early</i>\`;
    view() { return markup\`<p>\${${Name}.early}\${late}</p>\`; } }
    import { late } from './late.js';`,
    { files: { 'src/late.js': "export const late = 'late';" } },
  ),
  one(
    'a kind of root in a constant',
    (tag, Name) => `const root = 'none';
    export class ${Name} extends contract('${tag}', { ${text}, shadow: root }) {
    view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
    { steps: ["el.label = 'a'", 'return !!el.shadowRoot'] },
  ),
  one(
    'white space that an imported sheet shows',
    (tag, Name) => `import { spaced } from './spaced.js';
    export class ${Name} extends contract('${tag}', { ${text} }) {
    static styleSheets = [spaced];
    view() { return markup\`<p>one
      two   three</p>
      <p>\${() => this.label}</p>\`; } }`,
    {
      files: { 'src/spaced.js': `${all}export const spaced = stylesheet\`p { white-space: pre }\`;` },
      steps: ["return el.shadowRoot.querySelector('p').innerText"],
    },
  ),
  one(
    'a contract inside another',
    (tag, Name) => `const inner = () => contract('inner-${tag}', { ${text} });
    export class ${Name} extends contract('${tag}', { attributes: { label: text() }, properties: { kind: data(() => contract('deep-${tag}', { ${text} })) } }) {
    view() { return markup\`<p>\${() => typeof this.kind}\${typeof inner()}</p>\`; } }`,
  ),
  one(
    'a parameter beyond ASCII',
    (tag, Name) => `export class ${Name} extends contract('${tag}', { ${text} }) {
    connected(größe) { größe.effect(() => note('effect ' + this.label)); }
    view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
    { steps: ["el.label = 'a'"] },
  ),
  one(
    'a scope that is passed on',
    (tag, Name) => `const start = ({ scope }) => scope.effect(() => note('effect'));
    export class ${Name} extends contract('${tag}', { ${text} }) {
    connected(scope) { start({ scope }); }
    view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
  ),
  one(
    'an own String',
    (tag, Name) => `const String = value => ({ toString: () => 'own', value });
    export class ${Name} extends contract('${tag}', { ${text} }) {
    view() { return markup\`<p>\${() => String(this.label)}</p>\`; } }`,
  ),
  one(
    'a method of text’s name on something else',
    (tag, Name) => `const list = { trim: () => ['a', 'b'], toString() { return markup\`<b>c</b>\`; } };
    export class ${Name} extends contract('${tag}', { ${text} }) {
    view() { return markup\`<p>\${() => list.trim()}</p><i>\${() => list.toString()}</i>\`; } }`,
  ),
  one(
    'an own Math',
    (tag, Name) => `const Math = { max: () => ['a', 'b'] };
    export class ${Name} extends contract('${tag}', { ${text} }) {
    view() { return markup\`<p>\${() => Math.max()}</p>\`; } }`,
  ),
  one(
    'a getter in a subclass that gives a list',
    (tag, Name) => `class Base extends contract('${tag}', { ${text} }) {
    get shown() { return 'text'; }
    view() { return markup\`<p>\${() => this.shown}\${() => this.label}</p>\`; } }
    export class ${Name} extends Base { get shown() { return ['a', 'b']; } get label() { return ['c', 'd']; } }`,
  ),
  one(
    'a method in a subclass that is none',
    (tag, Name) => `class Base extends contract('${tag}', { ${text} }) {
    press() { note('pressed'); }
    view() { return markup\`<button onclick=\${this.press}></button>\`; } }
    export class ${Name} extends Base { get press() { return undefined; } }`,
    { steps: ["el.shadowRoot.querySelector('button').click()"] },
  ),
  one(
    'a field that hides an attribute',
    (tag, Name) => `export class ${Name} extends contract('${tag}', { ${text}, properties: { kind: data(() => 1) } }) {
    set wide(value) { note('wide ' + value); }
    view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
    { steps: ['el.wide = 3'] },
  ),
  one(
    'names of the library behind other names',
    (tag, Name) => `import { contract as c, text as t, markup as m } from 'eltrix';
    export class ${Name} extends c('${tag}', { attributes: { label: t() } }) {
    view() { return m\`<p>\${() => this.label}</p>\`; } }`,
    { steps: ["el.label = 'a'"] },
  ),
  one(
    'the library as a namespace',
    (tag, Name) => `import * as e from 'eltrix';
    export class ${Name} extends e.contract('${tag}', { attributes: { label: e.text() } }) { ${hooks}
    static styleSheets = [e.stylesheet\`p { color: rgb(1, 2, 3) }\`];
    view() { return e.markup\`<p>\${() => this.label}</p>\`; } }`,
    { steps: ["el.label = 'a'", "return getComputedStyle(el.shadowRoot.querySelector('p')).color"] },
  ),
  one(
    'a name of the library that a parameter hides',
    (tag, Name) => `export class ${Name} extends contract('${tag}', { ${text} }) {
    make(markup) { return markup\`<b>no</b>\`; }
    view() { return markup\`<p>\${this.make(strings => strings[0])}</p>\`; } }`,
  ),
  one(
    'a name of the library that a block hides',
    (tag, Name) => `export class ${Name} extends contract('${tag}', { ${text} }) {
    view() { { const markup = String.raw; this.raw = markup\`<b>raw</b>\`; } return markup\`<p>\${() => this.raw}</p>\`; } }`,
  ),
  one(
    'references, comments and pre',
    (tag, Name) => `export class ${Name} extends contract('${tag}', { ${text} }) {
    view() { return markup\`<!-- a -->&lt;b&gt; &amp;amp; &copy;<pre>
 a
   b</pre><textarea>
x</textarea><p title="&quot;a&#10;b&quot;">\${() => this.label} <!-- c --> d</p>\`; } }`,
    { steps: ["el.label = '<i>'"] },
  ),
  one(
    'a sheet in a file',
    (_, Name) => `import sheet from './one.css' with { type: 'css' };
    export class ${Name} extends contract('case-files', { ${text} }) {
    static styleSheets = [sheet, stylesheet\`p { border-color: rgb(3, 2, 1) }\`];
    connected() { note('connected'); }
    view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
    { tag: 'case-files', files: { 'src/one.css': 'p { color: rgb(1, 2, 3) }' }, steps: [colours] },
  ),
  one(
    'a sheet in a file that more is asked of',
    (_, Name) => `import sheet from './two.css' with { type: 'css' };
    const shared = sheet;
    export class ${Name} extends contract('case-shared', { ${text} }) {
    static styleSheets = [shared];
    connected() { note(sheet instanceof CSSStyleSheet ? sheet.cssRules.length : 'none'); }
    view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
    { tag: 'case-shared', files: { 'src/two.css': 'p { color: rgb(1, 2, 3) }' }, steps: [colours] },
  ),
  one(
    'a sheet in a file without a shadow root',
    (_, Name) => `import sheet from './three.css' with { type: 'css' };
    export class ${Name} extends contract('case-light', { ${text}, shadow: 'none' }) {
    static styleSheets = [sheet];
    view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
    { tag: 'case-light', files: { 'src/three.css': ':host p { color: rgb(1, 2, 3) }' }, steps: [colours] },
  ),
  one(
    'a sheet in a file of a class that another is made from',
    (_, Name) => `import sheet from './four.css' with { type: 'css' };
    class Base extends contract('case-above', { ${text} }) {
    static styleSheets = [sheet];
    view() { return markup\`<p>\${() => this.label}</p>\`; } }
    export class ${Name} extends Base { static styleSheets = [...super.styleSheets, stylesheet\`p { border-color: rgb(3, 2, 1) }\`]; }`,
    { tag: 'case-above', files: { 'src/four.css': 'p { color: rgb(1, 2, 3) }' }, steps: [colours] },
  ),
  one(
    'an element that an effect makes',
    (tag, Name) => `export class ${Name} extends contract('${tag}', { ${text} }) {
    view() { const first = this.label; return markup\`<p title=\${this.label}>\${() => this.label}\${first}</p>\`; } }
    globalThis.make = () => effect(() => {
      note('runs');
      const made = document.createElement('${tag}');
      made.setAttribute('label', 'made');
      document.body.append(made);
    });`,
    {
      steps: [
        'make(); await turn(); el.nextSibling.label = "other"',
        "return el.nextSibling.shadowRoot.innerHTML.replace(/<!--.*?-->/gs, '')",
      ],
    },
  ),
  one(
    'a sheet of another module that is none',
    (_, Name) => `import { none } from './no-sheet.js';
    export class ${Name} extends contract('case-none', { ${text} }) {
    static styleSheets = [none];
    view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
    {
      tag: 'case-none',
      files: { 'src/no-sheet.js': 'export const none = undefined;' },
      steps: ["el.label = 'a'", 'el.remove(); document.body.append(el)'],
    },
  ),
  one(
    'options on a condition after a record of their select',
    (_, Name) => `export class ${Name} extends contract('case-select', { ${text} }) {
    view() { return markup\`<select \${{ selectedIndex: () => this.label.length }}>\${() => this.label && markup\`<option>a</option><option>b</option>\`}</select>\`; } }`,
    {
      tag: 'case-select',
      html: '<case-select label="x"></case-select>',
      steps: [
        "return el.shadowRoot.querySelector('select').selectedIndex",
        "el.label = ''; await turn(); el.label = 'y'; await turn(); return el.shadowRoot.querySelector('select').selectedIndex",
      ],
    },
  ),
  one(
    'sheets that another module asks an element for',
    (_, Name) => `import './asks-sheets.js';
    export class ${Name} extends contract('case-asked', { ${text} }) {
    static styleSheets = [stylesheet\`p { color: rgb(1, 2, 3) }\`];
    view() { return markup\`<p>\${() => this.label}</p>\`; } }
    globalThis.asked = ${Name};`,
    {
      tag: 'case-asked',
      files: { 'src/asks-sheets.js': 'globalThis.countSheets = () => globalThis.asked.styleSheets.length;' },
      steps: ['return countSheets()'],
    },
  ),
  one(
    'a document without a window',
    (tag, Name) => `export class ${Name} extends contract('${tag}', { ${text} }) {
    static styleSheets = [stylesheet\`p { color: rgb(1, 2, 3) }\`];
    view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
    {
      steps: [
        "document.implementation.createHTMLDocument('').body.append(el); await turn(); el.label = 'there'",
        'document.body.append(el)',
        colours,
      ],
    },
  ),
  one(
    'sheets of another module, one in a list and one that is replaced',
    (_, Name) => `import { base, more, own } from './shared-sheets.js';
    export class ${Name} extends contract('case-sheets', { ${text} }) {
    static styleSheets = [base, more, stylesheet\`p { border-color: rgb(3, 2, 1) }\`, own, base];
    view() { return markup\`<p>\${() => this.label}</p>\`; } }`,
    {
      tag: 'case-sheets',
      files: {
        'src/shared-sheets.js': `import { stylesheet } from 'eltrix';
          export const base = stylesheet\`p { color: rgb(1, 2, 3) }\`;
          export const more = [stylesheet\`p { color: rgb(4, 5, 6); border: 1px solid }\`, base];
          export const own = new CSSStyleSheet();
          own.replaceSync('p { padding: 7px }');
          globalThis.replaceBase = text => base.replace(text);`,
      },
      steps: [
        colours,
        "return [el.shadowRoot.adoptedStyleSheets.length, getComputedStyle(el.shadowRoot.querySelector('p')).padding]",
        "replaceBase('p { color: rgb(7, 8, 9) !important }')",
        colours,
        'document.body.append(el.cloneNode(true))',
        "document.implementation.createHTMLDocument('').body.append(el); await turn(); document.body.append(el)",
        colours,
      ],
    },
  ),
  one(
    'a number that is none, beside a live list',
    (
      tag,
      Name,
    ) => `export class ${Name} extends contract('${tag}', { properties: { n: data(() => NaN), list: live(() => []) } }) {
    view() { return markup\`<textarea>\${() => this.n}</textarea><p class=\${() => this.n} title="a \${() => this.n}"></p>\`; } }`,
    { shows: ['<textarea>NaN</textarea><p class="NaN" title="a NaN"></p>'] },
  ),
  typed(
    'an element that something in its view removes while it is updated',
    (
      tag,
      Name,
    ) => `customElements.define('${tag}-out', class extends HTMLElement { connectedCallback() { if (this.done) return; this.done = true; this.getRootNode().host?.remove(); } });
    interface Item { label: string }
    export class ${Name} extends contract('${tag}', { properties: { isOut: data(() => false), item: data<Item>(() => ({ label: '' })), record: live<Item>(() => ({ label: 'a' })) } }) {
    view() { return markup\`\${() => this.isOut && markup\`<${tag}-out></${tag}-out>\`}<p>\${() => this.item.label}</p>\`; } }`,
    {
      steps: [
        'const { record } = globalThis.from = el.cloneNode(); globalThis.was = el.parentNode; el.isOut = true; el.item = record; await turn(); return el.isConnected',
        "from.record.label = 'b'; await turn(); was.append(el)",
        "from.record.label = 'c'",
        "el.remove(); from.record.label = 'd'; await turn(); was.append(el)",
      ],
    },
  ),
  ...(['attributes: { n: integer() }', 'properties: { n: data(() => 0) }'] as const).map(declared =>
    typed(
      `a child that changes what it is given, each time: ${declared}`,
      (
        tag,
        Name,
      ) => `customElements.define('${tag}-child', class extends HTMLElement { set given(n) { const { host } = this.getRootNode(); if (host && host.turns-- > 0) host.n = n + 1; } });
    export class ${Name} extends contract('${tag}', { ${declared} }) {
    turns = 0;
    view() { return markup\`<${tag}-child \${{ given: () => this.n }}></${tag}-child>\`; } }`,
      {
        steps: [
          'el.turns = 10; el.n = 1; await turn(); return el.n',
          'el.turns = Infinity; el.n = 20; await turn(); return [el.n > 50, el.n < 500]',
        ],
      },
    ),
  ),
  typed(
    'a function in a property that is given once',
    (
      tag,
      Name,
    ) => `export class ${Name} extends contract('${tag}', { properties: { make: data<() => string>(() => () => 'made') } }) {
    view() { return markup\`<p \${{ title: this.make }}></p>\`; } }`,
    { shows: ['<p title="made"></p>'] },
  ),
  typed(
    'signals in fields, in the view and in rows',
    (
      tag,
      Name,
    ) => `export class ${Name} extends contract('${tag}', { properties: { rows: data<readonly { id: number; label: string }[]>(() => [{ id: 1, label: 'a' }, { id: 2, label: 'b' }]), mark: data(() => '!') } }) {
    #chosen = signal(0); #isChosen = matches(this.#chosen);
    choose(id: number) { this.#chosen.set(id); }
    view() { return markup\`<p>\${() => this.#chosen.get() + 1}</p>\${each(() => this.rows, row => row.id, row => { const { id } = row(); return markup\`<b class=\${() => this.#isChosen(id) && 'on'} onclick=\${() => this.choose(id)}>\${() => row().label}\${() => (id > 1 ? this.mark : '')}</b>\`; })}\`; } }`,
    {
      steps: [
        'el.choose(2)',
        "el.rows = [...el.rows].reverse(); await turn(); el.shadowRoot.querySelectorAll('b')[1].click()",
        "el.mark = '?'",
        'el.remove(); el.choose(2); el.mark = undefined; await turn(); document.body.append(el)',
        "el.rows = [{ id: 2, label: 'c' }]",
        'el.choose(3)',
      ],
    },
  ),
  typed(
    'signals in the items of a list',
    (tag, Name) => `import type { Signal } from 'eltrix';
    interface Row { readonly id: number; readonly count: Signal<number | null> }
    export class ${Name} extends contract('${tag}', { properties: { rows: data<Row[]>(() => []) } }) {
    view() { return markup\`<ul>\${each(() => this.rows, row => row.id, row => { const { count } = row(); return markup\`<li title=\${() => count.get()}>\${() => row().count.get()}</li>\`; })}</ul>\`; }
    add(id: number) { this.rows = [...this.rows, { id, count: signal<number | null>(id) }]; } }`,
    {
      steps: [
        'el.add(1); el.add(2)',
        'el.rows[0].count.set(5); el.rows[1].count.set(null)',
        'globalThis.kept = el.rows[0]; el.rows = [{ ...el.rows[1], id: 1, count: kept.count }]',
        'kept.count.set(7)',
        'el.remove(); kept.count.set(8); await turn(); document.body.append(el)',
      ],
    },
  ),
  typed(
    'a row that is spoilt and removed in one change',
    (tag, Name) => `interface Row { id: number; of: { size: number } }
    export class ${Name} extends contract('${tag}', { properties: { rows: data<Row[]>(() => []), source: live<Row[]>(() => [{ id: 1, of: { size: 1 } }, { id: 2, of: { size: 2 } }]) } }) {
    view() { return markup\`<ul>\${each(() => this.rows, row => row.id, row => markup\`<li>\${() => row().of.size}</li>\`)}</ul>\`; } }`,
    {
      steps: [
        'el.rows = [...el.source]',
        "const heard = []; const hear = event => { event.preventDefault(); heard.push(event.error.message); }; addEventListener('error', hear); el.source[0].of = null; el.rows = el.rows.slice(1); await turn(); removeEventListener('error', hear); return heard.length",
      ],
    },
  ),
  typed(
    'a long list whose rows others move before something else changes',
    (
      tag,
      Name,
    ) => `export class ${Name} extends contract('${tag}', { properties: { rows: data((): number[] => []), mark: data(() => '') } }) {
    view() { return markup\`<ul>\${each(() => this.rows, row => row, row => markup\`<li>\${() => row()}\${() => this.mark}</li>\`)}</ul>\`; } }`,
    {
      steps: [
        'el.rows = Array.from({ length: 120 }, (_, at) => at)',
        "const [list] = el.shadowRoot.children; list.append(list.children[3]); await turn(); el.mark = '!'; await turn(); el.rows = el.rows.slice(1); await turn(); return list.textContent",
        'const [list] = el.shadowRoot.children; list.children[5].remove(); await turn(); el.rows = []; await turn(); el.rows = [1, 2]',
      ],
    },
  ),
  ...[
    'attributes: { label: text(), count: integer() }',
    "attributes: { label: text() }, properties: { count: data(() => 0), some: data(() => '') }",
  ].map(declared =>
    one(
      `texts that a translator replaces, with ${declared}`,
      (tag, Name) => `export class ${Name} extends contract('${tag}', { ${declared} }) {
    view() { return markup\`<h3>\${() => this.label}</h3><p>Boxes: \${() => this.count} of \${() => this.count * 2}.</p><p>\${() => this.some}, \${() => this.label}</p>
      <u>\${() => this.count > 2 ? markup\`<b>many</b>\` : 'few'}</u><p>\${() => this.count > 2 && 'very '}\${() => this.count > 1 ? markup\`<b>more</b>\` : 'one'}</p><s>\${() => [this.label]}</s>\`; } }`,
      {
        steps: [
          [2, 'b'],
          [3, ''],
          [3, 'c'],
          [0, 'd'],
          [4, 'd'],
        ].map(
          ([count, label]) =>
            `${translate}; el.count = ${count}; el.label = '${label}'; await turn(); return el.shadowRoot.textContent.replaceAll('*', '')`,
        ),
      },
    ),
  ),
];
