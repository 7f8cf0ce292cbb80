import { cssName, cssTokens } from '../../../project/css-tokens.ts';
import type { Failure, Said } from '../model.ts';
import { quiet } from '../quiet.ts';
import { samplesOf } from '../samples.ts';
import { type Stage, Unsaid } from '../stage.ts';
import { walk, walked } from '../walk.ts';
import { failure, type Rule } from './rule.ts';

const closed = ({ task }: Stage) => (task.description.shadow === 'closed' ? 'its shadow root is closed' : undefined);
/** A feature that the manifest omits may be anything. */
const unsaid = ({ task }: Stage, what: Said) =>
  task.unsaid.includes(what)
    ? `the manifest does not list its ${what === 'cssProperties' ? 'custom properties' : what}`
    : undefined;
const noSlots = (stage: Stage) =>
  closed(stage) ??
  unsaid(stage, 'slots') ??
  (stage.task.description.shadow === 'none'
    ? 'it has no shadow root'
    : stage.task.description.slots.length > 0
      ? undefined
      : 'it declares no slots');

const slotName = (name: string) => (name ? `the slot "${name}"` : 'the default slot');

interface Words {
  named(name: string): string;
  /** What was seen of one that is missing. */
  readonly never: string;
  /** How to write it. */
  show(name: string): string;
  /** Its entry in a contract. */
  declare(name: string): string;
}

/**
 * Those that are declared and were never there, and those that were there and are not declared. Tabs and boxes that
 * fold have some only while they show.
 */
async function unlikeDeclared(stage: Stage, what: 'slots' | 'parts', words: Words): Promise<Failure[]> {
  const declared = new Set<string>(stage.task.description[what].map(({ name }) => name));
  const titles = new Map<string, string>();
  for (const seen of (await walk(stage)).seen)
    for (const name of seen[what]) if (!titles.has(name)) titles.set(name, seen.title);
  const missing = [...declared].filter(name => !titles.has(name));
  const unknown = [...titles].filter(([name]) => !declared.has(name));
  return [
    ...missing.map(name => failure(walked, `${words.named(name)}, which is declared`, words.never, words.show(name))),
    ...unknown.map(([name, title]) =>
      failure(
        `looked at "${title}"`,
        `only declared ${what}`,
        `${words.named(name)} is not declared`,
        `Declare it: ${what}: { ${words.declare(name)} }.`,
      ),
    ),
  ];
}

/** Whether an element, or the one around it if it has no box itself (CSS Display §2.5), is rendered. */
function isRendered(element: Element): boolean {
  let at: Element | null = element;
  while (at && getComputedStyle(at).display === 'contents') at = at.parentElement;
  return at === null || at.getClientRects().length > 0;
}

