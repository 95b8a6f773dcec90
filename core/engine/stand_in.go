package engine

import (
	"lien/core/design"
	"lien/core/value"
)

// StandIn is what stands in for the answer to a question.
type StandIn struct {
	Reply value.Value
	After float64  // milliseconds; 0 where none are said
	Fails []string // what it can fail with
}

// StandIn works out what stands in for an operation's answer to some arguments. It needs no page.
func (e *Engine) StandIn(o *design.Operation, args []value.Value) (s StandIn, err error) {
	op := e.program.operation(o)
	ask := func(f *function) value.Value {
		var v value.Value = value.Null{}
		if f != nil && err == nil {
			v, err = e.guarded(func() value.Value { return e.call(f, nil, nil, args) })
		}
		return v
	}
	s.Reply = ask(op.replies)
	if after, ok := ask(op.after).(value.Number); ok {
		s.After = max(0, float64(after))
	}
	for _, f := range op.fails {
		s.Fails = append(s.Fails, value.Text(ask(f)))
	}
	return s, err
}
