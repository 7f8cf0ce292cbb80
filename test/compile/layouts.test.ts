/** Projects laid out in the ways there are. */
import assert from 'node:assert/strict';
import { cpSync, mkdirSync, readdirSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { describe, it } from 'node:test';
import { eltrix, repository, temporary } from '../support/project.ts';

const head = "import { contract, markup, text } from 'eltrix';\n";
const card = (more = '', shown = '${() => this.label}', tag = 'bee-card') =>
  `${head}${more}\nexport class BeeCard extends contract('${tag}', { attributes: { label: text() } }) { view() { return markup\`<p>${shown}</p>\`; } }\n`;

function write(root: string, files: Record<string, string>): void {
  for (const [name, text] of Object.entries({ 'package.json': '{ "type": "module" }', ...files })) {
    mkdirSync(dirname(join(root, name)), { recursive: true });
    writeFileSync(join(root, name), text);
  }
}

/** The library in a folder's node_modules, as a link. */
function link(root: string, target = join(repository, 'packages/eltrix')): void {
  mkdirSync(join(root, 'node_modules'), { recursive: true });
  symlinkSync(target, join(root, 'node_modules/eltrix'));
}

const layouts: Record<string, (place: string) => string> = {
  'a folder with spaces and letters beyond ASCII': place => {
    const root = join(place, 'Bienen häuser (2)');
    write(root, {
      'src/größe/bee-card.ts': card("import { say } from './wörter.ts';", '${say}'),
      'src/größe/wörter.ts': "export const say = 'said';",
    });
    link(root);
    return root;
  },
  'npm workspaces, with sources of a neighbour': place => {
    write(place, {
      'package.json': '{ "private": true, "workspaces": ["packages/*"] }',
      'packages/words/package.json': '{ "name": "words", "type": "module", "exports": "./index.ts" }',
      'packages/words/index.ts': "export const say: string = 'said';",
      'packages/cards/package.json': '{ "name": "cards", "type": "module", "dependencies": { "words": "*" } }',
      'packages/cards/src/bee-card.ts': card("import { say } from 'words';", '${say}'),
    });
    link(place);
    symlinkSync('../packages/words', join(place, 'node_modules/words'));
    return join(place, 'packages/cards');
  },
  'a neighbour that has the library from nowhere': place => {
    write(place, {
      'app/src/bee-card.ts': card(
        "import { Hub } from '../../far/hub.ts';\nexport const hub = new Hub();",
        '${String(hub.said)}',
      ),
      'app/package.json': '{ "type": "module" }',
      'far/hub.ts':
        "import { Base } from './base.ts';\nexport class Hub extends Base { said = 'said'; connected() { this.emit('x'); } emit(type: string) { return type; } }",
      'far/base.ts': 'export class Base { states = new Set<string>(); }',
    });
    link(join(place, 'app'));
    return join(place, 'app');
  },
  'a store below a dotted folder': place => {
    const store = join(place, 'node_modules/.pnpm/eltrix@0.1.0/node_modules/eltrix');
    mkdirSync(dirname(store), { recursive: true });
    cpSync(join(repository, 'packages/eltrix'), store, { recursive: true, filter: from => !from.includes('/src') });
    write(place, { 'src/bee-card.ts': card('', 'said') });
    symlinkSync('.pnpm/eltrix@0.1.0/node_modules/eltrix', join(place, 'node_modules/eltrix'));
    return place;
  },
  'below a dotted folder': place => {
    const root = join(place, '.work/app');
    write(root, { 'src/bee-card.ts': card('', 'said') });
    link(root);
    return root;
  },
  'lines that end as on Windows': place => {
    write(place, {
      'src/bee-card.ts': card("import { say } from './say.ts';", '${say}').replaceAll('\n', '\r\n'),
      'src/say.ts': "export const say = 'said';\r\n",
    });
    link(place);
    return place;
  },
  'JavaScript only': place => {
    write(place, {
      'src/bee-card.js': card("import { say } from './say.mjs';", '${say}'),
      'src/say.mjs': "export const say = 'said';",
    });
    link(place);
    return place;
  },
  'a file for TypeScript with elements of a framework': place => {
    write(place, {
      'src/bee-card.tsx': card("import { say } from './say.jsx';", '${(<T,>(value: T) => value)(say)}'),
      'src/say.jsx': "export const say = 'said';",
    });
    link(place);
    return place;
  },
  'paths of tsconfig.json': place => {
    write(place, {
      'tsconfig.json':
        '{ "compilerOptions": { "module": "preserve", "moduleResolution": "bundler", "paths": { "@words/*": ["./words/*"] } }, "include": ["src", "words"] }',
      'src/bee-card.ts': card("import { say } from '@words/say';", '${say}'),
      'words/say.ts': "export const say: string = 'said';",
    });
    link(place);
    return place;
  },
  'sources beside the folder of the project': place => {
    write(place, {
      'shared/bee-base.ts': card('', 'said', 'bee-base').replaceAll('BeeCard', 'BeeBase'),
      'app/src/bee-card.ts':
        "import { contract } from 'eltrix';\nimport { BeeBase } from '../../shared/bee-base.ts';\nexport class BeeCard extends contract('bee-card', {}, BeeBase) { connected() { this.title = 'x'; } }\n",
      'app/package.json': '{ "type": "module" }',
    });
    link(place);
    return join(place, 'app');
  },
};

describe('a build', () => {
  for (const [name, make] of Object.entries(layouts))
    it(`works in ${name}`, () => {
      const root = make(temporary());
      const { status, stdout, stderr } = eltrix(root, 'build', '--no-look');
      assert.deepEqual([status, stderr], [0, ''], stdout);
      assert.doesNotMatch(stdout, /not-compiled/);
      const files = readdirSync(join(root, 'dist'));
      const code = files
        .filter(file => file.endsWith('.js'))
        .map(file => readFileSync(join(root, 'dist', file), 'utf8'))
        .join('\n');
      assert.match(code, /said/);
      assert.ok(files.includes('bee-card.js') && files.includes('bee-card.d.ts'), files.join());
      // What the development library says is not in it.
      assert.doesNotMatch(code, /Did you mean/);
    });

  it('says what to install where the library is missing', () => {
    const root = temporary();
    write(root, { 'src/bee-card.ts': card() });
    const { status, stderr } = eltrix(root, 'build', '--no-look');
    assert.equal(status, 1);
    assert.match(stderr, /no (?:such )?package.* here\. Install it: npm install eltrix$/m);
    assert.doesNotMatch(stderr, /virtual|\0/);
  });
});
