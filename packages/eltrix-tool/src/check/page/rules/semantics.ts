import { contractKey } from '../../../../../eltrix/src/element/contract-key.ts';
import { type Contract, declarations } from '../../../../../eltrix/src/element/plan.ts';
import type { Failure } from '../model.ts';
import { quiet } from '../quiet.ts';
import { samplesOf } from '../samples.ts';
import type { Stage } from '../stage.ts';
import { internalsOf } from '../watch.ts';
import { failure, type Rule } from './rule.ts';

type Follows = (host: object) => unknown;

/** Roles, names and states in the contract; a parent's before its child's. */
function declared({ Class }: Stage): { semantics: Record<string, unknown>; states: Record<string, Follows> } {
  const contract = (Class as unknown as { readonly [contractKey]?: Contract })[contractKey];
  const chain = contract ? [...declarations(contract)].reverse() : [];
  const states = Object.entries(Object.assign({}, ...chain.map(({ states }) => states)) as Record<string, unknown>);
  return {
    semantics: Object.assign({}, ...chain.map(({ semantics }) => semantics)) as Record<string, unknown>,
    states: Object.fromEntries(
      states.flatMap(([name, state]) => {
        const when = typeof state === 'object' && (state as { readonly when?: Follows }).when;
        return when ? [[name, when]] : [];
      }),
    ),
  };
}

export const semanticsRules: readonly Rule[] = [
  {
    code: 'semantics-kept',
    applies(stage) {
      const { semantics, states } = declared(stage);
      return Object.keys(semantics).length + Object.keys(states).length > 0
        ? undefined
        : 'it declares no semantics and no state with a condition';
    },
    async run(stage) {
      const { semantics, states } = declared(stage);
      const found = new Map<string, Failure>();
      for (const specimen of stage.task.specimens) {
        const { box, element } = await stage.stage(specimen);
        const internals = internalsOf(element) as (ElementInternals & Record<string, unknown>) | undefined;
        const compare = (did: string) => {
          for (const [name, value] of Object.entries(semantics)) {
            const expected = (typeof value === 'function' ? (value as Follows)(element) : value) ?? null;
            const seen = internals?.[name] ?? null;
            if (seen === expected || found.has(name)) continue;
            const fix = `Let the contract alone set ${name}: semantics: { ${name}: … }. Other code of the element sets it, too.`;
            found.set(name, failure(did, `${name} is ${JSON.stringify(expected)}`, JSON.stringify(seen), fix));
          }
          for (const [name, when] of Object.entries(states)) {
            const expected = !!when(element);
            if (internals?.states.has(name) === expected || found.has(`:state(${name})`)) continue;
            found.set(
              `:state(${name})`,
              failure(
                did,
                `:state(${name}) ${expected ? 'matches' : 'does not match'}, as its condition says`,
                expected ? 'it does not match' : 'it matches',
                `Let the condition alone decide: take this.states.add('${name}') and this.states.delete('${name}') out of the element.`,
              ),
            );
          }
        };
        try {
          compare(`put "${specimen.title}" on a page`);
          for (const property of stage.task.description.properties)
            for (const { text } of property.attribute === undefined ? [] : samplesOf(property, stage.task)) {
              element.setAttribute(property.attribute!, text);
              await quiet();
              compare(`set ${property.attribute}=${JSON.stringify(text)}`);
            }
        } finally {
          box.remove();
        }
      }
      return [...found.values()];
    },
  },
];
