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

it('helpers wait in real time while a test has fake time', () => {
  const names = [...foundEngines().map(({ name }) => name), 'simulated'];
  const ways = {
    click: 'user.click(button)',
    hover: 'user.hover(button)',
    type: "user.type(field, 'x')",
    press: "user.press('Tab')",
    drag: 'user.drag(button, { x: 5, y: 5 })',
    settled: 'settled()',
    stage: "stage('<p>x</p>')",
    wait: 'waitFor(() => assert.ok(tries++ > 2))',
    audit: 'audit(button)',
    event: "assert.rejects(nextEvent(button, 'never', 20), /event-missing/)",
  };
  const root = project({
    'a.test.js': `import assert from 'node:assert/strict';
import { it } from 'node:test';
import { audit, nextEvent, settled, stage, user, waitFor } from 'eltrix-tool/testing';
let tries = 0;
${Object.entries(ways)
  .map(
    ([way, code]) => `it('${way}', { timeout: 10_000 }, async t => {
  const box = await stage('<div><button type="button">x</button><label>a <input></label></div>');
  const [button, field] = [box.querySelector('button'), box.querySelector('input')];
  t.mock.timers.enable({ apis: ['setTimeout', 'setInterval', 'Date', 'requestAnimationFrame'], now: 5 });
  let late = false;
  setTimeout(() => { late = true; }, 10);
  await ${code};
  assert.deepEqual([late, Date.now()], [false, 5]);
  t.mock.timers.tick(10);
  assert.ok(late);
});`,
  )
  .join('\n')}
`,
  });
  const { status, stdout } = eltrix(root, 'test', '--in', names.join());
  assert.equal(status, 0, stdout);
});

it('a pointer goes where an element rests', () => {
  const root = project({
    'a.test.js': `import assert from 'node:assert/strict';
import { it } from 'node:test';
import { stage, user } from 'eltrix-tool/testing';
const pushed = '<div><p>Above</p><button type="button">x</button></div>';
const clicks = node => {
  let count = 0;
  node.addEventListener('click', () => count++);
  return () => count;
};
it('after an observer has changed the layout', async () => {
  const box = await stage(pushed);
  new ResizeObserver(() => { box.style.paddingTop = '200px'; }).observe(box.firstElementChild);
  const count = clicks(box.lastElementChild);
  await user.click(box.lastElementChild);
  assert.equal(count(), 1);
});
it('after an observer has changed the layout a frame later', async () => {
  const box = await stage(pushed);
  new ResizeObserver(() => requestAnimationFrame(() => { box.style.paddingTop = '200px'; })).observe(box.firstElementChild);
  const count = clicks(box.lastElementChild);
  await user.click(box.lastElementChild);
  assert.equal(count(), 1);
});
it('after a transition', async () => {
  const box = await stage(pushed);
  box.lastElementChild.animate([{ transform: 'translateX(300px)' }, { transform: 'none' }], 150);
  const count = clicks(box.lastElementChild);
  await user.click(box.lastElementChild);
  assert.equal(count(), 1);
});
it('also if it never rests', async () => {
  const box = await stage(pushed);
  box.lastElementChild.animate([{ transform: 'translateX(1px)' }, { transform: 'none' }], { duration: 50, iterations: Infinity });
  const count = clicks(box.lastElementChild);
  await user.click(box.lastElementChild);
  assert.equal(count(), 1);
});
`,
  });
  const names = foundEngines().map(({ name }) => name);
  const { status, stdout } = eltrix(root, 'test', '--in', names.join());
  assert.equal(status, 0, stdout);
});

it('fake time drives an element: debounced, requests that are repeated, a clock, timers of its scope', () => {
  const root = project({
    'a.test.ts': `import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, markup, type Scope, settled, signal, sync } from 'eltrix';
import { clock, debounced, request, retry } from 'eltrix/behaviours';
import { deep, respond, stage, user, waitFor } from 'eltrix-tool/testing';
class FindBox extends contract('find-box', {}) {
  readonly word = signal('');
  readonly late = debounced(() => this.word.get(), 300);
  readonly found = request<string[]>(() => (this.late.get() ? \`/find?q=\${this.late.get()}\` : null), { again: retry(2, { pause: 1000 }) });
  readonly now = clock(1000);
  readonly ticks = signal(0);
  connected(scope: Scope) {
    scope.every(500, () => this.ticks.set(this.ticks.peek() + 1));
  }
  view() {
    return markup\`<input aria-label="Word" \${sync(this.word)}><p>\${() => this.late.get()}|\${() => this.found.value?.join() ?? '-'}|\${() => this.found.status}|\${() => this.ticks.get()}|\${() => new Date(this.now.get()).toISOString().slice(17, 19)}</p>\`;
  }
}
FindBox.define();
it('follows', async t => {
  t.mock.timers.enable({ apis: ['setTimeout', 'setInterval', 'Date'], now: Date.parse('2026-05-14T10:00:00Z') });
  let fails = true;
  const asked = respond(/\\/find/, () => (fails ? 503 : ['bee']));
  const box = await stage<FindBox>('<find-box></find-box>');
  const shows = (text: string) => assert.equal(box.shadowRoot!.querySelector('p')!.textContent, text);
  await user.type(deep('input', box), 'bee');
  t.mock.timers.tick(299);
  await settled();
  shows('|-|0|0|00');
  t.mock.timers.tick(1);
  await waitFor(() => shows('bee|-|503|0|00'));
  fails = false;
  t.mock.timers.tick(1000);
  await waitFor(() => shows('bee|bee|200|2|01'));
  assert.equal(asked.length, 2);
  box.remove();
  t.mock.timers.tick(5000);
  assert.equal(box.ticks.peek(), 2);
});
`,
  });
  const names = [...foundEngines().map(({ name }) => name), 'simulated'];
  const { status, stdout } = eltrix(root, 'test', '--in', names.join());
  assert.equal(status, 0, stdout);
});

it('the simulated DOM says that it has no elements in forms', () => {
  const root = project({
    'a.test.ts': `import { it } from 'node:test';
import { contract } from 'eltrix';
import { stage } from 'eltrix-tool/testing';
class InForm extends contract('in-form', { form: true }) {
  formValue() {
    return 'x';
  }
}
InForm.define();
it('submits', async () => {
  await stage('<form><in-form name="a"></in-form></form>');
  throw new Error('Nothing was submitted.');
});
`,
  });
  const { stdout } = eltrix(root, 'test', '--in', 'simulated');
  assert.match(
    stdout,
    /Uncaught before it:\s+Error: \(simulated-missing\): .*ElementInternals\.setFormValue\(\) is missing\. Run this test in an engine/,
  );
});
