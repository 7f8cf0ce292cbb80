/** `eltrix new`: a working project. */
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { basename, dirname, join, relative, resolve } from 'node:path';
import { installedFrom, toolFile } from './library.ts';
import { ToolError } from './tool-error.ts';

/** The files of a new project, by their path in it. */
export function projectFiles(name: string, folder: string): Record<string, string> {
  const tool = JSON.parse(readFileSync(toolFile('package.json'), 'utf8')) as {
    version: string;
    dependencies: Record<string, string>;
    devDependencies: Record<string, string>;
  };
  return {
    'package.json': `${JSON.stringify(
      {
        name,
        private: true,
        version: '0.0.0',
        type: 'module',
        scripts: {
          serve: 'eltrix serve',
          test: 'eltrix test',
          check: 'eltrix check',
          build: 'eltrix build',
          types: 'tsc',
          page: 'vite',
        },
        dependencies: { eltrix: installedFrom('eltrix', folder) ?? `^${tool.version}` },
        devDependencies: {
          '@types/node': tool.devDependencies['@types/node'],
          'eltrix-tool': installedFrom('eltrix-tool', folder) ?? `^${tool.version}`,
          typescript: tool.devDependencies['typescript'],
          vite: tool.dependencies['vite'],
        },
      },
      null,
      2,
    )}\n`,
    '.gitignore': 'node_modules/\ndist/\ndist-page/\ngallery/\ncoverage/\n',
    'tsconfig.json': `{
  "compilerOptions": {
    "target": "es2022",
    "lib": ["es2024", "dom", "dom.iterable"],
    "module": "nodenext",
    "strict": true,
    "exactOptionalPropertyTypes": true,
    "noUncheckedIndexedAccess": true,
    "isolatedModules": true,
    "verbatimModuleSyntax": true,
    "allowImportingTsExtensions": true,
    "skipLibCheck": true,
    "types": ["node", "vite/client", "eltrix/css"],
    "noEmit": true
  },
  "include": ["src", "vite.config.ts"]
}
`,
    'vite.config.ts': `import { eltrix } from 'eltrix-tool/vite';
import { defineConfig } from 'vite';

// Vite serves and builds the page; the plugin compiles the elements in builds.
export default defineConfig({ plugins: [eltrix()], build: { outDir: 'dist-page' } });
`,
    'index.html': `<!doctype html>
<html lang="en">
  <head>
    <meta charset="utf-8" />
    <meta name="viewport" content="width=device-width, initial-scale=1" />
    <link rel="icon" href="data:," />
    <title>${name}</title>
    <script type="module" src="/src/step-counter.ts"></script>
  </head>
  <body>
    <h1>${name}</h1>
    <step-counter label="Jars filled" value="3">
      <small slot="note">Since this morning.</small>
    </step-counter>
  </body>
</html>
`,
    'README.md': `# ${name}

Custom elements, made with Eltrix.

| command | what it does |
|---|---|
| \`npx eltrix serve\` | shows every element in a browser, and updates after each save |
| \`npx eltrix test\` | runs the tests in all installed browser engines |
| \`npx eltrix check\` | checks that each element keeps its contract |
| \`npx eltrix build\` | writes a dependency-free file for each element to \`dist/\` |
| \`npm run types\` | checks the types |
| \`npm run page\` | serves \`index.html\`, a page that uses the element |

An element has four files: source (\`src/step-counter.ts\`), style sheet (\`src/step-counter.css\`), specimens
(HTML examples, \`src/step-counter.specimen.html\`) and test (\`src/step-counter.test.ts\`).
`,
    'src/step-counter.css': `:host {
  display: inline-grid;
  gap: 4px;
  font: inherit;
}

:host([hidden]) {
  display: none;
}

.row {
  display: flex;
  align-items: center;
  gap: 12px;
}

output {
  min-width: 2ch;
  color: var(--step-accent, inherit);
  font-size: 1.5em;
  font-variant-numeric: tabular-nums;
  text-align: center;
}

button {
  min-width: 2.2em;
  min-height: 2.2em;
  font: inherit;
}
`,
    'src/step-counter.ts': `import { contract, event, integer, markup, slot, text } from 'eltrix';
import sheet from './step-counter.css' with { type: 'css' };

export class StepCounter extends contract('step-counter', {
  about: 'A counter with two buttons.',
  attributes: {
    label: text({ about: 'The label of the counter.' }),
    value: integer({ default: 0, about: 'The count.' }),
  },
  events: { 'step-change': event<{ value: number }>({ about: 'The user changed the value.' }) },
  slots: { note: slot('A note below the value.') },
  cssProperties: { '--step-accent': 'Colour of the number.' },
}) {
  static styleSheets = [sheet];

  view() {
    return markup\`
      <span id="label">\${() => this.label}</span>
      <div class="row" role="group" aria-labelledby="label">
        <button type="button" aria-label="Less" onclick=\${() => this.step(-1)}>−</button>
        <output>\${() => this.value}</output>
        <button type="button" aria-label="More" onclick=\${() => this.step(1)}>+</button>
      </div>
      <slot name="note"></slot>\`;
  }

  /** Adds an amount and sends an event. */
  step(amount: number): void {
    this.value += amount;
    this.emit('step-change', { value: this.value });
  }
}

StepCounter.define();

declare global {
  interface HTMLElementTagNameMap {
    'step-counter': StepCounter;
  }
}
`,
    'src/step-counter.specimen.html': `<template title="As usual">
  <step-counter label="Jars filled" value="3"></step-counter>
</template>

<template title="With a note">
  <step-counter label="Frames looked at" value="12">
    <small slot="note">Two hives are left.</small>
  </step-counter>
</template>
`,
    'src/step-counter.test.ts': `import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { audit, deep, recordEvents, stage, user } from 'eltrix-tool/testing';
import type { StepCounter } from './step-counter.ts';
import './step-counter.ts';

describe('a step counter', () => {
  it('counts up and sends an event', async () => {
    const counter = await stage<StepCounter>('<step-counter label="Jars" value="3"></step-counter>');
    const log = recordEvents(counter, 'step-change');
    await user.click(deep('[aria-label="More"]', counter));
    assert.equal(deep('output', counter).textContent, '4');
    assert.deepEqual(log.details, [{ value: 4 }]);
  });

  it('follows its attribute', async () => {
    const counter = await stage<StepCounter>('<step-counter></step-counter>');
    counter.setAttribute('value', '7');
    assert.equal(counter.value, 7);
  });

  it('audits well', async () => {
    await audit(await stage('<step-counter label="Jars"></step-counter>'));
  });
});
`,
  };
}

