package drive

import (
	"encoding/json"
	"errors"
	"strings"
	"testing"

	"lien/core/drive/webdriver"
)

// TestDirect: scripts give the same by the browser's own command as by the driver's, and fail alike.
func TestDirect(t *testing.T) {
	s := openBrowser(t, startDriver(t)).Session
	if err := s.Go("data:text/html,<p>kiln"); err != nil {
		t.Fatal(err)
	}
	type outcome struct{ value, code, message string }
	run := func(waits bool, script string, args ...any) outcome {
		var is any
		do := s.Run
		if waits {
			do = s.RunAsync
		}
		err := do(script, &is, args...)
		text, _ := json.Marshal(is)
		var failed *webdriver.Failed
		if errors.As(err, &failed) {
			return outcome{string(text), failed.Code, strings.TrimPrefix(failed.Error(), failed.Code+": ")}
		}
		if err != nil {
			t.Fatal(script, err)
		}
		return outcome{value: string(text)}
	}
	for _, c := range []struct {
		waits        bool
		script, want string
		args         []any
	}{
		{false, "return 1 + 1", "2", nil},
		{false, "return [arguments.length, ...arguments]", `[3,"a \"b\" \u2028 \u003c/p\u003e",null,{"kg":[1,true]}]`, []any{"a \"b\" \u2028 </p>", nil, map[string]any{"kg": []any{1, true}}}},
		{false, "const p = document.querySelector('p'); p.title = 'x' // and that is all", "null", nil},
		{false, "return document.querySelector('p').title", `"x"`, nil},
		{false, "throw new Error('too hot')", "too hot", nil},
		{true, "const done = arguments[1]; setTimeout(() => done(arguments[0] + 1), 5)", "8", []any{7}},
		{true, "arguments[0]({ kg: 2 })", `{"kg":2}`, nil},
		{true, "arguments[0]()", "null", nil},
		{true, "throw new Error('too hot')", "too hot", nil},
	} {
		s.Direct(false)
		driver := run(c.waits, c.script, c.args...)
		s.Direct(true)
		own := run(c.waits, c.script, c.args...)
		if own.value != driver.value || own.code != driver.code || !strings.Contains(own.value+own.message, c.want) || !strings.Contains(driver.value+driver.message, c.want) {
			t.Errorf("%s: the browser gives %q, the driver %q, want %s", c.script, own, driver, c.want)
		}
	}
	list, err := s.Find("p")
	if err != nil || len(list) != 1 {
		t.Fatal(list, err)
	}
	var title string
	if err := s.Run("return arguments[0].title", &title, list[0]); err != nil || title != "x" {
		t.Errorf("an element that is handed over has the title %q, %v", title, err)
	}
	var el webdriver.Element
	if err := s.Run("return document.querySelector('p')", &el); err != nil || el != list[0] {
		t.Errorf("the element is %v, %v, want %v", el, err, list[0])
	}
}
