import { choice, contract, data, event, integer, markup, slot, stylesheet, text } from 'eltrix';

export class HiveData extends contract('hive-data', {
  attributes: {
    name: text({ about: 'Painted on the front of the hive.' }),
    boxes: integer({ default: 1, about: 'How many boxes are stacked.' }),
    mood: choice(['calm', 'busy', 'swarming'], { missing: 'calm', invalid: 'calm' }),
  },
  properties: { frames: data<readonly { honey: number }[]>(() => []) },
  events: { 'hive-open': event<{ name: string }>({ about: 'The keeper opened the hive.' }) },
  slots: { '': slot('Notes about the hive.'), badge: slot('Stands in for the mood badge.') },
}) {
  static styleSheets = [
    stylesheet`
      :host { display: block; padding: 0.75rem; border: 1px solid var(--hive-edge, #b59a5b); border-radius: 0.5rem }
      :host([mood='swarming']) b { color: #9b2c1f }
      h3 { margin: 0 0 0.25rem }
    `,
  ];

  view() {
    return markup`
      <h3>${() => this.name}</h3>
      <slot name="badge"><b class=${() => this.mood}>${() => this.mood}</b></slot>
      <p>Boxes: <span>${() => this.boxes}</span></p>
      <p>${() => this.frames.length} frames</p>
      <button type="button" onclick=${this.open}>Open</button>
      <slot></slot>`;
  }

  open() {
    this.emit('hive-open', { name: this.name });
  }
}

HiveData.define();