/** The same project in JavaScript. */
function inJavaScript(files: Readonly<Record<string, string>>): Record<string, string> {
  const kept = Object.entries(files).filter(([file]) => file !== 'tsconfig.json');
  return Object.fromEntries(
    kept.map(([file, text]) => {
      if (file === 'package.json') {
        const { scripts, devDependencies, ...rest } = JSON.parse(text) as Record<string, Record<string, string>>;
        const { types, ...otherScripts } = scripts!;
        const { typescript, '@types/node': node, ...others } = devDependencies!;
        return [file, `${JSON.stringify({ ...rest, scripts: otherScripts, devDependencies: others }, null, 2)}\n`];
      }
      const plain = text
        .replace(/^import type .*\n/gm, '')
        .replace(/\ndeclare global \{\n[^]*?\n\}\n/, '')
        .replace('event<{ value: number }>', 'event')
        .replace('step(amount: number): void', 'step(amount)')
        .replaceAll('stage<StepCounter>', 'stage')
        .replace('| `npm run types` | checks the types |\n', '')
        .replaceAll(/\b(step-counter(?:\.test)?|vite\.config)\.ts\b/g, '$1.js');
      return [file.replace(/\.ts$/, '.js'), plain];
    }),
  );
}

/**
 * Writes a new project.
 * @returns the paths of its files, relative to its folder.
 * @throws ToolError if a file exists already; then nothing is written.
 */
export function writeProject(folder: string, isJavaScript = false): string[] {
  const name = basename(folder)
    .toLowerCase()
    .replace(/[^a-z0-9._-]+/g, '-')
    .replace(/^[._-]+|-+$/g, '');
  const typed = projectFiles(name || 'elements', folder);
  const files = isJavaScript ? inJavaScript(typed) : typed;
  writeNew(folder, files);
  return Object.keys(files);
}

/** Writes new files, all or none. */
export function writeNew(folder: string, files: Readonly<Record<string, string>>): void {
  const there = Object.keys(files).filter(file => existsSync(join(folder, file)));
  if (there.length > 0) {
    const where = relative(process.cwd(), resolve(folder)) || '.';
    throw new ToolError(
      'file-there',
      `${there.length === 1 ? `${join(where, there[0]!)} is` : `${there.map(file => join(where, file)).join(', ')} are`} there already, and no file is written over. Nothing was written. Name another folder, or move ${there.length === 1 ? 'it' : 'them'} away.`,
      undefined,
      undefined,
      2,
    );
  }
  for (const [file, text] of Object.entries(files)) {
    mkdirSync(dirname(join(folder, file)), { recursive: true });
    writeFileSync(join(folder, file), text);
  }
}
