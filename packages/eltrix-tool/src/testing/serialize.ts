/** Serializes an error of a page for the tool. */
import { inspect } from './inspect.ts';

export interface ReportedError {
  readonly name: string;
  readonly message: string;
  readonly stack: string;
  readonly code?: string;
  readonly actual?: string;
  readonly expected?: string;
  readonly operator?: string;
  readonly cause?: ReportedError;
}

export function serialize(error: unknown): ReportedError {
  if (!(error instanceof Error) && !(typeof DOMException === 'function' && error instanceof DOMException)) {
    return { name: 'Error', message: `${inspect(error)} was thrown`, stack: '' };
  }
  const { code, actual, expected, operator, cause } = error as Error & Record<string, unknown>;
  const text = (value: unknown) => (typeof value === 'string' ? value : (JSON.stringify(value) ?? String(value)));
  return {
    name: error.name,
    message: error.message,
    stack: error.stack ?? '',
    ...(typeof code === 'string' ? { code } : {}),
    ...(operator !== undefined
      ? { operator: text(operator), actual: safely(() => text(actual)), expected: safely(() => text(expected)) }
      : {}),
    ...(cause === undefined ? {} : { cause: serialize(cause) }),
  };
}

function safely(fn: () => string): string {
  try {
    return fn();
  } catch {
    return '(not printable)';
  }
}
