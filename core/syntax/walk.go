package syntax

import (
	"fmt"
	"reflect"
	"slices"

	"lien/core/source"
)

// Walk visits a node and all in it, what is around before what is in it, in the order of the text, until
// visit says false of a node: what is in that is left out. It goes into all that there is (compare
// go/ast.Inspect); a node that it does not know panics.
func Walk(n Node, visit func(Node) bool) {
	if isNil(n) || !visit(n) {
		return
	}
	for _, c := range children(n) {
		Walk(c, visit)
	}
}

// isNil says whether there is no node: parts that are left out are nil pointers.
func isNil(n Node) bool {
	if n == nil {
		return true
	}
	v := reflect.ValueOf(n)
	return v.Kind() == reflect.Pointer && v.IsNil()
}

// PathAt is the way to a place: the declarations and nodes that it stands in, the outermost first.
func PathAt(f *File, at source.Pos) (path []Node) {
	for _, d := range f.Decls {
		Walk(d, func(n Node) bool {
			if s := n.Span(); at < s.Start || at >= s.End {
				return false
			}
			path = append(path, n)
			return true
		})
	}
	return path
}

// nodes joins lists of parts.
type nodes []Node

func (l *nodes) add(list ...Node) { *l = append(*l, list...) }

// sort puts the parts into the order of the text.
func (l *nodes) sort() {
	*l = slices.DeleteFunc(*l, isNil)
	slices.SortStableFunc(*l, func(a, b Node) int { return int(a.Span().Start - b.Span().Start) })
}

func all[T Node](l *nodes, list []T) {
	for _, n := range list {
		l.add(n)
	}
}

func children(n Node) (l nodes) {
	switch n := n.(type) {
	case *Word, *Text, *NamedType, *Name, *NumberLit, *TextLit, *Return:
	case *Param:
		l.add(n.Name, n.Type)
	case *Use:
		l.add(n.Path)
		all(&l, n.As)
	case *Renamed:
		l.add(n.Name, n.As)
	default:
		if !declared(&l, n) && !membered(&l, n) && !itemized(&l, n) && !stated(&l, n) && !expressed(&l, n) && !typed(&l, n) && !stepped(&l, n) {
			panic(fmt.Sprintf("syntax: a node of an unknown kind: %T", n))
		}
	}
	return l
}

func declared(l *nodes, n Node) bool {
	switch n := n.(type) {
	case *TypeDecl:
		l.add(n.Name, n.Type)
	case *ConstDecl:
		l.add(n.Name, n.Type, n.Value)
	case *Derives:
		l.add(n.Name)
		all(l, n.Params)
		l.add(n.Type, n.Value, n.SetParam, n.Set)
	case *Component:
		l.add(n.Name)
		all(l, n.Members)
	case *Channel:
		l.add(n.Name)
		all(l, n.Params)
	case *Service:
		l.add(n.Name, n.Base)
		all(l, n.Operations)
	case *Operation:
		l.add(n.Name)
		all(l, n.Params)
		l.add(n.Result, n.Method, n.Address, n.Replies, n.After)
		all(l, n.Fails)
	case *Style:
		l.add(n.File)
	case *Start:
		l.add(n.Name, n.Component)
		all(l, n.Links)
	case *Law:
		l.add(n.Name, n.On)
		all(l, n.Clauses)
	case *Clause:
		l.add(n.Target, n.Value, n.To, n.Ms)
	case *Scenario:
		l.add(n.Name)
		all(l, n.Steps)
	default:
		return false
	}
	return true
}

func membered(l *nodes, n Node) bool {
	switch n := n.(type) {
	case *Cell:
		l.add(n.Name, n.Type, n.Value, n.From)
	case *Emits:
		l.add(n.Name)
		all(l, n.Params)
	case *Offers:
		l.add(n.Name)
		all(l, n.More)
		all(l, n.Params)
		l.add(n.Body)
	case *Action:
		l.add(n.Name)
		all(l, n.Params)
		l.add(n.Body)
	case *Timer:
		l.add(n.Name)
		all(l, n.Params)
		l.add(n.Delay, n.Body)
	case *Hook:
		l.add(n.Body)
	case *Follows:
		l.add(n.Value, n.Old, n.Body)
	case *Supplies:
		l.add(n.Context, n.As)
		all(l, n.Links)
	case *Uses:
		l.add(n.Context, n.As)
		all(l, n.Links)
	case *Gathers:
		all(l, n.Kinds)
		l.add(n.As)
	case *Hears:
		l.add(n.Channel)
		all(l, n.Params)
		l.add(n.Body)
	case *View:
		all(l, n.Body)
	default:
		return false
	}
	return true
}

