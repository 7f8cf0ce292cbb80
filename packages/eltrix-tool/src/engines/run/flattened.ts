/**
 * For reports that other tools read: one suite for each file and engine, which contains each test with the names of
 * its suites. Readers of JUnit XML look for tests directly in suites.
 */
import type { ReportEvent } from './tree.ts';

interface Data {
  readonly name: string;
  readonly nesting: number;
  readonly details?: { readonly type?: string; readonly duration_ms?: number; readonly error?: object };
}

export function flattened(send: (event: ReportEvent) => void): (event: ReportEvent) => void {
  /** The names of open suites. */
  const path: string[] = [];
  let tests = 0;
  return event => {
    const data = event.data as Data;
    const { nesting, name } = data;
    switch (event.type) {
      case 'test:start':
        path.length = nesting;
        path.push(name);
        if (nesting === 1) {
          tests = 0;
          send({ type: 'test:start', data: { ...data, nesting: 0, name: `${path[0]}: ${name}` } });
        }
        return;
      case 'test:pass':
      case 'test:fail': {
        const isTest = data.details?.type === 'test';
        if (nesting === 1) {
          send({ type: 'test:plan', data: { nesting: 1, count: tests } });
          return send({ ...event, data: { ...data, nesting: 0, name: `${path[0]}: ${name}` } });
        }
        // A failing suite, or an engine that did not start, is reported as a failing test.
        const isOwn =
          event.type === 'test:fail' &&
          (data.details?.error as { failureType?: string } | undefined)?.failureType !== 'subtestsFailed';
        if (nesting === 0 ? !isOwn : !isTest && !isOwn) return;
        tests++;
        const named = nesting === 0 ? name : [...path.slice(2, nesting), name].join(' > ');
        const place = {
          ...data,
          nesting: nesting === 0 ? 0 : 1,
          name: named,
          details: { ...data.details, type: 'test' },
        };
        send({ type: 'test:start', data: place });
        return send({ ...event, data: place });
      }
      case 'test:diagnostic':
        if (nesting === 0) send(event);
        return;
      default:
    }
  };
}
