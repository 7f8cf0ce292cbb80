/** The bundler's configuration for every bundle and server of the tool, with the project's own Vite configuration. */
import { existsSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { InlineConfig, Plugin, PluginOption, UserConfig } from 'vite';
import { sourceError } from './source-error.ts';

const names = ['js', 'mjs', 'ts', 'cjs', 'mts', 'cts'].map(ending => `vite.config.${ending}`);

/** The part of the project's configuration that applies to elements: how modules are found and transformed. */
type Settings = Pick<UserConfig, 'define' | 'css' | 'plugins'> & {
  readonly resolve?: Pick<NonNullable<UserConfig['resolve']>, 'alias' | 'extensions' | 'dedupe'>;
};

const read = new Map<string, Promise<Settings>>();

/** The project's Vite configuration; undefined if there is none. */
function viteFile(root: string): string | undefined {
  return names.map(name => join(root, name)).find(file => existsSync(file));
}

/** A key that changes with the project's Vite configuration. */
export function bundlerVersion(root: string): string {
  const file = viteFile(root);
  return file ? `${file} ${statSync(file).mtimeMs}` : '';
}

/** @throws ToolError with the position if the configuration cannot be loaded. */
async function settingsOf(root: string, command: 'build' | 'serve'): Promise<Settings> {
  const file = viteFile(root);
  if (!file) return {};
  const { loadConfigFromFile } = await import('vite');
  try {
    const found = await loadConfigFromFile({ command, mode: 'production' }, file, root, 'silent');
    const { define, css, plugins, resolve } = found?.config ?? {};
    const { alias, extensions, dedupe } = resolve ?? {};
    return {
      ...(define && { define }),
      ...(css && { css }),
      ...(plugins && { plugins: await withoutOwn(plugins) }),
      resolve: { ...(alias && { alias }), ...(extensions && { extensions }), ...(dedupe && { dedupe }) },
    };
  } catch (error) {
    throw sourceError(error, root);
  }
}

/** Removes this tool's plugins, which the tool adds itself. */
async function withoutOwn(plugins: readonly PluginOption[]): Promise<PluginOption[]> {
  const kept: PluginOption[] = [];
  for (const given of plugins) {
    const plugin = await given;
    if (Array.isArray(plugin)) kept.push(...(await withoutOwn(plugin)));
    else if (plugin && !/^eltrix(?:-|$)/.test((plugin as Plugin).name)) kept.push(plugin);
  }
  return kept;
}

/**
 * The configuration for one use: the aliases, constants, plugins and CSS settings of the project, then the tool's own
 * options.
 *
 * @throws ToolError if the project's Vite configuration cannot be loaded.
 */
export async function bundlerConfig(
  root: string,
  own: InlineConfig,
  command: 'build' | 'serve' = 'build',
): Promise<InlineConfig> {
  const key = `${command} ${bundlerVersion(root)}`;
  let settings = read.get(key);
  if (!settings) read.set(key, (settings = settingsOf(root, command)));
  const { mergeConfig } = await import('vite');
  const common = { root, configFile: false as const, logLevel: 'silent' as const, publicDir: false as const };
  return mergeConfig(await settings, { ...common, ...own }) as InlineConfig;
}
