/** Readers of answers that arrive in parts, for `request(address, { as: lines })`. */
import type { Reader } from './request.ts';

/**
 * Returns the complete parts that have arrived since the last call.
 * @param isRest whether text without an end, at the end of the answer, is a part.
 */
async function* pieces(answer: Response, end: RegExp, isRest: boolean): AsyncGenerator<string[]> {
  const reader = answer.body!.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (;;) {
    const { done, value = '' } = await reader.read();
    const parts = (rest + value).split(end);
    if (!done || !isRest) rest = parts.pop()!;
    yield parts;
    if (done) return;
  }
}

async function collected<T>(
  answer: Response,
  end: RegExp,
  isRest: boolean,
  make: (piece: string) => T | undefined,
  report: (value: T[]) => void,
  last: readonly T[] = [],
): Promise<T[]> {
  const list: T[] = [...last];
  for await (const come of pieces(answer, end, isRest)) {
    const before = list.length;
    for (const piece of come) {
      const item = make(piece);
      if (item !== undefined) list.push(item);
    }
    // A new list each time, so that subscribers see a change; one for all parts that arrived together.
    if (list.length > before) report([...list]);
  }
  return list;
}

/**
 * Lines of text as they arrive, without empty lines.
 * @example log = request(() => '/log', { as: lines });  // value is the list of lines so far
 */
export function lines(answer: Response, report: (value: string[]) => void): Promise<string[]> {
  return collected(answer, /\r?\n/, true, line => line || undefined, report);
}

export interface ServerEvent {
  /** The event's type; `message` unless the server sends another. */
  readonly type: string;
  readonly data: string;
  /** The last event ID at that time; empty before the first one. */
  readonly id: string;
}

/**
 * Server-sent events as they arrive (HTML §9.2.6). An event that the end of the stream interrupts is dropped. With
 * `again`, a stream that ends or breaks is requested again with the header `Last-Event-ID`, and the list continues.
 * @example news = request(() => '/news', { as: serverEvents, again: retry(3) });
 */
export const serverEvents: Reader<ServerEvent[]> = /* @__PURE__ */ Object.assign(
  (answer: Response, report: (value: ServerEvent[]) => void, last?: ServerEvent[]) => {
    let id = last?.at(-1)?.id ?? '';
    const make = (block: string): ServerEvent | undefined => {
      const event = eventOf(block, id);
      ({ id } = event);
      return event.data === undefined ? undefined : (event as ServerEvent);
    };
    return collected(answer, /(?:\r\n|\n|\r(?!\n)){2}/, false, make, report, last);
  },
  {
    continueWith: (last: ServerEvent[]): Record<string, string> => {
      const id = last.at(-1)?.id;
      return id ? { 'Last-Event-ID': id } : {};
    },
  },
);

/** An event; one without data only sets the last event ID. */
function eventOf(block: string, lastId: string): Omit<ServerEvent, 'data'> & { readonly data: string | undefined } {
  const fields: Record<string, string[]> = {};
  for (const line of block.split(/\r\n?|\n/)) {
    // A field without a colon has an empty value; a line that begins with a colon is a comment.
    const [, name, value = ''] = /^([^:]+):? ?(.*)$/.exec(line) ?? [];
    if (name) (fields[name] ??= []).push(value);
  }
  const last = (name: string) => fields[name]?.at(-1);
  const id = last('id');
  return {
    type: last('event') || 'message',
    data: fields['data']?.join('\n'),
    id: id === undefined || id.includes('\0') ? lastId : id,
  };
}
