package css

import (
	"strconv"
	"strings"

	"github.com/tdewolff/parse/v2/css"
)

// Selector is a complex selector: compounds, joined by combinators. Places are bytes of the sheet's text.
type Selector struct {
	Start, End int
	Parts      []*Compound // from left to right
}

// Compound is what one element must be.
type Compound struct {
	Start, End int
	Joint      byte // what stands before it: ' ', '>', '+' or '~'; 0: nothing
	Tag        string
	IDs        []string
	Classes    []Word
	Attrs      []AttrTest
	Pseudos    []*Pseudo
	Nest       bool   // & stands in it
	Inner      string // a pseudo-element, such as before; slotted is in Slotted
	Slotted    []*Selector
	mark       int // where in the text a further condition can be written
}

// Word is a name where it is written.
type Word struct {
	Text       string
	Start, End int
}

// AttrTest asks for an attribute. Op is "" where it need only be there.
type AttrTest struct {
	Name, Op, Value string
	AnyCase         bool
}

// Pseudo is a pseudo-class.
type Pseudo struct {
	Name string
	Args []*Selector // of :is, :where, :not and :has
	A, B int         // of an :nth-...(An+B)
	Text string      // what else stands in its brackets
}

// Of is a selector as it is written.
func (s *Sheet) Of(sel *Selector) string {
	return strings.Join(strings.Fields(s.Text[sel.Start:sel.End]), " ")
}

// selectors reads the head of a rule.
func (p *parser) selectors(it *Item) {
	it.Selectors = p.list(it.Head)
}

// list is a list of selectors between commas.
func (p *parser) list(head []token) (out []*Selector) {
	open, from := 0, 0
	for i := 0; i <= len(head); i++ {
		if i < len(head) {
			switch head[i].kind {
			case css.LeftParenthesisToken, css.LeftBracketToken, css.FunctionToken:
				open++
			case css.RightParenthesisToken, css.RightBracketToken:
				open--
			}
			if open != 0 || head[i].kind != css.CommaToken {
				continue
			}
		}
		part := trimmed(head[from:i])
		from = i + 1
		if len(part) == 0 {
			at := p.size
			if i < len(head) {
				at = head[i].at
			} else if len(head) > 0 {
				at = head[len(head)-1].at
			}
			p.problem(at, at+1, "write a selector, or remove the comma", "a selector is missing here")
			continue
		}
		r := &selectorReader{p: p, tokens: part}
		if s := r.selector(); s != nil {
			out = append(out, s)
		}
	}
	return out
}

type selectorReader struct {
	p      *parser
	tokens []token
	at     int
}

func (r *selectorReader) more() bool { return r.at < len(r.tokens) }

func (r *selectorReader) fail(t token, write, message string) {
	r.p.problem(t.at, t.end(), write, message)
}

func (r *selectorReader) selector() *Selector {
	s := &Selector{Start: r.tokens[0].at, End: r.tokens[len(r.tokens)-1].end()}
	for r.more() {
		joint, stated := byte(0), false
		for ; r.more(); r.at++ {
			t := r.tokens[r.at]
			if t.blank() {
				if joint == 0 && len(s.Parts) > 0 {
					joint = ' '
				}
				continue
			}
			if t.kind == css.DelimToken && strings.ContainsAny(t.text, ">+~") {
				if stated {
					r.fail(t, "remove one of them", "two combinators follow each other")
					return nil
				}
				joint, stated = t.text[0], true
				continue
			}
			break
		}
		if !r.more() {
			if stated {
				r.fail(r.tokens[len(r.tokens)-1], "write what stands there, or remove it", "nothing follows this")
				return nil
			}
			break
		}
		c := r.compound()
		if c == nil {
			return nil
		}
		c.Joint = joint
		s.Parts = append(s.Parts, c)
	}
	return s
}

// compound reads one compound; nil where it cannot be read, which is told.
func (r *selectorReader) compound() *Compound {
	c := &Compound{Start: r.tokens[r.at].at}
	first := r.at
	for r.more() {
		t := r.tokens[r.at]
		if t.blank() || t.kind == css.DelimToken && strings.ContainsAny(t.text, ">+~") {
			break
		}
		if !r.simple(c, t, r.at == first) {
			return nil
		}
	}
	c.End = r.tokens[r.at-1].end()
	if c.mark == 0 {
		c.mark = c.End
	}
	return c
}

