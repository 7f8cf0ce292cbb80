/** Shows and uses every specimen once; several rules read the results. */
import { provoke } from './provoke.ts';
import { samplesOf } from './samples.ts';
import { type Stage, viewElements } from './stage.ts';
import { quiet, type Sent, sent, sheetTexts } from './watch.ts';

/** The nodes of the element's view in one specimen. */
export interface Seen {
  readonly title: string;
  /** Whether it has an open shadow root. */
  readonly hasRoot: boolean;
  /** Those in its view, and those that come when the page fills them. */
  readonly slots: ReadonlySet<string>;
  readonly parts: ReadonlySet<string>;
  readonly css: string;
}

export interface Walk {
  readonly seen: readonly Seen[];
  /** The dispatched events. */
  readonly events: readonly Sent[];
}

/** A description of the action. */
export const walked = 'showed every specimen, used each control, changed each attribute';

let walking: Promise<Walk> | undefined;

export function walk(stage: Stage): Promise<Walk> {
  walking ??= (async () => {
    const seen: Seen[] = [];
    const events: Sent[] = [];
    for (const [at, specimen] of stage.task.specimens.entries()) {
      const { element, end } = await stage.play(specimen, at);
      const shown = look(specimen.title, element);
      seen.push({ ...shown, slots: new Set([...shown.slots, ...(await slotsThatCome(stage, element, shown.slots))]) });
      const before = sent.length;
      await provoke(element);
      for (const property of stage.task.description.properties) {
        if (property.attribute === undefined) continue;
        for (const { text } of samplesOf(property, stage.task)) element.setAttribute(property.attribute, text);
        await quiet();
      }
      // Hooks called at disconnection may dispatch events as well.
      end();
      await quiet();
      events.push(...sent.slice(before).filter(({ target }) => target === element));
    }
    return { seen, events };
  })();
  return walking;
}

/** The declared slots that are in the view only while they have content. */
async function slotsThatCome(stage: Stage, element: HTMLElement, present: ReadonlySet<string>): Promise<string[]> {
  const come: string[] = [];
  for (const { name, accepts = 'span' } of stage.task.description.slots) {
    if (present.has(name) || !element.shadowRoot) continue;
    const content = accepts
      .split(',')
      .filter(selector => /^\s*[a-z][a-z0-9-]*\s*$/.test(selector))
      .map(selector => document.createElement(selector.trim()))
      .find(made => made.matches(accepts));
    // What it accepts cannot be made: it may come.
    if (!content) {
      come.push(name);
      continue;
    }
    content.textContent = name || 'content';
    content.slot = name;
    element.append(content);
    await quiet();
    if (content.assignedSlot) come.push(name);
    content.remove();
    await quiet();
  }
  return come;
}

function look(title: string, element: HTMLElement): Seen {
  return {
    title,
    hasRoot: element.shadowRoot !== null,
    slots: new Set([...(element.shadowRoot?.querySelectorAll('slot') ?? [])].map(({ name }) => name)),
    parts: new Set(viewElements(element).flatMap(node => [...node.part])),
    css: cssOf(element),
  };
}

/** All CSS of the element. */
function cssOf(element: HTMLElement): string {
  const root = element.shadowRoot;
  const sheets = root ? [...root.styleSheets, ...root.adoptedStyleSheets] : [...document.adoptedStyleSheets];
  const rules = sheets.map(sheet => {
    const owner = sheet.ownerNode;
    const written = owner instanceof HTMLStyleElement ? (owner.textContent ?? '') : sheetTexts.get(sheet);
    return (written ?? [...sheet.cssRules].map(rule => rule.cssText).join('\n')).replace(/\/\*.*?\*\//gs, '');
  });
  const inline = viewElements(element).map(node => node.getAttribute('style') ?? '');
  return [...rules, ...inline].join('\n');
}
