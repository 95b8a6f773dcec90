package compare

import (
	"bytes"
	"fmt"
	"slices"
	"sort"
	"strings"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/html"
	"lien/core/page"
	"lien/core/types"
	"lien/core/value"
)

// What can be told of a page: its elements in order, without the components that they belong to, with
// their tags, attributes, classes, texts and properties; who has the focus; what lies above the page.
// And of what was done: what the root reports, what services are asked, which methods of elements
// are called. What a design logs is not told.

// looker writes down what can be told of the pages of one design.
type looker struct {
	e       *engine.Engine
	but     But
	styled  bool                         // styles of one of the designs hide: what is not shown is told
	names   map[*design.Element][]string // of attributes, sorted
	keyed   map[*design.Element][]string // those that a key may stand in
	out     bytes.Buffer
	numbers map[*page.Element]int
}

func newLooker(e *engine.Engine, but But, styled bool) *looker {
	return &looker{e: e, but: but, styled: styled, names: map[*design.Element][]string{}, keyed: map[*design.Element][]string{}}
}

// Marks in what is written down, which no text of a page has.
const (
	keyMark = '\x01' // around the text of an attribute in which keys may stand
	endMark = '\x02'
)

// page is what can be told of the page as it is: a line for each element and text.
func (l *looker) page() []byte {
	l.out.Reset()
	l.numbers = map[*page.Element]int{}
	l.nodes(l.e.Page(), 0)
	if !l.but.Focus {
		if el := l.e.Focus(); el != nil {
			fmt.Fprintf(&l.out, "the focus on %s, element %d\n", el.Tag(), l.numbers[&el.Element])
		}
	}
	for layer := range l.e.DOM().Layers {
		fmt.Fprintf(&l.out, "above the page element %d, modal %v\n", l.numbers[layer.Element], layer.Modal)
	}
	return bytes.Clone(l.out.Bytes())
}

func (l *looker) nodes(list []engine.Node, depth int) {
	text := ""
	flush := func() {
		if text != "" && !l.but.Texts {
			l.line(depth, "text "+value.Show(value.String(text)))
		}
		text = ""
	}
	for _, n := range list {
		if n.Element == nil {
			text += n.Text // two texts side by side are one
			continue
		}
		flush()
		l.element(n.Element, depth)
	}
	flush()
}

func (l *looker) line(depth int, text string) {
	for range depth {
		l.out.WriteString("  ")
	}
	l.out.WriteString(text)
	l.out.WriteByte('\n')
}

func (l *looker) element(el *engine.Element, depth int) {
	l.numbers[&el.Element] = len(l.numbers) + 1
	var line strings.Builder
	line.WriteString(el.Tag())
	def := el.Def()
	if !l.but.Classes {
		classes := el.Classes()
		sort.Strings(classes)
		for _, c := range slices.Compact(classes) {
			line.WriteString(" ." + c)
		}
	}
	for _, name := range l.attributes(def) {
		v, ok := el.Element.Attr(name)
		switch {
		case !ok:
		case slices.Contains(l.keyed[def], name):
			line.WriteString(" " + name + "=" + string(keyMark) + v + string(endMark))
		default:
			line.WriteString(" " + name + "=" + value.Show(value.String(v)))
		}
	}
	l.properties(&line, el)
	if l.styled && !el.Rendered() {
		line.WriteString(" not shown")
	}
	l.line(depth, line.String())
	l.nodes(el.Children(), depth+1)
}

// properties are what a user can change.
func (l *looker) properties(line *strings.Builder, el *engine.Element) {
	p := el.Live()
	switch el.Tag() {
	case "input", "textarea", "select":
		line.WriteString(" holding " + value.Show(value.String(el.LiveValue())))
	case "option":
		if slices.Contains(l.chosen(el), &el.Element) {
			line.WriteString(" chosen")
		}
	}
	for _, f := range []struct {
		is   bool
		word string
	}{{p.Checked, "checked"}, {p.Indeterminate, "mixed"}, {p.Open, "open"}} {
		if f.is {
			line.WriteString(" " + f.word)
		}
	}
	if c := p.Custom(); c != "" {
		line.WriteString(" not valid: " + value.Show(value.String(c)))
	}
}

// chosen are the options that are chosen in the select around an option.
func (l *looker) chosen(option *engine.Element) []*page.Element {
	for up := option.Parent(); up != nil; up = up.Parent() {
		if up.Tag() == "select" {
			return l.e.DOM().ChosenOptions(&up.Element)
		}
	}
	return nil
}

