/** Parses JSON in attributes, with the position of errors. */

/** A syntax error; `offset` counts UTF-16 units from the start of the attribute's value. */
export class JsonSyntaxError extends SyntaxError {
  override readonly name = 'SyntaxError';
  readonly offset: number;
  /** At most 60 characters around the offset, with a mark at the offset. */
  readonly excerpt: string;

  constructor(text: string, offset: number) {
    const from = Math.max(0, offset - 30);
    const excerpt = `${from ? '…' : ''}${text.slice(from, offset)}▸${text.slice(offset, offset + 30)}`;
    const found = offset >= text.length ? 'the text ends too early' : `${JSON.stringify(text[offset])} is not expected`;
    super(`${found} at character ${offset + 1}: ${excerpt}`);
    this.offset = offset;
    this.excerpt = excerpt;
  }
}

const strings = /"(?:[^"\\]|\\.)*"|'((?:[^'\\]|\\.)*)'/gs;

/**
 * Parses JSON; strings may also be in single quotes.
 * @throws JsonSyntaxError with the offset of the first character that cannot be.
 */
export function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    try {
      return JSON.parse(
        text.replace(strings, (whole: string, inner: string | undefined) =>
          inner === undefined ? whole : `"${inner.replace(/\\'|"/g, found => (found === '"' ? '\\"' : "'"))}"`,
        ),
      );
    } catch {
      throw new JsonSyntaxError(text, firstError(text));
    }
  }
}

/** The position of the first syntax error. Messages of engines differ, and not all contain a position. */
function firstError(text: string): number {
  const token =
    /[\t\n\r ]*(?:([[\]{},:])|("(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*')|(-?(?:0|[1-9]\d*)(?:\.\d+)?(?:[eE][+-]?\d+)?|true|false|null)(?![\w.]))/suy;
  const open: string[] = [];
  let expects: 'value' | 'key' | 'colon' | 'next' | 'value or end' | 'key or end' = 'value';
  for (;;) {
    const start = token.lastIndex;
    const found = token.exec(text);
    const blank = start + /^[\t\n\r ]*/.exec(text.slice(start))![0].length;
    if (!found) return blank;
    const [, sign, string] = found;
    const close = open.at(-1) === '[' ? ']' : '}';
    if (expects === 'colon') {
      if (sign !== ':') return blank;
      expects = 'value';
    } else if (expects === 'next' || (expects.endsWith('or end') && sign === close)) {
      if (open.length === 0) return blank;
      if (sign === ',' && expects === 'next') expects = close === ']' ? 'value' : 'key';
      else if (sign === close) {
        open.pop();
        expects = 'next';
      } else return blank;
    } else if (expects.startsWith('key')) {
      if (!string) return blank;
      expects = 'colon';
    } else if (sign === '[' || sign === '{') {
      open.push(sign);
      expects = sign === '[' ? 'value or end' : 'key or end';
    } else {
      if (sign) return blank;
      expects = 'next';
    }
    if (expects === 'next' && open.length === 0) {
      const rest = /^[\t\n\r ]*/.exec(text.slice(token.lastIndex))![0].length;
      if (token.lastIndex + rest < text.length) return token.lastIndex + rest;
      // The tokens are valid, so a string contains the error: a control character or an invalid escape.
      const bad = /[\u0000-\u001f]|\\(?!["'\\/bfnrt]|u[0-9a-fA-F]{4})/u.exec(text);
      return bad ? bad.index : text.length;
    }
  }
}
