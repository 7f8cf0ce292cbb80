import { choice, contract, event, integer, markup, slot, stylesheet, text } from 'eltrix';

class EltrixCard extends contract('bench-card', {
  attributes: {
    name: text(),
    boxes: integer({ default: 1 }),
    mood: choice(['calm', 'busy'], { missing: 'calm', invalid: 'calm' }),
  },
  events: { 'hive-open': event<{ name: string }>() },
  slots: { '': slot('Notes.'), badge: slot('A badge.') },
}) {
  static styleSheets = [stylesheet`:host { display: block } :host([mood="busy"]) b { color: brown }`];

  view() {
    return markup`<h3>${() => this.name}</h3><slot name="badge"><b class=${() => this.mood}>${() => this.mood}</b></slot><p>Boxes: <span>${() => this.boxes}</span></p><button type="button" onclick=${this.open}>Open</button><slot></slot>`;
  }

  open(): void {
    this.emit('hive-open', { name: this.name });
  }
}
EltrixCard.define();
