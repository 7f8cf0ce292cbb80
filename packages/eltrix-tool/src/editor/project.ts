/** The language server's state of one project: its elements, and those of installed packages. */
import {
  getLanguageService,
  type LanguageService,
  type MarkupContent,
  newHTMLDataProvider,
} from 'vscode-html-languageservice';
import { packageVocabulary } from '../check/pages/package-vocabulary.ts';
import { type Vocabulary, vocabularyOf } from '../check/pages/vocabulary.ts';
import type { ElementDescription } from '../describe/description.ts';
import { editorData, tagText } from '../describe/editor-data.ts';
import { Descriptions } from '../describe/model.ts';
import { readConfiguration } from '../project/config.ts';
import { discover, type FoundElement } from '../project/discover.ts';
import { MarkupTypes } from './markup-types.ts';

export class EditorProject {
  elements: readonly ElementDescription[] = [];
  /** The same elements, as found in the sources. */
  found: readonly FoundElement[] = [];
  vocabulary: Vocabulary = new Map();
  html: LanguageService = getLanguageService();
  readonly types: MarkupTypes;
  out = 'dist';
  /** The error of the last reading; the elements are then those of the last successful one. */
  problem: string | undefined;
  readonly #descriptions = new Descriptions();
  #byTag = new Map<string, ElementDescription>();
  #reading: Promise<void> | undefined;
  #isStale = false;

  /** @param root the project's folder. */
  constructor(readonly root: string) {
    this.types = new MarkupTypes(root);
  }

  /** Reads contracts and manifests again; concurrent calls are answered by one further reading. */
  refresh(): Promise<void> {
    this.#isStale = true;
    this.#reading ??= this.#read().finally(() => {
      this.#reading = undefined;
    });
    return this.#reading;
  }

  async #read(): Promise<void> {
    while (this.#isStale) {
      this.#isStale = false;
      try {
        const { source, out } = await readConfiguration(this.root);
        const found = await discover(this.root, source);
        this.elements = found.map(element => this.#descriptions.describe(this.root, element));
        this.#byTag = new Map(this.elements.map(element => [element.tag, element]));
        this.found = found;
        this.out = out;
        this.problem = undefined;
      } catch (error) {
        // Sources may not parse while they are edited: the last valid contracts are kept.
        this.problem = (error as Error).message;
      }
      try {
        this.vocabulary = new Map([...packageVocabulary(this.root), ...vocabularyOf(this.elements)]);
      } catch (error) {
        this.problem ??= (error as Error).message;
        this.vocabulary = vocabularyOf(this.elements);
      }
      this.html = getLanguageService({
        customDataProviders: [newHTMLDataProvider('eltrix', this.#data())],
      });
    }
  }

  /** Elements of packages are only known from their manifests. */
  #data(): Parameters<typeof newHTMLDataProvider>[1] {
    const own = editorData(this.elements) as Parameters<typeof newHTMLDataProvider>[1];
    const known = new Set(this.elements.map(({ tag }) => tag));
    const others = [...this.vocabulary.values()].filter(({ tag }) => !known.has(tag));
    return {
      ...own,
      tags: [
        ...(own.tags ?? []),
        ...others.map(({ tag, attributes }) => ({
          name: tag,
          attributes: [...attributes.values()].map(({ name, kind, values }) => ({
            name,
            ...(kind === 'flag' ? { valueSet: 'v' } : {}),
            ...(values.length > 0 ? { values: values.map(value => ({ name: value })) } : {}),
          })),
        })),
      ],
    };
  }

  element(tag: string): ElementDescription | undefined {
    return this.#byTag.get(tag);
  }

  /** The hover text of a tag, as Markdown. */
  explain(tag: string): MarkupContent | undefined {
    const element = this.element(tag);
    return element && { kind: 'markdown', value: tagText(element) };
  }
}
