/** What the recipes and the guides for data and languages promise holds of their code as it is printed. */
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { it } from 'node:test';
import { eltrix, project, repository } from '../support/project.ts';

it('the code of recipes does what the page says, in every engine', () => {
  const files: Record<string, string> = {};
  const defined: string[] = [];
  for (const page of ['recipes', 'data', 'languages'])
    for (const [, code] of readFileSync(join(repository, `docs/${page}.md`), 'utf8').matchAll(/```ts\n([^]*?)```/g)) {
      const [, Class, tag] = /class (\w+) extends contract\('([^']+)'/.exec(code!) ?? [];
      // It calls a package that draws charts.
      if (Class === undefined || Class === 'HoneyChart') continue;
      files[`src/${tag}.ts`] = code!;
      if (!code!.includes('.define();')) defined.push(`import { ${Class} } from './${tag}.ts';\n${Class}.define();\n`);
    }
  files['src/defined.ts'] = defined.join('');
  files['src/recipes.test.ts'] = readFileSync(join(repository, 'test/project/recipes-page.ts'), 'utf8');
  const { status, stdout } = eltrix(project(files), 'test');
  assert.equal(status, 0, stdout);
});
