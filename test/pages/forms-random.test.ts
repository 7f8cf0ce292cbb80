/** Random forms: a form-associated element has the value, validity and state of an <input> after the same changes. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, flag, markup, settled, signal, sync, text } from 'eltrix';
import { environment, stage } from 'eltrix-tool/testing';
import { random } from '../support/random.ts';

/** A text field as an author writes it: a value that is reset, restored and required. */
class FormField extends contract('form-field', {
  form: true,
  attributes: { name: text(), value: text(), required: flag() },
}) {
  readonly current = signal('');

  view() {
    return markup`<input aria-label="Field" ${sync(this.current)}>`;
  }

  connected() {
    if (!this.touched) this.current.set(this.value);
  }

  touched = false;

  attributeChanged(name: string) {
    if (name === 'value' && !this.touched) this.current.set(this.value);
  }

  formValue() {
    return this.current.get();
  }

  validate() {
    return this.required && this.current.get() === ''
      ? { flags: { valueMissing: true }, message: 'Fill it in.' }
      : null;
  }

  formReset() {
    this.touched = false;
    this.current.set(this.value);
  }

  type(value: string) {
    this.touched = true;
    this.current.set(value);
  }
}
FormField.define();

/** What a form, and a script, can see of a field. */
function seen(field: HTMLInputElement | FormField) {
  const { form } = field;
  return {
    form: form?.id,
    sent: form && field.name ? new FormData(form).getAll(field.name) : [],
    willValidate: field.willValidate,
    isValid: field.checkValidity(),
    isInvalid: field.matches(':invalid'),
    isDisabled: field.matches(':disabled'),
    // WebKit finds the label of an <input> late, and does not count custom elements there.
    ...(environment.engine !== 'webkit' && {
      isValidForm: form?.matches(':valid'),
      labels: field.labels!.length,
    }),
    count: form ? [...form.elements].length : 0,
  };
}

const programs = 120;
const steps = 16;

/** The same form twice: with an <input>, and with the element. */
async function made(tag: 'input' | 'form-field') {
  const root = await stage<HTMLElement>(`<main>
    <form id="one"><fieldset><legend></legend><p></p></fieldset><p></p></form>
    <form id="two"><p></p></form><p></p><label for="field">Field</label></main>`);
  const field = document.createElement(tag) as HTMLInputElement | FormField;
  return { root, field, places: [...root.querySelectorAll('p, legend')] };
}

it(`${programs} random programs of ${steps} changes`, {
  skip: environment.engine === 'simulated' && 'no forms',
}, async () => {
  for (let program = 0; program < programs; program++) {
    const next = random(program + 1);
    const [native, own] = [await made('input'), await made('form-field')];
    const done: string[] = [];
    const changes: ((way: Awaited<ReturnType<typeof made>>) => void)[] = [];
    for (let step = 0; step < steps; step++) {
      const what = next(13);
      const at = next(native.places.length);
      const value = ['', 'a', 'b'][next(3)]!;
      const on = next(2) === 0;
      const attribute = (name: string, given: string | null) => {
        done.push(`${name}=${given}`);
        changes.push(({ field }) => (given === null ? field.removeAttribute(name) : field.setAttribute(name, given)));
      };
      if (what < 2) {
        done.push(`into place ${at}`);
        changes.push(({ field, places }) => places[at]!.append(field));
      } else if (what === 2) {
        done.push('out');
        changes.push(({ field }) => field.remove());
      } else if (what < 5) {
        done.push(`type ${value}`);
        changes.push(({ field }) => {
          if (field instanceof FormField) field.type(value);
          else field.value = value;
        });
      } else if (what === 5) attribute('value', on ? value : null);
      else if (what === 6) attribute('name', on ? 'field' : value);
      else if (what === 7) attribute('required', on ? '' : null);
      else if (what === 8) attribute('disabled', on ? '' : null);
      else if (what === 9) attribute('form', [null, 'one', 'two', 'none'][next(4)]!);
      else if (what === 10) attribute('id', on ? 'field' : null);
      else if (what === 11) {
        done.push(`fieldset disabled ${on}`);
        changes.push(({ root }) => root.querySelector('fieldset')?.toggleAttribute('disabled', on));
      } else {
        const form = on ? 'one' : 'two';
        done.push(`reset ${form}`);
        changes.push(({ root }) => root.querySelector<HTMLFormElement>(`#${form}`)!.reset());
      }
    }
    const outcomes: ReturnType<typeof seen>[][] = [];
    // One at a time is in the page: the ids of forms are global.
    for (const way of [native, own]) {
      (way === native ? own : native).root.remove();
      document.body.append(way.root);
      const outcome: ReturnType<typeof seen>[] = [];
      for (const change of changes) {
        change(way);
        outcome.push(seen(way.field));
        await settled();
        outcome.push(seen(way.field));
      }
      outcomes.push(outcome);
      way.root.remove();
    }
    const at = outcomes[0]!.findIndex((one, index) => JSON.stringify(one) !== JSON.stringify(outcomes[1]![index]));
    const journey = `program ${program}, ${at % 2 ? 'later' : 'at once'}: ${done.slice(0, (at >> 1) + 1).join('; ')}`;
    if (at >= 0) assert.deepEqual({ journey, ...outcomes[1]![at] }, { journey, ...outcomes[0]![at] });
  }
});
