/** The language server: LSP 3.17 over stdio, for several projects. */

import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  CodeActionKind,
  type CompletionItem,
  type CompletionList,
  type Connection,
  createConnection,
  ErrorCodes,
  FileChangeType,
  ProposedFeatures,
  ResponseError,
  StreamMessageReader,
  StreamMessageWriter,
  TextDocumentSyncKind,
  TextDocuments,
} from 'vscode-languageserver/node.js';
import { TextDocument } from 'vscode-languageserver-textdocument';
import { toolVersion } from '../project/library.ts';
import { importedBy } from '../project/passed-names.ts';
import { projectFolder } from '../project/place.ts';
import { setTypedText, textOf } from '../project/seen.ts';
import { keepModules } from '../project/syntax.ts';
import { withSharedRange } from './completion-list.ts';
import { complete, define, diagnose, fixes, hover, refer, rename, renameable } from './features.ts';
import { EditorProject } from './project.ts';
import { isPage, isSheet, isSource, regionAt } from './regions.ts';

/** The delay between typing and checking a document, in milliseconds. */
const rest = 80;
/** The delay before contracts are read again. */
const contractRest = 250;

/** Runs until the client ends it, or has ended. */
export function serveEditor(): Promise<void> {
  keepModules(1200);
  const connection = createConnection(
    ProposedFeatures.all,
    new StreamMessageReader(process.stdin),
    new StreamMessageWriter(process.stdout),
  );
  const server = new EditorServer(connection);
  server.listen();
  return server.ended;
}

/** The text of a file, if it exists. */
function known(path: string): string | undefined {
  try {
    return textOf(path);
  } catch {
    return undefined;
  }
}

class EditorServer {
  readonly #documents = new TextDocuments(TextDocument);
  readonly #projects = new Map<string, EditorProject>();
  readonly #timers = new Map<string, ReturnType<typeof setTimeout>>();
  #contracts: ReturnType<typeof setTimeout> | undefined;
  readonly ended: Promise<void>;

  constructor(readonly connection: Connection) {
    this.ended = new Promise(resolve => {
      connection.onExit(() => resolve());
      process.stdin.once('end', () => resolve());
    });
  }

