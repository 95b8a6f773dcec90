package engine

import (
	"math"
	"sort"
	"strings"

	"lien/core/source"
	"lien/core/types"
	"lien/core/value"
)

// method compiles x.name(args) for strings, numbers and lists.
func (p *program) method(x *types.Method) eval {
	recv := p.expr(x.Recv)
	at := x.Span()
	apply := p.methodOf(x)
	return func(f *frame) value.Value {
		r := recv(f)
		if value.IsNull(r) {
			if !x.Optional {
				f.e.fail(at, "what stands before .%s is null", x.Name)
			}
			return r
		}
		return apply(f, r)
	}
}

func (p *program) methodOf(x *types.Method) func(f *frame, recv value.Value) value.Value {
	t := types.Widen(types.NonNull(x.Recv.Type()))
	if _, list := types.Under(t).(*types.List); list {
		return p.listMethod(x)
	}
	args := p.exprs(x.Args)
	at := x.Span()
	if x.Name == "toFixed" {
		return func(f *frame, recv value.Value) value.Value {
			n := int(args[0](f).(value.Number))
			if n < 0 || n > 100 {
				f.e.fail(at, "toFixed takes 0 to 100 decimals")
			}
			return value.String(value.ToFixed(float64(recv.(value.Number)), n))
		}
	}
	fn, whole := stringMethods[x.Name], !indexes[x.Name]
	return func(f *frame, recv value.Value) value.Value {
		s := string(recv.(value.String))
		if whole {
			f.e.spend(len(s)/textBytes, 0, at)
		}
		return f.e.made(fn(f.e, at, s, evalAll(f, args)), at)
	}
}

// indexes are the methods that look at some units of a text, which are found at once.
var indexes = map[string]bool{"length": true, "at": true, "charCodeAt": true, "slice": true}

type stringMethod func(e *Engine, at source.Span, s string, args []value.Value) value.Value

func text(args []value.Value, i int, other string) string {
	if i < len(args) {
		if s, ok := args[i].(value.String); ok {
			return string(s)
		}
	}
	return other
}

// integer is argument i as ECMA-262's ToIntegerOrInfinity gives it, kept
// within what an index can be.
func integer(args []value.Value, i, other int) int {
	if i >= len(args) {
		return other
	}
	n, ok := args[i].(value.Number)
	if !ok {
		return other
	}
	return int(math.Max(-1<<40, math.Min(1<<40, math.Trunc(float64(n)))))
}

// span turns the arguments of slice into bounds within n.
func span(args []value.Value, n int) (int, int) {
	clamp := func(i int) int {
		if i < 0 {
			i += n
		}
		return max(0, min(i, n))
	}
	start, end := clamp(integer(args, 0, 0)), clamp(integer(args, 1, n))
	return start, max(start, end)
}

