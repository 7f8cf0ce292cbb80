import { contract, data, markup, untracked } from 'eltrix';

class EltrixNode extends contract('tree-node', { properties: { depth: data(() => 0), value: data(() => 0) } }) {
  view() {
    const depth = untracked(() => this.depth) - 1;
    if (depth < 0) return markup`<b>${() => this.value}</b>`;
    const value = () => this.value;
    return markup`<b>${value}</b><tree-node ${{ depth, value }}></tree-node><tree-node ${{ depth, value }}></tree-node><tree-node ${{ depth, value }}></tree-node>`;
  }
}
EltrixNode.define();
