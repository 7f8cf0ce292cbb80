// Run by `npm pack` in a package's folder: what is packed is what the sources say.
import { buildLibrary } from './prepare.js';

buildLibrary();