var stringMethods = map[string]stringMethod{
	"length": func(e *Engine, _ source.Span, s string, _ []value.Value) value.Value {
		return value.Number(e.indexed(s).Len())
	},
	"trim": func(_ *Engine, _ source.Span, s string, _ []value.Value) value.Value {
		return value.String(value.Trim(s))
	},
	"toLowerCase": func(_ *Engine, _ source.Span, s string, _ []value.Value) value.Value {
		return value.String(value.Lower(s))
	},
	"toUpperCase": func(_ *Engine, _ source.Span, s string, _ []value.Value) value.Value {
		return value.String(value.Upper(s))
	},
	"includes": func(_ *Engine, _ source.Span, s string, args []value.Value) value.Value {
		return value.Bool(strings.Contains(s, text(args, 0, "")))
	},
	"startsWith": func(_ *Engine, _ source.Span, s string, args []value.Value) value.Value {
		return value.Bool(strings.HasPrefix(s, text(args, 0, "")))
	},
	"endsWith": func(_ *Engine, _ source.Span, s string, args []value.Value) value.Value {
		return value.Bool(strings.HasSuffix(s, text(args, 0, "")))
	},
	"indexOf": func(_ *Engine, _ source.Span, s string, args []value.Value) value.Value {
		return value.Number(value.IndexOf(s, text(args, 0, "")))
	},
	"slice": func(e *Engine, _ source.Span, s string, args []value.Value) value.Value {
		t := e.indexed(s)
		start, end := span(args, t.Len())
		return value.String(t.Slice(start, end))
	},
	"split": split,
	"padStart": func(e *Engine, at source.Span, s string, args []value.Value) value.Value {
		return pad(e, at, s, args, true)
	},
	"padEnd": func(e *Engine, at source.Span, s string, args []value.Value) value.Value {
		return pad(e, at, s, args, false)
	},
	"replaceAll": func(e *Engine, at source.Span, s string, args []value.Value) value.Value {
		part, by := text(args, 0, ""), text(args, 1, "")
		e.short(len(s)+(strings.Count(s, part))*len(by), at)
		return value.String(strings.ReplaceAll(s, part, by))
	},
	"charCodeAt": func(e *Engine, at source.Span, s string, args []value.Value) value.Value {
		t, i := e.indexed(s), integer(args, 0, 0)
		if i < 0 || i >= t.Len() {
			e.fail(at, "there is no character %d in %s", i, value.Brief(value.String(s), 60))
		}
		return value.Number(t.Unit(i))
	},
	"at": func(e *Engine, _ source.Span, s string, args []value.Value) value.Value {
		t, i := e.indexed(s), integer(args, 0, 0)
		if i < 0 {
			i += t.Len()
		}
		if i < 0 || i >= t.Len() {
			return value.Null{}
		}
		return value.String(t.Slice(i, i+1))
	},
}

func split(e *Engine, at source.Span, s string, args []value.Value) value.Value {
	sep := text(args, 0, "")
	var parts []value.Value
	if sep == "" {
		for _, u := range value.Units(s) {
			parts = append(parts, value.String(value.FromUnits([]uint16{u})))
		}
	} else {
		for _, part := range strings.Split(s, sep) {
			parts = append(parts, value.String(part))
		}
	}
	e.short(len(parts), at)
	e.spend(len(parts)/4, 16*len(parts), at)
	return value.NewList(parts)
}

func pad(e *Engine, at source.Span, s string, args []value.Value, start bool) value.Value {
	units, fill := value.Units(s), value.Units(text(args, 1, " "))
	n := integer(args, 0, 0)
	e.short(n, at)
	e.spend(n/textBytes, 0, at)
	if n <= len(units) || len(fill) == 0 {
		return value.String(s)
	}
	var extra []uint16
	for len(extra) < n-len(units) {
		extra = append(extra, fill[len(extra)%len(fill)])
	}
	if start {
		return value.String(value.FromUnits(append(extra, units...)))
	}
	return value.String(value.FromUnits(append(units, extra...)))
}

