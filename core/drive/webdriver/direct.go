package webdriver

import (
	"encoding/json"
	"fmt"
	"slices"
)

// Chromium's driver takes many times as long for a script as Chromium does, which has a command of its own for it
// (Chrome DevTools Protocol, Runtime.evaluate).

// Direct says whether scripts are run by the browser's own command from now on, where it has one and no element is handed
// over. It is for pages that open no dialogs of the browser: behind one, such a script waits for ever.
func (s *Session) Direct(is bool) {
	var one int
	s.direct = is && s.evaluate("return 1", false, &one, []any{}) == nil && one == 1
}

// patience is how long a script may take that says itself when it is done, in milliseconds: as the protocol has it
// (WebDriver, 9.2).
const patience = 30_000

// runs says whether a script is run by the browser's own command.
func (s *Session) runs(result any, args []any) bool {
	return s.direct && !isElement(result) && !slices.ContainsFunc(args, isElement)
}

func isElement(v any) bool {
	switch v.(type) {
	case Element, *Element, []Element, *[]Element:
		return true
	}
	return false
}

// evaluate runs the body of a function, whose last argument is a function that takes the result where it waits for that.
func (s *Session) evaluate(script string, waits bool, result any, args []any) error {
	given, err := json.Marshal(args)
	if err != nil {
		return err
	}
	body := fmt.Sprintf("(function () {%s\n}).apply(null, %s)", script, given)
	if waits {
		body = fmt.Sprintf(`new Promise((done, failed) => {
  const late = setTimeout(() => failed(new Error("this takes too long")), %d);
  (function () {%s
}).apply(null, [...%s, v => { clearTimeout(late); done(v); }]);
})`, patience, script, given)
	}
	var reply struct {
		Result           struct{ Value json.RawMessage }
		ExceptionDetails *struct {
			Exception struct{ Description string }
		}
	}
	params := map[string]any{"expression": body, "returnByValue": true, "awaitPromise": waits}
	if err := s.post("/goog/cdp/execute", map[string]any{"cmd": "Runtime.evaluate", "params": params}, &reply); err != nil {
		return err
	}
	if x := reply.ExceptionDetails; x != nil {
		return &Failed{Code: "javascript error", Message: x.Exception.Description}
	}
	if result == nil || reply.Result.Value == nil {
		return nil
	}
	return json.Unmarshal(reply.Result.Value, result)
}
