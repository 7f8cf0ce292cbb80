/** Runs in a page for pictures: shows one specimen. */

import { stillPage } from '../../testing/still-page.ts';
import { emulate, watchPage } from './emulate.ts';
import type { CheckTask, Shown } from './model.ts';
import { sheetOf } from './place.ts';
import { Stage } from './stage.ts';

declare global {
  var eltrixShown: Promise<Shown>;
}

globalThis.eltrixShown = show();

async function show(): Promise<Shown> {
  watchPage();
  const query = new URLSearchParams(location.search);
  const task = (await (await fetch(`task?${query}`)).json()) as CheckTask;
  document.head.append(Object.assign(document.createElement('base'), { href: task.base }));
  document.adoptedStyleSheets = [sheetOf('body { margin: 16px; font: 16px/1.5 system-ui, sans-serif; }')];
  for (const module of task.modules) {
    await import(/* @vite-ignore */ module);
    if (customElements.get(task.description.tag)) break;
  }
  const stage = new Stage(task);
  await stage.play(task.specimens[Number(query.get('at'))]!, 0);
  const scheme = query.get('scheme') === 'dark' ? 'dark' : 'light';
  emulate({ scheme, rtl: query.has('rtl'), calm: false, forced: false, text: 100 });
  await stillPage();
  const { body } = document;
  const height = Math.max(body.getBoundingClientRect().bottom, body.scrollHeight) + 16;
  return { height: Math.min(innerHeight, Math.ceil(height)), width: innerWidth, scale: devicePixelRatio };
}
