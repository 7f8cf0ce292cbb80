/** The gallery's page. */
import './gallery-app.ts';
