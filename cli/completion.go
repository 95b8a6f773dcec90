package cli

import (
	"context"
	"strings"

	"github.com/urfave/cli/v3"
)

// completions are the scripts by which a shell asks lien what could stand next.
var completions = map[string]string{
	"bash": `# What lien takes next, for bash: source <(lien completion bash)
_lien() {
  local cur="${COMP_WORDS[COMP_CWORD]}" IFS=$'\n'
  local words=("${COMP_WORDS[@]:0:COMP_CWORD}")
  [[ "$cur" == -* ]] && words+=("$cur")
  COMPREPLY=($(compgen -W "$("${words[@]}" --generate-shell-completion 2>/dev/null | cut -d: -f1)" -- "$cur"))
  [[ ${#COMPREPLY[@]} -eq 0 ]] && COMPREPLY=($(compgen -f -- "$cur"))
}
complete -o filenames -F _lien lien
`,
	"zsh": `#compdef lien
# What lien takes next, for zsh: source <(lien completion zsh)
_lien() {
  local cur="${words[CURRENT]}" list
  local before=("${words[@]:0:$((CURRENT - 1))}")
  [[ "$cur" == -* ]] && before+=("$cur")
  list=("${(@f)$("${before[@]}" --generate-shell-completion 2>/dev/null | tr -d '\140')}")
  if [[ -n "${list[1]}" ]]; then
    _describe 'lien' list
  else
    _files
  fi
}
compdef _lien lien
`,
	"fish": `# What lien takes next, for fish: lien completion fish | source
function __lien_next
  set -l before (commandline -opc)
  set -l cur (commandline -ct)
  string match -q -- '-*' $cur; and set before $before $cur
  $before --generate-shell-completion 2>/dev/null | string replace ':' \t | string replace -a \x60 ''
end
complete -c lien -a '(__lien_next)'
`,
}

// showCompletion makes the command that prints them one of ours.
func showCompletion(t *terminal) func(*cli.Command) {
	return func(c *cli.Command) {
		c.Hidden, c.Commands = false, nil
		c.Usage = "print the completions for bash, zsh or fish"
		c.ArgsUsage = "bash|zsh|fish"
		c.Description = `Prints a script that completes commands and options.

Example:
  source <(lien completion bash)`
		c.Action = func(_ context.Context, c *cli.Command) error {
			name := strings.TrimSpace(c.Args().First())
			script, ok := completions[name]
			if !ok || c.Args().Len() != 1 {
				return usagef("write lien completion bash, zsh or fish", "there is no completion for %q", name)
			}
			t.printf("%s", script)
			return nil
		}
	}
}
