import { choice, contract, each, event, markup, signal, stylesheet, text } from 'eltrix';

const moods = ['calm', 'busy', 'swarming'] as const;

/** A form field for how the bees are. */
export class MoodField extends contract('mood-field', {
  about: 'A form field: how the bees are.',
  form: true,
  attributes: {
    label: text({ about: 'What is asked.' }),
    value: choice(moods, {
      missing: 'calm',
      invalid: 'calm',
      reflect: false,
      about: 'The mood; the attribute is what a reset goes back to.',
    }),
  },
  events: { 'mood-change': event<{ mood: string }>({ about: 'The keeper chose another one.' }) },
}) {
  static styleSheets = [
    stylesheet`
      :host { display: block; }
      :host([hidden]) { display: none; }
      fieldset { display: flex; flex-wrap: wrap; gap: 6px; margin: 0; padding: 0; border: 0; }
      legend { margin-bottom: 4px; padding: 0; }
      label { display: inline-flex; gap: 6px; align-items: center; padding: 4px 12px; border: 1px solid light-dark(#cfc5ae, #575142); border-radius: 99px; cursor: pointer; }
      label:has(:checked) { border-color: light-dark(#8a5a00, #f3c14b); background: light-dark(#fdecc4, #4a3a10); }
      label:focus-within { outline: 2px solid light-dark(#8a5a00, #f3c14b); outline-offset: 2px; }
      input { margin: 0; accent-color: light-dark(#8a5a00, #f3c14b); }
    `,
  ];

  readonly #off = signal(false);

  view() {
    return markup`
      <fieldset>
        <legend>${() => this.label || 'Mood'}</legend>
        ${each(
          () => moods,
          mood => mood,
          mood =>
            markup`<label><input type="radio" name="mood" value=${mood} ${{
              checked: () => this.value === mood(),
              disabled: () => this.#off.get(),
              onchange: () => this.choose(mood()),
            }}>${mood}</label>`,
        )}
      </fieldset>`;
  }

  choose(mood: (typeof moods)[number]): void {
    this.value = mood;
    this.emit('mood-change', { mood });
  }

  formValue() {
    return this.value;
  }

  formDisabled(disabled: boolean) {
    this.#off.set(disabled);
  }

  formStateRestore(state: unknown) {
    this.value = state as (typeof moods)[number];
  }

  formReset() {
    const attribute = this.getAttribute('value') as (typeof moods)[number] | null;
    this.value = attribute && moods.includes(attribute) ? attribute : 'calm';
  }
}

MoodField.define();

declare global {
  interface HTMLElementTagNameMap {
    'mood-field': MoodField;
  }
}
