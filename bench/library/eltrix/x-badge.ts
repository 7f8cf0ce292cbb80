import { choice, contract, markup, stylesheet, text } from 'eltrix';

export class XBadge extends contract('x-badge', {
  attributes: {
    label: text(),
    tone: choice(['calm', 'busy', 'alarm'], { missing: 'calm', invalid: 'calm' }),
  },
}) {
  static styleSheets = [
    stylesheet`:host{display:inline-block}b{padding:2px 8px;border-radius:99px;background:#eee}.busy{background:#fdecc4}.alarm{background:#fbdcd3}`,
  ];

  view() {
    return markup`<b class=${() => this.tone}>${() => this.label}</b><slot></slot>`;
  }
}
XBadge.define();
