package design

import (
	"path"
	"slices"
	"strings"

	"lien/core/css"
	"lien/core/finding"
	"lien/core/source"
	"lien/core/syntax"
)

// Style is a style sheet of a design.
type Style struct {
	Owner  *Component // what its rules reach alone; nil: they reach the whole page
	Sheet  *css.Sheet
	Base   source.Pos // where its text begins
	Syntax *syntax.Style
}

// At is a stretch of the sheet in the design's files.
func (s *Style) At(start, end int) source.Span {
	return source.Span{Start: s.Base + source.Pos(start), End: s.Base + source.Pos(end)}
}

// Scope is the name of the component that the sheet is of, or "".
func (s *Style) Scope() string {
	if s.Owner == nil {
		return ""
	}
	return s.Owner.Name
}

// StylesOf are the sheets of a component, or with nil those of the page, in the order of the text.
func (d *Design) StylesOf(c *Component) (list []*Style) {
	for _, s := range d.Styles {
		if s.Owner == c {
			list = append(list, s)
		}
	}
	return list
}

// Root is the element that classes given to a component land on: what its view consists of, through components that
// consist of another one. It is nil where there is none such.
func (c *Component) Root() *Element {
	for range 100 { // components may consist of each other
		if len(c.View) != 1 {
			return nil
		}
		switch n := c.View[0].(type) {
		case *Element:
			return n
		case *Use:
			c = n.Component
		default:
			return nil
		}
	}
	return nil
}

// IsRoot says whether a node is all that its component's view consists of.
func (c *Component) IsRoot(n Node) bool { return len(c.View) == 1 && c.View[0] == n }

// styles resolves the sheets of the design: those of the page first, which those of components win over.
func (r *resolver) styles() {
	r.decls(func(d syntax.Decl) {
		if s, ok := d.(*syntax.Style); ok {
			r.style(nil, s)
		}
	})
	for _, c := range r.d.Components {
		for _, m := range c.Syntax.Members {
			if s, ok := m.(*syntax.Style); ok {
				r.style(c, s)
			}
		}
	}
	r.d.Hiding = &css.Hiding{}
	for _, s := range r.d.Styles {
		r.d.Hiding.Add(s.Sheet, s.Scope())
	}
	if len(r.d.Styles) == 0 || !r.d.Hiding.Hides() && !r.shows(r.d.Hiding) {
		r.d.Hiding = &css.Hiding{} // it makes no difference to what is there
	}
}

// shows says whether rules may show what HTML by itself hides.
func (r *resolver) shows(h *css.Hiding) (shows bool) {
	Visitor{Node: func(n Node) {
		el, ok := n.(*Element)
		if !ok || shows {
			return
		}
		hides := el.Tag == "dialog" || slices.ContainsFunc(el.Attrs, func(a *Attr) bool { return a.Name == "hidden" || a.Name == "popover" })
		shows = hides && h.Reaches(outline{el})
	}}.Design(r.d)
	return shows
}

// outline is an element by itself: all else may be.
type outline struct{ el *Element }

func (o outline) Tag() string { return o.el.Tag }

func (o outline) Class(name string) css.Truth {
	if slices.Contains(o.el.Classes, name) {
		return css.Yes
	}
	return css.Maybe // one that is linked, or that the component's user gives
}

func (o outline) Attr(name string) (string, css.Truth) {
	for _, a := range o.el.Attrs {
		if a.Name == name {
			return "", css.Maybe
		}
	}
	return "", css.No
}

func (o outline) State(string) css.Truth            { return css.Maybe }
func (o outline) Place(bool, bool) (int, css.Truth) { return 0, css.Maybe }
func (o outline) Around() (css.Node, css.Truth)     { return anything{}, css.Maybe }
func (o outline) Before() ([]css.Node, css.Truth)   { return []css.Node{anything{}}, css.Maybe }
func (o outline) Within() ([]css.Node, css.Truth)   { return []css.Node{anything{}}, css.Maybe }
func (o outline) Of(string) bool                    { return true }
func (o outline) In(string) bool                    { return true }

// anything is an element of which nothing is known.
type anything struct{}

