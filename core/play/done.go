package play

import (
	"lien/core/design"
	"lien/core/engine"
	"lien/core/story"
	"lien/core/syntax"
	"lien/core/value"
)

// Done is what was done, for another page that is to do it, too.
type Done struct {
	Verb    engine.Verb // Elapse: time passed
	Place   int         // of the element among those of the page, before it was done; -1: none
	Onto    int         // of what it was dragged onto; -1: none
	Text    string      // that was typed, the key, the value that was chosen, or the keys held beside a press
	Ms      float64     // that passed
	Ask     *design.Operation
	Nth     int // of the question that was answered, its place among those to the operation that wait
	Failure int // with which it failed, from 1 on; 0: it was answered
}

// verbs are those of gestures, by the words of steps.
var verbs = map[string]engine.Verb{"press": engine.Press, "tick": engine.Tick, "untick": engine.Tick, "choose": engine.Choose, "set": engine.Put, "type": engine.Type,
	"clear": engine.Type, "key": engine.Key, "focus": engine.Focus, "blur": engine.Blur, "hover": engine.Hover, "rightpress": engine.Right, "hold": engine.Hold, "release": engine.Release, "drag": engine.Carry,
	"wait": engine.Elapse, "reply": engine.Reply, "fail": engine.Fail, "call": engine.Call}

// doneBy is what a step is about to do. It is asked before the step is taken.
func (s *Session) doneBy(st *design.Step) Done {
	done := Done{Verb: verbs[st.Verb], Place: s.placeOf(st.Target), Onto: s.placeOf(st.Onto)}
	if st.Text != nil {
		done.Text = st.Text.Value
	}
	if st.With != nil {
		done.Text = st.With.Value
	}
	switch {
	case st.Twice:
		done.Verb = engine.Double
	case st.Outside && done.Verb != engine.Carry:
		done.Place = -1
	}
	switch done.Verb {
	case engine.Elapse:
		if n, ok := s.valueOf(st.Value).(value.Number); ok {
			done.Ms = float64(n)
		}
	case engine.Put:
		if v := s.valueOf(st.Value); v != nil {
			done.Text = value.Text(v)
		}
	case engine.Choose:
		if el := s.At(done.Place); el != nil {
			for _, o := range el.Options() {
				if s.e.Name(o) == done.Text {
					done.Text = o.LiveValue()
					break
				}
			}
		}
	case engine.Reply, engine.Fail:
		s.answerOf(st, &done)
	}
	return done
}

// answerOf tells which question a step answers, or lets fail.
func (s *Session) answerOf(st *design.Step, done *Done) {
	done.Ask = st.Operation
	var args []value.Value
	for _, u := range st.Args {
		args = append(args, s.valueOf(u))
	}
	nth := 1
	if n, ok := st.Nth.(*syntax.NumberLit); ok {
		nth = int(n.Value)
	}
	done.Nth = s.e.Age(st.Operation, args, nth)
	if done.Verb != engine.Fail {
		return
	}
	done.Failure = 1
	if st.Text == nil {
		return
	}
	if in, err := s.e.StandIn(st.Operation, args); err == nil {
		for i, f := range in.Fails {
			if f == st.Text.Value {
				done.Failure = i + 1
			}
		}
	}
}

// valueOf is what an expression of a step comes to; nil where it fails, or there is none.
func (s *Session) valueOf(u *design.Unit) value.Value {
	if u == nil {
		return nil
	}
	v, err := s.e.Eval(s.e.Compile(u))
	if err != nil {
		return nil
	}
	return v
}

func (s *Session) placeOf(t *syntax.Target) int {
	if t == nil {
		return -1
	}
	if list := story.Find(s.e, t); len(list) > 0 {
		return s.PlaceOf(list[0])
	}
	return -1
}
