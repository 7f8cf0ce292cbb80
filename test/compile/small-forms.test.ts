/** Views that are compiled to little code however they are written, and those that only look so. */
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { it } from 'node:test';
import { eltrix as plugin } from 'eltrix-tool/vite';
import { build as bundle } from 'vite';
import { loaded } from '../../bench/ladder-sizes.ts';
import { project } from '../support/project.ts';
import { build, element } from './form-project.ts';

/** Ways to write a view that shows attributes. None needs more of the runtime than the first. */
const ways: Record<string, readonly [view: string, body?: string, head?: string]> = {
  'in place': ['<p>${() => this.label}</p>'],
  'a method': ['<p>${() => this.shown()}</p>', 'shown() { return this.label.toUpperCase(); }'],
  'a private method': ['<p title=${() => this.#shown(3)}></p>', '#shown(by: number) { return this.size + by; }'],
  'a getter with conditions': [
    '<p>${() => this.shown}</p>',
    "get shown() { const unit = 'kg'; if (this.size === 1) return 'one'; return `${this.size} ${unit}`; }",
  ],
  'a private getter': [
    '<p title=${() => -this.#shown}>${() => (this.#shown > 3 ? "many" : this.label)}</p>',
    'get #shown() { return this.size * 2; }',
  ],
  'an expression with statements': ["<p>${() => { if (this.size > 1) return 'many'; return 'few'; }}</p>"],
  'a function of the module': ['<p>${() => shown(this.size)}</p>', '', 'const shown = (n: number) => n.toFixed(1);'],
  'a declared function with a default': [
    "<p class=${() => shown(this.label)}>${() => shown(this.label, '!')}</p>",
    '',
    "function shown(text: string, end = '.') { return text + end; }",
  ],
  'a formatter': ['<p>${() => format.format(this.size)}</p>', '', "const format = new Intl.NumberFormat('en');"],
  'a record of words': ['<p>${() => words[this.mood]}</p>', '', "const words = { calm: 'Calm', busy: 'Busy' };"],
  'a text that stays': [
    "<p title=${title} class='a ${kind} ${() => this.mood} b'>${title} ${() => this.label} ${'!'} ${most + 1}</p>",
    '',
    "const title = `Hive ${1}`;\nconst kind = 'k';\nconst most = 3;",
  ],
  'an attribute as it is at first': ['<p title=${this.label}>${this.size} ${() => this.label}</p>'],
  'markup on a condition': [
    '<p>${() => this.size > 1 && markup`<b title=${() => this.label}>${() => this.size}</b>`}</p>',
  ],
  'one of several pieces, one inside another': [
    "${() => (this.mood === 'busy' ? markup`<b>${() => (this.size ? markup`<i onclick=${this.go}>${'!'}</i>` : this.label)}</b>` : this.label ? markup`<s></s>` : 'none')}",
    'go() {}',
  ],
  'a record of properties': [
    "<p ${{ title: () => this.label, hidden: () => this.size > 1, onclick: this.go, lang: 'en' }}>${() => this.label}</p>",
    'go() {}',
  ],
  'on() without options': [
    "<p ${on('click', this.go)}>${() => this.label}</p>",
    'go() {}',
    "import { on } from 'eltrix';",
  ],
  'constants of view()': [
    "view() { const many = () => this.size > 1; const title = 'Hive'; const first = this.label; const go = () => { this.size++; }; return markup`<p title=${title} class=${many} onclick=${go}>${() => (many() ? title : first)}</p>`; }",
  ],
  'a piece in a constant of view()': [
    'view() { const part = () => this.size > 1 && markup`<b></b>`; return markup`<p>${part}</p>${part}`; }',
  ],
  'its root in a method': [
    '<p onclick=${this.go}>${() => this.label}</p>',
    "go(event: any) { this.shadowRoot!.querySelector('p')!.focus(); event.target.form?.validate(); }",
  ],
  'several sheets': [
    '<p>${() => this.label}</p>',
    'static styleSheets = [base, stylesheet`p { color: red }`];',
    'const base = stylesheet`:host { display: block }`;',
  ],
  'a sheet of another module': [
    '<p>${() => this.label}</p>',
    'static styleSheets = [base, stylesheet`p { color: red }`];',
    "import { base } from './given.js';",
  ],
  'functions and constants of another module': [
    "<p title='${title} ${() => far.title}'>${() => shown(this.size)} ${() => plain(this.label)} ${() => far.default(title)}</p>",
    '',
    "import plain, { shown, title } from './given.js';\nimport * as far from './given.js';",
  ],
  'records of another module': [
    '<p title=${words.calm} lang=${() => fixed.busy.toUpperCase()}>${() => words[this.mood]} ${() => fixed[this.mood]} ${() => (this.size ? fixed.calm : far.fixed.busy)}</p>',
    '',
    "import { words, fixed } from './given.js';\nimport * as far from './given.js';",
  ],
  'members of enums': [
    "<p title=${Level.Busy}>${() => (this.mood === Mood.Calm ? Level['Calm'] + 1 : Mood['very busy'].toUpperCase())}</p>",
    '',
    "import { Level } from './given.js';\nenum Mood { Calm = 'calm', 'very busy' = 'b' }",
  ],
  'fields of a record': [
    "<p>${words.calm} ${() => this.size + words.most} ${() => words.shown(this.size)} ${() => made['calm']}</p>",
    '',
    "const words = { calm: 'Calm', most: 3, shown: (n: number) => `${n}!` };\nconst made = { calm: words.calm } as const;",
  ],
  'members that a method takes at once': [
    '<p onclick=${this.go}>${() => this.label}</p>',
    'go() { const { label, size: many } = this; this.label = label + many; }',
  ],
  'a listener that is a function': [
    '<p onclick=${go} ${{ onfocus: far.go }}>${() => this.label}</p>',
    '',
    "import * as far from './given.js';\nfunction go() {}",
  ],
};

