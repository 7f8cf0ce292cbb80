/** Rules that an element need not pass, each with a reason: from its contract and the configuration. */
import type { ElementDescription } from '../../describe/description.ts';
import { nearest } from '../../project/nearest.ts';
import { ToolError } from '../../project/tool-error.ts';
import { ruleCodes } from '../report/rules.ts';
import type { Subject } from './subject.ts';

export type Exempt = Readonly<Record<string, Readonly<Record<string, string>>>>;

/** Joins the exemptions of contract and configuration. */
export function exemptions(
  { tag, exempt = {} }: ElementDescription,
  byTag: Exempt = {},
): Readonly<Record<string, string>> {
  return { ...exempt, ...byTag[tag] };
}

/** @throws ToolError for an unknown rule or tag. */
export function refuseExemptions(subjects: readonly Subject[], byTag: Exempt = {}): void {
  const refuse = (message: string) => {
    throw new ToolError('rule-unknown', message, undefined, undefined, 2);
  };
  for (const { description } of subjects)
    for (const [rule, reason] of Object.entries(exemptions(description, byTag))) {
      if (!ruleCodes.includes(rule)) {
        const near = nearest(rule, ruleCodes);
        refuse(
          `<${description.tag}> is exempt from "${rule}", which is not a rule.${near ? ` Did you mean "${near}"?` : ''}`,
        );
      }
      if (typeof reason !== 'string' || reason.trim() === '')
        refuse(
          `<${description.tag}> is exempt from "${rule}" without a reason. Write one: exempt: { '${rule}': 'shows the time' }.`,
        );
    }
}
