import type { PropertyDescription } from '../../../describe/description.ts';
import type { Sample } from '../../../project/kinds/index.ts';
import type { Failure } from '../model.ts';
import { quiet } from '../quiet.ts';
import { badTexts, samplesOf, shown } from '../samples.ts';
import type { Stage } from '../stage.ts';
import { errorsIn, sent } from '../watch.ts';
import { failure, type Rule } from './rule.ts';

type Properties = HTMLElement & Record<string, unknown>;

function attributesOf({ task }: Stage): PropertyDescription[] {
  return task.description.properties.filter(({ attribute }) => attribute !== undefined);
}

const none = (stage: Stage) => (attributesOf(stage).length > 0 ? undefined : 'it declares no attributes');

/** A fresh connected element for each attribute, so that attributes do not affect each other. */
async function withEach(
  stage: Stage,
  test: (element: Properties, property: PropertyDescription) => Promise<Failure | undefined> | Failure | undefined,
): Promise<Failure | undefined> {
  for (const property of attributesOf(stage)) {
    const { box, element } = await stage.stage();
    element.removeAttribute(property.attribute!);
    await quiet();
    try {
      const found = await test(element as Properties, property);
      if (found) return found;
    } finally {
      box.remove();
    }
  }
  return undefined;
}

/** How often an attribute may change, or an event be dispatched, after one change; more counts as a loop. */
const enough = 25;

export const reflectionRules: readonly Rule[] = [
  {
    code: 'reflection',
    applies: none,
    run: stage =>
      withEach(stage, async (element, property) => {
        for (const sample of samplesOf(property, stage.task)) {
          const found = (await fromText(element, property, sample)) ?? (await fromValue(element, property, sample));
          if (found) return found;
        }
        return undefined;
      }),
  },
  {
    code: 'bad-value',
    applies: stage =>
      stage.task.foreign
        ? 'its manifest does not say what bad values become'
        : attributesOf(stage).some(property => badTexts(property).length > 0)
          ? undefined
          : 'no attribute has bad values',
    run: stage =>
      withEach(stage, async (element, property) => {
        const { name, attribute, kind, values } = property;
        const initial = element[name];
        for (const text of badTexts(property)) {
          const errors = await errorsIn(() => element.setAttribute(attribute!, text));
          const seen = element[name];
          const did = `set ${attribute}=${JSON.stringify(text)}`;
          if (errors[0])
            return failure(
              did,
              'no error',
              errors[0],
              'Read the property, not the attribute: it is never a bad value.',
            );
          const isDefault =
            kind === 'choice'
              ? seen === null || seen === '' || seen === initial || values.includes(seen as string)
              : Object.is(seen, initial);
          if (!isDefault)
            return failure(
              did,
              `${name} is its default, ${shown(initial)}`,
              `${name} is ${shown(seen)}`,
              'Remove the accessor of the class: it replaces the declared property.',
            );
        }
        return undefined;
      }),
  },
  {
    code: 'removal-default',
    applies: none,
    run: stage =>
      withEach(stage, async (element, property) => {
        const { name, attribute } = property;
        const initial = element[name];
        for (const { text } of samplesOf(property, stage.task).slice(0, 1)) {
          element.setAttribute(attribute!, text);
          await quiet();
          element.removeAttribute(attribute!);
          await quiet();
          const seen = element[name];
          const did = `set ${attribute}=${JSON.stringify(text)} and removed it`;
          if (element.hasAttribute(attribute!))
            return failure(
              did,
              'no such attribute',
              `it is there again: ${shown(element.getAttribute(attribute!))}`,
              'Do not set an attribute because it was removed.',
            );
          if (!isSame(seen, initial))
            return failure(
              did,
              `${name} is ${shown(initial)}, as before`,
              `${name} is ${shown(seen)}`,
              'Do not keep a copy of the property.',
            );
        }
        return undefined;
      }),
  },
  {
    code: 'no-loop',
    applies: stage =>
      attributesOf(stage).length + stage.task.description.events.length > 0
        ? undefined
        : 'it declares neither attributes nor events',
    async run(stage) {
      const { box, element } = await stage.stage();
      let count = 0;
      const observer = new MutationObserver(records => {
        count += records.length;
      });
      observer.observe(element, { attributes: true });
      const handlers = stage.task.description.events.map(({ type }) => type);
      // Like a page that listens to a change and sets the attribute.
      const again = () => {
        if (count++ > enough * 4) return;
        for (const { attribute } of attributesOf(stage)) {
          const text = element.getAttribute(attribute!);
          if (text !== null) element.setAttribute(attribute!, text);
        }
      };
      for (const type of handlers) element.addEventListener(type, again);
      try {
        for (const property of attributesOf(stage)) {
          for (const { text } of samplesOf(property, stage.task)) {
            count = 0;
            const before = sent.length;
            const [error] = await errorsIn(async () => {
              element.setAttribute(property.attribute!, text);
              await quiet();
              await quiet();
            });
            const did = `set ${property.attribute}=${JSON.stringify(text)}, with a handler that writes attributes back`;
            const fix = 'Write an attribute or send an event only if something differs from before.';
            if (error && /stack|recursion|update-cycle/i.test(error)) return failure(did, 'one change', error, fix);
            const events = sent.slice(before).filter(({ target }) => target === element).length;
            if (count > enough || events > enough)
              return failure(did, 'one change', `${Math.max(count, events)} changes and events, and no end`, fix);
          }
        }
        return undefined;
      } finally {
        observer.disconnect();
        for (const type of handlers) element.removeEventListener(type, again);
        box.remove();
      }
    },
  },
];

