package cli_test

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// TestCompletionInShells: in each shell that is there the script completes a command and an option.
func TestCompletionInShells(t *testing.T) {
	dir := t.TempDir()
	for shell, ask := range map[string]string{
		"fish": `source ./script; complete -C "lien dr"; complete -C "lien draw --th"`,
		"bash": `source ./script; for line in "dr" "draw --th"; do COMP_WORDS=(lien $line); COMP_CWORD=$((${#COMP_WORDS[@]} - 1)); _lien; printf '%s\n' "${COMPREPLY[@]}"; done`,
		"zsh": `compdef() { :; }; _describe() { print -l -- $list }; _files() { :; }; source ./script
			for line in "dr" "draw --th"; do words=(lien ${=line}); CURRENT=$#words; _lien; done`,
	} {
		if _, err := exec.LookPath(shell); err != nil {
			t.Logf("there is no %s here", shell)
			continue
		}
		script := lien(t, dir, "completion", shell).out
		if err := os.WriteFile(filepath.Join(dir, "script"), []byte(script), 0o600); err != nil {
			t.Fatal(err)
		}
		cmd := exec.Command(shell, "-c", ask)
		cmd.Dir = dir
		cmd.Env = append(os.Environ(), "PATH="+filepath.Dir(program)+string(os.PathListSeparator)+os.Getenv("PATH"))
		out, err := cmd.CombinedOutput()
		if err != nil || !strings.Contains(string(out), "draw") || !strings.Contains(string(out), "--theme") || strings.Contains(string(out), "`") {
			t.Errorf("%s: %v\n%s", shell, err, out)
		}
	}
}
