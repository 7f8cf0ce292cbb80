/** Where an expression stands, in words, and errors that say so. */
import type { ExpressionPlace, Owner } from './template.ts';

export function nameOf(host: object): string {
  return 'localName' in host ? `<${host.localName}>` : 'the markup';
}

export function whereIs(home: Owner, place: ExpressionPlace | undefined): string {
  if (!place) return nameOf(home.host);
  const before = place.strings[place.expression]!.replace(/\s+/g, ' ').slice(-24);
  const after = place.strings[place.expression + 1]!.replace(/\s+/g, ' ').slice(0, 12);
  return `${nameOf(home.host)}, line ${place.line} of the markup, expression ${place.expression + 1} (${before}\${…}${after})`;
}

/** The error with the position of its expression; `cause` is the original error. */
export function placed(error: unknown, home: Owner, place: ExpressionPlace | undefined): unknown {
  if (error instanceof Error && 'expression' in error) return error;
  const message = error instanceof Error ? `${error.name}: ${error.message}` : String(error);
  if (!__DEV__)
    return Object.assign(new Error(`hole-failed: ${nameOf(home.host)}: ${message}`, { cause: error }), {
      code: 'hole-failed',
      expression: 0,
    });
  const text = `(hole-failed): ${whereIs(home, place)}: ${message}. The nearest region around it shows its fallback; without one, the expression keeps its previous value. The rest of the view keeps working.`;
  return Object.assign(new Error(text, { cause: error }), {
    code: 'hole-failed',
    place: whereIs(home, place),
    expression: place?.expression,
    line: place?.line,
  });
}