/** What other modules give to the views. */
const given =
  "import { stylesheet } from 'eltrix';\nexport const base = stylesheet`:host { display: block }`;\n" +
  "export interface Far { title: string }\nexport type { Far as Other } from './more.js';\n" +
  "export { default, title } from './more.js';\nimport { more } from './more.js';\n" +
  "export const shown = (n: number, unit = 'kg') => `${more.format(n)} ${unit}`;\nexport function go() {}\n" +
  "export const words = Object.freeze({ calm: 'Calm', busy: 'Busy' });\nexport const fixed = { calm: 'Calm', busy: 'Busy' } as const;\nexport const loose = { calm: 'Calm', busy: 'Busy' };\n" +
  "export let last = 'a';\nexport const counted = (n: number) => { last += n; return n; };\nexport function again(n: number): number { return n; }\n" +
  'export const ways = { shown: (n: number) => n };\n' +
  'export enum Level { Calm, Busy }\n' +
  'again = (n => [n]) as never;\nexport const far = stylesheet;\nexport const listed = (n: number) => [n];\n' +
  "export const titled = (title: string) => (title ? title.trim() : '–');\nexport function typed(task: { title: string }): string | null { for (const one of [task]) return one.title; return null; }\n";
const more =
  'export interface Far extends Near { at: Near[] }\ninterface Near { title: number }\n' +
  "export const more = new Intl.NumberFormat('en');\nexport const title = 'Hive';\nexport default function (text: string) { return text.trim(); }\n";

