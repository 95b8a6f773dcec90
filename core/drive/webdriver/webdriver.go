// Package webdriver speaks the W3C WebDriver protocol (https://www.w3.org/TR/webdriver2/),
// plain HTTP and JSON, with any driver program of a browser.
package webdriver

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"time"
)

// Programs are the names under which driver programs are looked for on the path.
var Programs = []string{"chromedriver", "geckodriver", "msedgedriver", "WebKitWebDriver", "safaridriver"}

// ErrNoDriver says that there is no driver program on the path.
var ErrNoDriver = errors.New("no driver program of a browser is on the path: on Debian, apt-get install chromium chromium-driver")

// Driver is a driver program that runs, or one at an address.
type Driver struct {
	address string
	program string // its name, or "" where only the address is known
	process *exec.Cmd
	folder  string // where it and its browsers keep what they need meanwhile; "" where they choose
	ended   chan error
	client  *http.Client
}

// At is a driver that runs at an address such as http://127.0.0.1:9515.
func At(address string) *Driver {
	return &Driver{address: strings.TrimRight(address, "/"), client: &http.Client{}}
}

// Start runs a driver program on a free port of this machine. An empty name stands for the
// first of Programs that is on the path.
func Start(ctx context.Context, program string) (*Driver, error) {
	path, err := find(program)
	if err != nil {
		return nil, err
	}
	port, err := freePort()
	if err != nil {
		return nil, err
	}
	d := At(fmt.Sprintf("http://127.0.0.1:%d", port))
	d.program = filepath.Base(path)
	d.process = exec.Command(path, portFlag(d.program, port)...)
	ownGroup(d.process)
	d.ownFolder(path)
	if err := d.process.Start(); err != nil {
		d.removeFolder()
		return nil, fmt.Errorf("%s does not start: %w", path, err)
	}
	d.ended = make(chan error, 1)
	go func() { d.ended <- d.process.Wait() }()
	if err := d.ready(ctx); err != nil {
		d.Close()
		return nil, err
	}
	return d, nil
}

// ownFolder lets what the driver and its browsers write meanwhile go into a folder that is removed in the end: they
// leave much of it. A program that sees other files than this one (a snap) chooses itself.
func (d *Driver) ownFolder(path string) {
	real, err := filepath.EvalSymlinks(path)
	if err != nil || filepath.Base(real) == "snap" || strings.Contains(real, "/snap/") {
		return
	}
	folder, err := os.MkdirTemp("", "lien")
	if err != nil {
		return
	}
	d.folder = folder
	d.process.Env = os.Environ()
	for _, name := range []string{"TMPDIR", "TMP", "TEMP"} {
		d.process.Env = append(d.process.Env, name+"="+folder)
	}
}

// removeFolder removes that folder, which a browser that ends may write to for a moment.
func (d *Driver) removeFolder() {
	for tries := 0; d.folder != "" && os.RemoveAll(d.folder) != nil && tries < 50; tries++ {
		time.Sleep(20 * time.Millisecond)
	}
}

func find(program string) (string, error) {
	if program != "" {
		return exec.LookPath(program)
	}
	for _, name := range Programs {
		if path, err := exec.LookPath(name); err == nil {
			return path, nil
		}
	}
	return "", ErrNoDriver
}

