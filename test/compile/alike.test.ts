/** Sources written in every way there is: built elements do what they do as written. */
import assert from 'node:assert/strict';
import { after, before, describe, it } from 'node:test';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { closeEngines } from '../support/project.ts';
import { type Seen, writtenAndBuilt } from '../support/written-and-built.ts';
import { cases } from './alike-cases.ts';

const skip = !engines.chromium.find() && 'no Chromium';

// The parser gives TypeScript another syntax tree.
for (const language of ['js', 'ts'])
  describe(`a built element does what it does as written, in .${language}`, { skip }, () => {
    let outcomes: Record<'written' | 'built', Seen>;
    before(async () => {
      const inLanguage = (text: string) => text.replace(/\.js(?='|$)/gm, `.${language}`);
      outcomes = await writtenAndBuilt(
        cases.map(one => ({
          ...one,
          file: inLanguage(one.file),
          files: Object.fromEntries(
            Object.entries(one.files).map(([file, code]) => [inLanguage(file), inLanguage(code)]),
          ),
        })),
      );
    });
    after(closeEngines);

    for (const { name, shows } of cases)
      it(name, () => {
        const { written, built } = outcomes;
        if (shows) assert.deepEqual(written[name], shows);
        assert.deepEqual(built[name], written[name]);
      });
  });
