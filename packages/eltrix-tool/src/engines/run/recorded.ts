/** The events of a run as JSON lines in a file, to report the runs of several machines as one. */
import { appendFileSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { ToolError } from '../../project/tool-error.ts';
import type { TreeEvent } from './tree.ts';

const head = { eltrix: 'test events', version: 1 } as const;

/** Writes events as they arrive, so that a killed run keeps its earlier events. */
export function recorder(file: string): (event: TreeEvent) => void {
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(file, `${JSON.stringify(head)}\n`);
  return event => appendFileSync(file, `${JSON.stringify(event)}\n`);
}

/**
 * Merges the events of several files: results of engines with the same name are joined.
 * @throws ToolError for a file with other content.
 */
export function* mergedEvents(files: readonly string[]): Generator<TreeEvent> {
  const ends: TreeEvent[] = [];
  const engines = new Map<string, string>();
  for (const [at, file] of files.entries()) {
    /** Nodes that were joined, by their ids in this file. */
    const renamed = new Map<string, string>();
    const id = (given: string) => renamed.get(given) ?? `${at}:${given}`;
    for (const event of eventsIn(file)) {
      if (event.type === 'note') yield event;
      else if (event.type === 'start') {
        const known = event.parent === null ? engines.get(event.name) : undefined;
        if (known !== undefined) {
          renamed.set(event.id, known);
          continue;
        }
        if (event.parent === null) engines.set(event.name, id(event.id));
        yield { ...event, id: id(event.id), parent: event.parent === null ? null : id(event.parent) };
      } else if ([...engines.values()].includes(id(event.id))) ends.push({ ...event, id: id(event.id) });
      else yield { ...event, id: id(event.id) };
    }
  }
  yield* ends;
}

function eventsIn(file: string): TreeEvent[] {
  const refuse = (why: string) => {
    throw new ToolError(
      'merge-file',
      `${file} ${why}. Name files that --report events=reports/1.jsonl has written.`,
      undefined,
      undefined,
      2,
    );
  };
  let text = '';
  try {
    text = readFileSync(file, 'utf8');
  } catch (error) {
    refuse(`cannot be read: ${(error as Error).message}`);
  }
  const [first, ...lines] = text.split('\n').filter(Boolean);
  try {
    const { eltrix, version } = JSON.parse(first ?? '') as Partial<typeof head>;
    if (eltrix !== head.eltrix || version !== head.version) refuse('is no record of a test run');
    return lines.map(line => JSON.parse(line) as TreeEvent);
  } catch (error) {
    if (error instanceof ToolError) throw error;
    return refuse('is no record of a test run') as never;
  }
}