func portFlag(program string, port int) []string {
	if strings.HasPrefix(program, "geckodriver") {
		return []string{"--port", fmt.Sprint(port)}
	}
	return []string{fmt.Sprintf("--port=%d", port)}
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, fmt.Errorf("no port of this machine is free: %w", err)
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

// ready waits until the driver answers.
func (d *Driver) ready(ctx context.Context) error {
	ctx, cancel := context.WithTimeout(ctx, 20*time.Second)
	defer cancel()
	for {
		var status struct{ Ready bool }
		if err := d.call(ctx, http.MethodGet, "/status", nil, &status); err == nil && status.Ready {
			return nil
		}
		select {
		case err := <-d.ended:
			d.ended <- err
			return fmt.Errorf("%s ended as it began: %v", d.program, err)
		case <-ctx.Done():
			return fmt.Errorf("%s does not answer: %w", d.program, ctx.Err())
		case <-time.After(20 * time.Millisecond):
		}
	}
}

// Close ends the driver program, if it was started here.
func (d *Driver) Close() error {
	if d.process == nil || d.process.Process == nil {
		return nil
	}
	defer d.removeFolder()
	endGroup(d.process)
	select {
	case <-d.ended:
	case <-time.After(5 * time.Second):
		return d.process.Process.Kill()
	}
	for since := time.Now(); groupLives(d.process) && time.Since(since) < 3*time.Second; {
		time.Sleep(10 * time.Millisecond)
	}
	killGroup(d.process) // what has not ended by then
	return nil
}

// Session is a browser window.
type Session struct {
	driver *Driver
	path   string
	ctx    context.Context
	direct bool // scripts are run by the browser's own command
}

// Open opens a browser window of 1280 by 800, without a monitor if headless. What is asked of it
// later ends with ctx.
func (d *Driver) Open(ctx context.Context, headless bool) (*Session, error) {
	want := map[string]any{}
	var args []string
	switch {
	case strings.HasPrefix(d.program, "geckodriver"):
		if headless {
			args = append(args, "-headless")
		}
		want["moz:firefoxOptions"] = map[string]any{"args": args}
	case strings.HasPrefix(d.program, "chromedriver") || d.program == "" || strings.HasPrefix(d.program, "msedgedriver"):
		args = append(args, "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync",
			"--disable-gpu", "--disable-quic", "--window-size=1280,800")
		if headless {
			args = append(args, "--headless", "--disable-frame-rate-limit") // nobody waits for a monitor
		}
		if os.Geteuid() == 0 { // the sandbox does not work for the root of a container
			args = append(args, "--no-sandbox", "--disable-dev-shm-usage")
		}
		want["goog:chromeOptions"] = map[string]any{"args": args}
	}
	var got struct{ SessionID string }
	body := map[string]any{"capabilities": map[string]any{"alwaysMatch": want}}
	if err := d.call(ctx, http.MethodPost, "/session", body, &got); err != nil {
		return nil, err
	}
	return &Session{driver: d, path: "/session/" + got.SessionID, ctx: ctx}, nil
}

// Close closes the window.
func (s *Session) Close() error {
	ctx, cancel := context.WithTimeout(context.WithoutCancel(s.ctx), 10*time.Second)
	defer cancel()
	return s.driver.call(ctx, http.MethodDelete, s.path, nil, nil)
}

func (s *Session) post(path string, body, result any) error {
	if body == nil {
		body = map[string]any{}
	}
	return s.driver.call(s.ctx, http.MethodPost, s.path+path, body, result)
}

// Go loads a page.
func (s *Session) Go(url string) error { return s.post("/url", map[string]any{"url": url}, nil) }

// Emulate shows the page on a screen with some of the features of Media Queries 4, in browsers that have the commands
// of Chromium for that.
func (s *Session) Emulate(features map[string]string) error {
	size := map[string]any{"deviceScaleFactor": 1, "mobile": false}
	var rest []map[string]string
	for name, v := range features {
		if name == "width" || name == "height" {
			var px int
			if _, err := fmt.Sscanf(v, "%dpx", &px); err != nil {
				return fmt.Errorf("the %s %s is no number of pixels", name, v)
			}
			size[name] = px
		} else if strings.HasPrefix(name, "prefers-") || name == "forced-colors" {
			rest = append(rest, map[string]string{"name": name, "value": v})
		}
	}
	if err := s.post("/goog/cdp/execute", map[string]any{"cmd": "Emulation.setDeviceMetricsOverride", "params": size}, nil); err != nil {
		return fmt.Errorf("this browser does not take another screen: %w", err)
	}
	return s.post("/goog/cdp/execute", map[string]any{"cmd": "Emulation.setEmulatedMedia", "params": map[string]any{"features": rest}}, nil)
}

// Element is a reference to an element of the page that is loaded.
type Element struct {
	ID string `json:"element-6066-11e4-a52e-4f735466cecf"`
}

// Run runs the body of a function in the page and decodes what it returns, which may be nil.
// Among the arguments may be elements.
func (s *Session) Run(script string, result any, args ...any) error {
	if args == nil {
		args = []any{}
	}
	if s.runs(result, args) {
		return s.evaluate(script, false, result, args)
	}
	return s.post("/execute/sync", map[string]any{"script": script, "args": args}, result)
}

// RunAsync is Run for a script that calls its last argument with its result.
func (s *Session) RunAsync(script string, result any, args ...any) error {
	if args == nil {
		args = []any{}
	}
	if s.runs(result, args) {
		return s.evaluate(script, true, result, args)
	}
	return s.post("/execute/async", map[string]any{"script": script, "args": args}, result)
}

// Click clicks an element as the protocol has it: an option of a list is chosen.
func (s *Session) Click(el Element) error { return s.post("/element/"+el.ID+"/click", nil, nil) }

// Role is the role that the browser computes for an element.
func (s *Session) Role(el Element) (role string, err error) {
	err = s.driver.call(s.ctx, http.MethodGet, s.path+"/element/"+el.ID+"/computedrole", nil, &role)
	return role, err
}

// Label is the accessible name that the browser computes for an element.
func (s *Session) Label(el Element) (name string, err error) {
	err = s.driver.call(s.ctx, http.MethodGet, s.path+"/element/"+el.ID+"/computedlabel", nil, &name)
	return name, err
}

// Find finds elements by a CSS selector.
func (s *Session) Find(selector string) (list []Element, err error) {
	err = s.post("/elements", map[string]any{"using": "css selector", "value": selector}, &list)
	return list, err
}

// Failed is an error that the driver reports.
type Failed struct {
	Code    string `json:"error"` // as in the protocol's table of errors
	Message string `json:"message"`
}

func (f *Failed) Error() string {
	first, _, _ := strings.Cut(f.Message, "\n")
	return f.Code + ": " + first
}

// call sends a command and decodes the value of its reply.
func (d *Driver) call(ctx context.Context, method, path string, body, result any) error {
	var send io.Reader
	if body != nil {
		text, err := json.Marshal(body)
		if err != nil {
			return err
		}
		send = bytes.NewReader(text)
	}
	req, err := http.NewRequestWithContext(ctx, method, d.address+path, send)
	if err != nil {
		return err
	}
	req.Header.Set("Content-Type", "application/json; charset=utf-8")
	resp, err := d.client.Do(req)
	if err != nil {
		return err
	}
	defer resp.Body.Close()
	var reply struct{ Value json.RawMessage }
	if err := json.NewDecoder(resp.Body).Decode(&reply); err != nil {
		return fmt.Errorf("the driver answers %s without JSON: %w", resp.Status, err)
	}
	if resp.StatusCode != http.StatusOK {
		f := &Failed{}
		if err := json.Unmarshal(reply.Value, f); err != nil || f.Code == "" {
			return fmt.Errorf("the driver answers %s", resp.Status)
		}
		return f
	}
	if result == nil {
		return nil
	}
	return json.Unmarshal(reply.Value, result)
}
