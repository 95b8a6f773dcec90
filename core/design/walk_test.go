package design

import (
	"go/ast"
	"go/parser"
	"go/token"
	"reflect"
	"slices"
	"testing"

	"lien/core/syntax"
	"lien/core/types"
)

// declared are the struct types of a package's file that embed one of a name:
// how nodes and statements, and expressions, are told from everything else.
func declared(t *testing.T, embeds string, files ...string) []string {
	t.Helper()
	var names []string
	for _, file := range files {
		f, err := parser.ParseFile(token.NewFileSet(), file, nil, 0)
		if err != nil {
			t.Fatal(err)
		}
		ast.Inspect(f, func(n ast.Node) bool {
			spec, ok := n.(*ast.TypeSpec)
			if !ok {
				return true
			}
			st, ok := spec.Type.(*ast.StructType)
			if !ok {
				return true
			}
			for _, field := range st.Fields.List {
				if len(field.Names) == 0 && typeName(field.Type) == embeds {
					names = append(names, spec.Name.Name)
				}
			}
			return true
		})
	}
	if len(names) == 0 {
		t.Fatalf("nothing embeds %s", embeds)
	}
	return names
}

func typeName(e ast.Expr) string {
	switch e := e.(type) {
	case *ast.Ident:
		return e.Name
	case *ast.SelectorExpr:
		return typeName(e.X) + "." + e.Sel.Name
	}
	return ""
}

// every is one of each kind of node, statement and expression, empty.
var every = []any{&Element{}, &Text{}, &When{}, &Each{}, &Use{}, &SlotPlace{},
	&Assign{}, &Let{}, &If{}, &For{}, &Return{}, &Emit{}, &Do{}, &Clock{}, &Prevent{}, &Log{}, &Send{}, &Ask{}, &Open{}, &Leave{},
	&types.Const{}, &types.Ref{}, &types.Dot{}, &types.Select{}, &types.At{}, &types.Unary{}, &types.Binary{}, &types.Cond{},
	&types.Template{}, &types.ListOf{}, &types.RecordOf{}, &types.Lambda{}, &types.Method{}, &types.Builtin{}, &types.Apply{}}

// TestWalkIsTotal: every kind of node, statement and expression is known to the
// walk and to the effects, and whatever expression stands anywhere in one, with
// every field filled, is visited.
func TestWalkIsTotal(t *testing.T) {
	kinds := append(declared(t, "syntax.At", "view.go", "world.go"), declared(t, "typed", "../types/expr.go")...)
	known := map[string]any{}
	for _, x := range every {
		known[reflect.TypeOf(x).Elem().Name()] = x
	}
	if len(known) != len(kinds) {
		t.Errorf("%d kinds are declared, %d are tried", len(kinds), len(known))
	}
	for _, kind := range kinds {
		x := known[kind]
		if x == nil {
			t.Errorf("%s is not tried", kind)
			continue
		}
		f := &filler{}
		v := reflect.New(reflect.TypeOf(x).Elem())
		f.fill(v.Elem(), 0)
		seen := map[types.Expr]bool{}
		see := Visitor{Expr: func(e types.Expr) { seen[e] = true }, Effect: func(Effect) {}}
		switch n := v.Interface().(type) {
		case types.Expr:
			if isExpr(n) {
				see.Unit(&Unit{Expr: n})
				break
			}
			walkOne(see, n)
		default:
			walkOne(see, n)
		}
		for _, m := range f.marks {
			if !seen[m.expr] {
				t.Errorf("%s: what stands in %s is not visited", kind, m.path)
			}
		}
		if len(f.marks) == 0 && kind != "Return" && kind != "Prevent" && kind != "Const" && kind != "Ref" {
			t.Errorf("%s: nothing stands in it", kind)
		}
	}
}

func isExpr(x any) bool {
	return reflect.TypeOf(x).Elem().PkgPath() == reflect.TypeOf(types.Const{}).PkgPath()
}

func walkOne(v Visitor, n any) {
	if ofViews(n) {
		v.Nodes([]Node{n.(Node)})
		return
	}
	v.Stmts([]Stmt{n.(Stmt)})
}

// filler fills every field of a node that is a part of it, and puts a mark of
// its own wherever an expression can stand.
type filler struct {
	marks []mark
	path  string
}

type mark struct {
	expr types.Expr
	path string
}

var (
	exprType = reflect.TypeOf((*types.Expr)(nil)).Elem()
	nodeType = reflect.TypeOf((*Node)(nil)).Elem()
)

// elsewhere are what a node refers to, which stands elsewhere, and fields that
// say again what another one says.
var elsewhere = map[reflect.Type]bool{reflect.TypeOf(Member{}): true, reflect.TypeOf(Component{}): true, reflect.TypeOf(Channel{}): true,
	reflect.TypeOf(Operation{}): true, reflect.TypeOf(types.Local{}): true, reflect.TypeOf(ViewLocal{}): true}

var repeated = map[string]bool{"Assign.Read": true, "Each.Place": true}

