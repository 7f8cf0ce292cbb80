import { choice, contract, data, each, event, flag, integer, markup, slot, stylesheet, text } from 'eltrix';

/** One frame of a hive: the honey on it in kilograms, and whether it is capped. */
export interface Frame {
  readonly id: number;
  readonly honey: number;
  readonly capped: boolean;
}

/** What a full frame holds, in kilograms. */
const full = 3;

export class HiveCard extends contract('hive-card', {
  about: 'One hive at a glance: its name, its mood and how full its frames are.',
  attributes: {
    name: text({ about: 'Painted on the front of the hive.' }),
    boxes: integer({ default: 1, about: 'How many boxes are stacked.' }),
    mood: choice(['calm', 'busy', 'swarming'], { missing: 'calm', invalid: 'calm', about: 'How the bees are.' }),
    compact: flag({ about: 'Leaves the frames out.' }),
  },
  properties: { frames: data<readonly Frame[]>(() => [], { about: 'The frames, from the left.' }) },
  events: { 'hive-open': event<{ name: string }>({ about: 'The keeper opened the hive.' }) },
  slots: { '': slot('Notes about the hive.'), badge: slot('Replaces the mood badge.') },
  parts: { gauge: 'The honey gauge.' },
  cssProperties: { '--hive-accent': 'Colour of the gauge.' },
}) {
  static styleSheets = [
    stylesheet`
      :host {
        display: flex;
        flex-direction: column;
        gap: 12px;
        padding: 18px 20px;
        border: 1px solid light-dark(#e4ddcd, #3b372e);
        border-radius: 14px;
        background: light-dark(#fffdf8, #24221d);
        color: inherit;
      }
      :host([hidden]) { display: none; }
      .head { display: flex; align-items: center; justify-content: space-between; gap: 8px; }
      h3 { margin: 0; font-size: 1.15rem; font-weight: 650; letter-spacing: -0.01em; }
      .mood { padding: 2px 10px; border-radius: 99px; font-size: 0.8rem; font-weight: 600; }
      .calm { background: light-dark(#dff0dc, #24402a); color: light-dark(#25592f, #b5e0b8); }
      .busy { background: light-dark(#fdecc4, #4a3a10); color: light-dark(#6b4a00, #f3d27a); }
      .swarming { background: light-dark(#fbdcd3, #54231a); color: light-dark(#8c2a14, #f5b3a3); }
      dl { display: flex; gap: 24px; margin: 0; font-size: 0.9rem; }
      dt { color: light-dark(#6b6454, #b3ab98); }
      dd { margin: 0; font-weight: 600; font-variant-numeric: tabular-nums; }
      ol { display: flex; gap: 4px; margin: 0; padding: 0; list-style: none; }
      li { flex: 1; height: 46px; display: flex; align-items: end; border-radius: 3px; background: light-dark(#efe8d8, #38342b); overflow: hidden; }
      li span { display: block; width: 100%; background: var(--hive-accent, #e2a21b); }
      li.capped span { background-image: repeating-linear-gradient(135deg, #0002 0 2px, #0000 2px 6px); }
      :host([compact]) ol, ol:empty { display: none; }
      ::slotted(p) { margin: 0; font-size: 0.9rem; line-height: 1.45; color: light-dark(#5b5546, #c5bda9); }
      button {
        align-self: start; margin-top: auto; padding: 6px 14px; border: 1px solid light-dark(#cfc5ae, #575142); border-radius: 8px;
        background: transparent; color: inherit; font: inherit; font-size: 0.9rem; cursor: pointer;
      }
      button:hover { background: light-dark(#f5eedd, #332f27); }
      button:focus-visible { outline: 2px solid light-dark(#8a5a00, #f3c14b); outline-offset: 2px; }
    `,
  ];

  view() {
    return markup`
      <div class="head">
        <h3>${() => this.name || 'Unnamed hive'}</h3>
        <slot name="badge"><b class="mood ${() => this.mood}">${() => this.mood}</b></slot>
      </div>
      <dl>
        <div><dt>Boxes</dt><dd>${() => this.boxes}</dd></div>
        ${() => this.frames.length > 0 && markup`<div><dt>Honey</dt><dd>${() => this.honey.toFixed(1)} kg</dd></div>`}
      </dl>
      <ol part="gauge" aria-label="Frames">${each(
        () => this.frames,
        frame => frame.id,
        (frame, index) => markup`
          <li class=${() => ({ capped: frame().capped })} title=${() => `Frame ${index() + 1}: ${frame().honey} kg`}>
            <span style=${() => ({ height: `${Math.min(100, (frame().honey / full) * 100)}%` })}></span>
          </li>`,
      )}</ol>
      <slot></slot>
      <button type="button" onclick=${this.open}>Open hive</button>`;
  }

  /** All the honey in the hive, in kilograms. */
  get honey(): number {
    return this.frames.reduce((sum, frame) => sum + frame.honey, 0);
  }

  /** Asks the page to open the hive. */
  open(): void {
    this.emit('hive-open', { name: this.name });
  }
}

HiveCard.define();

declare global {
  interface HTMLElementTagNameMap {
    'hive-card': HiveCard;
  }
}
