/** Renders one element, or a piece of markup, as HTML. */
import { contractKey } from '../element/contract-key.ts';
import { isMarkup, type Markup } from '../view/piece.ts';
import { areBlank, type Child, type Owner, type RenderOptions, type Writing } from './context.ts';
import type { ElementClass } from './host.ts';
import type { Rendering } from './rendering.ts';
import { childrenOf } from './steps.ts';

export interface ElementOptions<Instance> extends RenderOptions {
  /**
   * Attribute name to value: a string or number sets it, true sets the empty string, false, null and undefined omit
   * it.
   */
  readonly attributes?: Readonly<Record<string, string | number | boolean | null | undefined>>;
  /** Property name to value. Values without an attribute are sent as JSON, if JSON can represent them. */
  readonly properties?: Partial<Instance> | undefined;
  /** The content: markup, or text. */
  readonly content?: Markup | string | undefined;
}

/** The owner of markup outside of elements. */
export const noOwner = ({ context }: Rendering): Owner => ({ tag: '', driver: undefined, parent: context.around });

export function* writeElement<E extends HTMLElement>(
  rendering: Rendering,
  Class: new () => E,
  { attributes = {}, properties = {}, content }: ElementOptions<E>,
): Writing {
  const contract = (Class as Partial<ElementClass> | undefined)?.[contractKey];
  if (contract === undefined)
    throw new TypeError(
      `(render-class): renderElement() takes a class made with contract(), and ${String((Class as { name?: string } | undefined)?.name ?? Class)} is none. Write renderElement(HiveCard).`,
    );
  const written = new Map<string, string>();
  if (contract.extends !== undefined) written.set('is', contract.tag);
  for (const [name, value] of Object.entries(attributes)) {
    if (value === null || value === undefined || value === false) continue;
    if (!/^[^\s"'<>/=\0]+$/.test(name) || /^on/i.test(name))
      throw new TypeError(
        `(render-attribute): ${JSON.stringify(name)} cannot be written as an attribute. Listeners are added in the browser.`,
      );
    written.set(name.toLowerCase(), value === true ? '' : String(value));
  }
  const writing = rendering.custom({
    Class: Class as unknown as ElementClass,
    tag: contract.extends ?? contract.tag,
    attributes: written,
    properties,
    children: content === undefined ? [] : childrenFrom(rendering, content),
    parent: rendering.context.around,
  });
  if (writing) yield* writing;
}

function childrenFrom(rendering: Rendering, content: Markup | string): Child[] {
  if (!isMarkup(content))
    return [
      {
        slot: '',
        isElement: false,
        isBlank: areBlank([String(content)]),
        write: () => rendering.text(String(content)),
      },
    ];
  const { values } = content;
  return childrenOf(content).map(({ slot, tag, isBlank, steps }) => ({
    slot,
    isElement: tag !== undefined,
    isBlank,
    write: parent => rendering.steps(steps, values, { ...noOwner(rendering), parent }),
  }));
}
