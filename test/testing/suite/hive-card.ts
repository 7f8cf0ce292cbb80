import { contract, event, flag, integer, markup, text } from 'eltrix';

export class HiveCard extends contract('hive-card', {
  attributes: { name: text(), boxes: integer({ default: 1 }), open: flag() },
  events: { 'hive-open': event<{ name: string }>() },
}) {
  view() {
    return markup`<h3>${() => this.name}</h3><input aria-label="Boxes"><button onclick=${this.toggle}>Open</button><slot></slot>`;
  }

  toggle() {
    this.open = !this.open;
    this.emit('hive-open', { name: this.name });
  }

  never() {
    return 'not run';
  }
}
HiveCard.define();