/** Ways that only look so: what is shown may be a list, or depend on something else. */
const others: typeof ways = {
  'an element that is taken apart further': [
    '<p onclick=${this.go}>${() => this.label}</p>',
    'go() { const { label, ...others } = this; return others; }',
  ],
  'a callback that is assigned': [
    '<p>${() => this.label}</p>',
    'static { [this.prototype.adoptedCallback] = [() => null] as any; }',
  ],
  'a callback that is assigned as any': [
    '<p>${() => this.label}</p>',
    'static { (this.prototype.adoptedCallback as any) = () => null; }',
  ],
  'a method that a field hides': ['<p>${() => this.shown()}</p>', 'shown = () => [1, 2]; shown() { return 1; }'],
  'a method that is assigned': [
    '<p>${() => this.shown()}</p>',
    'made = (this.shown = () => [1, 2]); shown() { return 1; }',
  ],
  'a function that is assigned': [
    '<p>${() => shown(1)}</p>',
    'swap() { [shown] = [() => [1]]; }',
    'function shown(n) { return n; }',
  ],
  'a record that is changed': [
    '<p>${() => words[this.mood]}</p>',
    'swap() { words.calm = [1]; }',
    "const words = { calm: 'Calm' };",
  ],
  'a record without a word for each value, inside a text': [
    '<p title="x ${() => words[this.level]} y"></p>',
    '',
    "const words = { low: 'Low', high: 'High' };",
  ],
  'a formatter of the present time': ['<p>${() => day.format()}</p>', '', "const day = new Intl.DateTimeFormat('en');"],
  'a function with this': ['<p>${() => shown()}</p>', '', 'function shown() { return this.label; }'],
  'a function with a this parameter': [
    '<p>${() => shown(1)}</p>',
    '',
    'function shown(this: void, n?: unknown) { return n; }',
  ],
  'an attribute as it is at first, inside a text': ['<p title="${this.label} ${() => this.size}"></p>'],
  'a piece with an attribute as it is when the piece is made': ['${() => this.size && markup`<p>${this.label}</p>`}'],
  'a piece that is made once': ['${this.size && markup`<p>${() => this.label}</p>`}'],
  'a piece with a variable of its function': [
    '${() => { const n = this.size; return n > 1 && markup`<p>${() => n}</p>`; }}',
  ],
  'a piece inside an attribute': ['<p title=${() => this.size && markup`<p></p>`}></p>'],
  'a value of a field in a record': ['<input ${{ value: () => this.label }}>'],
  'a list in a constant of view()': [
    'view() { const all = [1, 2]; return markup`<p>${all} ${() => this.label}</p>`; }',
  ],
  'a constant of view() that a parameter hides': [
    'view() { const n = 1; const of = (n: unknown) => n; return markup`<p>${() => `${of([n])}`}</p>`; }',
  ],
  'a piece in a constant that more is done with': [
    'view() { const part = () => this.size > 1 && markup`<b></b>`; return markup`<p onclick=${() => console.log(part())}>${part}</p>`; }',
  ],
  'something done in view()': ['view() { this.title = "x"; return markup`<p>${() => this.label}</p>`; }'],
  'a list that stays': ['<p>${all}</p>', '', 'const all = [1, 2];'],
  'a text that may not be made': ['<p>${this.label.repeat(this.size)}</p>'],
  'a function of another module that does more': [
    '<p>${() => counted(this.size)}</p>',
    '',
    "import { counted } from './given.js';",
  ],
  'a function of another module that is assigned': [
    '<p>${() => again(this.size)}</p>',
    '',
    "import { again } from './given.js';",
  ],
  'a function of another module that makes a list': [
    '<p>${() => listed(this.size)}</p>',
    '',
    "import { listed } from './given.js';",
  ],
  'a variable of another module': ['<p>${() => last}</p>', '', "import { last } from './given.js';"],
  'a record of another module that may be changed': [
    '<p>${() => loose[this.mood]} ${() => loose.calm}</p>',
    '',
    "import { loose } from './given.js';",
  ],
  'functions in a record of another module': [
    '<p>${() => ways.shown(this.size)}</p>',
    '',
    "import { ways } from './given.js';",
  ],
  'a record of another module in JavaScript': ['<p>${() => open.calm}</p>', '', "import { open } from './plain.js';"],
  'a field of a record that is removed': [
    '<p>${() => words.calm}</p>',
    'go() { delete (words.calm as any); }',
    "const words = { calm: 'Calm' };",
  ],
  'a record with a method that changes it': [
    '<p>${() => words.calm}</p>',
    'go() { (words.swap)(); words.swap!(); }',
    "const words = { calm: 'Calm', swap: function (this: any) { this.calm = [1]; } };",
  ],
  'a field of a record that is given away': [
    '<p>${() => words.calm}</p>',
    'go() { Object.assign(words, { calm: [1] }); }',
    "const words = { calm: 'Calm' };",
  ],
  'a member of an enum by a choice': ['<p>${() => Mood[this.mood]}</p>', '', 'enum Mood { calm = 1, busy }'],
  'a member of an enum that depends on another': [
    '<p>${() => Mood.Both}</p>',
    '',
    'const Calm = [1];\nenum Mood { Calm = 1, Both = Calm | 2 }',
  ],
  'a record in a record': ['<p>${() => words.mood.calm}</p>', '', "const words = { mood: { calm: 'Calm' } };"],
  'a name of another module that a parameter hides': [
    '<p>${() => this.label}${() => ((shown: any) => shown([1]))((n: unknown) => n)}</p>',
    '',
    "import { shown } from './given.js';",
  ],
  'a function of a package': ['<p>${() => e.classText([this.label])}</p>'],
  'a signal in a function': [
    '<p>${() => shown(this.size)}</p>',
    '',
    'const much = e.signal(1);\nconst shown = n => n * much.get();',
  ],
};

