import { choice, contract, event, integer, markup, slot, stylesheet, text } from 'eltrix';
import { cardCss } from './colours.ts';

export class HiveSheet extends contract('hive-sheet', {
  attributes: {
    name: text({ about: 'Painted on the front of the hive.' }),
    boxes: integer({ default: 1, about: 'How many boxes are stacked.' }),
    mood: choice(['calm', 'busy', 'swarming'], { missing: 'calm', invalid: 'calm' }),
  },
  events: { 'hive-open': event<{ name: string }>({ about: 'The keeper opened the hive.' }) },
  slots: { '': slot('Notes about the hive.'), badge: slot('Stands in for the mood badge.') },
}) {
  static styleSheets = [stylesheet`${cardCss}`];

  view() {
    return markup`
      <h3>${() => this.name}</h3>
      <slot name="badge"><b class=${() => this.mood}>${() => this.mood}</b></slot>
      <p>Boxes: <span>${() => this.boxes}</span></p>
      <button type="button" onclick=${this.open}>Open</button>
      <slot></slot>`;
  }

  open() {
    this.emit('hive-open', { name: this.name });
  }
}

HiveSheet.define();
