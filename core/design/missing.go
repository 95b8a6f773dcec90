package design

import (
	"fmt"
	"regexp"
	"strings"

	"lien/core/finding"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// absence is a name that a component asks for and that is nowhere: told once, at the first place.
type absence struct {
	component *Component
	name      string
}

// asked are the places that ask for an absent name.
type asked struct {
	finding *finding.Finding
	first   string // what is wrong, without the number of places
	places  map[source.Span]bool
	heard   *heard // in the handler of which it is asked for first, or nil
}

// heard is an event whose handler is being resolved, and what it carries.
type heard struct {
	syntax *syntax.Event
	sig    []types.Param
	dom    bool
}

// Missing reports a name that is not in scope, once in a component.
func (s *scope) Missing(name *syntax.Name) {
	if s.r.isLost(name.Text) {
		return
	}
	if s.namesComponent(name) || s.namesService(name) {
		return
	}
	key := absence{s.component, name.Text}
	if a := s.r.asked(key); a != nil && (s.heardName(name) == nil || a.heard == s.heard) {
		if a.places[name.Span()] = true; len(a.places) > 1 {
			a.finding.Message = fmt.Sprintf("%s (asked for in %d places)", a.first, len(a.places))
		}
		return
	}
	f := s.r.errorf("not-in-scope", name.Span(), "there is no %s here", name.Text)
	defer func() { s.r.missing[key] = &asked{f, f.Message, map[source.Span]bool{name.Span(): true}, s.heard} }()
	for _, remedy := range []func(*finding.Finding, *syntax.Name) bool{
		s.carried, s.foreign, s.otherKind, s.heldInside, s.similar, s.fromUser,
	} {
		if remedy(f, name) {
			return
		}
	}
	s.declare(f, name.Text)
}

// namesComponent reports a component that a law or scenario looks at by its name alone: kiln-page.n, which reads as a difference.
// It is told at its first part.
func (s *scope) namesComponent(name *syntax.Name) bool {
	if !s.law {
		return false
	}
	at := syntax.Hyphened(s.r.d.Set.File(name.Start), name.Span())
	whole := s.r.d.Text(at)
	if s.r.components[whole] == nil || whole == name.Text {
		return false
	}
	if at.Start == name.Start {
		s.r.errorf("not-in-scope", at, "%s names a component, and not one that is on the page", whole).
			Instead("write the(%s), or all(%[1]s) for the list of all", whole)
	}
	return true
}

// question is what is asked of a service, as it is written.
var question = regexp.MustCompile(`^[\w-]+\.\w+\([^()]*\)`)

// namesService reports a service that is called where a value stands: kiln-log.load(), which reads as a difference. It is
// told at its first part.
func (s *scope) namesService(name *syntax.Name) bool {
	file := s.r.d.Set.File(name.Start)
	at := syntax.Hyphened(file, name.Span())
	whole := s.r.d.Text(at)
	if s.r.services[whole] == nil || whole == name.Text {
		return false
	}
	if at.Start == name.Start {
		asked := question.FindString(file.Text[file.Offset(at.Start):])
		if asked == "" {
			asked = whole + ".load()"
		}
		s.r.errorf("not-in-scope", at, "%s is a service: what it answers comes later", whole).
			Instead("write ask %s { got(reply) -> ... } in a handler or action", asked)
	}
	return true
}

// isLost says whether a name stands in text that could not be read: it may be there.
func (r *resolver) isLost(name string) bool {
	for _, f := range r.d.Files {
		if f.Lost[name] {
			return true
		}
	}
	return false
}

// heardName is the value of the event whose handler asks for a name, or nil.
func (s *scope) heardName(name *syntax.Name) *types.Param {
	if s.heard == nil || s.heard.dom || len(s.heard.syntax.Params) > 0 {
		return nil
	}
	for i, p := range s.heard.sig {
		if p.Name == name.Text {
			return &s.heard.sig[i]
		}
	}
	return nil
}

// carried: the event that is heard carries it, and the handler does not name it.
func (s *scope) carried(f *finding.Finding, name *syntax.Name) bool {
	h := s.heard
	if h == nil || len(h.syntax.Params) > 0 {
		return false
	}
	write := ""
	if h.dom && (name.Text == "value" || name.Text == "checked" || name.Text == "key") {
		write = h.syntax.Name.Text + "(e)"
		f.Instead("the event has it: write %s -> ..., and e.%s", write, name.Text)
		return true
	}
	switch e := h.syntax.Name.Text; {
	case h.dom && (name.Text == "e" || name.Text == "ev" || name.Text == "evt" || name.Text == "event"):
		write = e + "(" + name.Text + ")"
	case s.heardName(name) != nil:
		write = e + types.Names(h.sig)
	default:
		return false
	}
	at := h.syntax.Name.Span()
	if h.syntax.Call {
		at.End = h.syntax.Do.Span().Start
		write += " -> "
	}
	f.Instead("%s carries it: write %s -> ...", h.syntax.Name.Text, strings.TrimSuffix(write, " -> ")).
		Mend("name what the event carries", at, write)
	return true
}

// heldInside: a law or scenario names a member of a component, which it sees from outside.
func (s *scope) heldInside(f *finding.Finding, name *syntax.Name) bool {
	if !s.law {
		return false
	}
	var write []string
	for _, c := range s.r.d.Components {
		if c.Member(name.Text) != nil {
			write = append(write, fmt.Sprintf("the(%s).%s", c.Name, name.Text))
		}
	}
	if len(write) == 0 {
		return false
	}
	f.Instead("it is a member of a component: write %s", strings.Join(write, " or "))
	if len(write) == 1 {
		f.Mend("write "+write[0], name.Span(), write[0])
	}
	return true
}

// foreigners are names that other languages and pages have, with what stands for them here.
var foreigners = map[string]string{
	"now": "write now()", "fresh": "write fresh()",
	"undefined":    "write null; what may be null has a type with ?: string?",
	"NaN":          "there is no such number; Number(s) gives null where s is none",
	"this":         "members are named alone: write the name without this; to find this instance among others compare what they offer: list.find(x => x.id == id)",
	"self":         "members are named alone: write the name without self",
	"props":        "what is handed down is named alone: takes name: string, and name",
	"console":      "write log value, ...",
	"print":        "write log value, ...",
	"setTimeout":   syntax.PageTimers["setTimeout"],
	"setInterval":  syntax.PageTimers["setInterval"],
	"clearTimeout": "write stop and the name of the timer", "clearInterval": "write stop and the name of the timer",
	"file":     "data is read into a constant at the top of the file: const wares: Ware[] = file(\"wares.json\"), and holds list: Ware[] = wares",
	"fetch":    "declare a service, and ask it: ask kiln-log.load() { got(list) -> ... }",
	"Date":     "write now(), which gives milliseconds, in a handler or first value",
	"parseInt": "write Number(s), which gives null where s is no number", "parseFloat": "write Number(s), which gives null where s is no number",
	"range": "write Array.from(3, i => i), which counts from 0", "JSON": "what is shown is put into a template: `${...}`", "focus": "name the element: input named box, and box?.focus()",
	"preventDefault": "name the event: click(e) -> e.preventDefault()", "prevent": "name the event: click(e) -> e.preventDefault()",
	"stopPropagation": "name the event: click(e) -> e.stopPropagation()",
	"navigate":        "a link leads to a page: a { href <- \"/kilns\"; \"Kilns\" }",
	"window":          "a design has its components alone; give what is outside as a service", "document": "name the element: input named box, and box?.focus()",
	"newKey": "write fresh(), a key that no other call gives", "uuid": "write fresh(), a key that no other call gives",
	"nextId": "write fresh(), a key that no other call gives", "crypto": "write fresh(), a key that no other call gives",
	"alert": "write log value, ..., or open a component: open modal ask-unload { ... }",
}

// foreign: it is known elsewhere, and something else does its work here.
func (s *scope) foreign(f *finding.Finding, name *syntax.Name) bool {
	if s.called != nil && s.called.Text == name.Text && s.verb(f, name.Text) {
		return true
	}
	write, ok := foreigners[name.Text]
	if !ok {
		return false
	}
	f.Instead("%s", write)
	if name.Text == "undefined" {
		f.Mend("write null", name.Span(), "null")
	}
	return true
}

// verb: a word of the language is called as a function is.
func (s *scope) verb(f *finding.Finding, word string) bool {
	var names []string
	example := ""
	switch word {
	case "send":
		for _, c := range s.r.d.Channels {
			names = append(names, c.Name)
		}
		example = "news"
	case "emit":
		if s.component != nil {
			names = s.component.names(Emits)
		}
		example = "picked"
	case "ask":
		for _, o := range s.r.d.Services {
			names = append(names, o.Name+".load")
		}
		example = "kiln-log.load"
	case "open":
		example = "ask-unload"
	default:
		return false
	}
	if len(names) > 0 {
		example = names[0]
	}
	f.Message = word + " is a word of the language, not a function"
	if f.Instead("write %s %s(...)", word, example); word == "open" {
		f.Instead("write open %s { name <- value }", example)
	}
	return true
}

// otherKind: it is declared, as something that is no value.
func (s *scope) otherKind(f *finding.Finding, name *syntax.Name) bool {
	n := name.Text
	if ch := s.r.channels[n]; ch != nil {
		f.Message = n + " is a channel, which is no value and no function"
		f.Instead("write send %s%s, and hears %s%s { ... } where it is to arrive", n, types.Names(ch.Sig), n, types.Names(ch.Sig))
		return true
	}
	if s.component != nil && strings.HasPrefix(n, "on") && s.component.Member(lowerFirst(n[2:])) != nil {
		m := s.component.Member(lowerFirst(n[2:]))
		if m.Kind == Emits {
			f.Instead("report the event: emit %s%s", m.Label, types.Names(m.Sig))
			return true
		}
	}
	if m := s.cellSet(n); m != nil {
		f.Instead("write %s = ..., in a statement", m.Label)
		return true
	}
	of := s.r.contexts[n]
	if of == nil || s.component == nil {
		return false
	}
	f.Message = fmt.Sprintf("%s is a context, which %s does not name", n, s.component.Name)
	for _, own := range s.component.Supplies {
		if own.Use.Component == of {
			at := source.Span{Start: own.Use.Syntax.Name.Stop, End: own.Use.Syntax.Name.Stop}
			f.See(own.Use.Start, "%s supplies it here", s.component.Name).
				Instead("to use it as well, write supplies %s as %s", n, n).
				Mend("name the context", at, " as "+n)
			return true
		}
	}
	f.Instead("write uses %s in %s", n, s.component.Name)
	s.addMember(f, n, "uses "+n)
	return true
}

// cellSet is the cell that a function is named for which would set it: setCount of count; or nil.
func (s *scope) cellSet(name string) *Member {
	rest, ok := strings.CutPrefix(name, "set")
	if !ok || s.component == nil || upperFirst(rest+" ") != rest+" " {
		return nil
	}
	if m := s.component.Member(lowerFirst(rest)); m != nil && m.IsCell() {
		return m
	}
	return nil
}

func upperFirst(s string) string { return strings.ToUpper(s[:1]) + s[1:] }

func lowerFirst(s string) string {
	if s == "" {
		return s
	}
	return strings.ToLower(s[:1]) + s[1:]
}

// similar: a name that is in scope is written nearly so.
func (s *scope) similar(f *finding.Finding, name *syntax.Name) bool {
	near := finding.Nearest(name.Text, s.Visible())
	if near == "" {
		return false
	}
	f.Instead("did you mean %s?", near).Mend("write "+near, name.Span(), near)
	return true
}

// fromUser: a component that uses this one has it, and can hand it down.
func (s *scope) fromUser(f *finding.Finding, name *syntax.Name) bool {
	if s.component == nil {
		return false
	}
	for _, user := range s.r.d.Components {
		for _, use := range s.r.usesOf(user.Syntax, s.component.Name) {
			if s.handDown(f, name.Text, user, use) {
				return true
			}
		}
	}
	return false
}

// handDown tells how to hand a name down from where a component is used, if it is there.
func (s *scope) handDown(f *finding.Finding, name string, user *Component, at useSite) bool {
	own := s.component.Name
	t := s.r.localAt(user, at, name)
	switch m := user.byName[name]; {
	case t != "":
	case m == nil:
		return false
	case m.Kind == Action:
		m.Type()
		f.See(at.use.Start, "%s uses %s here and has %s", user.Name, own, name)
		f.Instead("report it: write emits %s%s and emit %s%s here, and %s -> %[1]s where %[6]s uses %[7]s",
			name, types.Params(m.Sig), name, types.Names(m.Sig), name, user.Name, own)
		return true
	case m.HasValue() || m.Kind == Derives && !m.Call:
		t = m.Type().String()
	default:
		return false
	}
	f.See(at.use.Start, "%s uses %s here and has %s", user.Name, own, name)
	f.Instead("pass it down: write takes %s: %s here, and %s <- %[1]s where %[4]s uses %[5]s", name, t, name, user.Name, own)
	if t != unsaid && s.addMember(f, name, "takes "+name+": "+t) {
		f.Fix.Edits = append(f.Fix.Edits, s.links(name, t)...)
	}
	return true
}

// links are the edits that hand a value down wherever the component is used, and a value of that name and type is there.
func (s *scope) links(name, typ string) (edits []finding.Edit) {
	for _, user := range s.r.d.Components {
		for _, at := range s.r.usesOf(user.Syntax, s.component.Name) {
			t := s.r.localAt(user, at, name)
			if m := user.byName[name]; t == "" && m != nil && (m.HasValue() || m.Kind == Derives && !m.Call) {
				t = m.Type().String()
			}
			if t == typ && !linked(at.use.Body, name) {
				edits = append(edits, s.r.linkInto(at.use, name+" <- "+name))
			}
		}
	}
	return edits
}

// unsaid stands for a type that is not told where it is asked for.
const unsaid = "..."

// declare: nothing has it; it is to be declared, or another name is meant.
func (s *scope) declare(f *finding.Finding, name string) {
	there := s.Visible()
	if len(there) > 8 {
		there = append(there[:8:8], "…")
	}
	what := "const " + name + " = ..."
	if s.component != nil {
		what = fmt.Sprintf("takes %s: ..., holds %[1]s = ... or derives %[1]s = ...", name)
	}
	if s.called != nil && s.called.Text == name {
		what = "action " + name + "(...) { ... }, or takes " + name + ": (...) => void"
	}
	if w := s.written; w != nil && rootName(w.Target) == name {
		what = "holds " + name + " = ..."
		if _, whole := w.Target.(*syntax.Name); whole && w.Op == syntax.Assign {
			what = "holds " + name + " = " + s.r.textOf(w.Value) + ", or another first value"
		}
	}
	f.Instead("declare it: %s", what)
	if upperFirst(name) == name && lowerFirst(name) != name {
		f.Instead("a text stands in quotes: \"%s\"; or declare it: %s", name, what)
	}
	if len(there) > 0 {
		f.Write += "; there is: " + strings.Join(there, ", ")
	}
}

// addMember makes a fix that puts a member first into the component, if none does so yet.
func (s *scope) addMember(f *finding.Finding, name, text string) bool {
	list, added := s.component.Syntax.Members, absence{s.component, name}
	if len(list) == 0 || s.r.proposed[added] {
		return false
	}
	s.r.proposed[added] = true
	at := list[0].Span().Start
	f.Mend("write "+text, source.Span{Start: at, End: at}, text+"\n  ")
	return true
}

// linkInto is the edit that adds a link to the block of a node, which may have none yet.
func (r *resolver) linkInto(el *syntax.Element, link string) finding.Edit {
	if !el.Braces {
		at := source.Span{Start: el.Stop, End: el.Stop}
		return finding.Edit{Span: at, Text: " { " + link + " }"}
	}
	if len(el.Body) > 0 {
		at := el.Body[0].Span().Start
		first := r.d.Set.Position(at)
		after := "\n" + strings.Repeat(" ", first.Column-1)
		if first.Line == r.d.Set.Position(el.Start).Line {
			after = "; "
		}
		return finding.Edit{Span: source.Span{Start: at, End: at}, Text: link + after}
	}
	return finding.Edit{Span: source.Span{Start: el.Stop - 1, End: el.Stop - 1}, Text: " " + link + " "}
}

// useSite is a place where a component is used, with what each and fill around it name, the
// innermost last.
type useSite struct {
	use  *syntax.Element
	each []*syntax.Each
	fill []*syntax.Fill
}

// usesOf finds where a component's view uses another, in the order of the text.
func (r *resolver) usesOf(c *syntax.Component, name string) []useSite {
	uses := r.usedIn[c]
	if uses == nil {
		uses = map[string][]useSite{}
		r.usedIn[c] = uses
		for _, m := range c.Members {
			if v, ok := m.(*syntax.View); ok {
				listUses(v.Body, useSite{}, uses)
			}
		}
	}
	return uses[name]
}

func listUses(items []syntax.Item, at useSite, uses map[string][]useSite) {
	for _, it := range items {
		switch it := it.(type) {
		case *syntax.Element:
			here := at
			here.use = it
			uses[it.Name.Text] = append(uses[it.Name.Text], here)
			listUses(it.Body, at, uses)
		case *syntax.When:
			listUses(it.Body, at, uses)
			listUses(it.Else, at, uses)
		case *syntax.Each:
			in := at
			in.each = append(in.each[:len(in.each):len(in.each)], it)
			listUses(it.Body, in, uses)
		case *syntax.Slot:
			listUses(it.Body, at, uses)
		case *syntax.Fill:
			in := at
			in.fill = append(in.fill[:len(in.fill):len(in.fill)], it)
			listUses(it.Body, in, uses)
		}
	}
}

// localAt is the type of what an each or fill names around a use: unsaid where it is not told here,
// "" where none names it so.
func (r *resolver) localAt(user *Component, at useSite, name string) string {
	for _, e := range at.each {
		switch {
		case e.Index != nil && e.Index.Text == name:
			return types.Number.String()
		case e.Var.Text == name:
			quiet := &types.Checker{Scope: &scope{r: r.silent(), component: user}, Report: func(*finding.Finding) {}}
			if l, ok := types.Under(types.NonNull(quiet.Expr(e.List, nil).Type())).(*types.List); ok && l.Elem != types.Any {
				return l.Elem.String()
			}
			return unsaid
		}
	}
	for _, f := range at.fill {
		for _, p := range f.Params {
			if p.Name.Text == name {
				return unsaid
			}
		}
	}
	return ""
}

// silent is a resolver whose findings are dropped.
func (r *resolver) silent() *resolver {
	quiet := *r
	d := *r.d
	quiet.d = &d
	quiet.told = newTold()
	quiet.reporter = quiet.report
	return &quiet
}
