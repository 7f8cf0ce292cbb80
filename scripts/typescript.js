// Lets Node 20 run TypeScript files as they stand: `node --import ./scripts/typescript.js file.ts`.
import { register } from 'node:module';

register('./typescript-hook.js', import.meta.url);
