package cli_test

import (
	"bufio"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

// TestServe: a page is shown on this machine, built anew when a file changes, with the errors in its place where the
// design has some, and ends when it is told to.
func TestServe(t *testing.T) {
	dir := t.TempDir()
	file := write(t, dir, "lamp.lien", lamp)
	cmd := exec.Command(program, "serve", "lamp.lien", "--start", "burning")
	cmd.Dir = dir
	out, err := cmd.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	defer cmd.Process.Kill()
	address, err := bufio.NewReader(out).ReadString('\n')
	if err != nil || !strings.HasPrefix(address, "http://127.0.0.1:") {
		t.Fatalf("it says %q, %v", address, err)
	}
	address = strings.TrimSpace(address)
	if page := got(t, address+"page.js"); !strings.Contains(page, "lit: true") {
		t.Errorf("it begins otherwise:\n%s", page)
	}
	module := address + "components/kiln-lamp.js"
	if text := got(t, module); !strings.Contains(text, `"Light"`) {
		t.Errorf("the module is\n%s", text)
	}
	write(t, dir, "lamp.lien", strings.Replace(lamp, `"Light"`, `"Burn"`, 1))
	shows(t, module, `"Burn"`)
	write(t, dir, "lamp.lien", strings.Replace(lamp, "!lit", "lit + 1", 1))
	shows(t, address, "lamp.lien:4:")
	write(t, dir, "lamp.lien", lamp)
	shows(t, module, `"Light"`)
	if read(t, file) != lamp {
		t.Error("the design was changed")
	}
	if entries, err := os.ReadDir(dir); err != nil || len(entries) != 1 {
		t.Errorf("files are left: %v, %v", entries, err)
	}
	if err := cmd.Process.Signal(os.Interrupt); err != nil {
		t.Fatal(err)
	}
	if err := cmd.Wait(); err != nil {
		t.Errorf("it ends with %v", err)
	}
}

// TestAnswer: the stand-ins answer over HTTP, and others when the design changes.
func TestAnswer(t *testing.T) {
	dir := t.TempDir()
	design := "service kiln-log at \"/api\" {\n  count(): number by GET \"/count\" replies 7\n  close() by POST \"/close\"\n}\ncomponent log-page { view { p \"log\" } }\nstart log-page\n"
	write(t, dir, "log.lien", design)
	lien(t, dir, "answer", "log.lien", "--fail", "kiln-log.burn").want(t, 2, "there is no operation kiln-log.burn")
	write(t, dir, "plain.lien", lamp)
	lien(t, dir, "answer", "plain.lien").want(t, 2, "no service of the design says where it is")
	cmd := exec.Command(program, "answer", "log.lien", "--fail", "kiln-log.close")
	cmd.Dir = dir
	out, err := cmd.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	defer cmd.Process.Kill()
	lines := bufio.NewScanner(out)
	var told []string
	for len(told) < 3 && lines.Scan() {
		told = append(told, lines.Text())
	}
	if len(told) < 3 || !strings.HasPrefix(told[0], "http://127.0.0.1:") || told[1] != "  GET /api/count" || told[2] != "  POST /api/close" {
		t.Fatalf("it says %q", told)
	}
	if text := got(t, told[0]+"/api/count"); strings.TrimSpace(text) != "7" {
		t.Errorf("it answers %s", text)
	}
	r, err := http.Post(told[0]+"/api/close", "application/json", nil)
	if err != nil || r.StatusCode != http.StatusServiceUnavailable {
		t.Errorf("what is to fail gives %v, %v", r, err)
	}
	write(t, dir, "log.lien", strings.Replace(design, "replies 7", "replies 8", 1))
	shows(t, told[0]+"/api/count", "8")
	if err := cmd.Process.Signal(os.Interrupt); err != nil {
		t.Fatal(err)
	}
	if err := cmd.Wait(); err != nil {
		t.Errorf("it ends with %v", err)
	}
}

// got is what stands at an address.
func got(t *testing.T, address string) string {
	t.Helper()
	r, err := http.Get(address)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	text, err := io.ReadAll(r.Body)
	if err != nil {
		t.Fatal(err)
	}
	return string(text)
}

// shows waits until something stands at an address.
func shows(t *testing.T, address, want string) {
	t.Helper()
	for range 200 {
		if strings.Contains(got(t, address), want) {
			return
		}
		time.Sleep(10 * time.Millisecond)
	}
	t.Errorf("%s never shows %q", filepath.Base(address), want)
}

// TestServeRefuses: what cannot be shown is told, and nothing is served.
func TestServeRefuses(t *testing.T) {
	dir := t.TempDir()
	write(t, dir, "lamp.lien", lamp)
	write(t, dir, "none.lien", lamp[:strings.Index(lamp, "start")])
	write(t, dir, "wrong.lien", strings.Replace(lamp, "!lit", "lit + 1", 1))
	lien(t, dir, "serve", "none.lien").want(t, 2, "the design has no start")
	lien(t, dir, "serve", "wrong.lien").want(t, 2, "wrong.lien:4:")
	lien(t, dir, "serve", "lamp.lien", "--start", "burnin").want(t, 2, "there is no start burnin")
	lien(t, dir, "serve", "lamp.lien", "--port", "99999").want(t, 2, "there is no port 99999")
	lien(t, dir, "serve", "lamp.lien", "--port", "a").want(t, 2, "--port takes")
	lien(t, dir, "serve", "nothing.lien").want(t, 2, "nothing.lien")
}
