export { existsSync } from 'node:fs';