export const structureRules: readonly Rule[] = [
  {
    code: 'slots-there',
    applies: stage =>
      closed(stage) ??
      unsaid(stage, 'slots') ??
      (stage.task.description.shadow === 'none' ? 'it has no shadow root' : undefined),
    async run(stage) {
      if ((await walk(stage)).seen.some(({ hasRoot }) => !hasRoot)) throw new Unsaid('it has no open shadow root');
      return unlikeDeclared(stage, 'slots', {
        named: slotName,
        never: 'it was never there',
        show: name => `Write <slot${name ? ` name="${name}"` : ''}></slot> in view(), or a specimen that shows it.`,
        declare: name => `'${name}': slot('…')`,
      });
    },
  },
  {
    code: 'parts-there',
    applies: stage => closed(stage) ?? unsaid(stage, 'parts'),
    run: stage =>
      unlikeDeclared(stage, 'parts', {
        named: name => `the part "${name}"`,
        never: 'no element has had it',
        show: name => `Write part="${name}" on an element of the view, or a specimen that shows it.`,
        declare: name => `'${name}': '…'`,
      }),
  },
  {
    code: 'slot-fallback',
    applies: noSlots,
    async run(stage) {
      const { box, element } = await stage.stage();
      element.replaceChildren();
      await quiet();
      try {
        for (const slot of element.shadowRoot?.querySelectorAll('slot') ?? []) {
          const fallback = [...slot.children].filter(
            child => !child.hasAttribute('hidden') && child.localName !== 'slot',
          );
          if (
            fallback.length === 0 ||
            fallback.every(
              child => child.textContent?.trim() === '' && child.clientHeight === 0 && child.children.length === 0,
            )
          )
            continue;
          const visible = fallback.some(child => child.getClientRects().length > 0);
          // A part of the view that does not show, such as a closed dialog, hides its slots.
          if (!visible && isRendered(slot.parentElement ?? element))
            return failure(
              `emptied ${slotName(slot.name)}`,
              `its fallback shows`,
              'it takes no room',
              'Do not hide the slot or its content with the CSS of the element.',
            );
        }
        return undefined;
      } finally {
        box.remove();
      }
    },
  },
  {
    code: 'slot-kept',
    applies: noSlots,
    async run(stage) {
      const { box, element } = await stage.stage();
      const { slots } = stage.task.description;
      for (const { name } of slots) {
        const child = document.createElement('span');
        child.textContent = 'kept';
        if (name) child.slot = name;
        element.append(child);
      }
      await quiet();
      const slotsOf = new Map([...element.children].map(child => [child, child.assignedSlot]));
      const fix =
        'Keep slots outside of live expressions, and do not change the children of the element: they belong to the page.';
      const moved = (did: string): Failure | undefined => {
        for (const [child, slot] of slotsOf) {
          const now = child.assignedSlot;
          if (child.parentNode !== element)
            return failure(did, 'the page’s content stays', `<${child.localName}> was taken away`, fix);
          if (slot && now && now !== slot)
            return failure(
              did,
              `<${child.localName}> stays in its slot`,
              'it is in a slot that was created again',
              fix,
            );
          // A slot may leave with the part of the view that shows it, and another one come back.
          slotsOf.set(child, now);
        }
        return undefined;
      };
      try {
        for (const { attribute, ...property } of stage.task.description.properties) {
          if (attribute === undefined) continue;
          const before = element.getAttribute(attribute);
          const shown = [...slotsOf].filter(([, slot]) => slot).map(([child]) => child);
          for (const { text } of samplesOf({ attribute, ...property }, stage.task)) {
            element.setAttribute(attribute, text);
            await quiet();
            const failed = moved(`set ${attribute}=${JSON.stringify(text)}`);
            if (failed) return failed;
          }
          if (before === null) element.removeAttribute(attribute);
          else element.setAttribute(attribute, before);
          await quiet();
          const did = `changed ${attribute}, and changed it back`;
          const failed = moved(did);
          if (failed) return failed;
          const lost = shown.find(child => !child.assignedSlot);
          if (lost) return failure(did, `<${lost.localName}> is in its slot again`, 'it is in none', fix);
        }
        return undefined;
      } finally {
        box.remove();
      }
    },
  },
  {
    code: 'custom-properties',
    applies: stage =>
      closed(stage) ??
      unsaid(stage, 'cssProperties') ??
      (stage.task.description.shadow === 'none' ? 'its styles are among those of the page' : undefined),
    async run(stage) {
      const declared = stage.task.description.cssProperties.map(({ name }) => name);
      const used = new Set<string>();
      const own = new Set<string>();
      for (const { css } of (await walk(stage)).seen) {
        const tokens = cssTokens(css);
        for (const [at, { text: written }] of tokens.entries()) {
          const text = cssName(written);
          if (!text.startsWith('--')) continue;
          const [before, after] = [tokens[at - 1]?.text.toLowerCase() ?? ';', tokens[at + 1]?.text];
          if (before === 'var(') used.add(text);
          else if (after === ':' && '{};'.includes(before)) own.add(text);
        }
      }
      const did = 'read the style sheets of the element';
      // A declared custom property may be set for nested elements.
      const unused = declared.filter(name => !used.has(name) && !own.has(name));
      const unknown = [...used].filter(name => !declared.includes(name) && !own.has(name));
      return [
        ...unused.map(name =>
          failure(
            did,
            `${name}, which is declared, in use`,
            'nothing uses it',
            `Write var(${name}, …) in a style sheet, or remove it from the contract.`,
          ),
        ),
        ...unknown.map(name =>
          failure(
            did,
            'only declared custom properties from outside',
            `var(${name}) is not declared`,
            `Declare it: cssProperties: { '${name}': '…' }.`,
          ),
        ),
      ];
    },
  },
];
