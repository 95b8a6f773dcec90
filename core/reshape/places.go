package reshape

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// Where new text goes, and what it is called.

// whole is a member with the comments right above it and behind it, to the end of its line.
func (w *draft) whole(at source.Span) source.Span {
	f := w.file(at.Start)
	text := f.Text
	start, end := f.Offset(at.Start), f.Offset(at.End)
	line := strings.LastIndexByte(text[:start], '\n') + 1
	if strings.TrimSpace(text[line:start]) != "" { // something stands before it on its line
		for end < len(text) && (text[end] == ' ' || text[end] == ';') {
			end++
		}
		return source.Span{Start: at.Start, End: f.Pos(end)}
	}
	for line > 0 {
		above := strings.LastIndexByte(text[:line-1], '\n') + 1
		if !strings.HasPrefix(strings.TrimSpace(text[above:line-1]), "//") {
			break
		}
		line = above
	}
	rest := len(text)
	if i := strings.IndexByte(text[end:], '\n'); i >= 0 {
		rest = end + i + 1
	}
	if behind := strings.TrimSpace(text[end:rest]); behind == "" || strings.HasPrefix(behind, "//") {
		return source.Span{Start: f.Pos(line), End: f.Pos(rest)}
	}
	for end < len(text) && (text[end] == ' ' || text[end] == ';') {
		end++
	}
	return source.Span{Start: f.Pos(line), End: f.Pos(end)}
}

// take takes a member out, with the comments that move with it.
func (w *draft) take(at source.Span) {
	w.gone = append(w.gone, at)
	w.replace(w.whole(at), "")
}

// remove takes a member out that goes nowhere: what was said of it stays.
func (w *draft) remove(at source.Span) {
	w.gone = append(w.gone, at)
	left := ""
	if above, behind := w.comments(at); above+behind != "" {
		left = strings.TrimSpace(above+"\n"+behind) + "\n"
	}
	w.replace(w.whole(at), left)
}

// drop takes a declaration out, and the empty lines behind it.
func (w *draft) drop(decl source.Span) {
	at := w.whole(decl)
	f := w.file(at.Start)
	for end := f.Offset(at.End); end < len(f.Text) && (f.Text[end] == '\n' || f.Text[end] == '\r'); end++ {
		at.End++
	}
	w.replace(at, "")
}

// lookAt lets laws, starts and scenarios look at members elsewhere: the(from) is the(to).
func (w *draft) lookAt(moved func(*design.Member) bool, from, to string) {
	v := design.Visitor{Expr: func(x types.Expr) {
		sel, ok := x.(*types.Select)
		if !ok {
			return
		}
		if m, ok := sel.Member.(*design.Member); !ok || !moved(m) {
			return
		}
		if i := strings.Index(w.d.Text(x.Span()), "("+from+")"); i >= 0 {
			at := x.Span().Start + source.Pos(i+1)
			w.replace(source.Span{Start: at, End: at + source.Pos(len(from))}, to)
		}
	}}
	v.Laws(w.d)
	v.Scenarios(w.d)
	for _, start := range w.d.Starts {
		v.Start(start)
	}
}

// comments are those right above a member and behind it, as they are written: they move with it.
func (w *draft) comments(at source.Span) (above, behind string) {
	all := w.whole(at)
	above = strings.TrimSpace(w.d.Text(source.Span{Start: all.Start, End: at.Start}))
	behind = strings.TrimSpace(w.d.Text(source.Span{Start: at.End, End: all.End}))
	if !strings.HasPrefix(behind, "//") {
		behind = ""
	}
	if !strings.HasPrefix(above, "//") {
		above = ""
	}
	return above, behind
}

// moved is a member that is written elsewhere, with the comments that it had.
func (w *draft) moved(from source.Span, text string) string {
	above, behind := w.comments(from)
	if above != "" {
		text = above + "\n" + text
	}
	if behind != "" {
		text += " " + behind
	}
	return text
}

// addMember writes a member behind those of its kind, or of the kinds that usually stand before it.
func (w *draft) addMember(c *design.Component, text string, kinds ...string) {
	if strings.HasPrefix(text, "uses ") { // once is enough
		if w.using == nil {
			w.using = map[string]bool{}
		}
		if w.using[c.Name+" "+text] {
			return
		}
		w.using[c.Name+" "+text] = true
	}
	var after syntax.Node
	for _, m := range c.Syntax.Members {
		if slices.Contains(kinds, kindOf(m)) && !slices.Contains(w.gone, m.Span()) {
			after = m
		}
	}
	if after == nil {
		w.first = append(w.first, member{c, text, kinds})
		return
	}
	f := w.file(after.Span().Start)
	end := f.Offset(after.Span().End)
	line := len(f.Text)
	if i := strings.IndexByte(f.Text[end:], '\n'); i >= 0 {
		line = end + i
	}
	if groupOf(kindOf(after)) != groupOf(firstWord(text)) {
		text = "\n" + text
	}
	if behind := strings.TrimSpace(f.Text[end:line]); behind == "" || strings.HasPrefix(behind, "//") {
		w.insert(f.Pos(line), "\n"+text)
		return
	}
	w.insert(after.Span().End, "\n"+text)
}

