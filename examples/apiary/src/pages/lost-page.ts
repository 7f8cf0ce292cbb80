import { contract, markup } from 'eltrix';
import { pageStyle } from './style.ts';

export class LostPage extends contract('lost-page', { about: 'For addresses that lead nowhere.' }) {
  static styleSheets = [pageStyle];

  view() {
    return markup`<h1>There is nothing here</h1><p class="lead">The address leads nowhere. <a href="/">To the hives</a></p>`;
  }
}

LostPage.define();
