import { contract, event, integer, markup, stylesheet } from 'eltrix';

export class XStep extends contract('x-step', {
  attributes: {
    value: integer(),
    step: integer({ default: 1 }),
  },
  events: { 'step-change': event<number>() },
}) {
  static styleSheets = [stylesheet`:host{display:inline-flex;gap:6px}button{width:2em}`];

  view() {
    return markup`<button type="button" onclick=${this.less}>−</button><output>${() => this.value}</output><button type="button" onclick=${this.more}>+</button>`;
  }

  less() {
    this.value -= this.step;
    this.emit('step-change', this.value);
  }
  more() {
    this.value += this.step;
    this.emit('step-change', this.value);
  }
}
XStep.define();
