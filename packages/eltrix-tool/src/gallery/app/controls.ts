/** Controls for an element, from its contract. */
import type { ElementDescription } from '../../describe/description.ts';
import { type AttributeControl, factsOf } from '../../project/kinds/index.ts';
import type { Changes, FrameState } from '../model.ts';

export type ControlKind = AttributeControl | 'html' | 'colour' | 'state';

export interface Control {
  readonly group: keyof Changes;
  /** The name to set: of an attribute, property or slot. */
  readonly name: string;
  /** The label. */
  readonly title: string;
  readonly kind: ControlKind;
  readonly about: string | undefined;
  readonly values: readonly string[];
  readonly min: number | undefined;
  readonly max: number | undefined;
  readonly whole: boolean;
  /** The effect of an absent attribute. */
  readonly fallback: string | undefined;
  /** A slot or part to outline while the control has the focus. */
  readonly outline: { readonly kind: 'slot' | 'part'; readonly name: string } | undefined;
}

export interface ControlGroup {
  readonly title: string;
  readonly controls: readonly Control[];
}

const plain = {
  values: [] as readonly string[],
  min: undefined,
  max: undefined,
  whole: false,
  fallback: undefined,
  outline: undefined,
} as const;

export function controlsOf(element: ElementDescription): ControlGroup[] {
  const groups: ControlGroup[] = [
    {
      title: 'Attributes',
      controls: element.properties.flatMap(property => {
        const { attribute, kind, about, values, range } = property;
        if (attribute === undefined) return [];
        const facts = factsOf(kind);
        return {
          ...plain,
          group: 'attributes' as const,
          name: attribute,
          title: attribute,
          kind: facts.control(property),
          about,
          values,
          min: range?.[0] ?? facts.least,
          max: range?.[1],
          whole: facts.whole ?? false,
          fallback: property.default === undefined ? undefined : unquoted(property.default),
        };
      }),
    },
    {
      title: 'Properties',
      controls: element.properties.flatMap(({ attribute, name, about, kind }) =>
        attribute === undefined
          ? {
              ...plain,
              group: 'properties' as const,
              name,
              title: name,
              kind: 'json' as const,
              about: kind === 'live' ? `${about ?? ''} Tracked deeply.`.trim() : about,
            }
          : [],
      ),
    },
    {
      title: 'Slots',
      controls: element.slots.map(({ name, about, accepts, required }) => ({
        ...plain,
        group: 'slots' as const,
        name,
        title: name || '(default)',
        kind: 'html' as const,
        about: [about, accepts && `Takes ${accepts}.`, required && 'Required.'].filter(Boolean).join(' '),
        outline: { kind: 'slot' as const, name },
      })),
    },
    {
      title: 'Custom properties',
      controls: element.cssProperties.map(({ name, about }) => ({
        ...plain,
        group: 'cssProperties' as const,
        name,
        title: name,
        kind: /colou?r|accent|background|tint|shade/i.test(`${name} ${about}`)
          ? ('colour' as const)
          : ('text' as const),
        about,
      })),
    },
    {
      title: 'States',
      controls: element.states.map(({ name, about }) => ({
        ...plain,
        group: 'states' as const,
        name,
        title: `:state(${name})`,
        kind: 'state' as const,
        about,
      })),
    },
  ];
  return groups.filter(({ controls }) => controls.length > 0);
}

function unquoted(json: string): string {
  const value: unknown = JSON.parse(json);
  return typeof value === 'string' ? value : json;
}

/** The value of a control: the user's change, else the element's value; null means absent. */
export function currentOf(
  { group, name, kind }: Control,
  changes: Changes,
  state: FrameState | undefined,
): string | null {
  const changed = changes[group][name];
  switch (group) {
    case 'attributes':
      // Text that is being edited stays; the rest follows the element.
      if (changed !== undefined && kind !== 'flag' && kind !== 'choice') return changed as string | null;
      return state ? (state.attributes[name] ?? null) : ((changed as string | null | undefined) ?? null);
    case 'properties':
      return (changed as string | undefined) ?? state?.properties[name] ?? '';
    case 'slots':
      return (changed as string | undefined) ?? state?.slots[name] ?? '';
    case 'cssProperties':
      return (changed as string | undefined) ?? '';
    case 'states':
      return (state ? state.states.includes(name) : changed) ? '' : null;
  }
}

/** The syntax error of edited JSON; undefined for valid JSON. */
export function jsonProblem(text: string): string | undefined {
  if (text.trim() === '') return undefined;
  try {
    JSON.parse(text);
    return undefined;
  } catch (error) {
    return (error as Error).message;
  }
}
