/** What a contract binds to the element: semantics and states; and what an element may ask and be told. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, data, flag, integer, live, liveObject, markup, settled, signal, slot, text } from 'eltrix';
import { environment, stage, waitFor as waits } from 'eltrix-tool/testing';

/** A busy machine may need its time. */
const waitFor = (check: () => void) => waits(check, { timeout: 8000 });

const limit = signal(10);

class MeterBox extends contract('meter-box', {
  attributes: { level: integer(), label: text() },
  semantics: {
    role: 'meter',
    ariaValueMin: '0',
    ariaValueNow: box => String(box.level),
    ariaLabel: box => box.label || null,
  },
  states: {
    full: { about: 'Nothing more fits.', when: box => box.level >= limit.get() },
    odd: 'Set by hand.',
  },
}) {
  get told() {
    const { role, ariaValueMin, ariaValueNow, ariaLabel } = this.internals;
    return [role, ariaValueMin, ariaValueNow, ariaLabel];
  }
}
MeterBox.define();

class SmallMeter extends contract(
  'small-meter',
  { semantics: { ariaValueMin: '1' }, states: { tiny: { about: 'Small.', when: () => true } } },
  MeterBox,
) {}
SmallMeter.define();

it('keeps role, ARIA values and states current', async () => {
  const box = await stage<MeterBox>('<meter-box level="3"></meter-box>');
  const full = () => box.states.has('full');
  assert.deepEqual(box.told, ['meter', '0', '3', null]);
  assert.equal(full(), false);
  box.level = 10;
  box.label = 'Honey';
  await settled();
  assert.deepEqual(box.told, ['meter', '0', '10', 'Honey']);
  assert.equal(full(), true);
  if (environment.engine !== 'simulated') assert.ok(box.matches(':state(full)'));
  box.remove();
  limit.set(20);
  await settled();
  assert.equal(full(), true, 'nothing runs while it is disconnected');
  document.body.append(box);
  await settled();
  assert.equal(full(), false);
  box.remove();
  limit.set(10);
});

it('extends the bindings of a parent class', async () => {
  const meter = await stage<SmallMeter>('<small-meter level="12"></small-meter>');
  assert.deepEqual(meter.told, ['meter', '1', '12', null]);
  assert.deepEqual([...meter.states].sort(), ['full', 'tiny']);
});

class ChangeLog extends contract('change-log', {
  attributes: { count: integer(), open: flag(), name: text({ reflect: false }) },
  properties: { rows: data<number[]>(() => []), notes: live<string[]>(() => []) },
}) {
  readonly log: unknown[][] = [];

  propertyChanged(name: string, before: unknown, after: unknown) {
    this.log.push([name, before, after]);
  }
}
ChangeLog.define();

it('reports each property with old and new value, for every kind of change', async () => {
  const element = await stage<ChangeLog>('<change-log count="1"></change-log>');
  assert.deepEqual(element.log, [], 'not of first values');
  element.count = 2;
  element.setAttribute('count', '02');
  element.setAttribute('count', 'x');
  element.toggleAttribute('open');
  element.name = 'Bramble';
  const rows = [1];
  element.rows = rows;
  element.rows = rows;
  element.notes.push('a');
  assert.deepEqual(element.log, [
    ['count', 1, 2],
    ['count', 2, 0],
    ['open', false, true],
    ['name', '', 'Bramble'],
    ['rows', [], [1]],
  ]);
  element.remove();
  element.count = 7;
  assert.deepEqual(element.log.at(-1), ['count', 0, 7], 'also while it is disconnected');
});

class SlotAsking extends contract('slot-asking', { slots: { '': slot('Text.'), badge: slot('Badge.') } }) {
  view() {
    return markup`${() => this.isFilled('badge') && markup`<b><slot name="badge"></slot></b>`}<slot></slot><i>${() =>
      this.isFilled() ? 'text' : 'empty'}</i>`;
  }
}
SlotAsking.define();

class LightAsking extends contract('light-asking', {
  shadow: 'none',
  slots: { '': slot('Text.'), badge: slot('Badge.') },
}) {
  view() {
    return markup`<b class=${() => this.isFilled('badge') && 'badge'}><slot name="badge"></slot></b><slot></slot><i>${() =>
      this.isFilled() ? 'text' : 'empty'}</i>`;
  }
}
LightAsking.define();

it('knows whether a slot has content, also without that slot in the view', async () => {
  const element = await stage<SlotAsking>('<slot-asking> </slot-asking>');
  const has = () => [!!element.shadowRoot!.querySelector('b'), element.shadowRoot!.querySelector('i')!.textContent];
  assert.deepEqual(has(), [false, 'empty']);
  const badge = document.createElement('em');
  badge.slot = 'badge';
  element.append(badge);
  await waitFor(() => assert.deepEqual(has(), [true, 'empty']));
  element.append('words');
  await waitFor(() => assert.deepEqual(has(), [true, 'text']));
  badge.slot = 'other';
  await waitFor(() => assert.deepEqual(has(), [false, 'text']));
  (element.lastChild as Text).data = '  ';
  await waitFor(() => assert.deepEqual(has(), [false, 'empty']));
});

it('knows that without a shadow root', async () => {
  const element = await stage<LightAsking>('<light-asking><em slot="badge">!</em>words</light-asking>');
  assert.equal(element.querySelector('b')!.className, 'badge');
  assert.equal(element.querySelector('i')!.textContent, 'text');
  element.querySelector('em')!.remove();
  await waitFor(() => assert.equal(element.querySelector('b')!.className, ''));
});

class MeasureBox extends contract('measure-box', { attributes: { words: text() } }) {
  readonly width = signal(0);
  readonly draft = liveObject({ lines: ['a'] });
  readonly order: string[] = [];

  connected(scope: import('eltrix').Scope) {
    scope.effect(() => {
      void this.words;
      this.order.push('effect');
    });
    scope.measure(() => {
      this.order.push('measure');
      this.width.set(this.words.length + this.shadowRoot!.querySelector('p')!.textContent!.length);
    });
  }

  view() {
    return markup`<p>${() => this.words}</p><i>${() => this.width.get()}</i><u>${() => this.draft.lines.join()}</u>`;
  }
}
MeasureBox.define();

it('measures after views and effects, and shows the result in the same frame', async () => {
  const box = await stage<MeasureBox>('<measure-box words="one"></measure-box>');
  const width = () => box.shadowRoot!.querySelector('i')!.textContent;
  assert.equal(width(), '6');
  assert.deepEqual(box.order, ['effect', 'measure']);
  box.words = 'three';
  await settled();
  assert.equal(width(), '10');
  assert.deepEqual(box.order.slice(2), ['effect', 'measure']);
  box.remove();
  box.words = 'x';
  await settled();
  assert.equal(box.order.length, 4, 'it ends with the connection');
});

it('follows private state that is changed in place', async () => {
  const box = await stage<MeasureBox>('<measure-box words="one"></measure-box>');
  box.draft.lines.push('b');
  await settled();
  assert.equal(box.shadowRoot!.querySelector('u')!.textContent, 'a,b');
});
