/** Runs in a page that arrives slowly: the element is defined before the parser reaches it. */
import { snapshot } from './snapshot.ts';

declare global {
  var eltrixSnapshot: typeof snapshot;
}

// As in the page around it.
document.documentElement.style.scrollbarWidth = 'none';
globalThis.eltrixSnapshot = snapshot;
const { dataset } = document.querySelector('script')!;
for (const module of dataset['modules']!.split(' ')) await import(/* @vite-ignore */ module);
await fetch(new URL(dataset['go']!, import.meta.url));
