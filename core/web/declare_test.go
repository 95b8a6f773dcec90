package web

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// TestDeclarations: declarations, and a program that uses elements by them, pass the TypeScript compiler, where it is
// installed; each line that uses them wrongly does not.
func TestDeclarations(t *testing.T) {
	tsc, err := exec.LookPath("tsc")
	if err != nil {
		t.Skip("tsc is not installed")
	}
	dir := t.TempDir()
	d := parse(t, studio)
	list, err := Build(d, Options{Start: d.Starts[0]})
	if err != nil {
		t.Fatal(err)
	}
	write(t, filepath.Join(dir, "studio.d.ts"), fileNamed(list, "types.d.ts"))
	right := []string{
		`document.querySelector("ware-card")!.heat = 20;`,
		`document.createElement("ware-card").addEventListener("pick", e => { const at: number = e.detail.at; });`,
		`document.createElement("ware-card").addEventListener("openchange", e => { const is: boolean = e.detail.open; });`,
		`const n: number = document.createElement("ware-card").times(2);`,
		`document.createElement("step-pager").controls = ({ page, turn }) => { turn(page + 1); return document.createElement("b"); };`,
		`document.createElement("ware-card").ware = { id: "a", name: "Bowl" };`,
		`document.createElement("glaze-field").value = "ash";`,
	}
	wrong := []string{
		`document.querySelector("ware-card")!.heat = "hot";`,
		`document.createElement("ware-card").addEventListener("pick", e => { const at: string = e.detail.at; });`,
		`document.createElement("ware-card").full = true;`,
		`document.createElement("ware-card").ware = { id: 1 };`,
		`document.createElement("step-pager").controls = ({ pages }) => null;`,
	}
	const head = "import \"./studio\";\n"
	write(t, filepath.Join(dir, "right.ts"), head+strings.Join(right, "\n")+"\nexport {};\n")
	write(t, filepath.Join(dir, "wrong.ts"), head+strings.Join(wrong, "\n")+"\nexport {};\n")
	if out, err := compiled(tsc, filepath.Join(dir, "right.ts")); err != nil {
		t.Errorf("what is right is refused: %s", out)
	}
	out, err := compiled(tsc, filepath.Join(dir, "wrong.ts"))
	for i, line := range wrong {
		if !strings.Contains(out, fmt.Sprintf("wrong.ts(%d,", i+2)) {
			t.Errorf("%s passes: %v\n%s", line, err, out)
		}
	}
	demo := samples(t)["the kiln room"]
	if list, err = Build(demo, Options{Start: demo.Starts[0]}); err != nil {
		t.Fatal(err)
	}
	write(t, filepath.Join(dir, "demo.d.ts"), fileNamed(list, "types.d.ts"))
	if out, err := compiled(tsc, filepath.Join(dir, "demo.d.ts")); err != nil {
		t.Errorf("the demo: %s", out)
	}
}

func compiled(tsc, file string) (string, error) {
	out, err := exec.Command(tsc, "--noEmit", "--strict", "--target", "es2022", "--moduleResolution", "bundler", "--module", "esnext", "--lib", "es2022,dom", file).CombinedOutput()
	return string(out), err
}

func write(t *testing.T, name, text string) {
	t.Helper()
	if err := os.WriteFile(name, []byte(text), 0o600); err != nil {
		t.Fatal(err)
	}
}

func fileNamed(list []File, path string) string {
	for _, f := range list {
		if f.Path == path {
			return string(f.Text)
		}
	}
	return ""
}
