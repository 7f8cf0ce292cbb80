import { contract, event, integer, markup, stylesheet } from 'eltrix';

export class XPager extends contract('x-pager', {
  attributes: {
    page: integer({ default: 1 }),
    pages: integer({ default: 1 }),
  },
  events: { 'page-change': event<number>() },
}) {
  static styleSheets = [stylesheet`:host{display:inline-flex;gap:8px;align-items:center}button{width:2em}`];

  view() {
    return markup`<button type="button" onclick=${this.back}>‹</button><span>${() => this.page} of ${() => this.pages}</span><button type="button" onclick=${this.next}>›</button>`;
  }

  back() {
    this.page -= 1;
    this.emit('page-change', this.page);
  }
  next() {
    this.page += 1;
    this.emit('page-change', this.page);
  }
}
XPager.define();
