/** Outlines the content of a slot, or a part. */

let drawn: HTMLElement[] = [];

export function outline(host: Element, of: { readonly kind: 'slot' | 'part'; readonly name: string } | null): void {
  for (const box of drawn) box.remove();
  drawn = [];
  if (!of) return;
  const root = host.shadowRoot ?? host;
  const targets =
    of.kind === 'part' ? [...root.querySelectorAll(`[part~=${JSON.stringify(of.name)}]`)] : slotted(root, of.name);
  for (const target of targets) {
    const range = document.createRange();
    if (target instanceof Element) range.selectNode(target);
    else range.selectNode(target as Node);
    const { left, top, width, height } =
      target instanceof Element ? target.getBoundingClientRect() : range.getBoundingClientRect();
    const box = document.createElement('div');
    box.className = 'eltrix-outline';
    box.dataset['name'] = of.kind === 'part' ? `::part(${of.name})` : of.name ? `slot ${of.name}` : 'default slot';
    Object.assign(box.style, {
      left: `${left + scrollX - 2}px`,
      top: `${top + scrollY - 2}px`,
      width: `${Math.max(width, 4) + 4}px`,
      height: `${Math.max(height, 4) + 4}px`,
    });
    document.documentElement.append(box);
    drawn.push(box);
  }
}

/** The assigned nodes, or the fallback of an empty slot. */
function slotted(root: ParentNode, name: string): Node[] {
  const slot = [...root.querySelectorAll('slot')].find(slot => slot.name === name);
  if (!slot) return [];
  const nodes = slot.assignedNodes().filter(node => node instanceof Element || node.textContent?.trim());
  return nodes.length > 0 ? nodes : [...slot.children];
}