  listen(): void {
    const { connection } = this;
    const documents = this.#documents;
    let sharesRange = false;
    let completed: EditorProject | undefined;
    connection.onInitialize(({ capabilities }) => {
      const { itemDefaults } = capabilities.textDocument?.completion?.completionList ?? {};
      sharesRange = itemDefaults?.includes('editRange') ?? false;
      return {
        serverInfo: { name: 'eltrix', version: toolVersion() },
        capabilities: {
          textDocumentSync: TextDocumentSyncKind.Incremental,
          completionProvider: {
            triggerCharacters: ['<', ' ', '"', "'", '=', '-', '(', '[', ':'],
            resolveProvider: true,
          },
          hoverProvider: true,
          definitionProvider: true,
          referencesProvider: true,
          renameProvider: { prepareProvider: true },
          codeActionProvider: { codeActionKinds: [CodeActionKind.QuickFix] },
          documentSymbolProvider: true,
          foldingRangeProvider: true,
          linkedEditingRangeProvider: true,
          workspace: { workspaceFolders: { supported: true } },
        },
      };
    });
    connection.onCompletion(({ textDocument, position }) =>
      this.#ask<CompletionItem[] | CompletionList>(textDocument.uri, [], (project, document) => {
        completed = project;
        const items = complete(project, document, position);
        return sharesRange ? withSharedRange(items) : items;
      }),
    );
    // The documentation of a thousand tags would be most of the answer: it is sent for the selected item only.
    connection.onCompletionResolve(item => {
      const documentation = item.documentation ?? completed?.explain(item.label);
      return documentation ? { ...item, documentation } : item;
    });
    connection.onHover(({ textDocument, position }) =>
      this.#ask(textDocument.uri, null, (project, document) => hover(project, document, position)),
    );
    connection.onDefinition(({ textDocument, position }) =>
      this.#ask(textDocument.uri, null, (project, document) => define(project, document, position)),
    );
    connection.onReferences(({ textDocument, position, context }) =>
      this.#ask(textDocument.uri, [], (project, document) =>
        refer(project, document, position, context.includeDeclaration, uri => documents.get(uri)),
      ),
    );
    connection.onPrepareRename(({ textDocument, position }) =>
      this.#ask(textDocument.uri, null, (project, document) => renameable(project, document, position)),
    );
    connection.onRenameRequest(async ({ textDocument, position, newName }) => {
      const changes = await this.#ask(textDocument.uri, {}, (project, document) =>
        rename(project, document, position, newName, uri => documents.get(uri)),
      );
      return typeof changes === 'string' ? new ResponseError(ErrorCodes.InvalidParams, changes) : { changes };
    });
    connection.onCodeAction(({ textDocument, range }) =>
      this.#ask(textDocument.uri, [], (project, document) =>
        fixes(project, document, range).map(({ finding, diagnostic, edits }) => ({
          title: `Fix: ${finding.message}`.slice(0, 100),
          kind: CodeActionKind.QuickFix,
          diagnostics: [diagnostic],
          isPreferred: true,
          edit: { changes: { [textDocument.uri]: edits } },
        })),
      ),
    );
    connection.onDocumentSymbol(({ textDocument }) =>
      this.#ask(textDocument.uri, [], ({ html }, document) =>
        isPage(textDocument.uri) ? html.findDocumentSymbols2(document, html.parseHTMLDocument(document)) : [],
      ),
    );
    connection.onFoldingRanges(({ textDocument }) =>
      this.#ask(textDocument.uri, [], ({ html }, document) =>
        isPage(textDocument.uri) ? html.getFoldingRanges(document) : [],
      ),
    );
    connection.languages.onLinkedEditingRange(({ textDocument, position }) =>
      this.#ask(textDocument.uri, null, ({ html }, document) => {
        const region = regionAt(
          textDocument.uri,
          document.getText(),
          document.offsetAt(position),
          importedBy(fileURLToPath(textDocument.uri)),
        );
        if (!region) return null;
        const inner = TextDocument.create(textDocument.uri, 'html', 0, region.text);
        const ranges = html.findLinkedEditingRanges(inner, position, html.parseHTMLDocument(inner));
        return ranges && { ranges };
      }),
    );
    documents.onDidChangeContent(({ document }) => {
      this.#typed(document.uri, document.getText());
      this.#checkSoon(document.uri);
    });
    documents.onDidSave(({ document }) => this.#saved(document.uri));
    documents.onDidClose(({ document }) => {
      this.#typed(document.uri, undefined);
      void connection.sendDiagnostics({ uri: document.uri, diagnostics: [] });
    });
    connection.onDidChangeWatchedFiles(({ changes }) => {
      for (const { uri, type } of changes) if (type === FileChangeType.Deleted || !documents.get(uri)) this.#saved(uri);
    });
    documents.listen(connection);
    connection.listen();
  }

  /** Answers a request about a document; an error costs one answer, not the session. */
  async #ask<T>(
    uri: string,
    nothing: T,
    answer: (project: EditorProject, document: TextDocument) => T | Promise<T>,
  ): Promise<T> {
    const document = this.#documents.get(uri);
    if (!document?.uri.startsWith('file:')) return nothing;
    try {
      return await answer(await this.#projectOf(uri), document);
    } catch (error) {
      this.connection.console.error(`${uri}: ${(error as Error).stack ?? error}`);
      return nothing;
    }
  }

  /** The project of a file, read at the first request. */
  async #projectOf(uri: string): Promise<EditorProject> {
    const root = projectFolder(dirname(fileURLToPath(uri)));
    let project = this.#projects.get(root);
    if (!project) {
      project = new EditorProject(root);
      this.#projects.set(root, project);
      await this.#read(project);
      void this.#checkTypes(project);
    }
    return project;
  }

  async #read(project: EditorProject): Promise<void> {
    const before = project.problem;
    await project.refresh();
    if (project.problem && project.problem !== before) this.connection.console.warn(project.problem);
  }

  /** Unsaved contracts count. */
  #typed(uri: string, text: string | undefined): void {
    if (!uri.startsWith('file:') || !isSource(uri)) return;
    const path = fileURLToPath(uri);
    const before = known(path);
    setTypedText(path, text);
    if (known(path) === before) return;
    clearTimeout(this.#contracts);
    this.#contracts = setTimeout(() => void this.#readAgain(uri), contractRest);
  }

  async #readAgain(uri: string): Promise<void> {
    try {
      await this.#read(await this.#projectOf(uri));
    } catch (error) {
      this.connection.console.error(String(error));
    }
    for (const document of this.#documents.all()) this.#checkSoon(document.uri);
  }

  /** A saved file may change contracts: they are read again, and every open document is checked. */
  async #saved(uri: string): Promise<void> {
    if (!uri.startsWith('file:') || isPage(uri) || isSheet(uri)) return;
    try {
      const project = await this.#projectOf(uri);
      await this.#read(project);
      void this.#checkTypes(project);
    } catch (error) {
      this.connection.console.error(String(error));
    }
    for (const document of this.#documents.all()) this.#checkSoon(document.uri);
  }

  /** A project without TypeScript has no type errors. */
  async #checkTypes(project: EditorProject): Promise<void> {
    const { out, found, vocabulary } = project;
    try {
      await project.types.check(out, found, vocabulary);
    } catch (error) {
      this.connection.console.log(`Types in markup are not checked: ${(error as Error).message}`);
      return;
    }
    for (const { uri } of this.#documents.all()) this.#checkSoon(uri);
  }

  #checkSoon(uri: string): void {
    clearTimeout(this.#timers.get(uri));
    this.#timers.set(
      uri,
      setTimeout(async () => {
        this.#timers.delete(uri);
        const diagnostics = await this.#ask(uri, [], diagnose);
        if (this.#documents.get(uri)) await this.connection.sendDiagnostics({ uri, diagnostics });
      }, rest),
    );
  }
}
