/** The bundler's configuration for everything that the tool bundles or serves, with what the project's own Vite configuration says. */
import { existsSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { InlineConfig, Plugin, PluginOption, UserConfig } from 'vite';
import { sourceError } from './source-error.ts';

const names = ['js', 'mjs', 'ts', 'cjs', 'mts', 'cts'].map(ending => `vite.config.${ending}`);

/** What of the project's configuration counts for elements: how its modules are found and what they mean. */
type Settings = Pick<UserConfig, 'define' | 'css' | 'plugins'> & {
  readonly resolve?: Pick<NonNullable<UserConfig['resolve']>, 'alias' | 'extensions' | 'dedupe'>;
};

const read = new Map<string, Promise<Settings>>();

/** The project's Vite configuration; undefined if it has none. */
function viteFile(root: string): string | undefined {
  return names.map(name => join(root, name)).find(file => existsSync(file));
}

/** Changes when the project's Vite configuration does. */
export function bundlerVersion(root: string): string {
  const file = viteFile(root);
  return file ? `${file} ${statSync(file).mtimeMs}` : '';
}

/** @throws ToolError where the configuration cannot be loaded, with its place. */
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

/** Without this tool's own plugins, which the tool adds where they belong. */
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
 * The configuration for one use: what it needs itself comes after aliases, constants, plugins and CSS settings of the project.
 *
 * @throws ToolError where the project's Vite configuration cannot be loaded.
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
