/** The language server, asked by a bare client of its protocol. */
import assert from 'node:assert/strict';
import { existsSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, before, describe, it } from 'node:test';
import { project } from '../support/project.ts';
import { random, seed } from '../support/random.ts';
import { Client, marked, type Position } from './client.ts';

const card = `import { choice, contract, event, flag, markup, slot, text } from 'eltrix';

export class HiveCard extends contract('hive-card', {
  about: 'One hive at a glance.',
  attributes: {
    name: text({ about: 'Painted on the front.' }),
    mood: choice(['calm', 'busy'], { missing: 'calm', invalid: 'calm' }),
    compact: flag(),
  },
  events: { 'hive-open': event<{ name: string }>({ about: 'It was opened.' }) },
  slots: { '': slot('Notes.'), badge: slot('Stands in for the mood.') },
  parts: { gauge: 'The gauge.' },
  states: { ripe: 'Every frame is capped.' },
  cssProperties: { '--hive-accent': 'Colour of the gauge.' },
}) {
  view() {
    return markup\`<b part="gauge">\${() => this.name}</b><slot name="badge"></slot><slot></slot>\`;
  }
}
HiveCard.define();
`;
const list = `import { contract, markup } from 'eltrix';
import './hive-card.ts';

export class HiveList extends contract('hive-list', { about: 'All hives.' }) {
  view() {
    return markup\`<ul>\${() => [1].map(n => markup\`<li><hive-card name=\${n} mood="calm"><i slot="badge">!</i></hive-card></li>\`)}</ul>\`;
  }

  open() {}
}
HiveList.define();
`;
const page = `<!doctype html>
<title>Hives</title>
<script type="module" src="/dist/hive-card.js"></script>
<hive-card name="Rosemary" mood="calm"><b slot="badge">!</b></hive-card>
`;
const root = project({ 'src/hive-card.ts': card, 'src/hive-list.ts': list, 'site/index.html': page });
const client = new Client(root);

interface Item {
  readonly label: string;
  readonly textEdit?: { readonly newText: string };
}

let opened = 0;
/** Opens a document with a mark, and asks there. */
async function ask<T>(method: string, text: string, file = `site/page-${++opened}.html`): Promise<T> {
  const { text: plain, position } = marked(text);
  client.open(file, plain);
  return client.at<T>(method, file, position, method === 'references' ? { context: { includeDeclaration: true } } : {});
}

const labels = async (text: string, file?: string) => {
  const found = await ask<Item[] | { items: Item[] }>('completion', text, file);
  return (Array.isArray(found) ? found : found.items).map(({ label }) => label);
};

/** How many random edits. */
const edits = Number(process.env['ELTRIX_EDITS'] ?? 1000);

describe('types in markup', () => {
  it('are reported in the document after a save, until it is changed', async () => {
    const typed = project(
      {
        'tsconfig.json': JSON.stringify({
          compilerOptions: {
            target: 'es2022',
            module: 'esnext',
            moduleResolution: 'bundler',
            strict: true,
            noEmit: true,
          },
          include: ['src'],
        }),
        'src/hive-card.ts': card,
        'src/hive-list.ts': list.replace('mood="calm"', 'mood=${"angry"}'),
      },
      ['typescript'],
    );
    const other = new Client(typed);
    try {
      await other.begin();
      const text = readFileSync(join(typed, 'src/hive-list.ts'), 'utf8');
      other.open('src/hive-list.ts', text);
      const [found] = await other.diagnostics('src/hive-list.ts', all =>
        all.some(({ code }) => code === 'markup-type'),
      );
      assert.match(found!.message, /"angry"/);
      assert.deepEqual(found!.range.start, { line: 5, character: text.split('\n')[5]!.indexOf('"angry"') });
      other.change('src/hive-list.ts', `${text}\n`);
      await other.diagnostics('src/hive-list.ts', all => all.length === 0);
    } finally {
      other.child.kill();
    }
  });
});

