import { clamped, contract, each, event, markup, stylesheet } from 'eltrix';

const months = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];
const work = [
  'Listen at the entrance; leave them alone.',
  'Lift a corner: are the stores heavy?',
  'First warm day: clean the floors.',
  'Give room, mark the queen.',
  'Look every week for queen cells.',
  'Add boxes; the limes will flower.',
  'Take the first honey.',
  'Treat, and feed what is light.',
  'Narrow the entrances against wasps.',
  'Feed the last syrup.',
  'Guard against mice.',
  'Repair frames in the warm.',
];

/** The keeper's year. */
export class SeasonCalendar extends contract('season-calendar', {
  about: 'The keeper’s year: what each month asks for.',
  attributes: { month: clamped(1, 12, { default: 5, about: 'The chosen month, from 1 to 12.' }) },
  events: { 'month-choose': event<{ month: number }>({ about: 'The keeper chose a month.' }) },
}) {
  static styleSheets = [
    stylesheet`
      :host { display: block; }
      :host([hidden]) { display: none; }
      ol { display: grid; grid-template-columns: repeat(auto-fill, minmax(5.6em, 1fr)); gap: 6px; margin: 0; padding: 0; list-style: none; }
      button { width: 100%; padding: 8px 4px; border: 1px solid light-dark(#d9cfb8, #4a4538); border-radius: 8px; background: light-dark(#fffdf8, #24221d); color: inherit; font: inherit; font-size: 0.85rem; cursor: pointer; }
      button[aria-pressed='true'] { border-color: light-dark(#7a4a00, #f3c14b); background: light-dark(#fdecc4, #4a3a10); font-weight: 650; }
      button:focus-visible { outline: 2px solid light-dark(#8a5a00, #f3c14b); outline-offset: 2px; }
      p { margin: 14px 0 0; font-size: 1.05rem; }
    `,
  ];

  view() {
    return markup`
      <ol aria-label="Months">${each(
        () => months,
        name => name,
        (name, index) =>
          markup`<li><button type="button" aria-pressed=${() => String(this.month === index() + 1)} onclick=${() => this.choose(index() + 1)}>${name}</button></li>`,
      )}</ol>
      <p role="status"><b>${() => months[this.month - 1]}:</b> ${() => work[this.month - 1]}</p>`;
  }

  choose(month: number): void {
    this.month = month;
    this.emit('month-choose', { month });
  }
}

SeasonCalendar.define();

declare global {
  interface HTMLElementTagNameMap {
    'season-calendar': SeasonCalendar;
  }
}
