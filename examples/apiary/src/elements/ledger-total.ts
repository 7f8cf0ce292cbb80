import { contract, markup, stylesheet } from 'eltrix';
import { formats, messages } from 'eltrix/language';
import { jars } from '../ledger.ts';

const texts = messages(
  'en',
  { jars: { one: 'jar', other: 'jars' } },
  {
    de: async () => ({ jars: { one: 'Glas', other: 'Gläser' } }),
  },
);

/** What the ledger adds up to, wherever it stands. */
export class LedgerTotal extends contract('ledger-total', {
  about: 'How many jars the honey ledger adds up to. All of them on a page show the same.',
}) {
  static styleSheets = [
    stylesheet`
      :host { display: inline-flex; gap: 6px; align-items: baseline; font-variant-numeric: tabular-nums; }
      :host([hidden]) { display: none; }
      b { font-size: 1.15em; }
    `,
  ];

  readonly #text = texts(this);
  readonly #format = formats(this);

  view() {
    return markup`<b>${() => this.#format.number(jars.get())}</b> ${() => this.#text('jars', { count: jars.get() })}`;
  }
}

LedgerTotal.define();

declare global {
  interface HTMLElementTagNameMap {
    'ledger-total': LedgerTotal;
  }
}
