import { choice, contract, data, each, event, integer, live, markup, type Scope, slot, stylesheet, text } from 'eltrix';
import { cardCss } from './colours.ts';

export class HiveAll extends contract('hive-all', {
  attributes: {
    name: text({ about: 'Painted on the front of the hive.' }),
    boxes: integer({ default: 1, about: 'How many boxes are stacked.' }),
    mood: choice(['calm', 'busy', 'swarming'], { missing: 'calm', invalid: 'calm' }),
  },
  properties: {
    frames: data<readonly { id: number; honey: number }[]>(() => []),
    notes: live<string[]>(() => []),
  },
  form: true,
  events: { 'hive-open': event<{ name: string }>({ about: 'The keeper opened the hive.' }) },
  slots: { '': slot('Notes about the hive.'), badge: slot('Stands in for the mood badge.') },
}) {
  static styleSheets = [stylesheet`${cardCss}`];

  view() {
    return markup`
      <h3>${() => this.name}</h3>
      <slot name="badge"><b class=${() => this.mood}>${() => this.mood}</b></slot>
      <p>Boxes: <span>${() => this.boxes}</span></p>
      <p>${() => this.frames.length} frames, ${() => this.notes.join(', ')}</p>
      <ul>${each(
        () => this.frames,
        frame => frame.id,
        frame => markup`<li>${() => frame().honey} kg</li>`,
      )}</ul>
      <button type="button" onclick=${this.open}>Open</button>
      <slot></slot>`;
  }

  open() {
    this.emit('hive-open', { name: this.name });
  }

  note(text: string) {
    this.notes.push(text);
  }

  connected(scope: Scope) {
    scope.on(window, 'online', () => this.setAttribute('mood', 'busy'));
    scope.every(60_000, () => this.setAttribute('mood', 'calm'));
  }

  attributeChanged(name: string) {
    if (name === 'mood') this.title = `This hive is ${this.mood}`;
  }

  formValue() {
    return String(this.boxes);
  }

  validate() {
    return this.boxes > 9 ? { flags: { rangeOverflow: true }, message: 'At most nine boxes.' } : null;
  }
}

HiveAll.define();