func (anything) Tag() string                       { return "" }
func (anything) Class(string) css.Truth            { return css.Maybe }
func (anything) Attr(string) (string, css.Truth)   { return "", css.Maybe }
func (anything) State(string) css.Truth            { return css.Maybe }
func (anything) Place(bool, bool) (int, css.Truth) { return 0, css.Maybe }
func (anything) Around() (css.Node, css.Truth)     { return nil, css.Maybe }
func (anything) Before() ([]css.Node, css.Truth)   { return nil, css.Maybe }
func (anything) Within() ([]css.Node, css.Truth)   { return nil, css.Maybe }
func (anything) Of(string) bool                    { return true }
func (anything) In(string) bool                    { return true }

func (r *resolver) style(c *Component, s *syntax.Style) {
	word := source.Span{Start: s.Start, End: s.Start + source.Pos(len("style"))}
	if c != nil && c.IsContext {
		r.errorf("wrong-type", word, "a context shows nothing that a style could reach").Instead("move it to the component that shows it")
		return
	}
	out := &Style{Owner: c, Sheet: s.Sheet, Base: s.Body.Start, Syntax: s}
	if s.File != nil && !r.styleFile(out, s.File) {
		return
	}
	r.loads(out)
	r.d.Styles = append(r.d.Styles, out)
}

// styleFile reads the sheet of style file("base.css").
func (r *resolver) styleFile(out *Style, name *syntax.Text) bool {
	if !strings.EqualFold(path.Ext(name.Value), ".css") {
		r.errorf("data-differs", name.Span(), "%s: style files end in .css", name.Value).Instead("name such a file")
		return false
	}
	full, data, err := r.readBeside(name.Start, name.Value)
	if err != nil {
		r.errorf("data-differs", name.Span(), "%s: %s", name.Value, err).Instead("write the path from this file's folder")
		return false
	}
	file := r.d.Set.Add(r.show(full), string(data))
	file.Path = full
	if bad := syntax.Unreadable(file.Text); bad >= 0 {
		r.errorf("data-differs", name.Span(), "%s: this is no text in UTF-8", name.Value).Instead("save it as UTF-8")
		return false
	}
	out.Base = file.Pos(0)
	var problems []css.Problem
	out.Sheet, problems = css.Parse(file.Text)
	for _, p := range problems {
		r.errorf("unreadable", out.At(p.Start, min(p.End, len(file.Text))), "%s", p.Message).Instead("%s", p.Write)
	}
	return true
}

// loads reports what a sheet would fetch: a page is whole without it.
func (r *resolver) loads(s *Style) {
	s.Sheet.Each(func(it *css.Item, _ []*css.Item) {
		if it.Kind == css.AtRule && strings.EqualFold(it.Name, "import") {
			r.errorf("not-in-scope", s.At(it.Start, it.End), "a sheet brings in no other one").Instead(`write style file("...") at the top of a file`)
		}
	})
}

// ShownOn is the screen that a page begins on.
func (s *Start) ShownOn() css.Screen {
	if s.Screen == nil {
		return css.Usual()
	}
	return s.Screen
}

// screen resolves screen "(width: 390px)" of a start.
func (r *resolver) screen(st *Start, cl *syntax.Clause) {
	lit, ok := cl.Value.(*syntax.TextLit)
	if !ok {
		r.errorf("wrong-type", cl.Value.Span(), "a screen is a text").Instead(`write screen "(width: 390px)"`)
		return
	}
	if st.Screen != nil {
		r.errorf("declared-twice", cl.Span(), "this start has two screens").Instead(`join them with and: screen "(width: 390px) and (prefers-color-scheme: dark)"`)
		return
	}
	s, wrong := css.ParseScreen(lit.Value)
	if wrong != "" {
		r.errorf("wrong-type", lit.Span(), "%s", wrong).Instead(`write screen "(width: 390px)", for example`)
	}
	st.Screen = s
}

// classed reports classes that a use of a component carries and that land nowhere.
func (r *resolver) classed(c *Component) {
	Visitor{Node: func(n Node) {
		u, ok := n.(*Use)
		if !ok || len(u.Classes)+len(u.Marks) == 0 || u.Component.Root() != nil {
			return
		}
		at, name := u.Syntax.Name.Span(), ""
		if len(u.Classes) > 0 {
			at, name = u.Syntax.Classes[0].Span(), u.Classes[0]
		} else {
			at, name = u.Marks[0].Syntax.Name.Span(), u.Marks[0].Name
		}
		r.errorf("not-taken", at, "%s does not consist of one element that the class could land on", u.Component.Name).
			See(u.Component.Syntax.Name.Start, "its view holds %s", finding.Count(len(u.Component.View), "node")).
			Instead("put all of its view into one element, or .%s on an element in it", name)
	}}.Nodes(c.View)
}
