/** Adds elements to the page for a test, and removes them after it. */
import { type Markup, settled } from 'eltrix';
import { build } from '../../../eltrix/src/view/build.ts';
import { isMarkup } from '../../../eltrix/src/view/piece.ts';
import type { Binding, Owner } from '../../../eltrix/src/view/template.ts';
import { policy } from '../../../eltrix/src/view/trusted.ts';
import { atEnd, host } from './host.ts';
import { after } from './real-time.ts';

/** A specimen: a `<template title>` of an element's specimen file, or its HTML. */
export interface Specimen {
  readonly title: string;
  readonly html: string;
}

/** The owner of staged markup. It has no properties, so all dependencies are outside. */
const owner = (): Owner => ({
  shown: true,
  stale: 0,
  host: document.body,
  document,
  placed() {},
  changed() {},
  look() {},
});

/**
 * Adds markup, HTML, a specimen or a node to the page, waits until its custom elements are defined and all updates are
 * done, and removes it after the test.
 *
 * @returns the first added element.
 * @throws TypeError if there is no element; Error if a tag is not defined within two seconds.
 * @example const card = await stage<HiveCard>('<hive-card name="Rosemary"></hive-card>');
 */
export async function stage<E extends Element = HTMLElement>(
  content: Markup | string | Specimen | Node | TemplateStringsArray,
): Promise<E> {
  const box = document.createElement('div');
  box.append(nodeOf(content));
  document.body.append(box);
  host().staged?.(box);
  atEnd(() => box.remove());
  const first = box.firstElementChild;
  if (!first)
    throw new TypeError('(stage-empty): stage() takes markup or HTML with an element in it, and there is none.');
  await defined(box);
  await settled();
  return first as E;
}

function nodeOf(content: Markup | string | Specimen | Node | TemplateStringsArray): Node {
  if (isMarkup(content)) {
    const bindings: (Binding | undefined)[] = [];
    // Nothing that the markup shows is followed after the test.
    atEnd(() => {
      for (const binding of bindings) binding?.dispose();
    });
    return build(content, owner(), false, bindings)!;
  }
  if (typeof content === 'object' && 'nodeType' in content) return content;
  const html =
    typeof content === 'string' ? content : 'html' in content ? content.html : (content as readonly string[]).join('');
  const template = document.createElement('template');
  template.innerHTML = policy().createHTML(html);
  return document.importNode(template.content, true);
}

/** Waits for the custom elements in a tree, including those in open shadow roots. */
async function defined(root: ParentNode): Promise<void> {
  const tags = new Set<string>();
  for (const element of root.querySelectorAll(':not(:defined)'))
    tags.add(element.getAttribute('is') ?? element.localName);
  if (tags.size === 0) return;
  let stop = () => {};
  const waiting = new Promise<never>((_, reject) => {
    stop = after(2000, () => {
      const missing = [...tags].filter(tag => !customElements.get(tag)).map(tag => `<${tag}>`);
      reject(
        new Error(
          `(stage-undefined): ${missing.join(', ')} ${missing.length > 1 ? 'are' : 'is'} not defined after two seconds. Import the module that defines it without names (import './card.ts'): TypeScript removes an import whose names are only used as types. Or replace it: standIn('${[...tags][0]}').`,
        ),
      );
    });
  });
  try {
    await Promise.race([Promise.all([...tags].map(tag => customElements.whenDefined(tag))), waiting]);
  } finally {
    stop();
  }
}

/**
 * Reads a specimen file's text: `import text from './hive-card.specimen.html?raw'`.
 *
 * @param title the specimen's title; the first specimen unless given.
 * @throws RangeError if there is no specimen with the title.
 * @example const card = await stage(specimen(text, 'A calm hive'));
 */
export function specimen(text: string, title?: string): Specimen {
  const page = new DOMParser().parseFromString(policy().createHTML(text) as never, 'text/html');
  const all = [...page.querySelectorAll<HTMLTemplateElement>('template[title]')].map(template => ({
    title: template.title,
    html: template.innerHTML.trim(),
  }));
  const found = title === undefined ? all[0] : all.find(one => one.title === title);
  if (!found) {
    const names = all.map(one => JSON.stringify(one.title)).join(', ');
    throw new RangeError(
      `(specimen-missing): there is no specimen ${title === undefined ? '' : `"${title}" `}in this file. ${names ? `It has ${names}.` : 'Write one: <template title="…">…</template>.'}`,
    );
  }
  return found;
}
