/** The expressions of a template of a static element, as code. */
import type { Code } from './edit.ts';

/** What is made for an expression: the code of one or several expressions of the runtime. */
export interface BoundSite {
  readonly code: Code;
  /** Whether it may depend on the element, and not only on the item of a row. */
  readonly usesElement: boolean;
  /** A statement instead of an expression: it is executed once, or with each change. */
  readonly statement?: 'once' | 'live';
}

/** Makes one expression of statements next to each other. Its parameter says which to execute. */
export function joinStatements(bound: readonly BoundSite[]): BoundSite[] {
  const joined: BoundSite[] = [];
  for (let at = 0; at < bound.length; at++) {
    if (!bound[at]!.statement) {
      joined.push(bound[at]!);
      continue;
    }
    const next = bound.findIndex(({ statement }, i) => i > at && !statement);
    const statements = bound.slice(at, next < 0 ? undefined : next);
    const usesElement = statements.some(one => one.usesElement);
    const code = statements.flatMap(({ code, ...one }) => {
      const condition = one.statement === 'once' ? 'if ($ > 1) ' : usesElement && !one.usesElement ? 'if ($) ' : '';
      return condition ? [condition, '{ ', ...code, '; } '] : [...code, '; '];
    });
    joined.push({ code: ['$ => { ', ...code, '}'], usesElement });
    at += statements.length - 1;
  }
  return joined;
}
