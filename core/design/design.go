// Package design is a design with every name resolved and every type known.
// Load reads one from a file system; what is wrong in it is in its Findings.
package design

import (
	"fmt"
	"lien/core/css"
	"lien/core/finding"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// Design is all that the files of a design declare.
type Design struct {
	Set        *source.Set
	Files      []*syntax.File
	Types      []*TypeName
	Consts     []*Const
	Functions  []*Function
	Components []*Component
	Channels   []*Channel
	Services   []*Service
	Starts     []*Start
	Laws       []*Law
	Scenarios  []*Scenario
	Styles     []*Style    // those of the page first
	Hiding     *css.Hiding // what of them decides whether elements are shown
	Findings   []*finding.Finding
	Budget     Budget   // of its turns; what is usual, where there is none
	Sources    []string // the files that were read, data among them, as the file system names them
}

// Budget is what one turn of a design may take, and so may each law.
type Budget struct {
	Steps int // calls, values worked out, items gone through, pieces of the page made
	Bytes int // of texts, lists, records and pieces of the page made; about
}

// Failed says whether the design has errors, so that it cannot run.
func (d *Design) Failed() bool { return finding.Failed(d.Findings) }

// Errors are the findings for which the design cannot run.
func (d *Design) Errors() []*finding.Finding {
	var list []*finding.Finding
	for _, f := range d.Findings {
		if f.Level == finding.Error {
			list = append(list, f)
		}
	}
	return list
}

// Component finds a component by name, or gives nil.
func (d *Design) Component(name string) *Component {
	for _, c := range d.Components {
		if c.Name == name {
			return c
		}
	}
	return nil
}

// TypeName is a declared type.
type TypeName struct {
	*types.Named
	Syntax *syntax.TypeDecl
}

// Unit is an expression and the frame it needs.
type Unit struct {
	Expr   types.Expr
	Locals int // how many locals the frame has
}

// Body is the statements of a handler or action.
type Body struct {
	Params []*types.Local
	Stmts  []Stmt
	Locals int
	At     source.Span
	// Captured says that it runs in the frame of the handler around it.
	Captured bool
}

// Const is a constant at the top of a file.
type Const struct {
	Label  string
	Syntax *syntax.ConstDecl
	Unit   Unit
	Data   value.Value // read from a file, or nil
	typ    types.Type
	busy   bool
	design *Design
	check  func(*Const)
}

func (c *Const) Name() string    { return c.Label }
func (c *Const) Stable() bool    { return true }
func (c *Const) Pos() source.Pos { return c.Syntax.Name.Start }

// Type is the constant's type; it is worked out when first asked for.
func (c *Const) Type() types.Type {
	if c.typ == nil {
		c.check(c)
	}
	return c.typ
}

// Function is a derives at the top of a file.
type Function struct {
	Label  string
	Syntax *syntax.Derives
	Params []*types.Local
	Unit   Unit
	typ    types.Type
	busy   bool
	check  func(*Function)
}

func (f *Function) Name() string    { return f.Label }
func (f *Function) Stable() bool    { return true }
func (f *Function) Pos() source.Pos { return f.Syntax.Name.Start }

// Type is the function's type, or that of its value where it has no parameters.
func (f *Function) Type() types.Type {
	if f.typ == nil {
		f.check(f)
	}
	return f.typ
}

// Kind is what a member of a component is.
type Kind uint8

const (
	Takes Kind = iota
	Shares
	Holds
	ConstMember
	Derives
	Emits
	Action
	Timer
	Supplied // a context that the component supplies
	Used     // a context that it uses
	Named    // an element or component of its view
	Gathered // the instances below
)

var kindWords = [...]string{"takes", "shares", "holds", "const", "derives", "emits", "action", "timer", "supplies", "uses", "named", "gathers"}

func (k Kind) String() string { return kindWords[k] }

var kindNouns = [...]string{"a taken value", "a shared cell", "a cell", "a constant", "a derived value", "an event", "an action", "a timer", "a context", "a context", "a named element or component", "a gathered list"}

// Noun says what a member of a kind is, with its article.
func (k Kind) Noun() string { return kindNouns[k] }

// Member is a named part of a component.
type Member struct {
	Kind   Kind
	Label  string
	Owner  *Component
	At     source.Span // of its name
	Syntax syntax.Member
	Slot   int // among the members of its component that have a value

	Aside   bool           // holds aside
	Copy    bool           // holds x from y
	Init    *Unit          // first value, default, constant or derivation; or nil
	Sig     []types.Param  // of an event, action or derived function
	Args    []*types.Local // the same as locals of Init or Body
	Call    bool           // a derived function
	Every   bool           // a timer that repeats; its delay is Init
	Offered bool           // the parent may read or call it on a named instance
	Field   bool           // a form control: shares ... field
	Implied bool           // it is in no text: what every form control takes
	Context *Component     // that is supplied or used
	Hears   []*Handler     // of what a used context emits
	Kinds   []*Component   // that are gathered
	Body    *Body          // of an action, or what runs when a derives is set
	typ     types.Type
	busy    bool
	check   func(*Member)
}

func (m *Member) Name() string    { return m.Label }
func (m *Member) Stable() bool    { return m.Kind == ConstMember || m.Kind == Used || m.Kind == Supplied }
func (m *Member) Pos() source.Pos { return m.At.Start }

// Type is the member's type; that of a derived value is worked out when first
// asked for. Actions and events are functions without a result.
func (m *Member) Type() types.Type {
	if m.typ == nil {
		m.check(m)
	}
	return m.typ
}

// IsCell says whether the member holds state.
func (m *Member) IsCell() bool { return m.Kind == Holds || m.Kind == Shares }

// Own says whether only its component's own assignments change the cell.
func (m *Member) Own() bool { return m.Kind == Holds }

// Writable says whether the member's own component may assign to it.
func (m *Member) Writable() bool { return m.IsCell() || m.Kind == Derives && hasSet(m) }

// HasValue says whether instances keep a value for the member.
func (m *Member) HasValue() bool {
	switch m.Kind {
	case Takes, Shares, Holds, ConstMember, Supplied, Used, Named, Gathered:
		return true
	}
	return m.Kind == Derives && !m.Call
}

// Component is a component, resolved.
type Component struct {
	Name      string
	Syntax    *syntax.Component
	Members   []*Member // in text order
	Hooks     []*Hook
	Follows   []*Follow
	Supplies  []*Supply
	IsContext bool
	Opened    bool         // some handler opens it
	Leaves    bool         // it has a leave
	Slots     []*SlotPlace // in its view
	Hearings  []*Hearing
	View      []Node
	Values    int // how many members have a value
	byName    map[string]*Member
	viewed    bool // its view is resolved, or being resolved
}

// Supply is a context that a component supplies, with what it links to it.
type Supply struct {
	Use    *Use
	Member *Member
}

// Hook is on mount or on unmount.
type Hook struct {
	Unmount bool
	Body    *Body
	Syntax  *syntax.Hook
}

// Follow runs its body, with the value that went before, when a value has changed.
type Follow struct {
	Unit   Unit
	Body   *Body
	Syntax *syntax.Follows
}

// TypeName is the name of the type of its instances.
func (c *Component) TypeName() string { return c.Name }

// Member finds a member by name, or gives nil.
func (c *Component) Member(name string) *Member { return c.byName[name] }

// Reach finds what others may read or call on an instance: of a context what
// is not held aside, of a component what it offers.
func (c *Component) Reach(name string) types.Symbol {
	m := c.byName[name]
	if m != nil && (m.Offered || c.IsContext && m.public()) {
		return m
	}
	return nil
}

// public says whether the users of a context may read or call a member.
func (m *Member) public() bool {
	return m.HasValue() && !m.Aside && m.Kind <= Derives || m.Kind == Derives || m.Kind == Action
}

// Kept says how to come by a member that the component keeps to itself.
func (c *Component) Kept(name string) string {
	m := c.byName[name]
	switch {
	case m == nil:
		return ""
	case m.Kind == Emits && c.IsContext:
		return fmt.Sprintf("it is an event: hear it with uses %s { %s -> ... }", c.Name, name)
	case c.IsContext:
		return fmt.Sprintf("%s keeps it to itself: write a derives or an action in %[1]s that does with %[2]s what is needed", c.Name, name)
	case m.HasValue() || m.Kind == Derives || m.Kind == Action:
		return fmt.Sprintf("write offers %s in %s", name, c.Name)
	}
	return ""
}

// Reachable lists the names that Reach finds.
func (c *Component) Reachable() []string {
	var names []string
	for _, m := range c.Members {
		if c.Reach(m.Label) != nil {
			names = append(names, m.Label)
		}
	}
	return names
}

// Whole is an instance as laws and scenarios see it: with everything in it.
type Whole struct{ *Component }

// Reach finds every value and derived function.
func (w Whole) Reach(name string) types.Symbol {
	if m := w.byName[name]; m != nil && (m.HasValue() || m.Kind == Derives) {
		return m
	}
	return nil
}

// Kept is "": a law may read all that has a value.
func (w Whole) Kept(string) string { return "" }

// Reachable lists the names that Reach finds.
func (w Whole) Reachable() []string {
	var names []string
	for _, m := range w.Members {
		if w.Reach(m.Label) != nil {
			names = append(names, m.Label)
		}
	}
	return names
}

// Start mounts a root with given values.
type Start struct {
	Name    string // "" where it has none
	Root    *Component
	Links   []*Given
	Seeds   []*Given
	Samples []*Sample
	Bounds  []*Unit    // states in which one does not hold are not gone on from
	Screen  css.Screen // that it is shown on; nil: the usual one
	Syntax  *syntax.Start
}

// Sample says what a proof types into a field besides what the design suggests.
type Sample struct {
	Target *syntax.Target
	Texts  Unit // a list of strings or numbers
}

// Law is a promise, resolved.
type Law struct {
	Name    string
	On      *Start // or nil: every start
	Clauses []*Clause
	Samples []*Sample
	Syntax  *syntax.Law
}

// Clause is one condition of a law.
type Clause struct {
	Kind string // always, never, can, turn, settles, leads, stays or ends
	Unit Unit
	To   *Unit // what it leads to, or until when it stays; or nil
	Ms   *Unit // within how many milliseconds, or for how many; or nil
	At   source.Span
}

// Scenario is a list of steps, resolved.
type Scenario struct {
	Name   string
	Steps  []*Step
	Syntax *syntax.Scenario
}

// Step is a step with its expressions resolved.
type Step struct {
	*syntax.Step
	Start     *Start // of start
	Value     *Unit  // of wait, set and expect
	Args      []*Unit
	Event     *Member    // of reports
	Operation *Operation // of reply and fail
	Steps     []*Step
}

// Looks says whether a step does nothing but look.
func (s *Step) Looks() bool {
	switch s.Verb {
	case "shows", "lacks", "expect", "reports":
		return true
	case "inside":
		for _, inner := range s.Steps {
			if !inner.Looks() {
				return false
			}
		}
		return true
	}
	return false
}

// Text is the source text of a span.
func (d *Design) Text(at source.Span) string {
	if f := d.Set.File(at.Start); f != nil {
		return f.Slice(at.Start, at.End)
	}
	return ""
}
