// The value of a field, whose options, limits and type may come before or after it.
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { contract, data, each, integer, live, markup, signal, sync, text } from 'eltrix';
import { deep, settled, stage } from 'eltrix-tool/testing';

class UnitSelect extends contract('unit-select', {
  attributes: { unit: text() },
  properties: { units: live<string[]>(() => ['kg', 'lb']) },
}) {
  view() {
    return markup`<select ${{ value: () => this.unit }}><option value="">none</option>${each(
      () => this.units,
      unit => unit,
      unit => markup`<option>${unit}</option>`,
    )}</select>`;
  }
}
UnitSelect.define();

class LimitField extends contract('limit-field', {
  attributes: { most: integer({ default: 200 }) },
  properties: { kind: data(() => 'range'), value: data(() => '150') },
}) {
  readonly synced = signal(150);
  readonly level = signal(150);
  readonly fields = { value: () => this.value, type: 'range', max: () => this.most };

  view() {
    return markup`
      <input id="record" ${{ value: () => this.value }} type=${() => this.kind} max=${() => this.most}>
      <input id="attribute" value=${() => this.value} type="range" max=${() => this.most}>
      <input id="synced" ${sync(this.synced)} type="range" max=${() => this.most}>
      <input id="fields" ${{ value: () => this.value, type: 'range', max: () => this.most }}>
      <input id="given" ${this.fields}>
      <progress ${{ value: () => this.level.get() }} max=${() => this.most}></progress>
      <meter ${{ value: () => this.level.get() }} max=${() => this.most}></meter>`;
  }
}
LimitField.define();

/** Compiled without the driver, as its view shows only attributes. */
class LimitOnly extends contract('limit-only', {
  attributes: { most: integer({ default: 200 }), level: integer({ default: 150 }) },
}) {
  view() {
    return markup`<input value=${() => this.level} type="range" max=${() => this.most}>`;
  }
}
LimitOnly.define();

describe('a value of <select>', () => {
  it('is chosen when its option comes later', async () => {
    const element = await stage<UnitSelect>('<unit-select unit="oz"></unit-select>');
    const select = deep<HTMLSelectElement>('select', element);
    assert.equal(select.value, '');
    element.units.push('g', 'oz');
    await settled();
    assert.equal(select.value, 'oz');
    element.unit = 'kg';
    await settled();
    assert.equal(select.value, 'kg');
    element.units.reverse();
    await settled();
    assert.equal(select.value, 'kg');
    element.unit = 't';
    await settled();
    element.unit = 'lb';
    await settled();
    element.units.push('t');
    await settled();
    assert.equal(select.value, 'lb', 'the last value counts');
  });

  it('is what the user has chosen, also if an option comes for the value before', async () => {
    const element = await stage<UnitSelect>('<unit-select unit="oz"></unit-select>');
    const select = deep<HTMLSelectElement>('select', element);
    select.value = 'lb';
    select.dispatchEvent(new Event('change', { bubbles: true }));
    element.units.push('oz');
    await settled();
    assert.equal(select.value, 'lb');
  });
});

describe('a value with a limit', () => {
  it('is set after its limits, wherever they are written', async () => {
    const element = await stage<LimitField>('<limit-field></limit-field>');
    for (const id of ['record', 'attribute', 'synced', 'fields', 'given'])
      assert.equal(deep<HTMLInputElement>(`#${id}`, element).value, '150', id);
    assert.equal(deep<HTMLInputElement>('input', await stage('<limit-only></limit-only>')).value, '150');
    assert.equal(deep<HTMLProgressElement>('progress', element).value, 150);
    assert.equal(deep<HTMLMeterElement>('meter', element).value, 150);
  });

  it('is set again when the limits allow it', async () => {
    const element = await stage<LimitField>('<limit-field most="100"></limit-field>');
    const values = () => ['record', 'synced'].map(id => deep<HTMLInputElement>(`#${id}`, element).value).join();
    assert.equal(values(), '100,100');
    element.most = 120;
    await settled();
    assert.equal(values(), '120,120');
    element.most = 300;
    await settled();
    assert.equal(values(), '150,150');
    assert.equal(element.synced.get(), 150);
  });
});
