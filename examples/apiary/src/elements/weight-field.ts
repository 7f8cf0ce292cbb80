import { contract, decimal, flag, handle, markup, signal, stylesheet, text } from 'eltrix';

/** A field for a weight in kilograms. */
export class WeightField extends contract('weight-field', {
  about: 'A form field for a weight in kilograms, with a step down and a step up.',
  form: true,
  attributes: {
    label: text({ about: 'What is weighed.' }),
    value: decimal({ reflect: false, about: 'The weight; the attribute is what a reset goes back to.' }),
    step: decimal({ default: 0.5, about: 'How much a step is.' }),
    heaviest: decimal({ default: 80, about: 'More than this is a mistake.' }),
    disabled: flag({ about: 'Cannot be changed and is not submitted.' }),
  },
}) {
  static styleSheets = [
    stylesheet`
      :host { display: inline-grid; gap: 4px; font: inherit; }
      .row { display: flex; gap: 4px; }
      input { width: 6em; padding: 5px 8px; border: 1px solid light-dark(#cfc5ae, #575142); border-radius: 8px; font: inherit; background: transparent; color: inherit; }
      button { width: 2.2em; border: 1px solid light-dark(#cfc5ae, #575142); border-radius: 8px; background: transparent; color: inherit; font: inherit; cursor: pointer; }
      :host(:user-invalid) input { border-color: #b3381e; }
    `,
  ];

  readonly input = handle<HTMLInputElement>();
  /** By its own attribute, or by a fieldset around it. */
  readonly #off = signal(false);

  view() {
    return markup`
      <label for="weight">${() => this.label}</label>
      <div class="row">
        <button type="button" aria-label="Less" disabled=${() => this.#off.get()} onclick=${this.less}>−</button>
        <input id="weight" inputmode="decimal" ${{ value: () => String(this.value), disabled: () => this.#off.get() }} ${this.input} onchange=${this.typed}>
        <button type="button" aria-label="More" disabled=${() => this.#off.get()} onclick=${this.more}>+</button>
      </div>`;
  }

  formValue() {
    return String(this.value);
  }

  validate() {
    if (this.value < 0)
      return { flags: { rangeUnderflow: true }, message: 'A weight is not below zero.', anchor: this.input };
    if (this.value > this.heaviest)
      return {
        flags: { rangeOverflow: true },
        message: `No box weighs more than ${this.heaviest} kg.`,
        anchor: this.input,
      };
    return null;
  }

  formDisabled(disabled: boolean) {
    this.#off.set(disabled);
  }

  formStateRestore(state: unknown) {
    this.value = Number(state);
  }

  formReset() {
    this.value = Number(this.getAttribute('value') ?? 0);
  }

  /** A step up. */
  more(): void {
    this.value += this.step;
  }

  /** A step down. */
  less(): void {
    this.value -= this.step;
  }

  typed(): void {
    const number = Number(this.input.element!.value.replace(',', '.'));
    if (Number.isFinite(number)) this.value = number;
  }
}

WeightField.define();

declare global {
  interface HTMLElementTagNameMap {
    'weight-field': WeightField;
  }
}
