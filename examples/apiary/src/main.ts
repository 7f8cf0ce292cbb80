import './page.css';
import { effect } from 'eltrix';
import { routes } from 'eltrix/routes';
import { hives } from './hives.ts';
import './pages/hives-page.ts';
import { texts } from './texts.ts';

const outlet = document.querySelector('main')!;
const place = 'Thistlecombe apiary';

const router = routes(
  outlet,
  [
    { path: '/', element: 'hives-page', title: place },
    {
      path: '/hives/:name',
      element: 'hive-page',
      load: () => import('./pages/hive-page.ts'),
      title: ({ name }) => `${name} · ${place}`,
    },
    {
      path: '/inspections',
      element: 'inspections-page',
      load: () => import('./pages/inspections-page.ts'),
      title: `Inspections · ${place}`,
    },
    {
      path: '/ledger',
      element: 'ledger-page',
      load: () => import('./pages/ledger-page.ts'),
      title: `Honey ledger · ${place}`,
    },
    { path: '/year', element: 'year-page', load: () => import('./pages/year-page.ts'), title: `The year · ${place}` },
    { path: '*', element: 'lost-page', load: () => import('./pages/lost-page.ts'), title: `Nothing here · ${place}` },
  ],
  {
    failure: (error, again) => {
      const button = document.createElement('button');
      button.textContent = `This page did not load (${(error as Error).message}). Try again`;
      button.addEventListener('click', again);
      return button;
    },
  },
);

// A card says that its hive was opened; the application goes there.
outlet.addEventListener('hive-open', event => {
  void router.go(`/hives/${encodeURIComponent((event as CustomEvent<{ name: string }>).detail.name)}`);
});

const links = [...document.querySelectorAll<HTMLAnchorElement>('nav a')];

effect(() => {
  const { pathname } = router.place.get().url;
  for (const link of links) {
    const isHere = link.pathname === pathname || (link.pathname === '/' && pathname.startsWith('/hives/'));
    if (isHere) link.setAttribute('aria-current', 'page');
    else link.removeAttribute('aria-current');
  }
});

// Light, dark, or as the reader's system has it.
const theme = document.querySelector<HTMLSelectElement>('#theme')!;
theme.value = localStorage.getItem('thistlecombe.theme') ?? 'light dark';
const show = () => {
  document.documentElement.style.colorScheme = theme.value;
  localStorage.setItem('thistlecombe.theme', theme.value);
};
theme.addEventListener('change', show);
show();

// English or German; the pages follow the language of the document.
const language = document.querySelector<HTMLSelectElement>('#language')!;
language.value = localStorage.getItem('thistlecombe.language') ?? (navigator.language.startsWith('de') ? 'de' : 'en');
const speak = () => {
  document.documentElement.lang = language.value;
  localStorage.setItem('thistlecombe.language', language.value);
};
language.addEventListener('change', speak);
speak();

const say = texts(document.documentElement);
effect(() => {
  for (const [at, key] of (['hives', 'inspections', 'ledger', 'year'] as const).entries())
    links[at]!.textContent = say(key);
  document.querySelector('#count')!.textContent = say('count', { count: hives.length });
  document.querySelector('#colours')!.textContent = say('colours');
});
