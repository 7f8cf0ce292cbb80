/** Lines and columns in a text, both from 1. A line ends with LF or CRLF. */

export interface TextPosition {
  readonly line: number;
  readonly column: number;
}

export function positionIn(text: string, offset: number): TextPosition {
  return positionsIn(text)(offset);
}

/** The same for many offsets of a text: its lines are counted once, when the first one is asked for. */
export function positionsIn(text: string): (offset: number) => TextPosition {
  let starts: number[] | undefined;
  return offset => {
    starts ??= [0, ...Array.from(text.matchAll(/\n/g), ({ index }) => index + 1)];
    let [low, high] = [0, starts.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (starts[middle]! <= offset) low = middle;
      else high = middle - 1;
    }
    return { line: low + 1, column: offset - starts[low]! + 1 };
  };
}

/** The offset of a position. */
export function offsetOf(text: string, { line, column }: TextPosition): number {
  let start = 0;
  for (let at = 1; at < line; at++) start = text.indexOf('\n', start) + 1;
  return start + column - 1;
}

/** A text with the line ends of another one. */
export const withLineEndsOf = (other: string, text: string): string =>
  other.includes('\r\n') ? text.replace(/\r?\n/g, '\r\n') : text;