// simple reads one condition of a compound.
func (r *selectorReader) simple(c *Compound, t token, begins bool) bool {
	r.at++
	next := token{}
	if r.more() {
		next = r.tokens[r.at]
	}
	switch {
	case begins && (t.kind == css.IdentToken || t.is(css.DelimToken, "*")):
		c.Tag = strings.ToLower(t.text)
	case t.is(css.DelimToken, "&"):
		c.Nest = true
	case t.kind == css.HashToken:
		c.IDs = append(c.IDs, t.text[1:])
	case t.is(css.DelimToken, ".") && next.kind == css.IdentToken:
		r.at++
		c.Classes = append(c.Classes, Word{next.text, next.at, next.end()})
	case t.kind == css.LeftBracketToken:
		return r.attribute(c, t)
	case t.kind == css.ColonToken && next.kind == css.ColonToken:
		r.at++
		return r.element(c, t)
	case t.kind == css.ColonToken:
		return r.pseudo(c, t)
	default:
		r.fail(t, "write a tag, .class, #id, [attribute] or :state", "this is no part of a selector")
		return false
	}
	return true
}

// within are the tokens up to the bracket that closes what is open.
func (r *selectorReader) within() []token {
	open, from := 1, r.at
	for ; r.more(); r.at++ {
		switch r.tokens[r.at].kind {
		case css.LeftParenthesisToken, css.LeftBracketToken, css.FunctionToken:
			open++
		case css.RightParenthesisToken, css.RightBracketToken:
			if open--; open == 0 {
				r.at++
				return trimmed(r.tokens[from : r.at-1])
			}
		}
	}
	return trimmed(r.tokens[from:])
}

func (r *selectorReader) attribute(c *Compound, t token) bool {
	var list []token
	for _, x := range r.within() {
		if !x.blank() {
			list = append(list, x)
		}
	}
	if len(list) == 0 || list[0].kind != css.IdentToken {
		r.fail(t, `write [name] or [name="value"]`, "an attribute has a name")
		return false
	}
	a := AttrTest{Name: strings.ToLower(list[0].text)}
	if len(list) > 2 {
		a.Op, a.Value = strings.TrimSuffix(list[1].text, "="), strings.Trim(list[2].text, `"'`)
		if a.Op == "" {
			a.Op = "="
		}
		a.AnyCase = len(list) > 3 && strings.EqualFold(list[3].text, "i")
	} else if len(list) > 1 {
		r.fail(t, `write [name] or [name="value"]`, "this is no condition on an attribute")
		return false
	}
	c.Attrs = append(c.Attrs, a)
	return true
}

// element reads a pseudo-element.
func (r *selectorReader) element(c *Compound, t token) bool {
	if c.mark == 0 {
		c.mark = t.at
	}
	if !r.more() {
		r.fail(t, "write ::before, for example", "a pseudo-element has a name")
		return false
	}
	name := r.tokens[r.at]
	r.at++
	if slotted := name.text == "slotted("; c.Inner != "" || slotted && t.at != c.Start {
		r.fail(t, "write a blank before it, or leave out what stands before", "nothing stands right before ::"+strings.TrimSuffix(name.text, "("))
		return false
	}
	c.Inner = strings.ToLower(strings.TrimSuffix(name.text, "("))
	if name.kind != css.FunctionToken {
		return true
	}
	inner := r.within()
	if name.text == "slotted(" {
		if c.Slotted = r.p.list(inner); len(c.Slotted) == 0 {
			return false
		}
		for _, s := range c.Slotted {
			if len(s.Parts) > 1 || s.Parts[0].Inner != "" {
				r.p.problem(s.Start, s.End, "write one of them: ::slotted reaches what stands at the top of what is given", "::slotted takes a selector without blanks and combinators")
				return false
			}
		}
	}
	return true
}

