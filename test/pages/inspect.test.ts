/** What `inspect` tells of an element. */
import assert from 'node:assert/strict';
import { it, mock } from 'node:test';
import {
  computed,
  contract,
  inspect,
  type LoggedChange,
  logChanges,
  markPerformance,
  markup,
  type Scope,
  settled,
  signal,
  text,
} from 'eltrix';
import { environment, stage } from 'eltrix-tool/testing';

const outside = signal(1, { name: 'outside' });

class LookedAt extends contract('looked-at', { attributes: { name: text() } }) {
  readonly frames = signal(3);
  readonly #factor = signal(2);
  readonly double = computed(() => this.frames.get() * this.#factor.get());

  connected(scope: Scope) {
    scope.on(document, 'looked', () => {});
    scope.every(10_000, () => {});
    for (const abort of [0, 1]) {
      const drag = new AbortController();
      if (abort === 0) drag.abort();
      scope.on(document, 'dragged', () => {}, { signal: drag.signal });
      drag.abort();
    }
  }
  view() {
    return markup`<p>${() => this.name + outside.get()}</p><i>${() => this.double.get()}</i>`;
  }
}
LookedAt.define();

it('prints contract, values, subscribers, updates with causes, and resources', async t => {
  if (environment.compiled) return t.skip('a built element has nothing to tell');
  for (const name of ['groupCollapsed', 'log', 'table', 'groupEnd', 'warn'] as const)
    mock.method(console, name, () => {});
  try {
    const element = await stage<LookedAt>('<looked-at name="Rue"></looked-at>');
    outside.set(2);
    await settled();
    const told = inspect(element)!;
    assert.equal(told.tag, 'looked-at');
    assert.deepEqual(told.values, { name: 'Rue' });
    assert.deepEqual(
      told.signals.map(({ name }) => name),
      ['property "name"', 'signal "outside"', 'computed "double"'],
    );
    assert.deepEqual(
      told.signals.map(({ value }) => value),
      ['Rue', 2, 6],
    );
    assert.match(told.signals[0]!.readers[0]!, /^<looked-at>, line 1 of the markup, expression 1/);
    assert.equal(told.updates[0]!.cause, 'signal "outside"');
    assert.deepEqual(told.taken, ['on looked', 'every 10000 ms']);
    assert.equal(inspect(document.body), undefined);
  } finally {
    mock.restoreAll();
  }
});

it('logs lifecycle, attributes and updates with their causes', async t => {
  if (environment.compiled) return t.skip('a built element has nothing to tell');
  const log: string[] = [];
  const stop = logChanges('looked-at', ({ what }: LoggedChange) => void log.push(what));
  const element = await stage<LookedAt>('<looked-at name="Rue"></looked-at>');
  element.name = 'Ida';
  element.frames.set(4);
  await settled();
  element.remove();
  stop();
  element.name = 'not logged';
  assert.deepEqual(
    log.map(line => line.replace(/, line .*?\), because/, ', because')),
    [
      '<looked-at> attribute name: null → "Rue"',
      '<looked-at> connected for the first time',
      '<looked-at> connected',
      '<looked-at> attribute name: "Rue" → "Ida"',
      '<looked-at> updates <looked-at>, because of property "name"',
      '<looked-at> updates <looked-at>, because of computed "double"',
      '<looked-at> left the document',
    ],
  );
});

it('measures views and updates in the performance timeline', async t => {
  if (environment.compiled || environment.engine === 'simulated') return t.skip('a built element has nothing to tell');
  const stop = markPerformance();
  const element = await stage<LookedAt>('<looked-at name="Rue"></looked-at>');
  element.name = 'Ida';
  await settled();
  stop();
  const names = performance.getEntriesByType('measure').map(({ name }) => name);
  performance.clearMeasures();
  assert.deepEqual(names, ['<looked-at> view', '<looked-at> update']);
});

class PrivateSignal extends contract('private-signal', {}) {
  readonly #level = signal(5);

  view() {
    return markup`${() => this.#level.get()}`;
  }
}
PrivateSignal.define();

it('names signals in private fields', async t => {
  if (environment.compiled) return t.skip('a built element has nothing to tell');
  for (const name of ['groupCollapsed', 'log', 'table', 'groupEnd'] as const) t.mock.method(console, name, () => {});
  const element = await stage<PrivateSignal>('<private-signal></private-signal>');
  assert.deepEqual(
    inspect(element)!.signals.map(({ name, value }) => [name, value]),
    [['signal "level"', 5]],
  );
});

class FailingView extends contract('failing-view', {}) {
  view(): never {
    throw new RangeError('no frames');
  }
}
FailingView.define();

it('names the element whose view() throws', async t => {
  const errors = t.mock.method(globalThis, 'reportError', () => {});
  await stage('<failing-view></failing-view>');
  const error = errors.mock.calls[0]!.arguments[0] as Error;
  assert.match(error.message, /view-failed.*<failing-view>.*RangeError: no frames/);
  assert.ok(error.cause instanceof RangeError);
});
