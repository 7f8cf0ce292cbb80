/** The value goes down by attributes. */
import { contract, integer, markup } from 'eltrix';

class AttributeNode extends contract('tree-node', { attributes: { depth: integer(), value: integer() } }) {
  view() {
    return markup`<b>${() => this.value}</b>${() =>
      this.depth > 0 &&
      [0, 1, 2].map(() => markup`<tree-node depth=${() => this.depth - 1} value=${() => this.value}></tree-node>`)}`;
  }
}
AttributeNode.define();
