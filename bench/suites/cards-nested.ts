/** A card that leaves its mood to an element of its own. */
import { choice, contract, event, integer, markup, slot, stylesheet, text } from 'eltrix';

const moods = ['calm', 'busy'] as const;

class MoodBadge extends contract('mood-badge', {
  attributes: { mood: choice(moods, { missing: 'calm', invalid: 'calm' }) },
}) {
  view() {
    return markup`<b class=${() => this.mood}>${() => this.mood}</b>`;
  }
}
MoodBadge.define();

class NestedCard extends contract('bench-card', {
  attributes: {
    name: text(),
    boxes: integer({ default: 1 }),
    mood: choice(moods, { missing: 'calm', invalid: 'calm' }),
  },
  events: { 'hive-open': event<{ name: string }>() },
  slots: { '': slot('Notes.'), badge: slot('A badge.') },
}) {
  static styleSheets = [stylesheet`:host { display: block }`];

  view() {
    return markup`<h3>${() => this.name}</h3><slot name="badge"><mood-badge mood=${() => this.mood}></mood-badge></slot><p>Boxes: <span>${() => this.boxes}</span></p><button type="button" onclick=${this.open}>Open</button><slot></slot>`;
  }

  open(): void {
    this.emit('hive-open', { name: this.name });
  }
}
NestedCard.define();