describe('the language server', () => {
  before(async () => {
    const { capabilities } = await client.begin();
    for (const one of [
      'completionProvider',
      'hoverProvider',
      'definitionProvider',
      'referencesProvider',
      'codeActionProvider',
    ])
      assert.ok(capabilities[one], one);
  });
  after(() => void client.child.kill());

  it('completes tags, attributes, values, slots, parts, states and custom properties', async () => {
    assert.ok((await labels('<p><hive-|')).includes('hive-card'));
    const attributes = await labels('<hive-card |></hive-card>');
    for (const name of ['name', 'mood', 'compact']) assert.ok(attributes.includes(name), name);
    assert.deepEqual(await labels('<hive-card mood="|"></hive-card>'), ['calm', 'busy']);
    assert.deepEqual(await labels('<hive-card><b slot="|">x</b></hive-card>'), ['badge']);
    assert.deepEqual(await labels('hive-card::part(|', 'site/a.css'), ['gauge']);
    assert.deepEqual(await labels('hive-card:state(|', 'site/b.css'), ['ripe']);
    assert.deepEqual(await labels('p { --hi|', 'site/c.css'), ['--hive-accent']);
  });

  it('completes names in style sheets wherever they are, and in what is nested', async () => {
    const cases: [css: string, expected: string[]][] = [
      ['hive-card { color: red; &::part(|', ['gauge']],
      ['hive-card { @media print { .a &:state(r|) { } }', ['ripe']],
      ['@scope (hive-card) { :scope[|', ['name', 'mood', 'compact']],
      ["p, hive-card:is(a, [mood='|", ['calm', 'busy']],
      ['hive-card > [slot=|]', ['badge']],
      ['p { color: red } hive-c|', ['hive-card']],
      ['hive-card { > p:hover::part(|', ['gauge']],
      ['p { --hi|', ['--hive-accent']],
      ['p[|', []],
      ['p { co|', []],
    ];
    for (const [css, expected] of cases) {
      assert.deepEqual(await labels(css, `site/nested-${++opened}.css`), expected, css);
      assert.deepEqual(await labels(`<p>hive-card</p><style>${css}`), expected, css);
    }
    assert.deepEqual(await labels('<p style="color: red; --hi|">'), ['--hive-accent']);
    const sheet = (css: string) =>
      card.replace('  view()', `  static styleSheets = [stylesheet\`\${red} ${css}\`];\n  view()`);
    assert.deepEqual(await labels(sheet(':host(:state(|)) {}'), 'src/hive-card.ts'), []);
    const imported = (css: string) => sheet(css).replace('slot, text', 'slot, stylesheet, text');
    assert.deepEqual(await labels(imported(':host(:state(|)) {}'), 'src/hive-card.ts'), ['ripe']);
    assert.deepEqual(await labels(imported('::slotted([slot=|])'), 'src/hive-card.ts'), ['badge']);
  });

  it('completes one of several parts, and the parts and slots of the view’s element', async () => {
    const view = (html: string) => card.replace('<b part="gauge">', `${html}<b>`);
    const item = (html: string) => ask<Item[] | { items: Item[] }>('completion', view(html), 'src/hive-card.ts');
    for (const html of ['<i part="edge ga|x rim"></i>', '<hive-card exportparts="a, g|: b"></hive-card>']) {
      const [found, ...others] = [await item(html)].flatMap(list => ('items' in list ? list.items : list));
      assert.deepEqual([found?.label, others], ['gauge', []], html);
      const { start, end } = (found as unknown as { textEdit: { range: { start: Position; end: Position } } }).textEdit
        .range;
      assert.equal(end.character - start.character, html.includes('ga|x') ? 3 : 1, html);
    }
    assert.deepEqual(await labels(view('<slot name="|"></slot>'), 'src/hive-card.ts'), ['badge']);
    assert.deepEqual(await labels(view('<hive-card exportparts="gauge: |"></hive-card>'), 'src/hive-card.ts'), [
      'gauge',
    ]);
  });

  it('sends a shared range once to clients that know it, and explains a tag when it is chosen', async () => {
    const other = new Client(root);
    try {
      await other.begin({ textDocument: { completion: { completionList: { itemDefaults: ['editRange'] } } } });
      other.open('site/shared.html', '<p><hi');
      const { itemDefaults, items } = await other.at<{ itemDefaults: object; items: Item[] }>(
        'completion',
        'site/shared.html',
        { line: 0, character: 6 },
      );
      assert.deepEqual(itemDefaults, {
        editRange: { start: { line: 0, character: 4 }, end: { line: 0, character: 6 } },
      });
      const card = items.find(({ label }) => label === 'hive-card')!;
      assert.equal(card.textEdit, undefined);
      const { documentation } = await other.ask<{ documentation: { value: string } }>('completionItem/resolve', card);
      assert.match(documentation.value, /One hive at a glance/);
    } finally {
      other.child.kill();
    }
  });

  it('completes in markup of a source, also in nested templates', async () => {
    assert.deepEqual(await labels(list.replace('mood="calm"', 'mood="|"'), 'src/x.ts'), ['calm', 'busy']);
    assert.ok((await labels(list.replace('mood="calm"', 'mood="calm" on|'), 'src/y.ts')).includes('onhive-open'));
    assert.deepEqual(await labels(list.replace('slot="badge"', 'slot="|"'), 'src/z.ts'), ['badge']);
    assert.deepEqual(await labels(card.replace('part="gauge"', 'part="|"'), 'src/hive-card.ts'), ['gauge']);
    client.notify('textDocument/didClose', { textDocument: { uri: client.uri('src/hive-card.ts') } });
    for (const [at, [head, tag]] of [
      ["import * as e from 'eltrix';", 'e.markup'],
      ["import { markup } from 'eltrix';\nconst html = markup;", 'html'],
    ].entries())
      assert.deepEqual(
        await labels(`${head}\nexport const view = () => ${tag}\`<hive-card mood="|"></hive-card>\`;`, `src/v${at}.ts`),
        ['calm', 'busy'],
      );
    assert.deepEqual(await labels(list.replace('open() {}', 'open() { | }'), 'src/w.ts'), [], 'not in code');
  });

  it('explains tags, attributes and slots', async () => {
    const text = async (marked: string) => {
      const found = await ask<{ contents: { value: string } } | null>('hover', marked);
      return found?.contents.value ?? '';
    };
    assert.match(await text('<hive-|card></hive-card>'), /One hive at a glance\..*badge.*hive-open/s);
    assert.match(await text('<hive-card na|me="x"></hive-card>'), /Painted on the front/);
    assert.match(await text('<hive-card><b slot="ba|dge"></b></hive-card>'), /Stands in for the mood/);
    assert.equal(await text('<p>no|thing</p>'), '');
    assert.match(await text('<style>hive-|card { color: red }</style>'), /One hive at a glance/);
    assert.match(
      await text('<style>hive-card { &[na|me] { color: red } }</style>'),
      /^`name` of .*Painted on the front/s,
    );
    assert.equal(await text('<style>hive-card { b[na|me] { color: red } }</style>'), '');
  });

  it('reports findings and offers their fixes', async () => {
    client.open(
      'site/wrong.html',
      page.replace('mood="calm"', 'moood="calm" compact="false"').replace('"badge"', '"bagde"'),
    );
    const found = await client.diagnostics('site/wrong.html', list => list.length >= 3);
    const codes = found.map(({ code }) => code);
    for (const code of ['attribute-unknown', 'flag-false', 'slot-unknown'])
      assert.ok(
        codes.some(one => one.includes(code.split('-')[0]!)),
        `${code}: ${codes.join()}`,
      );
    const unknown = found.find(({ message }) => message.includes('moood'))!;
    assert.deepEqual(unknown.range.start, { line: 3, character: 27 });
    const actions = await client.ask<{ title: string; edit: { changes: Record<string, { newText: string }[]> } }[]>(
      'textDocument/codeAction',
      { textDocument: { uri: client.uri('site/wrong.html') }, range: unknown.range, context: { diagnostics: [] } },
    );
    assert.ok(
      actions.some(({ edit }) => JSON.stringify(edit).includes('"newText":"mood"')),
      JSON.stringify(actions),
    );
    client.change('site/wrong.html', page);
    await client.diagnostics('site/wrong.html', list => list.length === 0);
  });

  it('reports findings in markup of a source', async () => {
    client.open('src/hive-list.ts', list.replace('slot="badge"', 'slot="bagde"'));
    const [found] = await client.diagnostics('src/hive-list.ts', found => found.length > 0);
    assert.match(found!.message, /bagde/);
    assert.equal(found!.range.start.line, 5);
    // An import that TypeScript drops.
    const forTypes = "import { HiveCard } from './hive-card.ts';\nexport let first: HiveCard;";
    client.change('src/hive-list.ts', list.replace("import './hive-card.ts';", forTypes));
    const isDropped = ({ message }: { message: string }) => message.startsWith('<hive-card> is not defined');
    const all = await client.diagnostics('src/hive-list.ts', found => found.some(isDropped));
    assert.equal(all.find(isDropped)!.range.start.line, 1);
    client.change('src/hive-list.ts', list);
    await client.diagnostics('src/hive-list.ts', found => found.length === 0);
  });

  it('goes to the class, an attribute, a slot and an event', async () => {
    const to = async (marked: string, file?: string) => {
      const found = await ask<{ uri: string; range: { start: Position } } | null>('definition', marked, file);
      return found && [found.uri.split('/').at(-1), card.split('\n')[found.range.start.line]!.trim()];
    };
    assert.deepEqual(await to('<hive-|card></hive-card>'), ['hive-card.ts', card.split('\n')[2]]);
    assert.match((await to('<hive-card mo|od="calm"></hive-card>'))![1]!, /^mood: choice/);
    assert.match((await to('<hive-card><b slot="bad|ge"></b></hive-card>'))![1]!, /^slots:/);
    assert.match((await to(list.replace('mood="calm"', 'onhive-o|pen=${this.open}'), 'src/v.ts'))![1]!, /^events:/);
  });

  it('finds every reference, in pages and in markup', async () => {
    const uses = async (marked: string) => {
      const found = await ask<{ uri: string; range: { start: Position } }[]>('references', marked);
      return found.map(({ uri, range }) => `${uri.slice(client.uri('').length)}:${range.start.line + 1}`).sort();
    };
    assert.deepEqual(await uses('<hive-|card></hive-card>'), [
      'site/index.html:4',
      'site/index.html:4',
      'src/hive-card.ts:3',
      'src/hive-list.ts:6',
      'src/hive-list.ts:6',
    ]);
    assert.deepEqual(await uses('<hive-card na|me="x"></hive-card>'), [
      'site/index.html:4',
      'src/hive-card.ts:6',
      'src/hive-list.ts:6',
    ]);
    assert.deepEqual(await uses('<hive-card><b slot="bad|ge"></b></hive-card>'), [
      'site/index.html:4',
      'src/hive-card.ts:11',
      'src/hive-card.ts:17',
      'src/hive-list.ts:6',
    ]);
  });

  it('follows saved files, and keeps the last contracts while a source does not parse', async () => {
    const file = join(root, 'src/hive-card.ts');
    const save = (text: string) => {
      // In one step: a reading that meets an emptied file would take it for a source without elements.
      writeFileSync(`${file}.new`, text);
      renameSync(`${file}.new`, file);
      client.notify('workspace/didChangeWatchedFiles', { changes: [{ uri: client.uri('src/hive-card.ts'), type: 2 }] });
    };
    client.open('site/new.html', '<hive-card colour="red"></hive-card>');
    await client.diagnostics('site/new.html', found => found.some(({ message }) => message.includes('colour')));
    save(card.replace('compact: flag(),', 'compact: flag(),\n    colour: text(),'));
    await client.diagnostics('site/new.html', found => !found.some(({ message }) => message.includes('colour')));
    save(card.replace('compact: flag(),', 'compact: flag('));
    await client.diagnostics('site/new.html', found => !found.some(({ message }) => message.includes('colour')));
    assert.ok((await labels('<hive-|')).includes('hive-card'));
    save(card);
    await client.diagnostics('site/new.html', found => found.some(({ message }) => message.includes('colour')));
  });

  it('knows an unsaved contract', async () => {
    client.open('src/hive-card.ts', card);
    client.open('site/typed.html', '<hive-card colour="red"></hive-card>');
    await client.diagnostics('site/typed.html', found => found.some(({ message }) => message.includes('colour')));
    client.change('src/hive-card.ts', card.replace('compact: flag(),', 'compact: flag(),\n    colour: text(),'));
    await client.diagnostics('site/typed.html', found => !found.some(({ message }) => message.includes('colour')));
    client.change('src/hive-card.ts', card);
    await client.diagnostics('site/typed.html', found => found.some(({ message }) => message.includes('colour')));
  });

  it('handles a deleted element, a project without elements, and documents that are not files', async () => {
    const other = project({ 'site/one.html': '<p></p>' });
    const uri = new URL(`file://${other}/site/one.html`).href;
    client.notify('textDocument/didOpen', { textDocument: { uri, languageId: 'html', version: 1, text: '<p></p>' } });
    const place = { textDocument: { uri }, position: { line: 0, character: 1 } };
    assert.ok(await client.ask('textDocument/completion', place));
    assert.equal(await client.ask('textDocument/definition', place), null);
    client.notify('textDocument/didOpen', {
      textDocument: { uri: 'untitled:1', languageId: 'html', version: 1, text: '<p' },
    });
    assert.deepEqual(
      await client.ask('textDocument/completion', { ...place, textDocument: { uri: 'untitled:1' } }),
      [],
    );
    const extra = join(root, 'src/old-card.ts');
    writeFileSync(extra, card.replaceAll('hive-card', 'old-card').replaceAll('HiveCard', 'OldCard'));
    client.notify('workspace/didChangeWatchedFiles', { changes: [{ uri: client.uri('src/old-card.ts'), type: 1 }] });
    client.open('site/old.html', '<old-card nme="x"></old-card>');
    await client.diagnostics('site/old.html', found => found.some(({ message }) => message.includes('nme')));
    rmSync(extra);
    client.notify('workspace/didChangeWatchedFiles', { changes: [{ uri: client.uri('src/old-card.ts'), type: 3 }] });
    await client.diagnostics('site/old.html', found => !found.some(({ message }) => message.includes('nme')));
    assert.ok(!existsSync(extra));
  });

  it('survives 1,000 random edits with requests in between, cancelled ones, and a document of 2 MB', async () => {
    const next = random(seed);
    const words = [
      '<hive-card ',
      'mood="',
      '">',
      '</hive-card>',
      '<b slot="badge">',
      '<',
      '"',
      '\n',
      '${',
      '}',
      '`',
      'é',
      '😀',
      '<!--',
      'x',
    ];
    // A page, a sheet and a source, each with random edits of its original.
    const origins: Record<string, string> = {
      'site/random.html': page,
      'site/random.css': 'hive-card::part(gauge) { --hive-accent: red } hive-card:state(ripe) { color: red }\n',
      'src/random.ts': list,
    };
    const texts = { ...origins };
    for (const [file, text] of Object.entries(texts)) client.open(file, text);
    const methods = ['completion', 'hover', 'definition', 'documentSymbol', 'foldingRange', 'linkedEditingRange'];
    const more = ['prepareRename', ...methods];
    for (let step = 0; step < edits; step++) {
      const file = Object.keys(texts)[next(3)]!;
      const before = texts[file]!;
      const at = next(before.length + 1);
      const end = Math.min(before.length, at + next(12));
      const edited = before.slice(0, at) + (next(4) > 0 ? words[next(words.length)]! : '') + before.slice(end);
      const text = edited.length > 4000 || next(200) === 0 ? origins[file]! : edited;
      texts[file] = text;
      client.change(file, text);
      const ahead = text.slice(0, next(text.length + 1)).split('\n');
      const position = { line: ahead.length - 1, character: ahead.at(-1)!.length };
      const method = more[next(more.length)]!;
      const params = { textDocument: { uri: client.uri(file) }, position };
      if (step % 10 === 0) await client.cancelled(`textDocument/${method}`, params);
      else {
        const answer = await client.ask<unknown>(`textDocument/${method}`, params);
        // What is elsewhere has the places of another document.
        if (method === 'definition') continue;
        const lines = text.split('\n');
        for (const [, line, character] of JSON.stringify(answer ?? '').matchAll(/"line":(\d+),"character":(\d+)/g))
          assert.ok(
            Number(line) < lines.length && Number(character) <= lines[Number(line)]!.length + 1,
            `${method} ${step} ${file}`,
          );
      }
    }
    client.open('site/long.html', page + '<p>word</p>\n'.repeat(170_000));
    assert.ok(await client.at('hover', 'site/long.html', { line: 3, character: 3 }));
    assert.equal(client.logged.filter(line => /\n\s+at /.test(line)).join('\n'), '');
  });

  it('exits on request, and when its client has ended', async () => {
    assert.equal(await client.end(), 0);
    const gone = new Client(root);
    await gone.begin();
    const ended = new Promise(resolve => gone.child.once('exit', resolve));
    gone.child.stdin.end();
    await ended;
    assert.ok(readFileSync(join(root, 'src/hive-card.ts'), 'utf8') === card);
  });
});