// firstWord is the word that a member begins with, behind what is said of it.
func firstWord(text string) string {
	for line := range strings.Lines(text) {
		if line = strings.TrimSpace(line); !strings.HasPrefix(line, "//") {
			return strings.Fields(line)[0]
		}
	}
	return ""
}

// groupOf tells which members stand together, without a line between.
func groupOf(kind string) string {
	switch kind {
	case "derives", "action", "timer", "on", "follows", "hears":
		return kind
	}
	return "cells"
}

// member is one that is written first in its component, with what usually stands before it.
type member struct {
	of     *design.Component
	text   string
	behind []string
}

// flush writes the members that come first in their components, in the usual order.
func (w *draft) flush() {
	slices.SortStableFunc(w.first, func(a, b member) int { return len(a.behind) - len(b.behind) })
	for i, m := range w.first {
		name := m.of.Syntax.Name.Stop
		f := w.file(name)
		rest := f.Text[f.Offset(name):]
		brace := strings.IndexByte(rest, '{') + 1
		text := "\n" + m.text
		last := !slices.ContainsFunc(w.first[i+1:], func(o member) bool { return o.of == m.of })
		if last && w.beginsOtherwise(m) { // before what stands there
			text += "\n"
		}
		w.insert(name+source.Pos(brace), text)
	}
	w.first = nil
}

// beginsOtherwise says whether a component goes on with members of another group than one that is written first.
func (w *draft) beginsOtherwise(m member) bool {
	for _, o := range m.of.Syntax.Members {
		if !slices.Contains(w.gone, o.Span()) {
			return groupOf(kindOf(o)) != groupOf(firstWord(m.text)) || kindOf(o) == ""
		}
	}
	return false
}

// What stands before a member of a kind.
var (
	beforeTakes = []string{"takes"}
	beforeEmits = []string{"takes", "shares", "emits"}
	beforeHolds = []string{"takes", "shares", "emits", "holds"}
	beforeUses  = []string{"takes", "shares", "emits", "holds", "supplies", "uses", "gathers"}
	beforeActs  = []string{"takes", "shares", "emits", "holds", "supplies", "uses", "gathers", "const", "derives", "action"}
)

func kindOf(m syntax.Member) string {
	switch m := m.(type) {
	case *syntax.Cell:
		return m.Kind
	case *syntax.Emits:
		return "emits"
	case *syntax.Supplies:
		return "supplies"
	case *syntax.Uses:
		return "uses"
	case *syntax.Gathers:
		return "gathers"
	case *syntax.ConstDecl:
		return "const"
	case *syntax.Derives:
		return "derives"
	case *syntax.Action:
		return "action"
	}
	return ""
}

// addLinks writes links into the block of a node, behind those that are there.
func (w *draft) addLinks(el *syntax.Element, links ...string) {
	if len(links) == 0 {
		return
	}
	if !el.Braces {
		w.insert(el.Stop, block(links))
		return
	}
	var last syntax.Node
	for _, it := range el.Body {
		switch it.(type) {
		case *syntax.Link, *syntax.Event:
			if !slices.Contains(w.emptied, it.Span()) {
				last = it
			}
		}
	}
	oneLine := !strings.Contains(w.text(el), "\n")
	switch {
	case last != nil && oneLine && len(w.text(el))+len(strings.Join(links, "; ")) < 80:
		w.insert(last.Span().End, "; "+strings.Join(links, "; "))
	case last != nil:
		w.insert(last.Span().End, "\n"+strings.Join(links, "\n"))
	case len(el.Body) > 0:
		f := w.file(el.Start)
		head := headEnd(el)
		brace := strings.IndexByte(f.Text[f.Offset(head):], '{')
		w.insert(head+source.Pos(brace+1), "\n"+strings.Join(links, "\n")+"\n")
	default:
		w.insert(el.Stop-1, "\n"+strings.Join(links, "\n")+"\n")
	}
}

// block is a block of links: one of them stands on the line of its node.
func block(links []string) string {
	if len(links) == 1 && !strings.Contains(links[0], "\n") && len(links[0]) < 50 {
		return " { " + links[0] + " }"
	}
	return " {\n" + strings.Join(links, "\n") + "\n}"
}

// removeItem takes a link out of a block.
func (w *draft) removeItem(it syntax.Node) {
	w.remove(it.Span())
	w.emptied = append(w.emptied, it.Span())
}

