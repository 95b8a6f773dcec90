// Package reshape changes how a design holds and shares its state, as text edits: a cell moves to
// a parent or to a child (lift.go, lower.go), a part of a view becomes a component and back
// (extract.go, inline.go), names change (rename.go).
//
// Every edit says what it moved and why, or refuses with the place, the reason, and what would make
// it possible. What comes out is laid out, and passes check as far as the design did before; whether
// anybody can tell it from what was before is for package compare to say.
package reshape

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/check"
	"lien/core/design"
	"lien/core/finding"
	"lien/core/links"
	"lien/core/source"
	"lien/core/syntax"
)

// Result is what came of an edit.
type Result struct {
	Did    []string // what moved, what became a link, what was left out
	Chose  []string // what only the user can decide, with what was taken and how to ask for the other
	Files  []File   // those that change, in the order of the design
	Design *design.Design
	cells  []cellName // that were made
}

// cellName is a cell by the names of its component and its own.
type cellName struct{ owner, label string }

// File is a file that an edit changes.
type File struct {
	Name   string // as messages show it
	Path   string // in the file system that the design was read from; "" where it is in none
	Was    string
	Is     string
	source *source.File
}

// Refusal is why an edit is not made.
type Refusal struct {
	At   source.Position // or none
	Why  string
	Do   string // what would make it possible
	Says []*finding.Finding
	Of   *design.Design // that the findings are about
}

func (r *Refusal) Error() string { return r.Why }

// Reload reads a design again in which some files have other texts, by their paths.
type Reload func(texts map[string]string) (*design.Design, error)

// Reparse is for designs that are one text.
func Reparse(d *design.Design) Reload {
	return func(texts map[string]string) (*design.Design, error) {
		for _, text := range texts {
			return design.Parse(d.Files[0].Source.Name, text), nil
		}
		return d, nil
	}
}

// draft is an edit under way.
type draft struct {
	d       *design.Design
	graph   *links.Graph
	edits   []finding.Edit
	result  Result
	taken   map[*design.Component]map[string]bool // names, once asked for
	first   []member                              // that are to be written
	gone    []source.Span                         // members that are taken out
	using   map[string]bool                       // contexts that are used from now on
	emptied []source.Span                         // links that are taken out
	covered []source.Span                         // texts that are written anew as a whole
}

// links are the links of the design, once they were asked for.
func (w *draft) links() *links.Graph {
	if w.graph == nil {
		w.graph = links.Of(w.d)
	}
	return w.graph
}

func (w *draft) refuse(at source.Pos, do, format string, args ...any) error {
	r := &Refusal{Why: fmt.Sprintf(format, args...), Do: do}
	if at.Valid() {
		r.At = w.d.Set.Position(at)
	}
	return r
}

func (w *draft) did(format string, args ...any) {
	w.result.Did = append(w.result.Did, fmt.Sprintf(format, args...))
}

func (w *draft) chose(format string, args ...any) {
	w.result.Chose = append(w.result.Chose, fmt.Sprintf(format, args...))
}

func (w *draft) replace(at source.Span, text string) {
	w.edits = append(w.edits, finding.Edit{Span: at, Text: text})
}

func (w *draft) insert(at source.Pos, text string) {
	w.replace(source.Span{Start: at, End: at}, text)
}

func (w *draft) text(n syntax.Node) string { return w.d.Text(n.Span()) }

func (w *draft) file(at source.Pos) *source.File { return w.d.Set.File(at) }

// finish puts the edits together, lays out what they touch, and reads the design again. The result
// has to pass check as the design did: no finding above a note that was not there.
func (w *draft) finish(reload Reload) (*Result, error) {
	texts, err := w.texts()
	if err != nil {
		return nil, err
	}
	is, err := reload(texts)
	if err != nil {
		return nil, &Refusal{Why: err.Error()}
	}
	if fresh := freshFindings(w.d, is); len(fresh) > 0 {
		f := fresh[0]
		return nil, &Refusal{Why: "the design would not pass check afterwards: " + f.Message, Do: f.Write, Says: fresh, Of: is}
	}
	w.result.Design = is
	return &w.result, nil
}

// texts are the files that change, laid out, by their paths.
func (w *draft) texts() (map[string]string, error) {
	w.flush()
	w.shut()
	texts := map[string]string{}
	for _, f := range w.d.Files {
		var own []finding.Edit
		for _, e := range w.edits {
			if w.file(e.Start) == f.Source {
				own = append(own, e)
			}
		}
		if len(own) == 0 {
			continue
		}
		text, err := w.compose(f.Source, own)
		if err != nil {
			return nil, err
		}
		is, err := laidOut(f, text)
		if err != nil {
			return nil, err
		}
		if is == f.Source.Text {
			continue
		}
		texts[f.Source.Path] = is
		w.result.Files = append(w.result.Files, File{f.Source.Name, f.Source.Path, f.Source.Text, is, f.Source})
	}
	return texts, nil
}

// compose makes the edits in a text. Those that overlap are no edit.
func (w *draft) compose(f *source.File, edits []finding.Edit) (string, error) {
	slices.SortStableFunc(edits, func(a, b finding.Edit) int { return int(a.Start - b.Start) })
	var out strings.Builder
	at := f.Pos(0)
	for _, e := range edits {
		if e.Start < at {
			return "", w.refuse(e.Start, "take the steps one by one", "two changes meet at one place")
		}
		out.WriteString(f.Slice(at, e.Start))
		out.WriteString(e.Text)
		at = e.End
	}
	out.WriteString(f.Slice(at, f.Pos(len(f.Text))))
	return out.String(), nil
}

// laidOut lays out what changed: all of a file that was laid out before, else the declarations that
// are others now.
func laidOut(was *syntax.File, text string) (string, error) {
	is := syntax.Parse(source.NewSet().Add(was.Source.Name, text))
	if len(is.Findings) > 0 {
		f := is.Findings[0]
		return "", &Refusal{Why: "the text could not be read afterwards: " + f.Message, Do: f.Write}
	}
	if string(syntax.Print(was)) == was.Source.Text {
		return string(syntax.Print(is)), nil
	}
	before := map[string]bool{}
	for _, d := range was.Decls {
		before[was.Source.Slice(d.Span().Start, d.Span().End)] = true
	}
	var out strings.Builder
	at := is.Source.Pos(0)
	for _, d := range is.Decls {
		s := d.Span()
		piece := is.Source.Slice(s.Start, s.End)
		out.WriteString(is.Source.Slice(at, s.Start))
		if !before[piece] {
			own := syntax.Parse(source.NewSet().Add("", piece))
			piece = strings.TrimRight(string(syntax.Print(own)), "\n")
		}
		out.WriteString(piece)
		at = s.End
	}
	out.WriteString(is.Source.Slice(at, is.Source.Pos(len(text))))
	return out.String(), nil
}

// freshFindings are those above notes that were not there before: more of a rule than there were.
func freshFindings(was, is *design.Design) (fresh []*finding.Finding) {
	words, rules := map[string]int{}, map[string]int{}
	for _, f := range check.Run(was, check.Options{}) {
		words[f.Rule+"\x00"+f.Message]++
		rules[f.Rule]++
	}
	now := check.Run(is, check.Options{})
	for _, f := range now {
		rules[f.Rule]--
	}
	for _, f := range now {
		if f.Level == finding.Note || rules[f.Rule] >= 0 {
			continue
		}
		if key := f.Rule + "\x00" + f.Message; words[key] > 0 {
			words[key]--
			continue
		}
		fresh = append(fresh, f)
	}
	return fresh
}
