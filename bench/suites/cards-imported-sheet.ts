/** The plain card, with its CSS text from another module. */
import { choice, contract, event, integer, markup, slot, stylesheet, text } from 'eltrix';
import { card, colour } from './card-styles.ts';

class StyledCard extends contract('bench-card', {
  attributes: {
    name: text(),
    boxes: integer({ default: 1 }),
    mood: choice(['calm', 'busy'], { missing: 'calm', invalid: 'calm' }),
  },
  events: { 'hive-open': event<{ name: string }>() },
  slots: { '': slot('Notes.'), badge: slot('A badge.') },
}) {
  static styleSheets = [card, stylesheet`:host([mood="busy"]) b { color: ${colour} }`];

  view() {
    return markup`<h3>${() => this.name}</h3><slot name="badge"><b class=${() => this.mood}>${() => this.mood}</b></slot><p>Boxes: <span>${() => this.boxes}</span></p><button type="button" onclick=${() => this.emit('hive-open', { name: this.name })}>Open</button><slot></slot>`;
  }
}
StyledCard.define();
