import assert from 'node:assert/strict';
import { describe, it, test } from 'node:test';
import { markup } from 'eltrix';
import {
  audit,
  deep,
  environment,
  nextEvent,
  override,
  recordEvents,
  snapshot,
  specimen,
  stage,
  standIn,
  user,
} from 'eltrix-tool/testing';
import { HiveCard } from './hive-card.ts';

describe('a hive card', () => {
  it('shows its name', async () => {
    const card = await stage<HiveCard>('<hive-card name="Rosemary">Quiet.</hive-card>');
    assert.equal(deep('h3', card).textContent, 'Rosemary');
    assert.equal(
      snapshot(card),
      `<hive-card name="Rosemary">
  #shadow
    <h3>Rosemary</h3>
    <input aria-label="Boxes">
    <button>Open</button>
    <slot></slot>
  Quiet.
</hive-card>`,
    );
  });

  it('tells that it was opened', async () => {
    const card = await stage<HiveCard>(markup`<hive-card name="Bramble"></hive-card>`);
    const log = recordEvents(card, ['hive-open', 'click']);
    const soon = nextEvent(card, 'hive-open');
    await user.click(deep('button', card));
    assert.deepEqual((await soon).detail, { name: 'Bramble' });
    assert.deepEqual(log.types, ['hive-open', 'click']);
    assert.equal(log.all[1]!.event.isTrusted, environment.engine !== 'simulated');
    assert.equal(card.open, true);
  });

  it('takes what is typed, and keys', async () => {
    const card = await stage<HiveCard>('<hive-card></hive-card>');
    const input = deep<HTMLInputElement>('hive-card >>> input');
    await user.type(input, 'Old Tin ');
    await user.type(input, '34');
    assert.equal(input.value, 'Old Tin 34');
    if (environment.engine === 'simulated') return;
    await user.press('Backspace');
    await user.press('Backspace');
    assert.equal(input.value, 'Old Tin ');
    await user.press('Tab');
    assert.equal(card.shadowRoot!.activeElement!.localName, 'button');
    await user.press('Enter');
    assert.equal(card.open, true);
    await user.press('Tab', { holding: ['Shift'] });
    assert.equal(card.shadowRoot!.activeElement, input);
  });

  it('has a method exchanged, and gets it back', async t => {
    await t.test('exchanged', async () => {
      override(HiveCard, 'toggle', function () {
        this.boxes = 9;
      });
      const card = await stage<HiveCard>('<hive-card></hive-card>');
      deep('button', card).click();
      assert.equal(card.boxes, 9);
    });
    const card = await stage<HiveCard>('<hive-card></hive-card>');
    deep('button', card).click();
    assert.equal(card.boxes, 1);
  });

  it('is stood in for', async () => {
    standIn('bee-list');
    standIn('hive-card', {
      toggle() {
        return 'inert';
      },
    });
    const card = await stage<HiveCard>('<hive-card><bee-list>x</bee-list></hive-card>');
    assert.equal(card.toggle() as unknown, 'inert');
    assert.equal(card.shadowRoot!.querySelector('h3'), null);
  });

  it('audits well', async () => {
    await audit(await stage('<hive-card name="Rosemary"></hive-card>'));
  });
});

it('drags by pointer, and drags natively', async () => {
  const box = await stage(
    '<div style="padding:20px"><i style="display:inline-block;width:40px;height:40px">a</i><b style="display:inline-block;width:40px;height:40px;margin-left:100px">b</b></div>',
  );
  const [from, to] = [box.querySelector('i')!, box.querySelector('b')!];
  const log = recordEvents(box, ['pointerdown', 'pointerup']);
  await user.drag(from, to);
  assert.deepEqual(log.types, ['pointerdown', 'pointerup']);
  from.draggable = true;
  from.setAttribute('draggable', 'true');
  to.addEventListener('dragover', event => event.preventDefault());
  const native = recordEvents(box, ['dragstart', 'drop', 'dragend']);
  await user.drag(from, to);
  await new Promise(resolve => setTimeout(resolve, 50));
  assert.deepEqual(native.types, ['dragstart', 'drop', 'dragend']);
  if (environment.engine === 'chromium') assert.ok(native.all.every(({ event }) => event.isTrusted));
});

test('mocks', t => {
  const fn = t.mock.fn((a: number) => a + 1);
  assert.equal(fn(2), 3);
  assert.equal(fn.mock.callCount(), 1);
  t.mock.timers.enable({ apis: ['setTimeout'] });
  let called = 0;
  setTimeout(() => called++, 1000);
  t.mock.timers.tick(999);
  assert.equal(called, 0);
  t.mock.timers.tick(1);
  assert.equal(called, 1);
  t.diagnostic('seen');
});
test('specimens', () => {
  const text = '<template title="One"><hive-card></hive-card></template><template title="Two"><p>2</p></template>';
  assert.equal(specimen(text, 'Two').html, '<p>2</p>');
  assert.throws(
    () => specimen(text, 'Three'),
    /\(specimen-missing\): there is no specimen "Three" in this file\. It has "One", "Two"\./,
  );
});
it.skip('is left out', () => {
  throw new Error();
});
it.todo('is to do', () => {
  throw new Error('not yet');
});
