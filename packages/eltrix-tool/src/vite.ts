/** The Vite plugin. */
export { type EltrixPluginOptions, eltrix, eltrix as default } from './compile/plugin.ts';
