/** `eltrix check --pictures`: specimens look as they were accepted. */
import assert from 'node:assert/strict';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { it } from 'node:test';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project } from '../support/project.ts';

const card = (colour: string) => `import { contract, markup, stylesheet } from 'eltrix';
export class HiveCard extends contract('hive-card', { about: 'A hive.' }) {
  static styleSheets = [stylesheet\`
    :host { display: block; width: 60px; height: 20px; background: ${colour}; animation: pulse 9s; }
    @keyframes pulse { from { opacity: 0; } }
    @media (prefers-color-scheme: dark) { :host { background: black; } }\`];
  view() { return markup\`<p></p>\`; }
}
`;

it('compares each specimen in four settings, and shows differences', {
  skip: !engines.chromium.find() && 'no Chromium',
}, () => {
  const root = project({
    'src/hive-card.ts': card('green'),
    'src/hive-card.specimen.html': '<template title="Plain"><hive-card></hive-card></template>',
  });
  const check = (...args: string[]) => eltrix(root, 'check', '--pictures', '--in', 'chromium', ...args);
  const first = check();
  assert.equal(first.status, 1);
  assert.match(
    first.stdout,
    /seen +No picture is accepted yet: pictures\/chromium\/specimens\/hive-card\/Plain light\.png/,
  );
  const accepted = check('--accept');
  assert.deepEqual([accepted.status, accepted.stderr], [0, '4 pictures accepted.\n'], accepted.stdout);
  assert.deepEqual(readdirSync(join(root, 'pictures/chromium/specimens/hive-card')).sort(), [
    'Plain 400 px.png',
    'Plain dark.png',
    'Plain light.png',
    'Plain right to left.png',
  ]);
  assert.equal(check().status, 0);
  // Another colour shows wherever it is not the dark one that is seen.
  writeFileSync(join(root, 'src/hive-card.ts'), card('darkgreen'));
  const { status, stdout } = check('--report', 'report.html');
  assert.equal(status, 1);
  assert.deepEqual(
    [...stdout.matchAll(/took a picture of "Plain" \(([^)]+)\)\n.*\n +seen +1200 of \d+ pixels differ/g)].map(
      ([, name]) => name,
    ),
    ['light', 'right to left', '400 px'],
  );
  const report = readFileSync(join(root, 'report.html'), 'utf8');
  assert.equal(report.match(/<figcaption>difference</g)?.length, 3);
  assert.ok(existsSync(join(root, 'node_modules/.eltrix/pictures/chromium/specimens/hive-card/Plain light.png')));
  assert.match(eltrix(root, 'check', '--accept').stderr, /\(option-alone\): --accept needs --pictures/);
});
