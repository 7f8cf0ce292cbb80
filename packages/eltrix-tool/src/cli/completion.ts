import { Command } from 'commander';
import { ToolError } from '../project/tool-error.ts';
import { complainOf, type Output } from './output.ts';

interface Word {
  readonly name: string;
  readonly about: string;
}

export interface CompletedCommand extends Word {
  readonly options: readonly Word[];
}

const shells = ['bash', 'zsh', 'fish'] as const;
type Shell = (typeof shells)[number];

const where: Record<Shell, string> = {
  bash: 'eltrix completion bash > ~/.local/share/bash-completion/completions/eltrix',
  zsh: 'eltrix completion zsh > "${fpath[1]}/_eltrix"',
  fish: 'eltrix completion fish > ~/.config/fish/completions/eltrix.fish',
};

/** `eltrix completion`: shell completion of commands and options. */
export function completionCommand(output: Output, commands: () => Promise<readonly CompletedCommand[]>): Command {
  return new Command('completion')
    .argument('<shell>', shells.join(', '))
    .addHelpText(
      'after',
      `\nExamples:\n${Object.values(where)
        .map(line => `  ${line}`)
        .join('\n')}`,
    )
    .action(async (shell: string) => {
      try {
        if (!(shells as readonly string[]).includes(shell))
          throw new ToolError(
            'option-value',
            `There is no completion for ${JSON.stringify(shell)}. Write eltrix completion bash, zsh or fish.`,
            undefined,
            undefined,
            2,
          );
        output.print(scripts[shell as Shell](await commands()));
      } catch (error) {
        process.exitCode = complainOf(error, output);
      }
    });
}

/** A text in single quotes, valid in all three shells. */
const quoted = (text: string) => `'${text.replaceAll("'", `'\\''`)}'`;
const firstLine = (text: string) =>
  text
    .replace(/\s*\(.*$/s, '')
    .replaceAll('[', '(')
    .replaceAll(']', ')');

const scripts: Record<Shell, (commands: readonly CompletedCommand[]) => string> = {
  bash: commands => `# Completion of eltrix for bash. Commands and options; files otherwise.
_eltrix() {
  local word="\${COMP_WORDS[COMP_CWORD]}" command="" at
  for ((at = 1; at < COMP_CWORD; at++)); do
    case "\${COMP_WORDS[at]}" in -*) ;; *) command="\${COMP_WORDS[at]}"; break ;; esac
  done
  local words="${commands.map(({ name }) => name).join(' ')}"
  case "$command" in
${commands.map(({ name, options }) => `    ${name}) words="${options.map(option => option.name).join(' ')}" ;;`).join('\n')}
  esac
  if [[ "$word" == -* || -z "$command" ]]; then COMPREPLY=($(compgen -W "$words" -- "$word"))
  else COMPREPLY=($(compgen -f -- "$word")); fi
}
complete -o filenames -F _eltrix eltrix`,
  zsh: commands => `#compdef eltrix
# Completion of eltrix for zsh.
local -a commands=(
${commands.map(({ name, about }) => `  ${quoted(`${name}:${firstLine(about)}`)}`).join('\n')}
)
_arguments -C '1:command:->command' '*::argument:->argument'
case $state in
  command) _describe 'command' commands ;;
  argument)
    case $line[1] in
${commands.map(({ name, options }) => `      ${name}) _arguments ${options.map(option => quoted(`${option.name}[${firstLine(option.about)}]`)).join(' ')} '*:file:_files' ;;`).join('\n')}
    esac ;;
esac`,
  fish: commands => `# Completion of eltrix for fish.
${commands.map(({ name, about }) => `complete -c eltrix -n __fish_use_subcommand -a ${name} -d ${quoted(firstLine(about))}`).join('\n')}
${commands
  .flatMap(({ name, options }) =>
    options.map(
      option =>
        `complete -c eltrix -n ${quoted(`__fish_seen_subcommand_from ${name}`)} -l ${option.name.replace(/^--/, '')} -d ${quoted(firstLine(option.about))}`,
    ),
  )
  .join('\n')}`,
};