function isSame(a: unknown, b: unknown): boolean {
  if (a instanceof DOMTokenList && b instanceof DOMTokenList) return a.value === b.value;
  return Object.is(a, b) || (typeof a === 'object' && shown(a) === shown(b));
}

const accessorFix =
  'Remove the field or accessor of the class, or the code in attributeChanged, that replaces the declared property.';

async function fromText(
  element: Properties,
  { name, attribute, kind }: PropertyDescription,
  { text, value }: Sample,
): Promise<Failure | undefined> {
  const did = `set ${attribute}=${JSON.stringify(text)}`;
  const errors = await errorsIn(() => element.setAttribute(attribute!, text));
  if (errors[0])
    return failure(did, 'no error', errors[0], 'Let the view show every value that its attributes may have.');
  if (kind === 'flag' && element[name] !== true)
    return failure(did, `${name} is true`, `${name} is ${shown(element[name])}`, accessorFix);
  if (value !== undefined && !isSame(element[name], value))
    return failure(did, `${name} is ${shown(value)}`, `${name} is ${shown(element[name])}`, accessorFix);
  if (element.getAttribute(attribute!) !== text)
    return failure(
      did,
      `the attribute keeps its text`,
      `it is ${shown(element.getAttribute(attribute!))}`,
      'Do not write an attribute that the page has set.',
    );
  return undefined;
}

async function fromValue(
  element: Properties,
  { name, attribute, kind, reflects }: PropertyDescription,
  { text, value }: Sample,
): Promise<Failure | undefined> {
  if (value === undefined || kind === 'url' || kind === 'tokens') return undefined;
  element.removeAttribute(attribute!);
  await quiet();
  element[name] = value;
  await quiet();
  const did = `assigned ${name} = ${shown(value)}`;
  if (!isSame(element[name], value))
    return failure(did, `${name} is ${shown(value)}`, `${name} is ${shown(element[name])}`, accessorFix);
  const seen = element.getAttribute(attribute!);
  if (!reflects)
    return seen === null
      ? undefined
      : failure(
          did,
          `the attribute ${attribute} stays absent, as "reflect: false" says`,
          `it is ${shown(seen)}`,
          accessorFix,
        );
  return seen === text
    ? undefined
    : failure(did, `the attribute ${attribute} is ${shown(text)}`, `it is ${shown(seen)}`, accessorFix);
}