func itemized(l *nodes, n Node) bool {
	switch n := n.(type) {
	case *Element:
		l.add(n.Name)
		all(l, n.Classes)
		l.add(n.Named, n.Text)
		all(l, n.Body)
	case *TextItem:
		l.add(n.Value)
	case *When:
		l.add(n.Cond)
		all(l, n.Body)
		all(l, n.Else)
	case *Each:
		l.add(n.Var, n.Index, n.List, n.By)
		all(l, n.Body)
	case *Slot:
		l.add(n.Name)
		all(l, n.Links)
		all(l, n.Body)
	case *Fill:
		l.add(n.Name)
		all(l, n.Params)
		all(l, n.Body)
	case *Link:
		l.add(n.Name, n.Value)
	case *Event:
		l.add(n.Name)
		all(l, n.Params)
		l.add(n.Do)
	default:
		return false
	}
	return true
}

func stated(l *nodes, n Node) bool {
	switch n := n.(type) {
	case *Block:
		all(l, n.Stmts)
	case *AssignStmt:
		l.add(n.Target, n.Value)
	case *If:
		l.add(n.Cond, n.Then, n.Else)
	case *For:
		l.add(n.Var, n.List, n.Body)
	case *CallStmt:
		l.add(n.Call)
	case *Pass:
		l.add(n.Target)
	case *Forward:
		l.add(n.Name)
	case *Emit:
		l.add(n.Name)
		all(l, n.Args)
	case *Send:
		l.add(n.Channel)
		all(l, n.Args)
	case *TimerStmt:
		l.add(n.Name)
		all(l, n.Args)
	case *Open:
		l.add(n.Component)
		all(l, n.Links)
	case *Leave:
		l.add(n.Event)
		all(l, n.Args)
	case *Ask:
		l.add(n.Service, n.Name)
		all(l, n.Args)
		all(l, n.Outcomes)
	case *Log:
		all(l, n.Args)
	default:
		return false
	}
	return true
}

func expressed(l *nodes, n Node) bool {
	switch n := n.(type) {
	case *Template:
		all(l, n.Exprs)
	case *ListLit:
		all(l, n.Items)
	case *RecordLit:
		all(l, n.Fields)
	case *FieldLit:
		l.add(n.Name, n.Value)
	case *SpreadExpr:
		l.add(n.X)
	case *Unary:
		l.add(n.X)
	case *Binary:
		l.add(n.X, n.Y)
	case *Cond:
		l.add(n.C, n.X, n.Y)
	case *Dotted:
		l.add(n.X, n.Name)
	case *Index:
		l.add(n.X, n.I)
	case *Call:
		l.add(n.Fun)
		all(l, n.Args)
	case *Arrow:
		all(l, n.Params)
		l.add(n.Body)
	case *Paren:
		l.add(n.X)
	default:
		return false
	}
	return true
}

func typed(l *nodes, n Node) bool {
	switch n := n.(type) {
	case *LiteralType:
		l.add(n.Value)
	case *UnionType:
		all(l, n.Members)
	case *ListType:
		l.add(n.Elem)
	case *NullableType:
		l.add(n.Elem)
	case *RecordType:
		all(l, n.Fields)
	case *FuncType:
		all(l, n.Params)
		l.add(n.Result)
	case *ParenType:
		l.add(n.Elem)
	default:
		return false
	}
	return true
}

func stepped(l *nodes, n Node) bool {
	switch n := n.(type) {
	case *Step:
		l.add(n.Text, n.Target, n.With, n.Onto, n.Value, n.Service, n.Name)
		all(l, n.Args)
		l.add(n.Nth)
		all(l, n.Steps)
		l.sort() // what stands first depends on the verb
	case *Target:
		l.add(n.Class, n.Count, n.Component, n.Nth, n.Name, n.Containing, n.Holding)
		all(l, n.With)
		l.add(n.In)
	case *Having:
		l.add(n.Name, n.Value)
	default:
		return false
	}
	return true
}
