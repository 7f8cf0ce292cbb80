/**
 * Compiles static elements ("lean" in code): the views show nothing but properties, so all dependencies are known and
 * the elements need no bindings. An element with unknown parts is compiled like the others.
 */

import { keyOf, membersRead, type Node, walk } from '../project/syntax.ts';
import { type PartsModule, partsOf, scopeParts } from './class-parts.ts';
import type { StatedContract } from './declaration.ts';
import type { Edit } from './edit.ts';
import type { Known } from './infer.ts';
import { ownMembers, type ScopeModule, scopeOf } from './lean-scope.ts';
import { type SheetModule, sheetsOf } from './lean-sheets.ts';
import type { ViewModule } from './lean-values.ts';
import { bindView } from './lean-view.ts';

/** The module being compiled, as far as this file needs it. */
export type LeanModule = PartsModule & ScopeModule & SheetModule & ViewModule;

export interface LeanElement {
  /** The code that replaces the call of `contract`. */
  readonly call: string;
  readonly edits: readonly Edit[];
  /** The templates that were compiled. */
  readonly done: ReadonlySet<Node>;
  /** The code of templates, which the calls need. */
  readonly templates: readonly string[];
}

/** Members that the class of a static element does not declare, since they need more of the runtime. */
const more =
  /^(?:internals|states|slotted|isFilled|define|emit|observedAttributes|(?:form\w+|connected|disconnected|adopted|attributeChanged|connectedMove)Callback|shadowRoot|attachInternals)$/;
/** Those of them that its code may use. */
const usable = /^(?:emit|internals|states|shadowRoot)$/;

const mayUse = (name: string) => usable.test(name) || !more.test(name);

/** Parts that do not concern the view. */
const leanParts = new Set([
  'hooksPart',
  'scopePart',
  ...Object.values(scopeParts),
  'attributePart',
  'propertyPart',
  'movePart',
  'internalsPart',
  'statesPart',
  'formPart',
]);

/** @returns undefined for an element that is not static. */
export function leanElement(
  node: Node,
  contract: StatedContract,
  known: Known,
  module: LeanModule,
): LeanElement | undefined {
  if (contract.base || contract.more) return undefined;
  if (contract.members.some(({ rule, make }) => rule === undefined && make === undefined)) return undefined;
  const sheets = sheetsOf(node, module);
  if (sheets === null) return undefined;
  const parts = new Set([...contract.parts, ...partsOf(node, module, true)]);
  // The class of a static element has its own `emit`.
  parts.delete('plainEmitPart');
  // Sheets that come later are another matter.
  if (sheets?.areImported && !module.named.has('styleSheets')) parts.delete('sheetsPart');
  if ([...parts].some(name => !leanParts.has(name))) return undefined;
  if ([...module.keys].some(name => more.test(name) && !/^(?:emit|define|internals|states)$/.test(name)))
    return undefined;
  const own = ownMembers(node);
  if (!own || [...own.keys()].some(name => more.test(name))) return undefined;
  const view = own.get('view');
  const isFollowed = known.hasSignals || contract.members.some(({ make }) => make !== undefined);
  const scope = view && scopeOf(contract, own, view['value'], known, module);
  const bound = scope && bindView(view, scope, known, module, isFollowed);
  if (view && !bound) return undefined;
  const done = new Set([...(bound?.done ?? []), ...(sheets?.templates ?? [])]);
  if (!keepsToItself(node, done)) return undefined;
  const rules = contract.members.flatMap(({ name, attribute, rule }) =>
    rule === undefined ? [] : [`${JSON.stringify(attribute === name ? name : `${name} ${attribute}`)}: ${rule}`],
  );
  const makers = contract.members.flatMap(({ name, kind, make }) =>
    make === undefined
      ? []
      : [`${JSON.stringify(name)}: ${kind === 'live' ? `${module.use('leanLive')}(${make})` : make}`],
  );
  const given = [...(isFollowed ? [`{ ${makers.join(', ')} }`] : []), ...abilityCode(parts, module)].join(', ');
  const args = [
    JSON.stringify(contract.tag),
    JSON.stringify(contract.surface),
    `{ ${rules.join(', ')} }`,
    sheets?.code ?? '[]',
    // Without a view the content is shown.
    JSON.stringify(bound ? bound.html : '<slot></slot>'),
    ...(isFollowed ? [`${module.use('withData')}(${given})`] : given ? [given] : []),
  ];
  return {
    call: `${module.use('lean')}(${args.join(', ')})`,
    edits: [
      ...(sheets ? [{ start: sheets.member.start, end: sheets.member.end, parts: [] }] : []),
      ...(bound?.edits ?? []),
    ],
    done,
    templates: bound?.templates ?? [],
  };
}

/** What it has besides its view: `attributeChanged` alone needs no lifecycle. */
function abilityCode(parts: ReadonlySet<string>, module: LeanModule): string[] {
  if (parts.size === 0) return [];
  if (parts.size === 1 && parts.has('attributePart')) return [`${module.use('withAttributes')}()`];
  return [`${module.use('withParts')}([${[...parts].map(name => module.use(name)).join(', ')}])`];
}

/** Whether a class uses itself only as `this.name` or `const { name } = this`, and none of the members above. */
function keepsToItself(node: Node, templates: ReadonlySet<Node>): boolean {
  let well = true;
  walk(node['body'], (inner, parents) => {
    const above = parents.at(-1)!;
    if (inner.type === 'ThisExpression')
      well &&=
        membersRead(inner, above)?.every(mayUse) ??
        (above.type === 'MemberExpression' &&
          above['object'] === inner &&
          !above['computed'] &&
          (above['property'].type === 'PrivateIdentifier' || mayUse(above['property']['name'] as string)));
    else if (inner.type === 'Super') well &&= above.type === 'CallExpression';
    else if (inner.type === 'TaggedTemplateExpression') well &&= templates.has(inner);
    else if (inner.type === 'Decorator' || inner.type === 'MetaProperty') well = false;
    // `$` and numbers are names in compiled code.
    else if (inner.type === 'Identifier') well &&= !/^\${1,2}\d*$/.test(inner['name']);
    else if (/^(?:Method|Property)Definition$/.test(inner.type) && inner['static'])
      well &&=
        inner['key'].type === 'PrivateIdentifier' ||
        !(more.test(keyOf(inner) ?? 'define') || keyOf(inner) === 'formAssociated');
    return well;
  });
  return well;
}
