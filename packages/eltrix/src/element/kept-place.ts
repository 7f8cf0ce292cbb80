/** Development: keeps focus, selection, scroll position and what was entered while the nodes of a root are rebuilt. */

type Field = HTMLInputElement | HTMLTextAreaElement;
type Path = readonly number[];

const isField = (node: Element): node is Field => 'selectionStart' in node || node.localName === 'input';

function pathOf(root: ParentNode & Node, element: Element): Path {
  const path: number[] = [];
  for (let at: Element = element; at !== (root as Node) && at.parentNode; at = at.parentNode as Element) {
    path.unshift([...(at.parentNode as ParentNode).children].indexOf(at));
    if (at.parentNode === root) break;
  }
  return path;
}

function elementAt(root: ParentNode, path: Path): Element | undefined {
  let at: ParentNode | undefined = root;
  for (const index of path) at = at?.children[index];
  return at === root ? undefined : (at as Element | undefined);
}

/** @returns a function that restores them at the same places of a root. */
export function keepPlace(
  root: ShadowRoot | HTMLElement | undefined,
): (now: ShadowRoot | HTMLElement | undefined) => void {
  if (!root) return () => {};
  const steps: ((now: ParentNode) => void)[] = [];
  const active = (root.getRootNode() as ShadowRoot | Document).activeElement;
  for (const element of root.querySelectorAll('*')) {
    const path = pathOf(root, element);
    const again = (now: ParentNode) => {
      const found = elementAt(now, path);
      return found?.localName === element.localName ? found : undefined;
    };
    const { scrollTop, scrollLeft } = element;
    if (scrollTop || scrollLeft)
      steps.push(now => again(now)?.scrollTo({ top: scrollTop, left: scrollLeft, behavior: 'instant' }));
    if (element.localName === 'details') {
      const { open } = element as HTMLDetailsElement;
      steps.push(now => {
        const found = again(now) as HTMLDetailsElement | undefined;
        if (found) found.open = open;
      });
    } else if (element.localName === 'option') {
      const { value, selected } = element as HTMLOptionElement;
      steps.push(now => {
        const found = again(now) as HTMLOptionElement | undefined;
        if (found?.value === value) found.selected = selected;
      });
    } else if (isField(element)) {
      const { value, checked } = element as HTMLInputElement;
      const isEdited =
        value !== (element as Field).defaultValue || checked !== (element as HTMLInputElement).defaultChecked;
      if (isEdited && (element as Field).type !== 'file')
        steps.push(now => {
          const field = again(now) as HTMLInputElement | undefined;
          if (!field) return;
          if (field.value !== value) field.value = value;
          if (checked !== undefined) field.checked = checked;
        });
    }
    if (element !== active) continue;
    const { selectionStart, selectionEnd } = element as Field;
    steps.push(now => {
      const found = again(now) as HTMLElement | undefined;
      found?.focus({ preventScroll: true });
      if (typeof selectionStart === 'number')
        (found as Field | undefined)?.setSelectionRange(selectionStart, selectionEnd);
    });
  }
  return now => {
    if (now) for (const step of steps) step(now);
  };
}
