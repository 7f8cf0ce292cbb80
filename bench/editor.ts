/**
 * npm run bench:editor: the language server in a project of 1,000 elements and 2,000 pages: until it answers, completion and
 * hover, diagnostics after the last key, memory. Options: --elements 1000 --pages 2000 --times 200
 */
import { type ChildProcessWithoutNullStreams, spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { parseArgs } from 'node:util';

const { values: options } = parseArgs({
  options: {
    elements: { type: 'string', default: '1000' },
    pages: { type: 'string', default: '2000' },
    times: { type: 'string', default: '200' },
  },
});
const repository = fileURLToPath(new URL('..', import.meta.url));
const [elements, pages, times] = [options.elements, options.pages, options.times].map(Number) as [
  number,
  number,
  number,
];

const element = (i: number) => `import { choice, contract, event, flag, markup, slot, text } from 'eltrix';

export class BenchCard${i} extends contract('bench-card-${i}', {
  about: 'Card ${i} of the benchmark.',
  attributes: { name: text({ about: 'Its name.' }), mood: choice(['calm', 'busy']), compact: flag() },
  events: { 'bench-open-${i}': event<{ name: string }>() },
  slots: { '': slot('Notes.'), badge: slot('A badge.') },
}) {
  view() {
    return markup\`<h3>\${() => this.name}</h3><slot name="badge"></slot>${i > 0 ? `<bench-card-${i - 1} mood="calm"></bench-card-${i - 1}>` : ''}<slot></slot>\`;
  }
}
BenchCard${i}.define();
`;
const page = (i: number) =>
  `<!doctype html>\n<title>Page ${i}</title>\n${Array.from({ length: 20 }, (_, k) => `<bench-card-${(i * 7 + k) % elements} name="Hive ${k}" mood="calm"><b slot="badge">!</b> Some words.</bench-card-${(i * 7 + k) % elements}>`).join('\n')}\n`;

const root = mkdtempSync(join(tmpdir(), 'eltrix-bench-editor-'));
for (const folder of ['src', 'site', 'node_modules']) mkdirSync(join(root, folder));
for (const name of ['eltrix', 'eltrix-tool'])
  symlinkSync(join(repository, 'packages', name), join(root, 'node_modules', name));
writeFileSync(join(root, 'package.json'), '{ "name": "bench", "type": "module" }');
for (let i = 0; i < elements; i++) writeFileSync(join(root, `src/bench-card-${i}.ts`), element(i));
for (let i = 0; i < pages; i++) writeFileSync(join(root, `site/page-${i}.html`), page(i));

class Client {
  readonly child: ChildProcessWithoutNullStreams;
  readonly #answers = new Map<number, (result: unknown) => void>();
  #published: (() => void) | undefined;
  #buffer = Buffer.alloc(0);
  #id = 0;

  constructor() {
    const tool = join(repository, 'packages/eltrix-tool/dist/tool/cli/main.js');
    this.child = spawn(process.execPath, [tool, 'language-server', '--stdio'], { cwd: root });
    this.child.stdout.on('data', data => this.#read(data as Buffer));
  }

  #read(data: Buffer): void {
    this.#buffer = Buffer.concat([this.#buffer, data]);
    for (;;) {
      const end = this.#buffer.indexOf('\r\n\r\n');
      const length = Number(/Content-Length: (\d+)/i.exec(this.#buffer.subarray(0, Math.max(0, end)).toString())?.[1]);
      if (end < 0 || this.#buffer.length < end + 4 + length) return;
      const message = JSON.parse(this.#buffer.subarray(end + 4, end + 4 + length).toString());
      this.#buffer = this.#buffer.subarray(end + 4 + length);
      if (message.method === 'textDocument/publishDiagnostics') this.#published?.();
      else if (message.id !== undefined && message.method === undefined)
        this.#answers.get(message.id)?.(message.result);
    }
  }

  send(message: object): void {
    const text = JSON.stringify({ jsonrpc: '2.0', ...message });
    this.child.stdin.write(`Content-Length: ${Buffer.byteLength(text)}\r\n\r\n${text}`);
  }

  ask(method: string, params: object): Promise<unknown> {
    const id = ++this.#id;
    this.send({ id, method, params });
    return new Promise(resolve => this.#answers.set(id, resolve));
  }

  published(): Promise<void> {
    return new Promise(resolve => {
      this.#published = resolve;
    });
  }
}

const timed = async (fn: () => Promise<unknown>) => {
  const begin = performance.now();
  await fn();
  return performance.now() - begin;
};
const percentile = (list: number[], part: number) => list.sort((a, b) => a - b)[Math.floor(list.length * part)]!;
const uri = (name: string) => pathToFileURL(join(root, name)).href;

const client = new Client();
const text = page(0);
const position = (line: number, character: number) => ({
  textDocument: { uri: uri('site/page-0.html') },
  position: { line, character },
});
const ready = await timed(async () => {
  await client.ask('initialize', {
    processId: process.pid,
    rootUri: pathToFileURL(root).href,
    capabilities: { textDocument: { completion: { completionList: { itemDefaults: ['editRange'] } } } },
  });
  client.send({ method: 'initialized', params: {} });
  client.send({
    method: 'textDocument/didOpen',
    params: { textDocument: { uri: uri('site/page-0.html'), languageId: 'html', version: 1, text } },
  });
  await client.ask('textDocument/hover', position(2, 4));
});
const completion: number[] = [];
const hover: number[] = [];
const diagnostics: number[] = [];
for (let i = 0; i < times; i++) {
  const line = 2 + (i % 20);
  completion.push(await timed(() => client.ask('textDocument/completion', position(line, i % 2 ? 14 : 1))));
  hover.push(await timed(() => client.ask('textDocument/hover', position(line, 4))));
  if (i % 10) continue;
  const change = {
    textDocument: { uri: uri('site/page-0.html'), version: i + 2 },
    contentChanges: [{ text: `${text}<!-- ${i} -->` }],
  };
  diagnostics.push(
    await timed(() => {
      const answered = client.published();
      client.send({ method: 'textDocument/didChange', params: change });
      return answered;
    }),
  );
}
const renamed = await timed(() => client.ask('textDocument/rename', { ...position(2, 4), newName: 'bench-tile' }));
const memory = Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${client.child.pid}/status`, 'utf8'))![1]) / 1000;
client.child.kill();
rmSync(root, { recursive: true, force: true });
console.log(`${elements} elements, ${pages} pages
ready                     ${(ready / 1000).toFixed(2)} s
completion, 95 %          ${percentile(completion, 0.95).toFixed(1)} ms
hover, 95 %               ${percentile(hover, 0.95).toFixed(1)} ms
findings after a change   ${percentile(diagnostics, 0.5).toFixed(0)} ms
rename of a tag           ${renamed.toFixed(0)} ms
memory, at most           ${memory.toFixed(0)} MB`);
