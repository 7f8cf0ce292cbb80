/** What the helpers of `eltrix-tool/testing` say when they get something else than they take, in every engine. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { foundEngines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project } from '../support/project.ts';

const wrong: readonly (readonly [code: string, message: RegExp])[] = [
  [
    "user.press(document.body, 'Enter')",
    /user-key\): user\.press\(\) takes a key, and <body> came\. .* user\.press\('Enter'\)/,
  ],
  ["user.press('Return')", /user-key\): "Return" is no key\. Write "Enter"\./],
  ["user.press('esc')", /Write "Escape"\./],
  ["user.press('Ctrl+a')", /Write user\.press\("a", \{ holding: \["Control"\] \}\)\./],
  ["user.press('Hyper')", /A key is a character, or one of Backspace, Tab/],
  ["user.press('a', { holding: ['Strg'] })", /"Strg" is no key/],
  ['user.type(document.body)', /user-text\): .* undefined came as the text/],
  [
    "user.click('button')",
    /user-element\): .* "button" came\. Write user\.click\(document\.querySelector\("button"\)\)/,
  ],
  ["user.click(document.querySelector('nope'))", /null came\. Its selector may have found nothing/],
  ['user.drag(document.body)', /user-element\): user\.drag\(\) takes an element, and undefined came/],
  ['respond([1])', /respond-url\): .* a list came/],
  ['recordEvents(document.body)', /event-types\): .* undefined came as the types/],
  ['recordEvents(document.body, [])', /event-types/],
];

it('helpers say what to write when they get something else', () => {
  const names = [...foundEngines().map(({ name }) => name), 'simulated'];
  const root = project({
    'a.test.js': `import { it } from 'node:test';
import { recordEvents, respond, user } from 'eltrix-tool/testing';
${wrong.map(([code], at) => `it('case ${at}', async () => { await ${code}; });`).join('\n')}
it('takes keys of every engine', async () => {
  for (const key of ['F2', 'ArrowDown', ' ', 'Space', 'é', 'Delete']) await user.press(key, { holding: ['Shift'] });
});
`,
  });
  const { stdout } = eltrix(root, 'test', '--in', names.join(), '--report', 'tap', '--no-shuffle');
  for (const [at, [code, message]] of wrong.entries()) {
    const failures = stdout
      .split(/^ *(?=(?:not )?ok \d)/m)
      .filter(text => text.startsWith('not ok') && text.includes(` - case ${at} `));
    assert.equal(failures.length, names.length, code);
    for (const text of failures) assert.match(text, message, code);
  }
  assert.equal(stdout.match(/^ *ok \d+ - takes keys of every engine/gm)?.length, names.length, stdout.slice(-3000));
});