// shut takes the braces away from nodes of which all links are gone and none came.
func (w *draft) shut() {
	for _, f := range w.d.Files {
		for _, d := range f.Decls {
			syntax.Walk(d, func(n syntax.Node) bool {
				el, ok := n.(*syntax.Element)
				if !ok || !el.Braces || len(el.Body) == 0 {
					return true
				}
				for _, it := range el.Body {
					if !slices.Contains(w.emptied, it.Span()) {
						return true
					}
				}
				open := source.Span{Start: headEnd(el), End: el.Stop}
				inside := func(e finding.Edit) bool { // what is written at its head is none of it
					return open.Start <= e.Start && e.End <= open.End && e.End > open.Start
				}
				if slices.ContainsFunc(w.edits, func(e finding.Edit) bool { return inside(e) && strings.TrimSpace(e.Text) != "" }) {
					return true
				}
				w.edits = slices.DeleteFunc(w.edits, inside)
				w.replace(open, "")
				return true
			})
		}
	}
}

// headEnd is where the head of a node ends: its name, classes, name of its own and text.
func headEnd(el *syntax.Element) source.Pos {
	end := el.Name.Stop
	for _, c := range el.Classes {
		end = max(end, c.Stop)
	}
	if el.Named != nil {
		end = max(end, el.Named.Stop)
	}
	if el.Text != nil {
		end = max(end, el.Text.Span().End)
	}
	return end
}

// free is a name that nothing in a component, and nothing at the top, has: the one that is asked for, or with a number.
func (w *draft) free(c *design.Component, name string) string {
	taken := w.namesIn(c)
	for n := 1; ; n++ {
		try := name
		if n > 1 {
			try = fmt.Sprintf("%s%d", name, n)
		}
		if !taken[try] {
			taken[try] = true
			return try
		}
	}
}

// namesIn are all names that stand in a component, and those at the top.
func (w *draft) namesIn(c *design.Component) map[string]bool {
	if w.taken == nil {
		w.taken = map[*design.Component]map[string]bool{}
	}
	if t := w.taken[c]; t != nil {
		return t
	}
	t := map[string]bool{}
	w.taken[c] = t
	for _, m := range c.Members {
		t[m.Label] = true
	}
	bind := func(words ...*syntax.Word) {
		for _, w := range words {
			if w != nil {
				t[w.Text] = true
			}
		}
	}
	syntax.Walk(c.Syntax, func(n syntax.Node) bool {
		switch n := n.(type) {
		case *syntax.Name:
			t[n.Text] = true
		case *syntax.Param:
			bind(n.Name)
		case *syntax.Each:
			bind(n.Var, n.Index)
		case *syntax.For:
			bind(n.Var)
		case *syntax.ConstDecl:
			bind(n.Name)
		case *syntax.Follows:
			bind(n.Old)
		case *syntax.Derives:
			bind(n.SetParam)
		case *syntax.FieldLit:
			bind(n.Name)
		}
		return true
	})
	for _, x := range w.d.Consts {
		t[x.Label] = true
	}
	for _, x := range w.d.Functions {
		t[x.Label] = true
	}
	return t
}

func upper(s string) string { return string(unicode.ToUpper(rune(s[0]))) + s[1:] }

func lower(s string) string { return string(unicode.ToLower(rune(s[0]))) + s[1:] }

var letters = regexp.MustCompile(`[A-Za-z][A-Za-z0-9]*`)

// wordsOf makes a name of the words of a text: "Glazes, all" is glazesAll.
func wordsOf(text string) string {
	name := ""
	for _, word := range letters.FindAllString(text, 3) {
		if name == "" {
			name = lower(word)
		} else {
			name += upper(word)
		}
	}
	return name
}

// typeText is the type of a member, as it is written or as it was found out.
func (w *draft) typeText(m *design.Member) string {
	if cell, ok := m.Syntax.(*syntax.Cell); ok && cell.Type != nil {
		return w.text(cell.Type)
	}
	return types.Widen(m.Type()).String()
}

// inParens puts an expression into parentheses where it is no single piece.
func inParens(x syntax.Expr, text string) string {
	switch x.(type) {
	case *syntax.Binary, *syntax.Cond, *syntax.Arrow, *syntax.Unary:
		return "(" + text + ")"
	}
	return text
}

// textWith is the text of a place with the edits in it.
func (w *draft) textWith(at source.Span, inner []textAt) string {
	var edits []textEdit
	for _, e := range inner {
		if at.Start <= e.at.Start && e.at.End <= at.End {
			edits = append(edits, textEdit{int(e.at.Start - at.Start), int(e.at.End - at.Start), e.text})
		}
	}
	return edited(w.d.Text(at), edits)
}

// beginning is a first value for a cell of a type. The check refuses null where the type has none.
func beginning(t types.Type) string { return cmp.Or(design.FirstOf(t), "null") }
