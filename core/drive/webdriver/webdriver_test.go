package webdriver

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
)

// TestProtocol: what is sent to a driver, and what is made of its answers and errors.
func TestProtocol(t *testing.T) {
	var asked []string
	answers := map[string]string{
		"POST /session":                          `{"value": {"sessionId": "s"}}`,
		"POST /session/s/url":                    `{"value": null}`,
		"POST /session/s/execute/sync":           `{"value": [1, 2]}`,
		"POST /session/s/elements":               `{"value": [{"element-6066-11e4-a52e-4f735466cecf": "e"}]}`,
		"GET /session/s/element/e/computedrole":  `{"value": "button"}`,
		"GET /session/s/element/e/computedlabel": `{"value": "Fire"}`,
		"POST /session/s/element/e/click":        `!{"value": {"error": "stale element reference", "message": "it went\nstack"}}`,
		"POST /session/s/actions":                `{"value": null}`,
		"POST /session/s/execute/async":          `no JSON`,
		"DELETE /session/s":                      `{"value": null}`,
	}
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		var body any
		json.NewDecoder(r.Body).Decode(&body)
		text, _ := json.Marshal(body)
		asked = append(asked, r.Method+" "+r.URL.Path+" "+string(text))
		answer := answers[r.Method+" "+r.URL.Path]
		if rest, failed := strings.CutPrefix(answer, "!"); failed {
			w.WriteHeader(http.StatusNotFound)
			answer = rest
		}
		w.Write([]byte(answer))
	}))
	defer server.Close()
	s, err := At(server.URL+"/").Open(context.Background(), true)
	if err != nil {
		t.Fatal(err)
	}
	if err := s.Go("http://127.0.0.1/"); err != nil {
		t.Fatal(err)
	}
	var got []int
	if err := s.Run("return [1, 2]", &got); err != nil || len(got) != 2 || got[1] != 2 {
		t.Errorf("the script gives %v, %v", got, err)
	}
	list, err := s.Find("button")
	if err != nil || len(list) != 1 || list[0].ID != "e" {
		t.Fatalf("found %v, %v", list, err)
	}
	role, err1 := s.Role(list[0])
	name, err2 := s.Label(list[0])
	if role != "button" || name != "Fire" || err1 != nil || err2 != nil {
		t.Errorf("it is %s %q: %v %v", role, name, err1, err2)
	}
	var failed *Failed
	if err := s.Click(list[0]); !errors.As(err, &failed) || failed.Code != "stale element reference" || strings.Contains(err.Error(), "stack") {
		t.Errorf("the failure is %v", err)
	}
	if err := s.RunAsync("", nil); err == nil || !strings.Contains(err.Error(), "without JSON") {
		t.Errorf("what is no answer gives %v", err)
	}
	if err := s.Perform(new(Actions).MoveTo(list[0], 0, 0).KeyDown("Enter").KeyUp("Enter")); err != nil {
		t.Fatal(err)
	}
	if last := asked[len(asked)-1]; !strings.Contains(last, "\ue007") || !strings.Contains(last, `"origin":{"element-6066-11e4-a52e-4f735466cecf":"e"}`) {
		t.Errorf("the actions are %s", last)
	}
	if err := s.Perform(&Actions{}); err != nil || strings.Contains(asked[len(asked)-1], `"actions":[]`) {
		t.Errorf("nothing to do was sent: %v", err)
	}
	if err := s.Close(); err != nil {
		t.Error(err)
	}
}

// TestNoDriver: what is not there is told, with what to do.
func TestNoDriver(t *testing.T) {
	t.Setenv("PATH", t.TempDir())
	if _, err := Start(context.Background(), ""); !errors.Is(err, ErrNoDriver) || !strings.Contains(err.Error(), "apt-get install") {
		t.Errorf("without a driver: %v", err)
	}
	if _, err := Start(context.Background(), "nodriver"); err == nil {
		t.Error("a program that is not there was started")
	}
	if _, err := At("http://127.0.0.1:1").Open(context.Background(), true); err == nil {
		t.Error("nobody answers, and that is no error")
	}
}
