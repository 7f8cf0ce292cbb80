import { contract, markup } from 'eltrix';
import '../elements/season-calendar.ts';
import { pageStyle } from './style.ts';

export class YearPage extends contract('year-page', { about: 'The keeper’s year.' }) {
  static styleSheets = [pageStyle];

  view() {
    return markup`
      <h1>The year</h1>
      <p class="lead">What each month asks for.</p>
      <div class="panel"><season-calendar month="9"></season-calendar></div>`;
  }
}

YearPage.define();