/** The same for views that show data. */
const task =
  'interface Named { title: string }\ninterface Task extends Named { done?: boolean; tags: string[]; by: { name: string } | null }\ntype Tasks = readonly Task[];\nenum Mood { Calm, Busy = "busy" }\ntype Placed = Task & { mood: Mood };\n';
const dataWays: typeof ways = {
  'in place': ['<p>${() => this.label} ${() => this.task?.title}</p>'],
  'members of members': [
    "<p title='a ${() => this.task?.by?.name ?? ''}'>${() => this.task!.by!.name.toUpperCase()}</p>",
  ],
  'an item of a list, and how many there are': ['<p>${() => this.tasks[0]?.title} ${() => this.tasks.length}</p>'],
  'methods of members that may be nothing': [
    '<p>${() => this.task?.title.trim()} ${() => this.task?.by?.name?.length} ${() => this.task!.tags[0]?.slice(1)}</p>',
  ],
  'a type made of two, and an enum': ['<p>${() => this.placed?.title} ${() => this.placed?.mood}</p>'],
  'a list as text': ["<p>${() => this.task?.tags.join(', ')}</p>"],
  'a literal, by its type': ['<p>${() => this.count + 1} ${() => this.word.length} ${() => (this.isOn ? 1 : 2)}</p>'],
  'an object as a condition': ['<p>${() => this.task && markup`<b>${() => this.task?.title}</b>`}</p>'],
  'an object as a property': ['<p ${{ lang: () => this.word, task: () => this.task, any: () => this.any }}></p>'],
  'a value without a type as a condition': ['<p hidden=${() => !this.any}>${() => (this.any === 1 ? 1 : 2)}</p>'],
  'a type of another module': ['<p>${() => this.far.title}</p>', '', "import type { Far } from './given.js';"],
  'a type that another module passes on': [
    '<p>${() => this.far.title} ${() => this.far.at[0]?.title}</p>',
    '',
    "import { type Other as Far } from './given.js';",
  ],
  'a value with a type where it is read': ['<p>${() => (this.any as Task).title}</p>'],
  'a getter': [
    '<p>${() => this.shown}</p>',
    "get shown() { return this.task?.done ? 'done' : this.task?.title ?? ''; }",
  ],
  hooks: ['<p>${() => this.task?.title}</p>', 'propertyChanged() {} connected() {}'],
  'a live list': [
    '<p>${() => this.notes.length} ${() => this.notes[0]?.title}</p>',
    'add() { this.notes.push(this.task!); }',
  ],
};
const otherData: typeof ways = {
  'a value without a type': ['<p>${() => this.any}</p>'],
  'a member without a type': ['<p>${() => this.any.title}</p>'],
  'a value whose type is none': ['<p>${() => (this.any as unknown)}</p>'],
  'an object': ['<p>${() => this.task}</p>'],
  'an object or nothing': ["<p>${() => this.task ?? 'none'}</p>"],
  'an object in a text': ['<p title="a ${() => this.task} b"></p>'],
  'a condition that may give an object': ["<p>${() => (this.count ? this.task : '')}</p>"],
  'an object that is converted': ["<p>${() => this.any + ''}</p>"],
  'an object that is compared': ["<p>${() => (this.any == 'x' ? 1 : 2)}</p>"],
  'an item that is a list': ['<p>${() => this.lists[0]}</p>'],
  'a list of lists as text': ['<p>${() => this.lists.join()}</p>'],
  'a list itself': ['<p>${() => this.task?.tags}</p>'],
  'a type that another module does not export': [
    '<p>${() => this.far.title}</p>',
    '',
    "import type { Near as Far } from './more.js';",
  ],
  'a type of a package': ['<p>${() => this.far.title}</p>', '', "import type { Scope as Far } from 'eltrix';"],
  'a type with the name of a parameter': [
    '<p>${() => this.task?.title}</p>',
    '',
    'function f<Task>(task: Task) { return task; }',
  ],
  'a method of an object': ['<p>${() => this.task!.tags.at(0)}</p>'],
  'a member that is declared twice': ['<p>${() => this.task?.title}</p>', '', 'interface Task { title: string }'],
  'a property that the class declares again': ['<p>${() => this.count}</p>', 'count = [1] as never;'],
};

