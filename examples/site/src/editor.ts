/** A code editor; loaded when a reader edits an example. */
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { html } from '@codemirror/lang-html';
import { javascript } from '@codemirror/lang-javascript';
import { bracketMatching, defaultHighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { EditorState } from '@codemirror/state';
import { EditorView, keymap, lineNumbers } from '@codemirror/view';

export interface Editor {
  destroy(): void;
}

export interface EditorOptions {
  readonly text: string;
  readonly language: 'ts' | 'html';
  readonly label: string;
  changed(text: string): void;
}

/** @param parent in a shadow root: there the editor's styles are constructed, which a strict policy allows. */
export function createEditor(parent: HTMLElement, { text, language, label, changed }: EditorOptions): Editor {
  return new EditorView({
    parent,
    root: parent.getRootNode() as ShadowRoot,
    state: EditorState.create({
      doc: text,
      extensions: [
        lineNumbers(),
        history(),
        bracketMatching(),
        syntaxHighlighting(defaultHighlightStyle),
        // Tab leaves the editor, as it leaves a field.
        keymap.of([...defaultKeymap, ...historyKeymap]),
        language === 'ts' ? javascript({ typescript: true }) : html(),
        EditorView.contentAttributes.of({ 'aria-label': label }),
        EditorView.updateListener.of(update => {
          if (update.docChanged) changed(update.state.doc.toString());
        }),
        EditorView.theme({ '&': { fontSize: '13.5px', backgroundColor: '#fffdf8', color: '#2a261d' } }),
      ],
    }),
  });
}