// attributes are the names of those that an element may have and that are told, sorted. Live properties are told by what
// they are, be they linked, tied or changed by a user.
func (l *looker) attributes(def *design.Element) []string {
	names, ok := l.names[def]
	if ok {
		return names
	}
	for _, a := range def.Attrs {
		if a.Name == "class" || html.IsProperty(def.Tag, a.Name) || slices.Contains(l.but.Attributes, a.Name) || slices.Contains(names, a.Name) {
			continue
		}
		names = append(names, a.Name)
		if readsKey(a.Unit.Expr) {
			l.keyed[def] = append(l.keyed[def], a.Name)
		}
	}
	sort.Strings(names)
	l.names[def] = names
	return names
}

// readsKey says whether a key may stand in what an expression gives.
func readsKey(x types.Expr) bool {
	if t := types.NonNull(types.Widen(x.Type())); t == types.Boolean || t == types.Number {
		return false // it may compare keys
	}
	reads := false
	types.Walk(x, func(x types.Expr) bool {
		reads = reads || x.Type() != nil && types.NonNull(types.Widen(x.Type())) == types.Key
		return !reads
	})
	return reads
}

// event is something that the world outside hears of.
type event struct {
	what string
	args []value.Value
}

func (v event) String() string {
	if len(v.args) == 0 {
		return v.what
	}
	texts := make([]string, len(v.args))
	for i, a := range v.args {
		texts[i] = value.Show(a)
	}
	return v.what + "(" + strings.Join(texts, ", ") + ")"
}

// events are what was told to the world in turns: reports and questions, then the methods of elements
// that were called, which run when a turn is over.
func events(turns []*engine.Record) (out []event) {
	var calls []event
	for _, r := range turns {
		if r.Failure != nil {
			continue // it is taken back
		}
		for i := range r.Entries {
			switch en := &r.Entries[i]; {
			case en.Outside():
				out = append(out, event{"the root reports " + en.What, en.Args})
			case en.Kind == engine.AskedOf:
				name, _, _ := strings.Cut(en.What, "(")
				out = append(out, event{name + " is asked", en.Args})
			case en.Kind == engine.CalledFor:
				calls = append(calls, event{en.What + " is called", en.Args})
			}
		}
	}
	return append(out, calls...)
}

// matching pairs the keys of two designs, one to one, in the order in which they were seen.
type matching [][2]value.Key

// match says whether two keys may be one, and notes it.
func (m *matching) match(a, b value.Key) bool {
	for _, p := range *m {
		if p[0] == a || p[1] == b {
			return p[0] == a && p[1] == b
		}
	}
	*m = append(*m, [2]value.Key{a, b})
	return true
}

// equal compares two values, keys by the matching.
func (m *matching) equal(a, b value.Value) bool {
	var keysA, keysB []value.Key
	strip := func(to *[]value.Key) func(value.Key) value.Key {
		return func(k value.Key) value.Key { *to = append(*to, k); return 0 }
	}
	x, y := value.Keys(a, strip(&keysA)), value.Keys(b, strip(&keysB))
	if !value.Equal(x, y) || len(keysA) != len(keysB) {
		return false
	}
	for i := range keysA {
		if !m.match(keysA[i], keysB[i]) {
			return false
		}
	}
	return true
}

// samePage compares what was written down of two pages.
func (m *matching) samePage(a, b []byte) bool {
	if bytes.IndexByte(a, keyMark) < 0 {
		return bytes.Equal(a, b)
	}
	for {
		i, j := bytes.IndexByte(a, keyMark), bytes.IndexByte(b, keyMark)
		if i < 0 || j < 0 {
			return bytes.Equal(a, b)
		}
		if !bytes.Equal(a[:i], b[:j]) {
			return false
		}
		a, b = a[i+1:], b[j+1:]
		i, j = bytes.IndexByte(a, endMark), bytes.IndexByte(b, endMark)
		if !m.sameKeyed(string(a[:i]), string(b[:j])) {
			return false
		}
		a, b = a[i+1:], b[j+1:]
	}
}

// sameKeyed compares two texts in which keys stand as they are printed: k and a number.
func (m *matching) sameKeyed(a, b string) bool {
	for {
		headA, keyA, restA, okA := cutKey(a)
		headB, keyB, restB, okB := cutKey(b)
		if headA != headB || okA != okB {
			return false
		}
		if !okA {
			return true
		}
		if !m.match(keyA, keyB) {
			return false
		}
		a, b = restA, restB
	}
}

// cutKey cuts a text at the first key in it.
func cutKey(s string) (head string, k value.Key, rest string, ok bool) {
	for i := 0; i+1 < len(s); i++ {
		if s[i] != 'k' || s[i+1] < '0' || s[i+1] > '9' {
			continue
		}
		j := i + 1
		for j < len(s) && '0' <= s[j] && s[j] <= '9' && j < i+19 {
			k = k*10 + value.Key(s[j]-'0')
			j++
		}
		return s[:i], k, s[j:], true
	}
	return s, 0, "", false
}
