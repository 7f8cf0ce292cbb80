import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { contract, data, type FormValue, flag, handle, integer, markup, text } from 'eltrix';
import { put } from './support.ts';

class WeightField extends contract('weight-field', {
  form: true,
  shadow: { mode: 'closed', delegatesFocus: true },
  attributes: { name: text(), value: integer({ reflect: false }), required: flag(), max: integer({ default: 100 }) },
  properties: { files: data<File[]>(() => []) },
}) {
  readonly input = handle<HTMLInputElement>();
  calls: string[] = [];
  off = false;

  view() {
    return markup`<input ${this.input} ${{ value: () => String(this.value) }}>`;
  }

  formValue(): FormValue {
    if (this.files.length > 0) {
      const all = new FormData();
      for (const file of this.files) all.append(`${this.name}-file`, file);
      all.append(this.name, String(this.value));
      return all;
    }
    return this.value === 0 ? null : String(this.value);
  }

  validate() {
    if (this.required && this.value === 0)
      return { flags: { valueMissing: true }, message: 'Weigh the hive.', anchor: this.input };
    if (this.value > this.max)
      return { flags: { rangeOverflow: true }, message: `At most ${this.max} kg.`, anchor: this.input };
    return null;
  }

  formAssociated(form: HTMLFormElement | null) {
    this.calls.push(`form:${form?.id ?? null}`);
  }
  formDisabled(disabled: boolean) {
    this.off = disabled;
  }
  formReset() {
    this.value = Number(this.getAttribute('value') ?? 0);
  }
  formStateRestore(state: FormValue, reason: string) {
    this.calls.push(`${reason}:${state}`);
  }
}
WeightField.define();

const make = (attributes = '') => {
  const form = put<HTMLFormElement>(
    `<form id="f"><fieldset><label>Weight <weight-field name="kg" ${attributes}></weight-field></label></fieldset></form>`,
  );
  return { form, field: form.querySelector<WeightField>('weight-field')! };
};
const entries = (form: HTMLFormElement) =>
  [...new FormData(form)].map(([name, value]) => [name, value instanceof File ? value.name : value]);

describe('form-associated elements', () => {
  it('submit their current value', () => {
    const { form, field } = make('value="7"');
    assert.deepEqual(entries(form), [['kg', '7']]);
    field.value = 12;
    assert.deepEqual(entries(form), [['kg', '12']]);
    field.value = 0;
    assert.deepEqual(entries(form), []);
    field.files = [new File(['x'], 'a.txt')];
    assert.deepEqual(entries(form), [
      ['kg-file', 'a.txt'],
      ['kg', '0'],
    ]);
    assert.equal(field.form, form);
    assert.deepEqual(field.calls, ['form:f']);
    assert.equal(field.getAttribute('value'), '7');
  });

  it('reset, and are disabled by a fieldset', () => {
    const { form, field } = make('value="7"');
    field.value = 9;
    form.reset();
    assert.equal(field.value, 7);
    form.querySelector('fieldset')!.disabled = true;
    assert.equal(field.off, true);
    assert.deepEqual(entries(form), []);
    assert.equal(field.willValidate, false);
    assert.equal(field.matches(':disabled'), true);
  });

  it('validate with flags, message and anchor at once', t => {
    const { form, field } = make('required');
    assert.equal(field.checkValidity(), false);
    assert.equal(form.checkValidity(), false);
    assert.deepEqual([field.validity.valueMissing, field.validationMessage], [true, 'Weigh the hive.']);
    assert.equal(field.matches(':invalid'), true);
    let invalid = 0;
    field.addEventListener('invalid', heard => {
      heard.preventDefault();
      invalid++;
    });
    assert.equal(field.reportValidity(), false);
    assert.equal(invalid, 1);
    field.value = 200;
    assert.deepEqual([field.validity.rangeOverflow, field.validationMessage], [true, 'At most 100 kg.']);
    field.max = 300;
    assert.equal(form.checkValidity(), true);
    assert.equal(field.matches(':valid'), true);
    field.required = true;
    field.value = 0;
    form.addEventListener('submit', sent => sent.preventDefault());
    form.requestSubmit();
    // Whether a custom element's :user-invalid follows a submission is up to the engine.
    t.diagnostic(`:user-invalid after a refused submission: ${field.matches(':user-invalid')}`);
  });

  it('have labels, and a click on one focuses the field', () => {
    const { field } = make();
    assert.equal(field.labels.length, 1);
    (field.labels[0] as HTMLElement).click();
    assert.equal(document.activeElement, field);
  });

  it('submit also in a disconnected form', () => {
    const form = document.createElement('form');
    const field = new WeightField();
    field.name = 'kg';
    field.value = 3;
    form.append(field);
    assert.deepEqual(entries(form), [['kg', '3']]);
    field.value = 4;
    assert.deepEqual(entries(form), [['kg', '4']]);
    assert.equal(field.checkValidity(), true);
  });

  it('pass a restored state to the hook', () => {
    const { field } = make();
    (field as unknown as { formStateRestoreCallback(state: string, reason: string): void }).formStateRestoreCallback(
      '5',
      'restore',
    );
    assert.deepEqual(field.calls, ['form:f', 'restore:5']);
  });
});
