/** Files as some editors of Windows save them, with a byte order mark and CRLF, are treated like those without. */
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, it } from 'node:test';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project } from '../support/project.ts';

const files: Readonly<Record<string, string>> = {
  'src/bee-card.ts': `import { contract, integer, markup, stylesheet, text } from 'eltrix';
import sheet from './bee-card.css' with { type: 'css' };
import names from './names.json' with { type: 'json' };
/**
 * A card
 * of bees.
 */
export class BeeCard extends contract('bee-card', {
  about: \`One
two\`,
  attributes: { label: text({ about: \`a
b\` }), count: integer({ default: 1 }) },
}) {
  static styleSheets = [sheet, stylesheet\`
    p {
      colour red;
    }
    bee-card { color: red }\`];

  /** Says
   * something. */
  say(what: {
    a: number;
  }): void {
    void [what, names];
  }

  view() {
    return markup\`\${() => this.label}
      <p title=\${() => this.label
      }>\${() => this.lable}
      <bee-card
         cuont="3"></bee-card> \${() => this.count.foo}
      <img>
      </p>\`;
  }
}
BeeCard.define();
`,
  'src/bee-card.css': ':host {\n  display: block;\n}\n',
  'src/names.json': '{\n  "one": "Rue"\n}\n',
  'src/bee-card.specimen.html': `<template title="One">
  <bee-card label="x"></bee-card>
</template>
`,
  'src/bee-card.test.ts': `import assert from 'node:assert/strict';
import { test } from 'node:test';
import { checkInlineSnapshot, stage } from 'eltrix-tool/testing';
import './bee-card.ts';

test('fails', async () => {
  const card = await stage('<bee-card></bee-card>');

  assert.equal(card.localName, \`a
b\`);
});

test('snapshot', async () => {
  checkInlineSnapshot(await stage(\`<bee-card
    label="x"></bee-card>\`));
});
`,
  'page.html': `<!doctype html>
<html lang="en">
<head><title>Bees</title></head>
<body>
<bee-card cuont="3"
  count="x">
</bee-card>
<bee-card lable="a" style="color: red;
  --bee: 1"></bee-card>
<style>
  bee-crad { color: red }
</style>
<p>
<bee-card></bee-crad>
</body>
</html>
`,
  'tsconfig.json':
    '{ "compilerOptions": { "strict": true, "module": "nodenext", "target": "es2022", "lib": ["es2023", "dom", "dom.iterable"], "resolveJsonModule": true, "noEmit": true, "allowImportingTsExtensions": true, "types": ["node"] }, "include": ["src"] }',
};

const saved = (text: string) => `\uFEFF${text.replaceAll('\n', '\r\n')}`;

/** Offsets count line ends; the report of a run names its time and its random order. */
const comparable = (text: string) =>
  text
    .replaceAll('\r\n', '\n')
    .replaceAll('\uFEFF', '')
    .replace(/"(?:start|end)": \d+/g, '')
    .replace(/[\d.]+ ?(?:ms|s)\b|duration_ms [\d.]+|shuffle=\d+|\d+ MB/g, '…');

const inEngine = !engines.chromium.find() && 'no Chromium';

describe('files with a byte order mark and CRLF', () => {
  const marked = Object.entries({ 'package.json': '{ "type": "module" }', ...files }).map(([name, text]) => [
    name,
    saved(text),
  ]);
  const roots = [files, Object.fromEntries(marked)].map(all => project(all, ['typescript', '@types/node'])) as [
    string,
    string,
  ];
  const same = (...args: string[]) => {
    const [lf, crlf] = roots
      .map(root => eltrix(root, ...args))
      .map(({ status, stdout, stderr }) => ({ status, stdout: comparable(stdout), stderr: comparable(stderr) }));
    assert.ok(`${lf!.stdout}${lf!.stderr}`.length > 0);
    assert.deepEqual(crlf, lf);
    return lf!.stdout;
  };
  const sameFile = (file: string) => {
    const [lf, marked] = roots.map(root => readFileSync(join(root, file), 'utf8')) as [string, string];
    assert.equal(marked, saved(lf));
  };

  it('are built with the same findings', () => {
    assert.match(same('build', '--no-look'), /bee-card\.ts:16:14 finding \(css-syntax\)/);
    for (const file of ['bee-card.d.ts', 'custom-elements.json', 'bee-card.js']) {
      const [lf, crlf] = roots.map(root => readFileSync(join(root, 'dist', file), 'utf8'));
      assert.equal(crlf, lf);
    }
  });

  it('are described alike', () => {
    same('describe', '--json');
    same('describe', 'bee-card', '--page');
  });

  it('have the same types checked', () =>
    assert.match(same('check', '--types'), /bee-card\.ts:31:22 finding \(markup-type\)/));

  it('have pages with the same findings and fixes', () => {
    assert.match(same('check', 'page.html'), /page\.html:11:3 finding \(tag-unknown\)/);
    same('check', 'page.html', '--json');
    same('check', 'page.html', '--fix');
    sameFile('page.html');
  });

  it('fail at the same lines in an engine, and keep their line ends', { skip: inEngine }, () => {
    same('test', '--in', 'chromium', '--accept', '--shuffle', '1');
    sameFile('src/bee-card.test.ts');
  });
});