/** Lists whose content has a type do without what shows any value. */
const rows = (shown: string, items = '() => this.tasks') =>
  `<ul>\${each(${items}, (task, at) => at, (task, at) => markup\`<li>${shown}</li>\`)}</ul>`;
const listWays: typeof ways = {
  'in place': [rows('${() => task().title}')],
  'the number of a row': [rows('${() => at() + 1}: ${() => at()}')],
  'items that are chosen': [rows('${() => task().by?.name}', '() => this.tasks.filter(task => task.done).toSorted()')],
  'a list that stays': [rows('${() => task().tags.length}', 'this.tasks')],
  'functions with items': [
    rows('${() => named(task())} ${() => far.titled(task().title)} ${() => `${far.typed(task())}`}'),
    '',
    "import * as far from './given.js';\nconst named = (task: Task) => task.by?.name + '!';",
  ],
  'functions of other modules, by the types that they state': [
    rows('${() => typed(task())} ${() => titled(task().title)}'),
    '',
    "import { titled, typed } from './given.js';",
  ],
  'rows in rows': [
    rows('<b>${each(() => task().tags, tag => tag, tag => markup`${() => tag()} of ${() => task().title}`)}</b>'),
  ],
};
/** Elements with these lists are static. */
const staticLists: typeof ways = {
  'in several lines': [rows('\n  <b>${() => task().title}</b>\n  ${() => task().by?.name}\n')],
  'constants of a row': [
    '<ul>${each(() => this.tasks, task => task, task => { const { title, done } = task(); const go = () => console.log(title); return markup`<li onclick=${go} class=${title}>${done}${() => task().by!.name}</li>`; })}</ul>',
  ],
  'an item as a property, a condition and the element': [
    rows(
      '<b ${{ lang: () => task().title, any: task, onclick: () => this.go(task()) }}>${() => task().done && markup`<i>${() => at()}</i>`}</b>${() => this.count}',
    ),
    'go(task: Task) {}',
  ],
  'signals of items': [
    rows('${() => task().level.get() + 1}', '() => this.any as Cell[]'),
    '',
    "import type { Signal } from 'eltrix';\ninterface Cell { level: Signal<number> }",
  ],
  'a list in a piece': [`\${() => this.tasks.length > 0 && markup\`${rows('${() => task().title}')}\`}`],
};
const otherLists: typeof ways = {
  'an object of a row': [rows('${() => task()}')],
  'a function without a type for what it gives': [
    rows('${() => given(task())}'),
    '',
    'const given = (task: Task) => task.tags;',
  ],
  'a parameter that another variable hides': [
    rows('${() => given(task().title)}'),
    '',
    'function given(title: string) { if (title) { const title = [1] as any; return title; } return title; }',
  ],
  'a function of another module that gives a list': [
    rows('${() => listed(at())}'),
    '',
    "import { listed } from './given.js';",
  ],
  'a name that hides an item': [rows('${() => { const task = () => [1]; return task(); }}')],
  'items without a type': [rows('${() => task().title}', '() => this.any')],
  'items that a method makes': [rows('${() => task().title}', '() => this.tasks.map(task => ({ title: [task] }))')],
  'rows of another function': [
    '<ul>${rows(() => this.tasks, (task, at) => at, task => markup`<li>${() => task().title}</li>`)}</ul>',
    '',
    'const rows = (...given: any) => e.each(...(given as [any, any, any]));',
  ],
};

