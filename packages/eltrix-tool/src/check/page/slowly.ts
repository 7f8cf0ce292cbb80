/** What runs in a page that comes slowly: the element is defined before the parser reaches it. */
import { snapshot } from './stage.ts';

declare global {
  var eltrixSnapshot: (element: Element) => string;
}

globalThis.eltrixSnapshot = snapshot;
const { dataset } = document.querySelector('script')!;
for (const module of dataset['modules']!.split(' ')) await import(/* @vite-ignore */ module);
await fetch(dataset['go']!);
