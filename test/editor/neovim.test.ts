/** A real editor: Neovim's built-in client, without its window, completes, explains and reports. */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { it } from 'node:test';
import { project, tool } from '../support/project.ts';

const has = spawnSync('nvim', ['--version']).status === 0;

const script = `
local function text(position) return { textDocument = vim.lsp.util.make_text_document_params(), position = position } end
local client = vim.lsp.start_client({ name = 'eltrix', cmd = { vim.env.NODE, vim.env.TOOL, 'language-server', '--stdio' }, root_dir = vim.fn.getcwd() })
vim.cmd('edit site/index.html')
vim.lsp.buf_attach_client(0, client)
vim.wait(20000, function() return #vim.diagnostic.get(0) > 0 end, 20)
local function ask(method, position, more)
  local answers = vim.lsp.buf_request_sync(0, method, vim.tbl_extend('force', text(position), more or {}), 20000)
  for _, answer in pairs(answers or {}) do return answer.result end
end
local labels = {}
local found = ask('textDocument/completion', { line = 1, character = 17 })
for _, item in ipairs(found.items or found) do labels[#labels + 1] = item.label end
local reported = {}
for _, one in ipairs(vim.diagnostic.get(0)) do reported[#reported + 1] = { line = one.lnum, column = one.col, message = one.message } end
local hover = ask('textDocument/hover', { line = 1, character = 3 })
local definition = ask('textDocument/definition', { line = 1, character = 3 })
local rename = ask('textDocument/rename', { line = 1, character = 3 }, { newName = 'bee-hive' })
vim.lsp.util.apply_workspace_edit(rename, 'utf-16')
local renamed = vim.fn.join(vim.api.nvim_buf_get_lines(0, 0, -1, false), '\\n')
vim.fn.writefile({ vim.json.encode({ renamed = renamed, labels = labels, reported = reported, hover = hover.contents.value, uri = definition.uri, line = definition.range.start.line }) }, 'answers.json')
vim.lsp.stop_client(client)
vim.cmd('qall!')
`;

it('completes, explains, reports and renames in Neovim', { skip: !has && 'Neovim is not installed' }, async () => {
  const root = project({
    'src/hive-card.ts': `import { choice, contract } from 'eltrix';
export class HiveCard extends contract('hive-card', {
  about: 'One hive at a glance.',
  attributes: { mood: choice(['calm', 'busy'], { missing: 'calm', invalid: 'calm' }) },
}) {}
HiveCard.define();
`,
    'site/index.html': '<title>Hives</title>\n<hive-card mood="" moood="x"></hive-card>\n',
  });
  writeFileSync(join(root, 'ask.lua'), script);
  const { status, stderr } = spawnSync('nvim', ['--headless', '-u', 'NONE', '-c', 'luafile ask.lua'], {
    cwd: root,
    encoding: 'utf8',
    timeout: 60_000,
    env: { ...process.env, NODE: process.execPath, TOOL: tool },
  });
  assert.equal(status, 0, stderr);
  const { readFileSync } = await import('node:fs');
  const answers = JSON.parse(readFileSync(join(root, 'answers.json'), 'utf8')) as {
    labels: string[];
    reported: { line: number; column: number; message: string }[];
    hover: string;
    uri: string;
    line: number;
    renamed: string;
  };
  assert.deepEqual(answers.labels, ['calm', 'busy']);
  assert.match(answers.hover, /One hive at a glance/);
  assert.match(answers.uri, /src\/hive-card\.ts$/);
  assert.equal(answers.line, 1);
  assert.match(answers.renamed, /<bee-hive mood="" moood="x"><\/bee-hive>/);
  const misspelt = answers.reported.find(({ message }) => message.includes('moood'))!;
  assert.deepEqual([misspelt.line, misspelt.column], [1, 19]);
});
