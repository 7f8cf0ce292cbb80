/** Readers of answers that come in pieces, for `request(address, { as: lines })`. */

/** What has come since the last time, in whole pieces. */
async function* pieces(answer: Response, end: RegExp): AsyncGenerator<string[]> {
  const reader = answer.body!.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (;;) {
    const { done, value = '' } = await reader.read();
    const parts = (rest + value).split(end);
    rest = done ? '' : parts.pop()!;
    yield parts;
    if (done) return;
  }
}

async function collected<T>(
  answer: Response,
  end: RegExp,
  make: (piece: string) => T | undefined,
  tell: (value: T[]) => void,
): Promise<T[]> {
  const list: T[] = [];
  for await (const come of pieces(answer, end)) {
    const before = list.length;
    for (const piece of come) {
      const item = make(piece);
      if (item !== undefined) list.push(item);
    }
    // Another list each time, so that its readers see a change; once for all that came together.
    if (list.length > before) tell([...list]);
  }
  return list;
}

/** Lines of text as they come; empty ones are left out. */
export function lines(answer: Response, tell: (value: string[]) => void): Promise<string[]> {
  return collected(answer, /\r?\n/, line => line || undefined, tell);
}

export interface ServerEvent {
  /** `message` unless the server says otherwise. */
  readonly type: string;
  readonly data: string;
  readonly id: string;
}

/** Server-sent events as they come (HTML §9.2.6). */
export function serverEvents(answer: Response, tell: (value: ServerEvent[]) => void): Promise<ServerEvent[]> {
  return collected(answer, /\r?\n\r?\n/, eventOf, tell);
}

function eventOf(block: string): ServerEvent | undefined {
  const fields: Record<string, string[]> = {};
  for (const line of block.split(/\r?\n/)) {
    const [, name, value] = /^([^:]+):? ?(.*)$/.exec(line) ?? [];
    // A line that begins with a colon is a comment.
    if (name) (fields[name] ??= []).push(value!);
  }
  if (!fields['data']) return undefined;
  const last = (name: string) => fields[name]?.at(-1);
  return { type: last('event') ?? 'message', data: fields['data'].join('\n'), id: last('id') ?? '' };
}
