import { contract, event, flag, markup, slot, stylesheet, text } from 'eltrix';

/** A note that a keeper left. */
export class KeeperNote extends contract('keeper-note', {
  about: 'A note that a keeper left, with room for a picture.',
  attributes: {
    keeper: text({ about: 'Who wrote it.' }),
    written: text({ about: 'When, as people say it.' }),
    pinned: flag({ about: 'Stays on top.' }),
  },
  events: {
    'note-pin': event<{ pinned: boolean }>({ cancelable: true, about: 'The keeper pins it or takes the pin out.' }),
  },
  slots: { '': slot('What the note says.'), picture: slot('A picture beside it.', { accepts: 'img, svg' }) },
  states: { pinned: 'It stays on top.' },
}) {
  static styleSheets = [
    stylesheet`
      :host { display: grid; grid-template-columns: 1fr auto; gap: 4px 12px; padding: 12px 16px; border-radius: 10px; background: light-dark(#fbf3df, #322d20); }
      :host(:state(pinned)) { box-shadow: inset 4px 0 #d98a1f; }
      footer { grid-column: 1 / -1; display: flex; justify-content: space-between; align-items: center; font-size: 0.85rem; color: light-dark(#6b6454, #b3ab98); }
      button { border: 0; background: none; font: inherit; color: inherit; text-decoration: underline; cursor: pointer; }
      button:focus-visible { outline: 2px solid currentColor; }
    `,
  ];

  view() {
    return markup`
      <div><slot></slot></div>
      <slot name="picture"></slot>
      <footer>
        <span>${() => [this.keeper, this.written].filter(Boolean).join(', ')}</span>
        <button type="button" aria-pressed=${() => String(this.pinned)} onclick=${this.pin}>${() => (this.pinned ? 'Unpin' : 'Pin')}</button>
      </footer>`;
  }

  connected() {
    this.mark();
  }

  attributeChanged() {
    this.mark();
  }

  mark(): void {
    if (this.pinned) this.states.add('pinned');
    else this.states.delete('pinned');
  }

  /** Pins the note, or takes the pin out, unless a listener says no. */
  pin(): void {
    if (this.emit('note-pin', { pinned: !this.pinned })) this.pinned = !this.pinned;
  }
}

KeeperNote.define();

declare global {
  interface HTMLElementTagNameMap {
    'keeper-note': KeeperNote;
  }
}