for (const [what, call, small, large, head] of [
  [
    'attributes',
    "contract('bee-form', { attributes: { label: text(), size: integer(), mood: choice(['calm', 'busy'], { missing: 'calm', invalid: 'calm' }), level: choice(['low', 'high']) } })",
    ways,
    others,
    '',
  ],
  [
    'data',
    "contract('bee-form', { attributes: { label: text() }, properties: { task: data<Task | null>(() => null), tasks: data((): Tasks => []), count: data(() => 0), word: data(() => ''), isOn: data(() => false), any: data<any>(() => null), lists: data(() => [] as string[][]), far: data<Far>(() => null), notes: live<Task[]>(() => []), placed: data<Placed | null>(() => null) } })",
    dataWays,
    otherData,
    `import { live } from 'eltrix';\n${task}`,
  ],
  [
    'lists',
    "contract('bee-form', { properties: { tasks: data((): Tasks => []), any: data<any>(() => []), count: data(() => 0) } })",
    staticLists,
    otherLists,
    `import { each } from 'eltrix';\n${task}`,
  ],
] as const)
  it(`a view that shows ${what} is as small however it is written`, () => {
    const all = { ...small, ...large };
    const sources = Object.values(all).map(([shown, body = '', more = '']) =>
      element(
        call,
        `${body} ${shown.startsWith('view()') ? shown : `view() { return markup\`${shown}\`; }`}`,
        head + more,
      ),
    );
    const { root, stdout, stderr } = build(sources, {
      'src/given.ts': given,
      'src/more.ts': more,
      'src/plain.js': "export const open = { calm: 'Calm' };",
    });
    assert.equal(stderr, '');
    assert.doesNotMatch(stdout, /not-compiled/);
    const built = sources.map((_, at) => {
      const files = loaded(join(root, 'dist'), `bee-form-${at}.js`);
      return [...files].reduce((sum, file) => sum + readFileSync(join(root, 'dist', file)).length, 0);
    });
    const tooLarge = Object.keys(all).filter((_, at) => built[at]! > built[0]! * (what === 'lists' ? 1.2 : 1.6));
    assert.deepEqual(tooLarge, Object.keys(large), `${built}`);
  });

it('a list whose content has a type needs nothing that shows any value, however it is written', async () => {
  const call =
    "contract('bee-form', { properties: { tasks: data((): Tasks => []), any: data<any>(() => []), count: data(() => 0) } })";
  const all = { ...staticLists, ...listWays, ...otherLists };
  const sources = Object.values(all).map(([shown, body = '', before = '']) =>
    element(call, `${body} view() { return markup\`${shown}\`; }`, `import { each } from 'eltrix';\n${task}${before}`),
  );
  const files = sources.map((source, at) => [`src/form-${at}.ts`, source] as const);
  const root = project({ ...Object.fromEntries(files), 'src/given.ts': given, 'src/more.ts': more });
  const { output } = (await bundle({
    root,
    configFile: false,
    logLevel: 'silent',
    plugins: [plugin()],
    build: {
      write: false,
      minify: false,
      rolldownOptions: {
        input: files.map(([file]) => join(root, file)),
        external: /^eltrix(?:\/|$)/,
        output: { entryFileNames: '[name].js' },
      },
    },
  })) as { output: readonly { fileName: string; code: string }[] };
  const code = files.map((_, at) => output.find(({ fileName }) => fileName === `form-${at}.js`)!.code);
  const any = Object.keys(all).filter((_, at) => code[at]!.includes('bindContent'));
  assert.deepEqual(any, Object.keys(otherLists));
});
