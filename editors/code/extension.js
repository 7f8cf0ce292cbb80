// Starts the language server of each folder's own eltrix-tool.
const { createRequire } = require('node:module');
const { dirname, join } = require('node:path');
const { commands, window, workspace } = require('vscode');
const { LanguageClient, TransportKind } = require('vscode-languageclient/node');

/** @type {Map<string, LanguageClient>} */
const clients = new Map();
const languages = ['html', 'css', 'javascript', 'typescript', 'javascriptreact', 'typescriptreact'];

/** The server that a folder has installed; undefined for a folder without one. */
function serverOf(folder) {
  const { server } = workspace.getConfiguration('eltrix', folder.uri);
  if (server) return server;
  try {
    const load = createRequire(join(folder.uri.fsPath, 'package.json'));
    const file = load.resolve('eltrix-tool/package.json');
    return join(dirname(file), load(file).bin.eltrix);
  } catch {
    return undefined;
  }
}

async function start(folder) {
  const module = serverOf(folder);
  if (module === undefined || folder.uri.scheme !== 'file') return;
  const options = { cwd: folder.uri.fsPath };
  const client = new LanguageClient(
    'eltrix',
    `Eltrix (${folder.name})`,
    { module, args: ['language-server'], transport: TransportKind.stdio, options },
    {
      documentSelector: languages.map(language => ({ language, pattern: `${folder.uri.fsPath}/**/*` })),
      workspaceFolder: folder,
      synchronize: { fileEvents: workspace.createFileSystemWatcher('**/*.{ts,js,mts,mjs,tsx,jsx,html,css,json}') },
    },
  );
  clients.set(folder.uri.toString(), client);
  try {
    await client.start();
  } catch (error) {
    window.showErrorMessage(`Eltrix: the language server of ${folder.name} did not start: ${error.message}`);
  }
}

async function stop(folder) {
  const key = folder.uri.toString();
  const client = clients.get(key);
  clients.delete(key);
  await client?.stop();
}

exports.activate = async context => {
  const folders = () => workspace.workspaceFolders ?? [];
  context.subscriptions.push(
    workspace.onDidChangeWorkspaceFolders(({ added, removed }) => {
      for (const folder of removed) void stop(folder);
      for (const folder of added) void start(folder);
    }),
    commands.registerCommand('eltrix.restart', async () => {
      for (const folder of folders()) {
        await stop(folder);
        await start(folder);
      }
    }),
  );
  await Promise.all(folders().map(start));
};

exports.deactivate = () => Promise.all([...clients.values()].map(client => client.stop()));
