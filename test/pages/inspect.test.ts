/** What `inspect` tells of an element. */
import assert from 'node:assert/strict';
import { it, mock } from 'node:test';
import { contract, inspect, markup, type Scope, settled, signal, text } from 'eltrix';
import { environment, stage } from 'eltrix-tool/testing';

const outside = signal(1, { name: 'outside' });

class LookedAt extends contract('looked-at', { attributes: { name: text() } }) {
  connected(scope: Scope) {
    scope.on(document, 'looked', () => {});
    scope.every(10_000, () => {});
  }
  view() {
    return markup`<p>${() => this.name + outside.get()}</p>`;
  }
}
LookedAt.define();

it('tells contract, values, readers, updates with their cause, and what was taken', async t => {
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
      ['property "name"', 'signal "outside"'],
    );
    assert.match(told.signals[0]!.readers[0]!, /^<looked-at>, line 1 of the markup, hole 1/);
    assert.equal(told.updates[0]!.cause, 'signal "outside"');
    assert.deepEqual(told.taken, ['on looked', 'every 10000 ms']);
    assert.equal(inspect(document.body), undefined);
  } finally {
    mock.restoreAll();
  }
});
