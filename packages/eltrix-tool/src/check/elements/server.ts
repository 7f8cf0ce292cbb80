/** Serves the pages of the check on 127.0.0.1, with a strict policy. */
import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import type { ServerResponse } from 'node:http';
import { axeFile, toolFile } from '../../project/library.ts';
import { json, startLocalServer } from '../../serving/local-server.ts';
import type { CheckTask, RuleResult } from '../page/model.ts';
import { policyFor } from './policy.ts';

export interface CheckServer {
  /** `http://127.0.0.1:port/token/`. */
  readonly base: string;
  close(): Promise<void>;
}

/** Pages that visit one element after the other, by name. */
export interface Visitors {
  front(visitor: string): Promise<void>;
  /** Receives the results so far, and the rule that starts next. */
  known(visitor: string, known: { readonly results: readonly RuleResult[]; readonly next: string }): void;
}

/**
 * @param files by name, relative to the base URL.
 * @param enforced whether the policy is enforced, or violations are only reported.
 * @param taskOf the task of a page with this query.
 */
export async function startCheckServer(
  root: string,
  files: ReadonlyMap<string, string | Uint8Array>,
  taskOf: (query: URLSearchParams) => CheckTask | undefined,
  enforced: boolean,
  visitors: Visitors,
): Promise<CheckServer> {
  // Third-party elements may not support a strict policy: violations are reported, and the check continues.
  const policyHeader = enforced ? 'content-security-policy' : 'content-security-policy-report-only';
  const waiting = new Map<string, () => void>();
  const own = (name: string) => readFileSync(name === 'axe.js' ? axeFile() : toolFile(`dist/check/${name}`));
  const escaped = (text: string) => text.replaceAll('&', '&amp;').replaceAll('"', '&quot;').replaceAll('<', '&lt;');
  const page = (head: string) =>
    `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Check</title><link rel="icon" href="data:,">${head}`;

  const { address, close } = await startLocalServer({
    secret: true,
    posts: name => name === 'known',
    answer({ request, path: name, query, response, send, file, refuse }) {
      response.setHeader('cache-control', 'no-store');
      const html = (text: string) => {
        setPolicy(response, taskOf(query));
        send(text, 'page.html');
      };
      if (name === 'page')
        return html(`${page('<script type="module" src="page.js"></script>')}</head><body></body></html>`);
      if (name === 'blank') return html(`${page('')}</head><body></body></html>`);
      const isOwn = name === 'page.js' || name === 'slowly.js' || name === 'picture.js' || name === 'axe.js';
      const made = isOwn ? own(name) : files.get(name);
      if (made !== undefined) {
        // The same in every page, so that an engine loads and compiles it once.
        response.setHeader('cache-control', 'max-age=3600');
        return send(made, name);
      }
      if (name === 'picture')
        return html(`${page('<script type="module" src="picture.js"></script>')}</head><body></body></html>`);
      const task = taskOf(query);
      if (name === 'task') return task ? send(JSON.stringify(task), 'task.json') : refuse(404);
      if (name === 'slowly' && task) return slowly(response, task);
      if (name === 'front') return visitors.front(query.get('visitor') ?? '').finally(() => send('', 'front.txt'));
      if (name === 'known')
        return json(request).then(
          known => {
            visitors.known(query.get('visitor') ?? '', known as never);
            send('', 'known.txt');
          },
          () => refuse(400),
        );
      if (name === 'go') {
        waiting.get(query.get('id')!)?.();
        return send('', 'go.txt');
      }
      return name.startsWith('files/') ? file(root, name.slice('files/'.length)) : refuse(404);
    },
  });

  function setPolicy(response: ServerResponse, task: CheckTask | undefined): void {
    response.setHeader(policyHeader, policyFor((task?.specimens ?? []).map(({ html }) => html)));
  }

  /** The rest of the page is sent after the element was defined, so that the parser creates the element. */
  function slowly(response: ServerResponse, task: CheckTask): void {
    const id = randomBytes(6).toString('hex');
    setPolicy(response, task);
    response.setHeader('content-type', 'text/html; charset=utf-8');
    // Some engines wait for the first kilobyte.
    response.write(
      `${page('')}<script async type="module" src="slowly.js" data-modules="${escaped(task.modules.join(' '))}" data-go="go?id=${id}"></script><base href="${escaped(task.base)}"></head><body><!--${' '.repeat(1100)}-->`,
    );
    const end = () => {
      clearTimeout(late);
      waiting.delete(id);
      response.end(`${task.specimens[0]!.html}</body></html>`);
    };
    const late = setTimeout(end, 3000);
    waiting.set(id, end);
  }

  return { base: address, close };
}