func (f *filler) mark() types.Expr {
	x := types.NewRef(&types.Local{Label: "mark", Typ: types.String}, syntax.At{}.Span())
	f.marks = append(f.marks, mark{x, f.path})
	return x
}

func (f *filler) fill(v reflect.Value, depth int) {
	if depth > 9 {
		return
	}
	t := v.Type()
	switch {
	case t == exprType:
		v.Set(reflect.ValueOf(f.mark()))
	case t == nodeType && f.inBody(): // statements and nodes have one set of methods
		v.Set(reflect.ValueOf(&Log{Args: []types.Expr{f.mark()}}))
	case t == nodeType:
		v.Set(reflect.ValueOf(&Text{Unit: Unit{Expr: f.mark()}}))
	case t == reflect.TypeOf((*Stmt)(nil)).Elem():
		v.Set(reflect.ValueOf(&Log{Args: []types.Expr{f.mark()}}))
	case t.Kind() == reflect.Pointer && t.Elem().Kind() == reflect.Struct && !elsewhere[t.Elem()] && t.Elem().PkgPath() == reflect.TypeOf(Design{}).PkgPath():
		v.Set(reflect.New(t.Elem()))
		f.fill(v.Elem(), depth+1)
	case t.Kind() == reflect.Pointer && t.Elem() == reflect.TypeOf(Member{}):
		v.Set(reflect.ValueOf(&Member{Kind: Emits, Label: "x"}))
	case t.Kind() == reflect.Slice && v.CanSet():
		v.Set(reflect.MakeSlice(t, 1, 1))
		f.fill(v.Index(0), depth+1)
	case t.Kind() == reflect.Struct:
		f.fields(v, depth)
	}
}

// inBody says whether what is filled now is a list of statements.
func (f *filler) inBody() bool {
	for _, end := range []string{".Stmts", ".Then", ".Else"} {
		if len(f.path) >= len(end) && f.path[len(f.path)-len(end):] == end {
			return true
		}
	}
	return f.path == "For.Body"
}

func (f *filler) fields(v reflect.Value, depth int) {
	outer := f.path
	for i := range v.NumField() {
		field := v.Type().Field(i)
		name := v.Type().Name() + "." + field.Name
		if !field.IsExported() || repeated[name] || field.Name == "Syntax" {
			continue
		}
		if f.path = outer + "." + field.Name; outer == "" {
			f.path = name
		}
		f.fill(v.Field(i), depth+1)
	}
	f.path = outer
}

// TestInsideIsTotal: the nodes that stand directly in one of any kind, with every field filled, are those that the walk
// comes across in it.
func TestInsideIsTotal(t *testing.T) {
	for _, x := range every {
		if !ofViews(x) {
			continue
		}
		v := reflect.New(reflect.TypeOf(x).Elem())
		(&filler{}).fill(v.Elem(), 0)
		n := v.Interface().(Node)
		var walked, inside []Node
		Visitor{Node: func(n Node) { walked = append(walked, n) }}.Nodes([]Node{n})
		for _, list := range Inside(n) {
			inside = append(inside, list...)
		}
		if !slices.Equal(walked[1:], inside) {
			t.Errorf("%T: the walk comes across %d nodes, and %d are inside", n, len(walked)-1, len(inside))
		}
	}
}

func ofViews(n any) bool {
	switch n.(type) {
	case *Element, *Text, *When, *Each, *Use, *SlotPlace:
		return true
	}
	return false
}

// An unknown kind is not passed over.
func TestWalkKnowsNoOthers(t *testing.T) {
	type another struct{ syntax.At }
	for name, walk := range map[string]func(){
		"a statement":    func() { Visitor{}.Stmts([]Stmt{&another{}}) },
		"a node":         func() { Visitor{}.Nodes([]Node{&another{}}) },
		"a node, inside": func() { Inside(&another{}) },
		"an effect":      func() { stmtEffects(&another{}, func(Effect) {}) },
	} {
		func() {
			defer func() {
				if recover() == nil {
					t.Errorf("%s of an unknown kind is passed over", name)
				}
			}()
			walk()
		}()
	}
}

// What is in the handlers of what a handler opens is visited like all else.
func TestWalkEntersWhatIsOpened(t *testing.T) {
	d := Parse("ask.lien", `component ask-box { emits answered(); view { button "Yes" { click -> leave answered() } } }
component my-page {
  holds secret: number = 0
  holds bad: boolean = false
  view { button "Ask" { click -> open ask-box { answered -> if (secret == 2) bad = true } } }
}
start my-page
`)
	if d.Failed() {
		t.Fatal(d.Findings[0].Message)
	}
	var did []EffectKind
	Visitor{Effect: func(e Effect) {
		if m, ok := e.Symbol.(*Member); ok && m.Label == "secret" || e.Kind == Writes && e.Cell().Label == "bad" || e.Kind == Opens {
			did = append(did, e.Kind)
		}
	}}.Design(d)
	if len(did) != 3 || did[0] != Opens || did[1] != Reads || did[2] != Writes {
		t.Errorf("the effects are %v", did)
	}
}
