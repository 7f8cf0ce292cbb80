/** Shows and uses every specimen once; several rules read the results. */
import { provoke } from './provoke.ts';
import { quiet } from './quiet.ts';
import { samplesOf } from './samples.ts';
import { type Stage, viewElements } from './stage.ts';
import { type Sent, sent, sheetTexts } from './watch.ts';

/** What an element's view has had in one specimen: as it stands there, and while it was used. */
export interface Seen {
  readonly title: string;
  /** Whether it has an open shadow root. */
  readonly hasRoot: boolean;
  /** Also those that come when the page fills them. */
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
      const [slots, parts] = [new Set<string>(), new Set<string>()];
      const lookAt = (element: HTMLElement) => {
        for (const { name } of element.shadowRoot?.querySelectorAll('slot') ?? []) slots.add(name);
        for (const node of viewElements(element)) for (const name of node.part) parts.add(name);
      };
      // Some are there only until something has loaded.
      const { element, end } = await stage.play(specimen, at, undefined, lookAt);
      const look = () => lookAt(element);
      look();
      seen.push({ title: specimen.title, hasRoot: element.shadowRoot !== null, slots, parts, css: cssOf(element) });
      for (const name of await slotsThatCome(stage, element, slots)) slots.add(name);
      const before = sent.length;
      await provoke(element, look);
      for (const property of stage.task.description.properties) {
        if (property.attribute === undefined) continue;
        for (const { text } of samplesOf(property, stage.task)) {
          element.setAttribute(property.attribute, text);
          await quiet();
          look();
        }
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