// listMethod compiles a method of lists.
func (p *program) listMethod(x *types.Method) func(f *frame, recv value.Value) value.Value {
	if fn, ok := plainListMethods[x.Name]; ok {
		args, at := p.exprs(x.Args), x.Span()
		return func(f *frame, recv value.Value) value.Value {
			return f.e.made(fn(f.e, at, recv.(*value.List), evalAll(f, args)), at)
		}
	}
	call := p.callback(x.Args[0])
	n := arity(x.Args[0])
	step := func(f *frame, i int, v value.Value) value.Value {
		f.e.step(x.Span())
		if n < 2 {
			return call(f, [3]value.Value{v})
		}
		return call(f, [3]value.Value{v, value.Number(i)})
	}
	switch x.Name {
	case "map":
		return func(f *frame, recv value.Value) value.Value {
			return f.e.made(recv.(*value.List).Map(func(i int, v value.Value) value.Value { return step(f, i, v) }), x.Span())
		}
	case "flatMap":
		return func(f *frame, recv value.Value) value.Value {
			var out []value.Value
			for i, v := range recv.(*value.List).Items() {
				out = append(out, step(f, i, v).(*value.List).Items()...)
				f.e.short(len(out), x.Span())
			}
			return f.e.made(value.NewList(out), x.Span())
		}
	case "reduce":
		start := p.expr(x.Args[1])
		return func(f *frame, recv value.Value) value.Value {
			sum := start(f)
			for i, v := range recv.(*value.List).Items() {
				f.e.step(x.Span())
				sum = call(f, [3]value.Value{sum, v, value.Number(i)})
			}
			return sum
		}
	case "toSorted":
		return func(f *frame, recv value.Value) value.Value {
			out := append([]value.Value(nil), recv.(*value.List).Items()...)
			sort.SliceStable(out, func(i, j int) bool {
				f.e.step(x.Span())
				return call(f, [3]value.Value{out[i], out[j]}).(value.Number) < 0
			})
			return value.NewList(out)
		}
	}
	return search(x.Name, step)
}

// arity is how many values a callback takes; methods pass no more.
func arity(x types.Expr) int {
	if l, ok := x.(*types.Lambda); ok {
		return len(l.Params)
	}
	return 1
}

// search compiles the methods that test items.
func search(name string, step func(f *frame, i int, v value.Value) value.Value) func(f *frame, recv value.Value) value.Value {
	yes := value.Value(value.Bool(true))
	// first is the place of the first item that the test gives want for.
	first := func(f *frame, l *value.List, want bool) int {
		for i := range l.Len() { // no more items are read than it takes
			if (step(f, i, l.At(i)) == yes) == want {
				return i
			}
		}
		return -1
	}
	switch name {
	case "filter":
		return func(f *frame, recv value.Value) value.Value {
			l := recv.(*value.List)
			out := make([]value.Value, 0, l.Len())
			for i, v := range l.Items() {
				if step(f, i, v) == yes {
					out = append(out, v)
				}
			}
			if len(out) == l.Len() {
				return l
			}
			return value.NewList(out)
		}
	case "some":
		return func(f *frame, recv value.Value) value.Value {
			return value.Bool(first(f, recv.(*value.List), true) >= 0)
		}
	case "every":
		return func(f *frame, recv value.Value) value.Value {
			return value.Bool(first(f, recv.(*value.List), false) < 0)
		}
	case "findIndex":
		return func(f *frame, recv value.Value) value.Value {
			return value.Number(first(f, recv.(*value.List), true))
		}
	case "find":
		return func(f *frame, recv value.Value) value.Value {
			l := recv.(*value.List)
			if i := first(f, l, true); i >= 0 {
				return l.At(i)
			}
			return value.Null{}
		}
	case "findLast":
		return func(f *frame, recv value.Value) value.Value {
			l := recv.(*value.List)
			for i := l.Len() - 1; i >= 0; i-- {
				if v := l.At(i); step(f, i, v) == yes {
					return v
				}
			}
			return value.Null{}
		}
	}
	panic("engine: there is no list method " + name)
}

