/** All rules, in the order of reports. */
import { accessRules } from './rules/access.ts';
import { creationRules } from './rules/creation.ts';
import { eventRules } from './rules/events.ts';
import { formRules } from './rules/forms.ts';
import { isolationRules } from './rules/isolation.ts';
import { lifeRules } from './rules/life.ts';
import { quietRules } from './rules/quiet.ts';
import { reflectionRules } from './rules/reflection.ts';
import { renderedRules } from './rules/rendered.ts';
import type { Rule } from './rules/rule.ts';
import { semanticsRules } from './rules/semantics.ts';
import { structureRules } from './rules/structure.ts';

export const rules: readonly Rule[] = [
  ...quietRules,
  ...creationRules,
  ...reflectionRules,
  ...eventRules,
  ...structureRules,
  ...semanticsRules,
  ...lifeRules,
  ...isolationRules,
  ...formRules,
  ...accessRules,
  ...renderedRules,
];

/**
 * The order in which they are checked. What the element shows in another page is compared before its controls are used,
 * since state that a page shares, as in a store, differs afterwards. quiet is next, since other rules do what no page
 * would do.
 */
export const inOrder = rules.toSorted((a, b) => Number(b.comparesPages ?? false) - Number(a.comparesPages ?? false));
