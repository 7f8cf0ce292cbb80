import { contract, event, integer, markup, stylesheet, text } from 'eltrix';

export class JarCounter extends contract('jar-counter', {
  about: 'Counts jars.',
  attributes: { label: text(), value: integer() },
  events: { 'jar-change': event() },
}) {
  static styleSheets = [
    stylesheet`
      :host { display: flex; gap: 12px; align-items: center; margin-block: 12px; }
      span { flex: 1; }
      output { min-width: 2.5em; font-weight: 600; text-align: end; }
      button { min-width: 2.2em; min-height: 2.2em; font: inherit; }
    `,
  ];

  view() {
    return markup`
      <span id="label">${() => this.label}</span>
      <output aria-labelledby="label">${() => this.value}</output>
      <button type="button" aria-label=${() => `One more: ${this.label}`} onclick=${this.add}>+</button>`;
  }

  add() {
    this.value++;
    this.emit('jar-change', { value: this.value });
  }
}

JarCounter.define();