var plainListMethods = map[string]func(e *Engine, at source.Span, l *value.List, args []value.Value) value.Value{
	"length": func(_ *Engine, _ source.Span, l *value.List, _ []value.Value) value.Value {
		return value.Number(l.Len())
	},
	"includes": func(e *Engine, _ source.Span, l *value.List, args []value.Value) value.Value {
		return value.Bool(e.indexOf(l, args[0]) >= 0)
	},
	"indexOf": func(e *Engine, _ source.Span, l *value.List, args []value.Value) value.Value {
		return value.Number(e.indexOf(l, args[0]))
	},
	"at": func(_ *Engine, _ source.Span, l *value.List, args []value.Value) value.Value {
		i := integer(args, 0, 0)
		if i < 0 {
			i += l.Len()
		}
		if i < 0 || i >= l.Len() {
			return value.Null{}
		}
		return l.At(i)
	},
	"slice": func(_ *Engine, _ source.Span, l *value.List, args []value.Value) value.Value {
		start, end := span(args, l.Len())
		return value.NewList(append([]value.Value(nil), l.Items()[start:end]...))
	},
	"concat": func(e *Engine, at source.Span, l *value.List, args []value.Value) value.Value {
		out := append([]value.Value(nil), l.Items()...)
		for _, a := range args {
			out = append(out, a.(*value.List).Items()...)
		}
		e.short(len(out), at)
		return value.NewList(out)
	},
	"toReversed": func(_ *Engine, _ source.Span, l *value.List, _ []value.Value) value.Value {
		items := l.Items()
		out := make([]value.Value, len(items))
		for i, v := range items {
			out[len(items)-1-i] = v
		}
		return value.NewList(out)
	},
	"join": func(e *Engine, at source.Span, l *value.List, args []value.Value) value.Value {
		var out strings.Builder
		for i, v := range l.Items() {
			e.step(at)
			if i > 0 {
				out.WriteString(text(args, 0, ","))
			}
			out.WriteString(value.Text(v))
			e.short(out.Len(), at)
		}
		return value.String(value.Joined(out.String()))
	},
}

func (e *Engine) indexOf(l *value.List, v value.Value) int {
	for i := range l.Len() {
		if i%stepParts == stepParts-1 {
			e.spend(1, 0, source.Span{})
		}
		if e.equal(l.At(i), v) {
			return i
		}
	}
	return -1
}

// builtin compiles a call of a function of the language.
func (p *program) builtin(x *types.Builtin) eval {
	args, at := p.exprs(x.Args), x.Span()
	switch x.Name {
	case "String":
		return func(f *frame) value.Value { return f.e.text(value.Text(args[0](f)), at) }
	case "Number":
		return func(f *frame) value.Value {
			n, ok := value.ParseNumber(string(args[0](f).(value.String)))
			if !ok {
				return value.Null{}
			}
			return value.Number(n + 0)
		}
	case "now":
		return func(f *frame) value.Value { return value.Number(f.e.now) }
	case "fresh":
		return func(f *frame) value.Value { return f.e.fresh() }
	case "Array.from":
		call := p.callback(x.Args[1])
		return func(f *frame) value.Value { return arrayFrom(f, at, int(args[0](f).(value.Number)), call) }
	case "Math.min", "Math.max":
		return func(f *frame) value.Value { return extreme(x.Name == "Math.max", evalAll(f, args)) }
	case "ofKind":
		return func(f *frame) value.Value {
			if i, ok := args[0](f).(*Instance); ok && i.comp.def == x.Of {
				return i
			}
			return value.Null{}
		}
	case "running":
		return p.runningCall(x, args)
	case "all", "the", "was", "reported", "runningAny", "runningOf", "waiting":
		return p.lawCall(x, args)
	}
	op := map[string]func(float64) float64{"Math.round": value.Round, "Math.floor": math.Floor, "Math.ceil": math.Ceil,
		"Math.abs": math.Abs, "Math.trunc": math.Trunc}[x.Name]
	return func(f *frame) value.Value { return f.e.finite(op(float64(args[0](f).(value.Number))), at) }
}

func arrayFrom(f *frame, at source.Span, n int, call callback) value.Value {
	f.e.short(n, at)
	var out []value.Value
	for i := range max(n, 0) {
		f.e.step(at)
		out = append(out, call(f, [3]value.Value{value.Number(i)}))
	}
	return f.e.made(value.NewList(out), at)
}

func extreme(most bool, args []value.Value) value.Value {
	best := args[0].(value.Number)
	for _, a := range args[1:] {
		if n := a.(value.Number); most && n > best || !most && n < best {
			best = n
		}
	}
	return best
}
