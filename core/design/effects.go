package design

import (
	"fmt"

	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// EffectKind is what an effect does.
type EffectKind uint8

const (
	Reads    EffectKind = iota // Symbol: a member, local, constant, function or part of a form
	Writes                     // Place, with Value; a tie has none
	Calls                      // Fun, with Args: an action, or a function
	Reports                    // Event, with Args
	Sends                      // Channel, with Args
	Asks                       // Operation, with Args; Ask has what comes of it
	Opens                      // Use
	Leaves                     // the component ends, if it is open; Event is reported with it, or nil
	Starts                     // the timer Event, with Args
	Stops                      // the timer Event, with Args
	Tells                      // the time: now()
	Coins                      // a key: fresh()
	Logs                       // Args
	Prevents                   // what a browser would do next
	Fails                      // it may fail
)

// Effect is one thing that an expression, statement or node does by itself,
// besides what is in it. Whoever asks what a part of a design may do asks these,
// so that a new statement is known everywhere once it is known here.
type Effect struct {
	Kind      EffectKind
	Symbol    types.Symbol
	Place     *Place
	Value     types.Expr
	Fun       types.Expr
	Event     *Member
	Channel   *Channel
	Operation *Operation
	Ask       *Ask
	Use       *Use
	Args      []types.Expr
	At        Placed // what does it
}

// Placed is what stands somewhere in the text.
type Placed interface{ Span() source.Span }

// Called is the member that is called, or nil: a function at the top, one that
// was handed down, or a method of an element.
func (e Effect) Called() *Member {
	switch f := e.Fun.(type) {
	case *types.Ref:
		m, _ := f.Symbol.(*Member)
		return m
	case *types.Select:
		m, _ := f.Member.(*Member)
		return m
	}
	return nil
}

// Cell is the member that is written: that of the list, where an item of an
// each is; nil where it is none.
func (e Effect) Cell() *Member { return e.Place.Cell() }

// Cell is the member that a place is, or is a part of.
func (p *Place) Cell() *Member {
	for p != nil {
		switch root := p.Root.(type) {
		case *Member:
			return root
		case *ViewLocal:
			if root.Each == nil {
				return nil
			}
			p = root.Each.Place
		default:
			return nil
		}
	}
	return nil
}

// exprEffects tells what an expression does, without what is in it.
func exprEffects(x types.Expr, tell func(Effect)) {
	at := Placed(x)
	switch x := x.(type) {
	case *types.Ref:
		tell(Effect{Kind: Reads, Symbol: x.Symbol, At: at})
	case *types.Select:
		tell(Effect{Kind: Reads, Symbol: x.Member, At: at})
	case *types.Builtin:
		switch x.Name {
		case "now":
			tell(Effect{Kind: Tells, At: at})
		case "fresh":
			tell(Effect{Kind: Coins, At: at})
		}
		if m, ok := x.Of.(*Member); ok {
			tell(Effect{Kind: Reads, Symbol: m, At: at})
		}
	case *types.Apply:
		tell(Effect{Kind: Calls, Fun: x.Fun, Args: x.Args, At: at})
	}
	if mayFail(x) {
		tell(Effect{Kind: Fails, At: at})
	}
}

// mayFail says whether an expression, without what is in it, can fail the turn:
// by a number that is not finite, or by what goes beyond the limits of a turn.
//
// Sums and joins of what is small do not; the engine works out all of them
// where something has grown large.
func mayFail(x types.Expr) bool {
	switch x := x.(type) {
	case *types.Binary:
		return x.Op == syntax.Slash || x.Op == syntax.Percent || x.Op == syntax.Star
	case *types.Method:
		switch x.Name {
		case "toFixed", "charCodeAt", "padStart", "padEnd", "replaceAll", "flatMap", "reduce", "split":
			return true
		case "join":
			return joinsJoined(x)
		}
	case *types.Builtin:
		switch x.Name {
		case "running", "runningAny", "runningOf", "waiting", "reported", "all", "was", "now", "fresh", "ofKind", "String", "Number", "Math.min", "Math.max", "Math.round", "Math.floor", "Math.ceil", "Math.abs", "Math.trunc":
			return false
		}
		return true
	}
	return false
}

// joinsJoined says whether texts are joined that are joined of lists
// themselves: their length is not the sum of few.
func joinsJoined(x *types.Method) bool {
	joins := 0
	types.Walk(x, func(x types.Expr) bool {
		switch x := x.(type) {
		case *types.Method:
			if x.Name == "join" {
				joins++
			}
		case *types.Apply:
			joins++ // whatever that does
		}
		return true
	})
	return joins > 1
}

// stmtEffects tells what a statement does, without what is in it.
func stmtEffects(s Stmt, tell func(Effect)) {
	at := Placed(s)
	switch s := s.(type) {
	case *Assign:
		tell(Effect{Kind: Writes, Place: s.Place, Value: s.Value, At: at})
		if len(s.Place.Steps) > 0 {
			tell(Effect{Kind: Fails, At: at}) // the place may not be there
		}
	case *Emit:
		tell(Effect{Kind: Reports, Event: s.Event, Args: s.Args, At: at})
	case *Do:
		tell(Effect{Kind: Calls, Fun: s.Fun, Args: s.Args, At: at})
	case *Clock:
		kind := Starts
		if s.Stop {
			kind = Stops
		}
		tell(Effect{Kind: kind, Event: s.Timer, Args: s.Args, At: at})
	case *Send:
		tell(Effect{Kind: Sends, Channel: s.Channel, Args: s.Args, At: at})
	case *Leave:
		if s.Event != nil {
			tell(Effect{Kind: Reports, Event: s.Event, Args: s.Args, At: at})
		}
		tell(Effect{Kind: Leaves, Event: s.Event, At: at})
	case *Ask:
		tell(Effect{Kind: Asks, Operation: s.Operation, Ask: s, Args: s.Args, At: at})
	case *Open:
		tell(Effect{Kind: Opens, Use: s.Use, At: at})
	case *Log:
		tell(Effect{Kind: Logs, Args: s.Args, At: at})
	case *Prevent:
		tell(Effect{Kind: Prevents, At: at})
	case *Let, *If, *For, *Return:
	default:
		panic(fmt.Sprintf("design: a statement of an unknown kind: %T", s))
	}
}

// nodeEffects tells what users can do to a node by its ties, and that keys of
// items may meet.
func nodeEffects(n Node, tell func(Effect)) {
	switch n := n.(type) {
	case *Element:
		for _, t := range n.Ties {
			tell(Effect{Kind: Writes, Place: t.Write, At: t.Read.Expr})
		}
	case *Use:
		for _, t := range n.Ties {
			tell(Effect{Kind: Writes, Place: t.Place, At: t.Unit.Expr})
		}
	case *Each:
		if n.By != nil {
			tell(Effect{Kind: Fails, At: n.By.Expr})
		}
	case *Text, *When, *SlotPlace:
	default:
		panic(fmt.Sprintf("design: a node of an unknown kind: %T", n))
	}
}
