import { contract, markup, stylesheet } from 'eltrix';
import { jars } from '../ledger.ts';

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

  view() {
    return markup`<b>${() => jars.get()}</b> jars`;
  }
}

LedgerTotal.define();

declare global {
  interface HTMLElementTagNameMap {
    'ledger-total': LedgerTotal;
  }
}