func (r *selectorReader) pseudo(c *Compound, t token) bool {
	if !r.more() {
		r.fail(t, "write :hover, for example", "a pseudo-class has a name")
		return false
	}
	name := r.tokens[r.at]
	r.at++
	ps := &Pseudo{Name: strings.ToLower(strings.TrimSuffix(name.text, "("))}
	switch ps.Name { // which CSS 2 wrote with one colon
	case "before", "after", "first-line", "first-letter":
		if c.Inner != "" {
			r.fail(t, "leave out one of them", "a pseudo-element has none of its own")
			return false
		}
		if c.mark == 0 {
			c.mark = t.at
		}
		c.Inner = ps.Name
		return true
	}
	if name.kind == css.FunctionToken {
		inner := r.within()
		ps.Text = plain(inner)
		switch ps.Name {
		case "is", "where", "not", "has":
			ps.Args = r.p.list(inner)
		case "nth-child", "nth-last-child", "nth-of-type", "nth-last-of-type":
			ps.A, ps.B = nth(ps.Text)
		}
	} else if name.kind != css.IdentToken {
		r.fail(t, "write :hover, for example", "a pseudo-class has a name")
		return false
	}
	c.Pseudos = append(c.Pseudos, ps)
	return true
}

// nth reads An+B: CSS Syntax 3, 6. What is none is never so.
func nth(text string) (a, b int) {
	text = strings.ReplaceAll(strings.ToLower(text), " ", "")
	switch text {
	case "odd":
		return 2, 1
	case "even":
		return 2, 0
	}
	head, tail, has := strings.Cut(text, "n")
	if !has {
		b, err := strconv.Atoi(text)
		if err != nil {
			return 0, 0
		}
		return 0, b
	}
	switch head {
	case "", "+":
		a = 1
	case "-":
		a = -1
	default:
		a, _ = strconv.Atoi(head)
	}
	b, _ = strconv.Atoi(strings.TrimPrefix(tail, "+"))
	return a, b
}

// Specificity of a selector: Selectors 4, 17. Larger wins.
func (s *Selector) Specificity() (sum int) {
	for _, c := range s.Parts {
		sum += c.specificity()
	}
	return sum
}

const ( // more of one never make up for one of the next
	ofTags    = 1
	ofClasses = 1 << 10
	ofIDs     = 1 << 20
)

func (c *Compound) specificity() int {
	sum := ofIDs*len(c.IDs) + ofClasses*(len(c.Classes)+len(c.Attrs))
	if c.Tag != "" && c.Tag != "*" {
		sum += ofTags
	}
	for _, p := range c.Pseudos {
		switch p.Name {
		case "where":
		case "is", "not", "has":
			sum += most(p.Args)
		default:
			sum += ofClasses
		}
	}
	if c.Inner != "" {
		sum += ofTags + most(c.Slotted)
	}
	return sum
}

func most(list []*Selector) (sum int) {
	for _, s := range list {
		sum = max(sum, s.Specificity())
	}
	return sum
}

// Whole are the selectors of a rule that stands in others: & stands for those around it, and where there is none, it
// is what is reached from there (CSS Nesting 1, 3).
func (it *Item) Whole(around []*Item) []*Selector {
	var outer []*Selector
	for _, o := range around {
		if o.Kind == Rule {
			outer = nested(outer, o.Selectors)
		}
	}
	return nested(outer, it.Selectors)
}

func nested(outer, list []*Selector) []*Selector {
	if outer == nil {
		return list
	}
	out := make([]*Selector, len(list))
	for i, s := range list {
		out[i] = s.within(outer)
	}
	return out
}

func (s *Selector) within(outer []*Selector) *Selector {
	n := &Selector{Start: s.Start, End: s.End}
	self := &Pseudo{Name: "is", Args: outer}
	found := false
	for _, c := range s.Parts {
		if c.Nest {
			found = true
			copied := *c
			copied.Pseudos = append([]*Pseudo{self}, c.Pseudos...)
			c = &copied
		}
		n.Parts = append(n.Parts, c)
	}
	if !found {
		first := *n.Parts[0]
		if first.Joint == 0 {
			first.Joint = ' '
		}
		n.Parts = append([]*Compound{{Start: s.Start, End: s.Start, Nest: true, Pseudos: []*Pseudo{self}}, &first}, n.Parts[1:]...)
	}
	return n
}
