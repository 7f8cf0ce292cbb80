/** An accessibility audit with axe-core, across open shadow roots. */
import { type Axe, fixOf, without as leaveOut, pathOf } from './axe.ts';
import { host } from './host.ts';
import { unwatched } from './leftovers.ts';
import { inRealTime } from './real-time.ts';

export interface AuditFinding {
  /** The rule's name in axe-core. */
  readonly rule: string;
  readonly impact: string;
  /** Selectors through shadow roots, joined by ` >>> `. */
  readonly element: string;
  readonly html: string;
  /** What to do. */
  readonly fix: string;
}

export interface AuditOptions {
  /** Rules to skip. */
  readonly without?: readonly string[];
}

/**
 * The findings of the audit in an element, or on the page.
 * @example assert.deepEqual(await findings(card), []);
 */
export async function findings(
  target: Element | Document = document,
  { without = [] }: AuditOptions = {},
): Promise<AuditFinding[]> {
  const axe = (await unwatched(() => host().loadAxe())) as Axe;
  // An element in a test has no page around it.
  const off = ['region', 'page-has-heading-one', 'landmark-one-main', 'document-title', 'html-has-lang'];
  const { violations } = await inRealTime(() => axe.run(target, leaveOut([...off, ...without])));
  return violations.flatMap(violation =>
    violation.nodes.map(node => ({
      rule: violation.id,
      impact: violation.impact ?? 'minor',
      element: pathOf(node),
      html: node.html.slice(0, 120),
      fix: fixOf(node, violation),
    })),
  );
}

/**
 * Audits an element with its descendants.
 * @throws Error that lists each finding: rule, element, what to do.
 * @example await audit(card);  // fails with each finding
 */
export async function audit(target: Element | Document = document, options: AuditOptions = {}): Promise<void> {
  const found = await findings(target, options);
  if (found.length === 0) return;
  const list = found.map(
    ({ rule, impact, element, html, fix }) => `  ${rule} (${impact}): ${element}\n    ${html}\n    ${fix}`,
  );
  throw Object.assign(
    new Error(
      `(audit-findings): ${found.length} accessibility finding${found.length > 1 ? 's' : ''}.\n${list.join('\n')}`,
    ),
    { code: 'audit-findings', findings: found },
  );
}
