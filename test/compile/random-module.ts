/** Random modules with an element, made of pieces each of which can be left out. */
import { random } from '../support/random.ts';
import type { Case } from '../support/written-and-built.ts';

/** What belongs together: a member, and what shows it, for example. */
interface Piece {
  readonly head?: string;
  readonly member?: string;
  /** A statement of `view()` before its markup. */
  readonly local?: string;
  readonly view?: string;
  readonly sheet?: string;
  readonly tail?: string;
  readonly step?: string;
  readonly files?: Readonly<Record<string, string>>;
}

export interface Module {
  readonly tag: string;
  readonly extension: 'js' | 'ts';
  /** How the class comes by its contract. */
  readonly base: keyof typeof bases;
  /** How the library is imported. */
  readonly library: keyof typeof libraries;
  readonly attributes: Readonly<Record<string, string>>;
  readonly pieces: readonly Piece[];
}

const names = [
  'contract text integer flag choice decimal clamped data live event slot markup stylesheet signal computed effect each on handle sync batch',
][0]!.split(' ');
const libraries = {
  named: { head: `import { ${names.join(', ')} } from 'eltrix';`, in: (code: string) => code },
  renamed: {
    head: `import { contract as c, markup as m, ${names.filter(name => !/^(?:contract|markup)$/.test(name)).join(', ')} } from 'eltrix';`,
    in: (code: string) => code.replace(/\bcontract\(/g, 'c(').replace(/\bmarkup`/g, 'm`'),
  },
  namespace: {
    head: `import * as e from 'eltrix';\nconst { ${names.filter(name => !/^(?:contract|markup|stylesheet|event)$/.test(name)).join(', ')} } = e;`,
    in: (code: string) => code.replace(/\b(contract\(|markup`|stylesheet`|event\()/g, 'e.$1'),
  },
  passed: {
    head: `import { ${names.filter(name => name !== 'contract').join(', ')}, define } from './names.js';\nconst html = markup;`,
    in: (code: string) => code.replace(/\bcontract\(/g, 'define(').replace(/\bmarkup`/g, 'html`'),
    files: {
      'src/names.js': "import { contract } from 'eltrix';\nexport * from 'eltrix';\nexport { contract as define };",
    },
  },
};

/** The class that the element extends, of a contract. */
const bases = {
  itself: (call: string) => ({ extended: call }),
  'a variable': (call: string) => ({ head: `const Above = ${call};`, extended: 'Above' }),
  'a class': (call: string) => ({
    head: `class Above extends ${call} { aboveIt() { return 'above'; } }`,
    extended: 'Above',
  }),
  'a mixin': (call: string) => ({
    head: `const mixed = Base => class extends Base { connected(scope) { super.connected?.(scope); note('mixed in'); } };`,
    extended: `mixed(${call})`,
  }),
  'a mixin elsewhere': (call: string, tag: string) => ({
    head: `import { mixed } from './${tag}-mixin.js';`,
    extended: `mixed(${call})`,
    files: {
      [`src/${tag}-mixin.js`]: `export function mixed(Base) { return class extends Base { disconnected() { note('mixed out'); } get mixedIn() { return 'in'; } }; }`,
    },
  }),
  'a module': (call: string, tag: string, head: string) => ({
    head: `import { Above } from './${tag}-above.js';`,
    extended: 'Above',
    files: {
      [`src/${tag}-above.js`]: `${head}\nexport class Above extends ${call} { aboveIt() { return 'above'; } view() { return null; } }`,
    },
  }),
  'a module behind another': (call: string, tag: string, head: string) => ({
    head: `import Other from '#parts/${tag}-hub.js';`,
    extended: 'Other',
    files: {
      [`src/${tag}-hub.js`]: `export { Above as default } from './${tag}-above.js';`,
      [`src/${tag}-above.js`]: `${head}\nclass Over extends ${call} { attributeChanged(name) { note('over ' + name); } }\nexport { Over as Above };`,
    },
  }),
  'a namespace': (call: string, tag: string, head: string) => ({
    head: `import * as above from './${tag}-above.js';`,
    extended: 'above.Above',
    files: { [`src/${tag}-above.js`]: `${head}\nexport const Above = ${call};` },
  }),
};

const kinds = [
  'text()',
  'text({ nullAsEmpty: true })',
  'text({ nullable: true })',
  'integer()',
  'integer({ default: 4 })',
  'flag()',
  "choice(['calm', 'busy'])",
  'decimal()',
  'clamped(1, 9)',
];
const attributeNames = ['label', 'level', 'isOpen', 'größe', 'kind'];
const values = ["'a b'", "''", "'busy'", "'<i>'", '3', '-2.5', 'true', 'false', "'é“'"];

const pick = <T>(next: (below: number) => number, list: readonly T[]): T => list[next(list.length)]!;

/** One piece: what it needs has a name of its own, ending in its number. */
function piece(
  next: (below: number) => number,
  n: number,
  tag: string,
  attributes: readonly string[],
  ts: boolean,
  only: 'through' | undefined,
): Piece {
  const any = () => pick(next, attributes);
  const value = () => pick(next, values);
  const typed = (type: string) => (ts ? `: ${type}` : '');
  const [a, b] = [any(), any()];
  const make: (() => Piece)[] = [
    // What is shown.
    () => ({ view: `<p>\${() => this.${a}}</p>` }),
    () => ({ view: `<p title=\${() => this.${a}}>\${this.${b}}</p>` }),
    () => ({ view: `<p title="x \${() => this.${a}} y \${() => this.${b}}"> \${() => this.${a}}  and </p>` }),
    () => ({ view: `<p class=\${() => ({ one: this.${a}, two: !this.${b} })} class2="\${() => this.${a}}"></p>` }),
    () => ({ view: `<p class=\${() => ['set', this.${a} && 'on']} style=\${() => ({ '--x': this.${a} })}></p>` }),
    () => ({ view: `\${() => this.${a} ? markup\`<b>\${() => this.${b}}</b>\` : 'none'}` }),
    () => ({ view: `\${() => this.${a} ? markup\`<b> \${this.${b}} </b>\` : markup\`<i>\n  no</i>\`}` }),
    () => ({
      view: `<ul>\${each(() => [1, 2, Number(this.${a}) || 0], item => item, item => markup\`<li>\${item}</li>\`)}</ul>`,
    }),
    () => ({ view: `<pre>\n a\n   \${() => this.${a}}\n</pre><textarea>\nx</textarea>` }),
    () => ({
      view: `&lt;b&gt; &amp;amp; &copy; <!-- c --> \n\n <span title="&quot;q&#10;r&quot;">\${() => this.${a}}</span>`,
    }),
    () => ({ view: `<svg viewBox="0 0 9 9"><circle r=\${() => this.${a}}/><text>\${() => this.${b}}</text></svg>` }),
    () => ({ view: `<table><tr><td>\${() => this.${a}}</td></tr></table><input value=\${this.${a}}>` }),
    () => ({ view: `<p>\${(note('evaluated ${n}'), this.${a})}</p>` }),
    () => ({ view: `<p>\${this.${a}}\${() => [this.${a}, ' ', this.${b}]}</p>` }),
    () => ({ view: `<p hidden=\${() => this.${a}} aria-label=\${() => this.${b}}></p>` }),
    () => ({ view: `<p>\${() => { const { ${a} } = this; return ${a}; }}</p>` }),
    () => ({ view: `<p>\${() => { const self = this; return \`\${self.${a}}!\`; }}</p>` }),
    () => ({ view: `<p>\${() => this.${a}?.toString?.()} \${() => typeof this.${b}}</p>` }),
    () => ({ view: '<slot name="x">none</slot>', step: "el.innerHTML = '<b slot=x></b>'" }),
    // Members.
    () => ({ member: `#${a}${n} = ['x', 'y'];`, view: `<p>\${() => this.#${a}${n}}</p>` }),
    () => ({
      member: `get #made${n}() { return markup\`<b>\${() => this.${a}}</b>\`; }`,
      view: `\${() => this.#made${n}}`,
    }),
    () => ({
      member: `get made${n}() { return this.${a} + '/' + this.${b}; }`,
      view: `<p>\${() => this.made${n}}</p>`,
    }),
    () => ({
      member: `count${n} = signal(0); press${n}() { this.count${n}.set(this.count${n}.get() + 1); }`,
      view: `<button onclick=\${this.press${n}}>\${() => this.count${n}.get()}</button>`,
      step: `el.shadowRoot.querySelectorAll('button').forEach(b => b.click())`,
    }),
    () => ({
      member: `twice${n} = computed(() => String(this.${a}) + this.${a});`,
      view: `<p>\${() => this.twice${n}.get()}</p>`,
    }),
    () => ({
      member: `#go${n} = () => { this.emit('pressed', this.${a}); };`,
      view: `<button onclick=\${this.#go${n}}></button>`,
      step: `el.addEventListener('pressed', event => note('heard ' + event.detail), { once: true }); el.shadowRoot.querySelector('button')?.click();`,
    }),
    () => ({
      member: `static #shared${n} = markup\`<i>shared</i>\`; static get shared${n}() { return this.#shared${n}; }`,
      view: `\${this.constructor.name.length > 0 ? 'x' : ''}`,
    }),
    () => ({
      member: `box${n} = handle();`,
      view: `<p handle=\${this.box${n}}>h</p>`,
      step: `return [el.box${n}?.element?.localName ?? null]`,
    }),
    () => ({
      member: `field${n} = signal('f');`,
      view: `<input \${sync(this.field${n})}>`,
      step: `const i = el.shadowRoot.querySelector('input'); if (i) { i.value = 'typed'; i.dispatchEvent(new Event('input', { bubbles: true })); }`,
    }),
    () => ({
      member: `show${n}(value${typed('string')} = 'v') { return value + this.${a}; }`,
      view: `<p>\${() => this.show${n}()}\${() => this.show${n}('w')}</p>`,
    }),
    () => ({
      member: `['computed' + ${n}]() { return this.${a}; }`,
      view: `<p>\${() => this['computed' + ${n}]()}</p>`,
    }),
    () => ({ member: `${a}Again${n} = this.${a};`, view: `<p>\${this.${a}Again${n}}</p>` }),
    // Hooks.
    () => ({
      member: `connected(scope${typed('any')}) { note('connected ' + this.${a}); scope.effect(() => note('effect ' + this.${b})); }`,
    }),
    () => ({
      member: `connected({ signal }${typed('any')}) { this.addEventListener('ping', () => note('ping'), { signal }); }`,
      step: "el.dispatchEvent(new Event('ping'))",
    }),
    () => ({ member: "disconnected() { note('disconnected'); }" }),
    () => ({ member: `attributeChanged(name${typed('string')}) { note('changed ' + name + ' ' + this.${a}); }` }),
    () => ({ member: "assembled() { note('assembled ' + this.isConnected); }" }),
    () => ({ member: `['connected']() { note('by another name'); }` }),
    () => ({
      member: `connected = (scope${typed('any')}) => { scope.on(this, 'ping', () => note('ping')); };`,
      step: "el.dispatchEvent(new Event('ping'))",
    }),
    () => ({
      member: `moved() { note('moved'); }`,
      step: 'const next = document.createElement("div"); document.body.append(next); (next.moveBefore ? next.moveBefore(el, null) : next.append(el))',
    }),
    // Parts of views.
    () => ({
      head: `import { region as region${n} } from 'eltrix/views';`,
      // Not at first: the browser makes the view of a region again that has failed on a server.
      member: `fails${n} = signal(false);`,
      step: `el.fails${n}.set(!el.fails${n}.peek())`,
      view: `\${region${n}(() => markup\`<b>\${() => { if (this.fails${n}.get()) throw new Error(this.${a}); return this.${b}; }}</b>\`, error => markup\`<i>\${String(error)}</i>\`)}`,
    }),
    () => ({
      head: `import { promised as promised${n} } from 'eltrix/views';`,
      view: `<p>\${promised${n}(() => Promise.resolve(this.${a}), { pending: () => 'pending', fulfilled: value => markup\`<b>\${value}</b>\` })}</p>`,
    }),
    () => ({
      head: `import { region as region${n} } from 'eltrix/views';\nimport './${tag}-in${n}.js';`,
      view: `\${region${n}(() => markup\`<${tag}-in${n} word=\${() => this.${a}}></${tag}-in${n}>\`, () => 'too long')}`,
      step: `return [...el.shadowRoot.querySelectorAll('${tag}-in${n}')].map(inner => inner.shadowRoot.textContent)`,
      files: {
        [`src/${tag}-in${n}.js`]: `import { contract, markup, text } from 'eltrix';\nclass In extends contract('${tag}-in${n}', { attributes: { word: text() } }) { view() { return markup\`<s>\${() => 'x'.repeat(4 - this.word.length)}</s>\`; } }\nIn.define();`,
      },
    }),
    () => ({
      member: `on${n} = signal(['x']); one${n} = signal('y');`,
      view: `<input \${sync(this.on${n})} value=\${() => 'x'} type="checkbox"><input type=\${() => this.${a} ? 'radio' : 'checkbox'} \${sync(this.one${n})} value="y">`,
      step: 'return [...el.shadowRoot.querySelectorAll("input")].map(({ checked, value }) => [checked, value])',
    }),
    () => ({
      view: `<p \${{ title: () => this.${a}, hidden: () => !this.${b}, ariaLabel: 'x', spellcheck: false, className: () => 'of ' + this.${a} }}></p><slot \${{ name: () => 's' + this.${b} }}></slot>`,
    }),
    // What other modules bring.
    () => ({
      head: `import { help${n} } from './${tag}-help${n}.js';`,
      view: `<p>\${() => help${n}(this)}</p>`,
      files: { [`src/${tag}-help${n}.js`]: `export const help${n} = host => '(' + host.${a} + ')';` },
    }),
    () => ({
      head: `import * as lib${n} from './${tag}-lib${n}.js';`,
      view: `\${lib${n}.part}\${() => lib${n}.make(this)}`,
      files: {
        [`src/${tag}-lib${n}.js`]: `import { markup } from 'eltrix';\nexport const part = 'part';\nexport const make = host => markup\`<em>\${() => host.${a}}</em>\`;`,
      },
    }),
    () => ({
      head: `import { shared${n} } from './${tag}-sheet${n}.js';`,
      sheet: `shared${n}`,
      step: "return getComputedStyle(el.shadowRoot.querySelector('p') ?? el).borderTopColor",
      files: {
        [`src/${tag}-sheet${n}.js`]: `import { stylesheet } from 'eltrix';\nexport const shared${n} = stylesheet\`p { border-top: 1px solid rgb(${n}, 2, 3); white-space: pre }\`;`,
      },
    }),
    () => ({
      head: `import { ink${n} } from './${tag}-ink${n}.js';`,
      sheet: `stylesheet\`p { color: \${ink${n}}; margin: 0 0 \${${n} + 1}px }\``,
      step: "const { color, marginBottom } = getComputedStyle(el.shadowRoot.querySelector('p') ?? el); return [color, marginBottom]",
      files: { [`src/${tag}-ink${n}.js`]: `export const ink${n} = 'rgb(1, ${n}, 3)';` },
    }),
    () => ({
      head: `import file${n} from './${tag}-${n}.css' with { type: 'css' };`,
      sheet: `file${n}`,
      step: "return getComputedStyle(el.shadowRoot.querySelector('b') ?? el).paddingLeft",
      files: { [`src/${tag}-${n}.css`]: `:host, b { padding-left: ${n}px }\nb::after { content: "a  b" }` },
    }),
    () => ({
      head: `const gap${n} = '${n}px';`,
      sheet: `stylesheet\`:host { display: block; padding: \${gap${n}} } p::before { content: '\\\\201C  x' }\``,
      step: "return [getComputedStyle(el).paddingTop, getComputedStyle(el.shadowRoot.querySelector('p') ?? el, '::before').content]",
    }),
    // What stands beside the class.
    () => ({
      head: `const { a: [first${n} = 'none'] = [], ...rest${n} } = { a: ['one'], b: 2 };`,
      view: `<p>\${first${n}}\${rest${n}.b}</p>`,
    }),
    () => ({
      head: `function markup${n}(strings${typed('any')}) { return strings[0]; }`,
      view: `\${markup${n}\`<b>\`}`,
    }),
    () => ({ head: `const label = 'outer';`, view: `<p>\${label}</p>` }),
    () => ({
      member: `inner${n}() { const markup = String.raw; return markup\`<b>\`; }`,
      view: `<p>\${this.inner${n}()}</p>`,
    }),
    () => ({
      head: `const table${n} = new Map([['k', 'v']]);`,
      view: `<p>\${() => table${n}.get('k') ?? this.${a}}</p>`,
    }),
    // A change from outside.
    () => ({ step: `el.${a} = ${value()}` }),
    () => ({ step: `el.setAttribute('${a.toLowerCase() === a ? a : 'is-open'}', ${value()})` }),
    () => ({ step: `try { el.${a} = ${value()}; el.${b} = ${value()}; } catch (error) { note(error.name) }` }),
    () => ({ step: `el.remove(); el.${a} = ${value()}; await turn(); document.body.append(el)` }),
    () => ({ step: 'el.remove(); document.body.append(el)' }),
    () => ({ step: `return [${attributes.map(name => `el.${name}`).join(', ')}]` }),
    () => ({ step: "el.shadowRoot.querySelector('button')?.click()" }),
    () => ({ step: `return el.shadowRoot.querySelector('p')?.innerText ?? null` }),
    () => ({
      step: `const copy = el.cloneNode(true); document.body.append(copy); await turn(); return copy.shadowRoot.textContent`,
    }),
  ];
  const onlyTypes: (() => Piece)[] = [
    () => ({
      head: `enum Mood${n} { Calm = 'calm', Busy = 'busy' }`,
      view: `<p>\${() => this.${a} ? Mood${n}.Calm : Mood${n}.Busy}</p>`,
    }),
    () => ({
      head: `namespace Tools${n} { export const unit = 'kg'; export const f = (x: unknown) => String(x) + unit; }`,
      view: `<p>\${() => Tools${n}.f(this.${a})}</p>`,
    }),
    () => ({
      head: `const about${n} = { a: 'x' } satisfies Record<string, string>;`,
      view: `<p>\${about${n}.a as string}\${() => (this.${a} as unknown as string)!}</p>`,
    }),
    () => ({
      head: `class Point${n} { constructor(readonly x: number, private y = 2) {} sum() { return this.x + this.y; } }`,
      view: `<p>\${new Point${n}(1).sum()}</p>`,
    }),
    () => ({
      member: `over${n}(x: string): string; over${n}(x: number): string; over${n}(x: unknown) { return typeof x; }`,
      view: `<p>\${() => this.over${n}(this.${a} as never)}</p>`,
    }),
    () => ({
      member: `declare absent${n}: string; private readonly kept${n}: string = 'kept';`,
      view: `<p>\${this.kept${n}}</p>`,
    }),
    () => ({
      member: `generic${n}<T extends object>(value: T): T { return value; }`,
      view: `<p>\${() => this.generic${n}<{ x: unknown }>({ x: this.${a} }).x}</p>`,
    }),
    () => ({
      head: `import type { Scope } from 'eltrix';\nabstract class Shape${n} { abstract area(): number; }\nclass Square${n} extends Shape${n} { override area() { return 4; } }`,
      view: `<p>\${new Square${n}().area()}</p>`,
    }),
  ];
  // Views that show attributes through functions, records, formatters and pieces, as authors write them, and what only
  // seems to be such.
  const through: (() => Piece)[] = [
    () => ({ view: `<p title=\${() => this.${a}}>\${() => \`\${this.${a}} \${this.${b}}\`}</p>` }),
    () => ({
      head: `const format${n} = (x${typed('unknown')}, unit = 'kg') => { const shown = String(x); if (shown === '') return 'none'; else return \`\${shown} \${unit}\`; };`,
      view: `<p title=\${() => format${n}(this.${a})}>\${() => format${n}(this.${b}, 'x')}</p>`,
    }),
    () => ({
      head: `function say${n}(x${typed('unknown')}) { if (x) { const x = 'yes'; return x; } }`,
      view: `<p class=\${() => say${n}(this.${a})}>\${() => say${n}(this.${a})}\${() => say${n}(!this.${b})}</p>`,
    }),
    () => ({
      member: `tell${n}() { const a = this.${a}; return a ? String(a) : null; } #tell${n}(end${typed('string')}) { return this.tell${n}() ?? end; }`,
      view: `<p>\${() => this.#tell${n}('nothing')}</p>`,
    }),
    () => ({
      member: `get word${n}() { if (this.${a}) return 'some'; return ${n}; }`,
      view: `<p>\${() => { if (!this.${b}) return this.word${n}; return 'other'; }}</p>`,
    }),
    () => ({
      head: `const words${n} = { calm: 'Calm', busy: 1 }${ts ? ' as Record<string, unknown>' : ''};`,
      view: `<p>\${() => words${n}[this.${a}${ts ? ' as string' : ''}]}</p>`,
    }),
    () => ({
      head: `const number${n} = new Intl.NumberFormat('en');`,
      view: `<p>\${() => number${n}.format(Number(this.${a}) || 0)} \${() => (Number(this.${b}) || 0).toLocaleString('de')}</p>`,
    }),
    () => ({ head: `const sheet${n} = stylesheet\`p { color: rgb(${n}, 0, 0) }\`;`, sheet: `sheet${n}` }),
    () => ({ sheet: `stylesheet\`p { margin: ${n}px }\`` }),
    () => ({
      head: `import { base${n} } from './${tag}-base${n}.js';`,
      sheet: `base${n}`,
      step: "return getComputedStyle(el.shadowRoot.querySelector('p') ?? el).color",
      files: {
        [`src/${tag}-base${n}.js`]: `import { stylesheet } from 'eltrix';\nexport const base${n} = ${next(2) ? `[stylesheet\`p { color: rgb(${n}, 1, 0) }\`]` : `stylesheet\`p { color: rgb(${n}, 2, 0) }\``};`,
      },
    }),
    // Pieces on conditions.
    () => ({
      view: `\${() => this.${a} ? markup\`<b title=\${() => this.${b}}> \${() => this.${a}} </b>x\` : this.${b}}`,
      step: `el.${a} = ${value()}; await turn(); el.${a} = ''; await turn(); el.${b} = ${value()}`,
    }),
    () => ({
      view: `<p>\${() => (this.${a} ? markup\`\${() => this.${b} && markup\`<i></i>y\`}\${() => this.${b}}\` : this.${b} ? markup\`<u>\${'u'}</u>\` : markup\`<s></s>\`)}</p>`,
      step: `el.${b} = ${value()}; await turn(); el.${a} = ${value()}; await turn(); el.${b} = ''`,
    }),
    () => ({
      view: `<ul>\${() => this.${a} && markup\`<li onclick=\${() => note('clicked ' + this.${b})}>\${() => this.${b} || markup\`<b>none</b>\`}</li>\`}</ul>`,
      step: `const li = el.shadowRoot.querySelector('li'); li?.click(); el.${b} = ${value()}; await turn(); return li === el.shadowRoot.querySelector('li')`,
    }),
    // Records of properties, `on()`, and constants of `view()`.
    () => ({
      view: `<p \${{ title: () => this.${a}, lang: 'l' + ${n}, hidden: () => !this.${b}, onclick: () => note('pressed ' + this.${a}) }}></p>`,
      step: `el.shadowRoot.querySelector('p').click(); el.${a} = ${value()}`,
    }),
    () => ({
      view: `<button \${on('click', () => note('on ' + this.${a}))}>\${() => this.${b}}</button>`,
      step: "el.shadowRoot.querySelector('button')?.click()",
    }),
    () => ({
      local: `const made${n} = () => String(this.${a}) + '!', kept${n} = this.${b};`,
      view: `<p title=\${made${n}}>\${kept${n}} \${() => made${n}() + kept${n}}</p>`,
    }),
    () => ({
      local: `const go${n} = () => note('go ' + this.${a}); const part${n} = () => this.${a} && markup\`<b onclick=\${go${n}}>\${() => this.${b}}</b>\`;`,
      view: `<button onclick=\${go${n}}></button>\${part${n}}<i>\${part${n}}</i>`,
      step: "el.shadowRoot.querySelectorAll('button').forEach(b => b.click())",
    }),
    () => ({
      local: `const either${n} = () => (this.${a} ? markup\`<b>\${() => this.${b}}</b>\` : 'no');`,
      view: `\${either${n}}<i>\${either${n}}</i>`,
      step: `el.${a} = ${value()}; await turn(); el.${a} = ''`,
    }),
    // What is evaluated once.
    () => ({
      head: `const title${n} = \`T\${${n} * 2}\`, none${n} = ${pick(next, ['null', 'true', '0', "''", 'undefined'])};`,
      view: `<p title="a \${title${n}} \${() => this.${a}}" lang=\${none${n}}>\${title${n}}\${none${n}}</p>`,
    }),
    () => ({ view: `<p title=\${this.${a}} hidden=\${!this.${b}}>\${this.${a}} \${\`\${this.${b}}!\`}</p>` }),
    () => ({
      head: `const kind${n} = text(), more${n} = { more${n}: kind${n} };`,
      member: `get kept${n}() { return '${n}'; }`,
      view: `<p>\${() => this.kept${n}}</p>`,
    }),
  ];
  const seeming: (() => Piece)[] = [
    () => ({ view: `<p title="\${this.${a}} \${() => this.${b}}">\${'x'.repeat(${n})}</p>` }),
    () => ({ view: `\${() => this.${a} && markup\`<b>\${this.${b}}</b>\`}`, step: `el.${b} = ${value()}` }),
    () => ({
      head: `function turn${n}(x${typed('unknown')})${typed('unknown')} { return String(x); }\n${ts ? '// @ts-ignore\n' : ''}const swap${n} = () => { turn${n} = x => markup\`<b>\${x}</b>\`; };`,
      member: `swap${n}() { swap${n}(); }`,
      view: `<p>\${() => turn${n}(this.${a})}</p>`,
      step: `el.swap${n}?.(); el.${a} = ${value()}`,
    }),
    () => ({
      head: `const loose${n}${typed('Record<string, unknown>')} = { calm: 'c', busy: 'b' };`,
      member: `loosen${n}() { [loose${n}.calm] = [['list']]; }`,
      view: `<p>\${() => loose${n}[this.${a}${ts ? ' as string' : ''}]}</p>`,
      step: `el.loosen${n}?.(); el.${a} = 'busy'; await turn(); el.${a} = 'calm'`,
    }),
    () => ({
      head: `const bold${n} = (x${typed('unknown')}) => (x ? markup\`<b>\${x}</b>\` : 'no');`,
      view: `<p>\${() => bold${n}(this.${a})}</p>`,
    }),
    () => ({
      head: `const count${n} = signal(0);\nconst counted${n} = (x${typed('unknown')}) => \`\${x} \${count${n}.get()}\`;`,
      member: `count${n}() { count${n}.set(count${n}.get() + 1); }`,
      view: `<p>\${() => counted${n}(this.${a})}</p>`,
      step: `el.count${n}?.()`,
    }),
    () => ({
      head: `const short${n}${typed('Record<string, unknown>')} = { calm: 'c' };`,
      view: `<p title="x \${() => short${n}[this.${a}${ts ? ' as string' : ''}]} y"></p>`,
    }),
    () => ({
      member: `made${n} = (this.odd${n} = () => markup\`<b>made</b>\`); odd${n}() { return \`\${this.${a}}\`; }`,
      view: `<p>\${() => this.odd${n}()}</p>`,
    }),
    () => ({
      member: `field${n} = () => markup\`<b>field</b>\`; field${n}() { return \`\${this.${a}}\`; }`,
      view: `<p>\${() => this.field${n}()}</p>`,
    }),
    () => ({
      head: `function who${n}(${ts ? 'this: unknown' : ''}) { return String(this === undefined) ; }`,
      view: `<p>\${() => who${n}()} \${() => this.${a}}</p>`,
    }),
  ];
  if (only === 'through') return pick(next, next(4) === 0 ? make.slice(-9) : next(15) === 0 ? seeming : through)();
  return pick(next, ts && next(4) === 0 ? onlyTypes : next(6) === 0 ? [...through, ...seeming] : make)();
}

/** The module of a seed. */
export function randomModule(seed: number, tag: string): Module {
  const next = random(seed);
  const extension = next(2) ? 'ts' : 'js';
  const attributes = Object.fromEntries(
    attributeNames.slice(0, 1 + next(attributeNames.length)).map(name => [name, pick(next, kinds)]),
  );
  const given: Piece[] = [];
  // A third can be compiled to elements without the driver.
  const isStatic = next(3) === 0;
  const hooks = new Set<string>();
  for (let n = 0, count = 2 + next(9); n < count; n++) {
    const one = piece(next, n, tag, Object.keys(attributes), extension === 'ts', isStatic ? 'through' : undefined);
    // A class has one of each hook, a module one of each name.
    const hook =
      /^(?:connected|disconnected|attributeChanged|assembled|moved)\b|^\['connected/.exec(one.member ?? '')?.[0] ??
      /const label|import type/.exec(one.head ?? '')?.[0];
    const called = hook?.replace(/\W/g, '');
    if (called && hooks.has(called)) continue;
    if (called) hooks.add(called);
    given.push(one);
  }
  return {
    tag,
    extension,
    base: isStatic ? 'itself' : pick(next, Object.keys(bases) as (keyof typeof bases)[]),
    library: isStatic ? 'named' : pick(next, Object.keys(libraries) as (keyof typeof libraries)[]),
    attributes,
    pieces: given,
  };
}

/** As what is built and run. */
export function asCase({ tag, extension, base, library, attributes, pieces }: Module): Case {
  const imported = libraries[library];
  const { head, in: written } = imported;
  const list = Object.entries(attributes).map(([name, kind]) => `${name}: ${kind}`);
  const call = written(
    `contract('${tag}', { attributes: { ${list.join(', ')} }, events: { pressed: event() }, slots: { x: slot('A slot.') } })`,
  );
  const above = bases[base](call, tag, head);
  const of = (part: Exclude<keyof Piece, 'files'>) => pieces.flatMap(one => one[part] ?? []);
  const sheets = of('sheet');
  const code = `${head}
${'head' in above ? above.head : ''}
${written(of('head').join('\n'))}
export class ${tag.replace(/(?:^|-)(.)/g, (_, letter) => letter.toUpperCase())} extends ${above.extended} {
  ${sheets.length > 0 ? `static styleSheets = [${written(sheets.join(', '))}];` : ''}
  ${written(of('member').join('\n  '))}
  ${of('view').length > 0 ? `view() { ${written(of('local').join(' '))} return ${written(`markup\`${of('view').join('\n')}\``)}; }` : ''}
}
${of('tail').join('\n')}
`;
  const others = Object.assign(
    {},
    'files' in imported ? imported.files : {},
    'files' in above ? above.files : {},
    ...pieces.map(({ files }) => files ?? {}),
  );
  const typed = (text: string) =>
    extension === 'ts'
      ? text
          .replace(/= Base =>/g, '= (Base: any) =>')
          .replace('connected(scope) { super', 'connected(scope: any) { super')
      : text;
  return {
    name: tag,
    tag,
    file: `src/${tag}.${extension}`,
    files: { [`src/${tag}.${extension}`]: typed(code), ...others },
    steps: of('step'),
  };
}

/** What is left when something is left out, from much to little. */
export function smaller(module: Module): Module[] {
  const { pieces, attributes } = module;
  const without = (from: number, count: number) => ({ ...module, pieces: pieces.toSpliced(from, count) });
  return [
    ...(pieces.length > 3 ? [without(0, pieces.length >> 1), without(pieces.length >> 1, pieces.length)] : []),
    ...pieces.map((_, at) => without(at, 1)),
    ...(module.base === 'itself' ? [] : [{ ...module, base: 'itself' as const }]),
    ...(module.library === 'named' ? [] : [{ ...module, library: 'named' as const }]),
    ...(module.extension === 'js' ? [] : [{ ...module, extension: 'js' as const }]),
    ...Object.keys(attributes).map(name => {
      const { [name]: _, ...rest } = attributes;
      return { ...module, attributes: rest };
    }),
  ];
}

/** The smallest that is found by leaving out; all that can be left out is tried in one build. */
export async function shrunk<Found extends { readonly module: Module }>(
  found: Found,
  different: (modules: readonly Module[]) => Promise<readonly Found[]>,
): Promise<Found> {
  let least = found;
  for (let round = 0; round < 8; round++) {
    // Files are named by the tag that the pieces were made with, which stays.
    const tries = smaller(least.module).map((module, at) => ({ ...module, tag: `${found.module.tag}-${round}-${at}` }));
    const [first] = await different(tries).catch(() => []);
    if (!first) break;
    least = first;
  }
  return least;
}
