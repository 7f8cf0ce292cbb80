/** A bare client of the Language Server Protocol: messages with headers over stdio (LSP 3.17, base protocol). */
import { type ChildProcessWithoutNullStreams, spawn } from 'node:child_process';
import { pathToFileURL } from 'node:url';
import { tool } from '../support/project.ts';

interface Message {
  readonly id?: number;
  readonly method?: string;
  readonly params?: unknown;
  readonly result?: unknown;
  readonly error?: { readonly code: number; readonly message: string };
}

export interface Position {
  readonly line: number;
  readonly character: number;
}

export interface Diagnostic {
  readonly code: string;
  readonly message: string;
  readonly range: { readonly start: Position; readonly end: Position };
}

export class Client {
  readonly child: ChildProcessWithoutNullStreams;
  readonly logged: string[] = [];
  readonly #waiting = new Map<number, (message: Message) => void>();
  readonly #diagnostics = new Map<string, Diagnostic[]>();
  readonly #hearing = new Set<() => void>();
  #buffer = Buffer.alloc(0);
  #id = 0;

  constructor(readonly root: string) {
    this.child = spawn(process.execPath, [tool, 'language-server', '--stdio'], { cwd: root });
    this.child.stdout.on('data', (data: Buffer) => this.#read(data));
    this.child.stderr.on('data', (data: Buffer) => this.logged.push(String(data)));
  }

  #read(data: Buffer): void {
    this.#buffer = Buffer.concat([this.#buffer, data]);
    for (;;) {
      const end = this.#buffer.indexOf('\r\n\r\n');
      if (end < 0) return;
      const length = Number(/Content-Length: (\d+)/i.exec(this.#buffer.subarray(0, end).toString())![1]);
      if (this.#buffer.length < end + 4 + length) return;
      const message = JSON.parse(this.#buffer.subarray(end + 4, end + 4 + length).toString()) as Message;
      this.#buffer = this.#buffer.subarray(end + 4 + length);
      this.#hear(message);
    }
  }

  #hear(message: Message): void {
    if (message.method === 'textDocument/publishDiagnostics') {
      const { uri, diagnostics } = message.params as { uri: string; diagnostics: Diagnostic[] };
      this.#diagnostics.set(uri, diagnostics);
      for (const hear of this.#hearing) hear();
    } else if (message.method === 'window/logMessage')
      this.logged.push((message.params as { message: string }).message);
    else if (message.method !== undefined && message.id !== undefined) this.#send({ id: message.id, result: null });
    else if (message.id !== undefined) this.#waiting.get(message.id)?.(message);
  }

  #send(message: object): void {
    const text = JSON.stringify({ jsonrpc: '2.0', ...message });
    this.child.stdin.write(`Content-Length: ${Buffer.byteLength(text)}\r\n\r\n${text}`);
  }

  notify(method: string, params: object): void {
    this.#send({ method, params });
  }

  /** @throws Error for an answer that is one. */
  ask<T>(method: string, params: object): Promise<T> {
    const id = ++this.#id;
    return new Promise((resolve, reject) => {
      this.#waiting.set(id, ({ result, error }) => {
        this.#waiting.delete(id);
        if (error) reject(new Error(error.message));
        else resolve(result as T);
      });
      this.#send({ id, method, params });
    });
  }

  /** Asks, and takes it back at once. */
  cancelled(method: string, params: object): Promise<unknown> {
    const answer = this.ask(method, params).catch((error: Error) => error.message);
    this.notify('$/cancelRequest', { id: this.#id });
    return answer;
  }

  async begin(capabilities: object = {}): Promise<{ capabilities: Record<string, unknown> }> {
    const answer = await this.ask<{ capabilities: Record<string, unknown> }>('initialize', {
      processId: process.pid,
      rootUri: pathToFileURL(this.root).href,
      capabilities,
    });
    this.notify('initialized', {});
    return answer;
  }

  uri(file: string): string {
    return pathToFileURL(`${this.root}/${file}`).href;
  }

  open(file: string, text: string): void {
    const languageId = file.split('.').at(-1)!;
    this.notify('textDocument/didOpen', { textDocument: { uri: this.uri(file), languageId, version: 1, text } });
  }

  #version = 1;

  change(file: string, text: string): void {
    this.notify('textDocument/didChange', {
      textDocument: { uri: this.uri(file), version: ++this.#version },
      contentChanges: [{ text }],
    });
  }

  at<T>(method: string, file: string, position: Position, more: object = {}): Promise<T> {
    return this.ask(`textDocument/${method}`, { textDocument: { uri: this.uri(file) }, position, ...more });
  }

  /** Waits until the findings of a file are as a function says. */
  diagnostics(file: string, fit: (found: readonly Diagnostic[]) => boolean): Promise<readonly Diagnostic[]> {
    return new Promise((resolve, reject) => {
      const timer = setTimeout(() => {
        this.#hearing.delete(look);
        reject(new Error(`never: ${JSON.stringify(this.#diagnostics.get(this.uri(file)))} ${this.logged.join('\n')}`));
      }, 30_000);
      const look = () => {
        const found = this.#diagnostics.get(this.uri(file));
        if (!found || !fit(found)) return;
        clearTimeout(timer);
        this.#hearing.delete(look);
        resolve(found);
      };
      this.#hearing.add(look);
      look();
    });
  }

  async end(): Promise<number | null> {
    const ended = new Promise<number | null>(resolve => this.child.once('exit', resolve));
    await this.ask('shutdown', {});
    this.notify('exit', {});
    return ended;
  }
}

/** The text without its mark `|`, and the position of the mark. */
export function marked(text: string): { text: string; position: Position } {
  const offset = text.indexOf('|');
  const before = text.slice(0, offset).split('\n');
  return {
    text: text.slice(0, offset) + text.slice(offset + 1),
    position: { line: before.length - 1, character: before.at(-1)!.length },
  };
}
