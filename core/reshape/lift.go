package reshape

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/links"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// How changes of a lifted cell come up.
const (
	AsReport   = "report"
	AsTie      = "tie"
	AsFunction = "function"
)

// LiftOptions say where a cell goes, and how its changes come up.
type LiftOptions struct {
	To  string // the component above; "" for those that use its own
	As  string // AsReport, AsTie, AsFunction; "" for what the design suggests
	One bool   // one cell for all uses, in place of one for each
}

// Lift moves a cell to the components that use its own: down it is linked, and changes come up. With To it
// goes on until that component has it.
func Lift(d *design.Design, m *design.Member, o LiftOptions, reload Reload) (*Result, error) {
	if o.To == "" {
		return liftOnce(d, m, o, reload)
	}
	return liftTo(d, m, o, reload)
}

// liftTo lifts one level after another. Each level is a whole edit: the next one begins with its result.
func liftTo(d *design.Design, m *design.Member, o LiftOptions, reload Reload) (*Result, error) {
	w := &draft{d: d}
	to := d.Component(o.To)
	if to == nil {
		return nil, w.refuse(m.Pos(), "name a component that uses "+m.Owner.Name+", or one above", "there is no component %s", o.To)
	}
	if !above(d, to, m.Owner) {
		return nil, w.refuse(m.Pos(), "the components above it are: "+strings.Join(namesAbove(d, m.Owner), ", "), "%s is not above %s", o.To, m.Owner.Name)
	}
	if u := besides(d, to, m.Owner); u != nil {
		return nil, w.refuse(u.Node.Start, "lift it to a component above both", "%s is used by %s, too, which is not below %s", u.Node.Component.Name, u.User.Name, o.To)
	}
	var all *Result
	ahead := []cellName{{m.Owner.Name, m.Label}}
	for len(ahead) > 0 {
		at := ahead[0]
		ahead = ahead[1:]
		if at.owner == o.To {
			continue
		}
		step := o
		step.To = ""
		res, err := liftOnce(d, d.Component(at.owner).Member(at.label), step, reload)
		if err != nil {
			return nil, err
		}
		ahead = append(ahead, res.cells...)
		all = merged(all, res)
		d = res.Design
	}
	return all, nil
}

// besides is a use on the way up from a component that does not come to another one, or nil.
func besides(d *design.Design, to, c *design.Component) *links.Use {
	for _, u := range links.Of(d).Uses[c] {
		if u.User == to {
			continue
		}
		if !above(d, to, u.User) {
			return u
		}
		if o := besides(d, to, u.User); o != nil {
			return o
		}
	}
	return nil
}

// above says whether a component uses another one, itself or through others.
func above(d *design.Design, to, c *design.Component) bool {
	return slices.Contains(namesAbove(d, c), to.Name)
}

// namesAbove are the components that use one, itself or through others, the nearest first.
func namesAbove(d *design.Design, c *design.Component) (list []string) {
	g := links.Of(d)
	ahead := []*design.Component{c}
	for len(ahead) > 0 {
		for _, u := range g.Uses[ahead[0]] {
			if !slices.Contains(list, u.User.Name) {
				list = append(list, u.User.Name)
				ahead = append(ahead, u.User)
			}
		}
		ahead = ahead[1:]
	}
	return list
}

// merged is two results, one after the other, as one.
func merged(first, then *Result) *Result {
	if first == nil {
		return then
	}
	out := &Result{cells: then.cells, Did: append(first.Did, then.Did...), Chose: append(first.Chose, then.Chose...), Design: then.Design}
	for _, f := range first.Files {
		if i := slices.IndexFunc(then.Files, func(g File) bool { return g.Path == f.Path && g.Name == f.Name }); i >= 0 {
			f.Is = then.Files[i].Is
		}
		out.Files = append(out.Files, f)
	}
	for _, f := range then.Files {
		if !slices.ContainsFunc(out.Files, func(g File) bool { return g.Path == f.Path && g.Name == f.Name }) {
			out.Files = append(out.Files, f)
		}
	}
	return out
}

// lifting is one level of a lift.
type lifting struct {
	*draft
	m    *design.Member
	o    LiftOptions
	uses []*links.Use
	up   string // the event that reports a change, or the function that makes it
	one  string // the cell of all uses, once it has a name
}

func liftOnce(d *design.Design, m *design.Member, o LiftOptions, reload Reload) (*Result, error) {
	l := &lifting{draft: &draft{d: d}, m: m, o: o}
	l.uses = l.links().Uses[m.Owner]
	if err := l.possible(); err != nil {
		return nil, err
	}
	if err := l.choose(); err != nil {
		return nil, err
	}
	if err := l.below(); err != nil {
		return nil, err
	}
	for _, u := range l.uses {
		if err := l.above(u); err != nil {
			return nil, err
		}
	}
	return l.finish(reload)
}

// possible refuses what no edit can lift.
func (l *lifting) possible() error {
	m, c := l.m, l.m.Owner
	switch {
	case m.Kind == design.Shares:
		return l.refuse(m.Pos(), "tie it where "+c.Name+" is used: "+m.Label+" <-> cell", "%s is shared: whoever uses %s can tie it already", m.Label, c.Name)
	case m.Kind != design.Holds:
		return l.refuse(m.Pos(), "name a cell: holds ...", "%s of %s is %s, and no cell", m.Label, c.Name, m.Kind.Noun())
	case c.IsContext:
		return l.refuse(m.Pos(), "let the context take it, or hold it where the context is supplied", "%s is held by a context", m.Label)
	case len(l.uses) == 0:
		return l.refuse(m.Pos(), "lift a cell of a component that is used in a view", "no view uses %s, so there is no parent to hold %s", c.Name, m.Label)
	case len(l.links().Journey(m).Changed) == 0:
		return l.refuse(m.Pos(), "write const "+m.Label+" = ..., or let it be taken where users give another value", "nothing ever changes %s of %s", m.Label, c.Name)
	}
	for _, s := range l.d.Starts {
		if s.Root == c {
			return l.refuse(s.Syntax.Start, "start a component that uses "+c.Name, "%s is also started by itself, and would have no parent there", c.Name)
		}
	}
	if at, ok := l.throughItems(m); ok {
		return l.refuse(at.Start, "report the item that changes, and let "+c.Name+" write the list as a whole", "an item of %s is written by itself here", m.Label)
	}
	return nil
}

// choose settles how changes come up.
func (l *lifting) choose() error {
	fields, children, _ := l.tiesOf(l.m)
	tied := len(fields)+len(children) > 0
	switch {
	case l.o.As == "" && tied:
		l.o.As = AsTie
		l.chose("%s is tied inside %s, so it is tied above, too; with --as report each field reports its change", l.m.Label, l.m.Owner.Name)
	case l.o.As == "":
		l.o.As = AsReport
	case !slices.Contains([]string{AsReport, AsTie, AsFunction}, l.o.As):
		return l.refuse(l.m.Pos(), "write report, tie or function", "changes cannot come up as %s", l.o.As)
	case tied && l.o.As != AsTie && len(children) > 0:
		return l.refuse(children[0].Syntax.Start, "--as tie", "%s is tied to what %s shares here", l.m.Label, children[0].Member.Owner.Name)
	}
	return nil
}

// below changes the component that held the cell.
func (l *lifting) below() error {
	m, c := l.m, l.m.Owner
	cell := m.Syntax.(*syntax.Cell)
	t := l.typeText(m)
	if l.o.As == AsTie {
		first := beginning(m.Type())
		if cell.Value != nil && readOf(l.m.Owner, cell.Value) == nil {
			first = l.text(cell.Value)
		}
		l.replace(l.whole(cell.Span()), fmt.Sprintf("shares %s: %s = %s\n", m.Label, t, first))
		return nil
	}
	l.take(cell.Span())
	l.addMember(c, fmt.Sprintf("takes %s: %s", m.Label, t), beforeTakes...)
	if l.o.As == AsFunction {
		l.up = l.free(c, "set"+upper(m.Label))
		l.addMember(c, fmt.Sprintf("takes %s: (value: %s) => void", l.up, t), beforeTakes...)
	} else {
		l.up = l.free(c, "change"+upper(m.Label))
		l.addMember(c, fmt.Sprintf("emits %s(%s: %s)", l.up, m.Label, t), beforeEmits...)
	}
	for _, wr := range l.writesOf(m) {
		l.replace(wr.stmt.Span(), l.change(l.newValue(wr)))
	}
	return l.fields()
}

// change is the statement by which a new value comes up.
func (l *lifting) change(value string) string {
	if l.o.As == AsFunction {
		return l.up + "(" + value + ")"
	}
	return "emit " + l.up + "(" + value + ")"
}

// fields are linked down, and report what is typed.
func (l *lifting) fields() error { return l.fieldsReport(l.m, l.change) }

// fieldsReport unties the fields of a view that are tied to a cell: each reports what is typed.
func (w *draft) fieldsReport(m *design.Member, change func(value string) string) error {
	ties, _, owners := w.tiesOf(m)
	for i, t := range ties {
		event, part := "input", "value"
		if t.Name == "checked" {
			event, part = "change", "checked"
		}
		heard := slices.ContainsFunc(owners[i].Handlers, func(h *design.Handler) bool { return h.Name == event })
		if t.Name != "value" && t.Name != "checked" || heard || len(t.Write.Steps) > 0 || t.Name == "value" && !types.Assignable(types.String, m.Type()) {
			return w.refuse(t.Syntax.Start, "--as tie", "%s is tied to a field here", m.Label)
		}
		w.replace(t.Syntax.Span(), fmt.Sprintf("%s <- %s\n%s(e) -> %s", t.Name, m.Label, event, change("e."+part)))
	}
	return nil
}

// above gives a use of the component its cell.
func (l *lifting) above(u *links.Use) error {
	each := innermost(u.Path)
	if l.o.One && types.Widen(l.m.Type()) == types.Boolean && (each != nil || len(l.uses) > 1) {
		return l.onlyOne(u, each)
	}
	if each != nil {
		return l.inList(u, each)
	}
	user := u.User
	name, isNew := l.one, false
	if name == "" || !l.o.One {
		isNew = true
		name = l.cellName(u)
		first, err := l.firstValue(u)
		if err != nil {
			return err
		}
		text := fmt.Sprintf("holds %s: %s %s", name, l.typeText(l.m), first)
		l.addMember(user, l.moved(l.m.Syntax.Span(), text), beforeHolds...)
		l.result.cells = append(l.result.cells, cellName{user.Name, name})
	}
	if l.o.One {
		if l.one != "" && user != l.uses[0].User {
			return l.refuse(u.Node.Start, "lift it to a component above both: --to", "%s is used in several components, and no one of them could hold one cell", l.m.Owner.Name)
		}
		l.one = name
	}
	if isNew {
		l.did("%s.%s is held by %s now, as %s", l.m.Owner.Name, l.m.Label, user.Name, name)
	}
	l.link(u, name, name, func(v string) string { return name + " = " + v })
	return nil
}

// onlyOne keeps which of several uses, or items, it is true of: of one at most.
func (l *lifting) onlyOne(u *links.Use, each *design.Each) error {
	cell := l.m.Syntax.(*syntax.Cell)
	switch {
	case l.o.As != AsReport:
		return l.refuse(u.Node.Start, "--as report", "at most one of several has %s, and only a report tells which one changes", l.m.Label)
	case cell.Value == nil || l.text(cell.Value) != "false":
		return l.refuse(l.m.Pos(), "let it begin with false", "%s begins with something else than false, and at most one of several may have it", l.m.Label)
	case u.User != l.uses[0].User:
		return l.refuse(u.Node.Start, "lift it to a component above both: --to", "%s is used in several components, and no one of them could hold one cell", l.m.Owner.Name)
	case each != nil && each.By == nil:
		return l.refuse(each.Syntax.Start, "write by and the key of an item", "the items here have no key, by which one could be told")
	case each != nil && (len(l.uses) > 1 || eachesOf(u.Path) > 1):
		return l.refuse(each.Syntax.Start, "use it in one list, or cut the list out first", "the keys of several lists may be equal, and would not tell which %s it is", l.m.Owner.Name)
	}
	key, keyType := value.Show(value.String(l.useKey(u))), "string"
	if each != nil {
		key, keyType = l.text(each.Syntax.By), types.Widen(each.By.Expr.Type()).String()
	}
	if l.one == "" {
		l.one = l.free(u.User, l.m.Label+"One")
		l.addMember(u.User, l.moved(cell.Span(), fmt.Sprintf("holds %s: %s? = null", l.one, keyType)), beforeHolds...)
		l.result.cells = append(l.result.cells, cellName{u.User.Name, l.one})
		l.did("%s holds which %s is %s now, as %s: at most one", u.User.Name, l.m.Owner.Name, l.m.Label, l.one)
	}
	name, off := l.one, "null"
	if l.falseUnasked() {
		off = fmt.Sprintf("%s == %s ? null : %[1]s", name, key)
	}
	l.link(u, name+" == "+key, "", func(v string) string { return fmt.Sprintf("%s = %s ? %s : %s", name, v, key, off) })
	return nil
}

// falseUnasked says whether a write may report false where the cell is false already: another one must keep what it has then.
func (l *lifting) falseUnasked() bool {
	return slices.ContainsFunc(l.writesOf(l.m), func(wr write) bool {
		value := l.newValue(wr)
		return value != "true" && value != "!"+l.m.Label
	})
}

// eachesOf counts the lists around a place.
func eachesOf(path []design.Node) (n int) {
	for _, p := range path {
		if _, ok := p.(*design.Each); ok {
			n++
		}
	}
	return n
}

// ownWord is the word of the component's name that tells it from others: the first one that is not the cell's.
func (l *lifting) ownWord() string {
	words := strings.Split(l.m.Owner.Name, "-")
	for _, w := range words {
		if w != l.m.Label {
			return w
		}
	}
	return words[0]
}

// useKey tells a use from the others: by a text that it alone is given, or by its place.
func (l *lifting) useKey(u *links.Use) string {
	t := givenText(u)
	other := func(o *links.Use) bool { return o != u && givenText(o) == t }
	if t != "" && !slices.ContainsFunc(l.uses, other) {
		return t
	}
	return fmt.Sprint(1 + slices.Index(l.uses, u))
}

// givenText is a name made of the first text that a use is given, or "".
func givenText(u *links.Use) string {
	for _, it := range u.Node.Syntax.Body {
		if link, ok := it.(*syntax.Link); ok && link.Op == syntax.Down {
			if t, ok := link.Value.(*syntax.TextLit); ok && wordsOf(t.Value) != "" {
				return wordsOf(t.Value)
			}
		}
	}
	return ""
}

// link hands the cell down and takes its changes up.
func (l *lifting) link(u *links.Use, value, tie string, change func(v string) string) {
	switch l.o.As {
	case AsTie:
		l.addLinks(u.Node.Syntax, l.m.Label+" <-> "+tie)
		l.did("%s ties it: %s <-> %s", u.User.Name, l.m.Label, tie)
	case AsFunction:
		set := l.free(u.User, "set"+upper(lastWord(value)))
		l.addMember(u.User, fmt.Sprintf("action %s(value: %s) { %s }", set, l.typeText(l.m), change("value")), beforeActs...)
		l.addLinks(u.Node.Syntax, l.m.Label+" <- "+value, l.up+" <- "+set)
		l.did("%s hands it down as %s, with %s to change it", u.User.Name, l.m.Label, l.up)
	default:
		v := "v"
		if l.namesIn(u.User)[v] {
			v = l.free(u.User, "value")
		}
		l.addLinks(u.Node.Syntax, l.m.Label+" <- "+value, fmt.Sprintf("%s(%s) -> %s", l.up, v, change(v)))
		l.did("%s hands it down as %s, and hears %s", u.User.Name, l.m.Label, l.up)
	}
}

func lastWord(s string) string {
	words := letters.FindAllString(s, -1)
	if len(words) == 0 {
		return "it"
	}
	return words[0]
}

// cellName is what the cell of a use is called: as it was, or after what the use is given.
func (l *lifting) cellName(u *links.Use) string {
	several := 0
	for _, o := range l.uses {
		if o.User == u.User {
			several++
		}
	}
	base := l.m.Label
	if several > 1 && !l.o.One {
		if t := givenText(u); t != "" {
			base = t + upper(l.m.Label)
		}
	}
	if first := l.ownWord(); l.namesIn(u.User)[base] && base == l.m.Label {
		base = first + upper(base) // as the part is called
	}
	return l.free(u.User, base)
}

// firstValue is how the cell begins in the parent, as its declaration ends.
func (l *lifting) firstValue(u *links.Use) (string, error) {
	cell := l.m.Syntax.(*syntax.Cell)
	word, x := "=", cell.Value
	if x == nil {
		word, x = "from", cell.From
	}
	text, err := l.seenFromAbove(x, u)
	if err != nil {
		return "", err
	}
	return word + " " + text, nil
}

// seenFromAbove is an expression of the component as its user can write it: what is taken is what is given.
func (l *lifting) seenFromAbove(x syntax.Expr, u *links.Use) (string, error) {
	text := l.text(x)
	var edits []textEdit
	var err error
	syntax.Walk(x, func(n syntax.Node) bool {
		name, ok := n.(*syntax.Name)
		if !ok || err != nil {
			return err == nil
		}
		m := l.m.Owner.Member(name.Text)
		switch {
		case m == nil: // of the top of a file, or named in the expression itself
		case m.Kind == design.Takes:
			given, ok := l.given(u, m)
			if !ok {
				err = l.refuse(name.Start, "give it where "+l.m.Owner.Name+" is used", "%s begins with %s, which %s does not give", l.m.Label, m.Label, u.User.Name)
				break
			}
			edits = append(edits, textEdit{int(name.Start - x.Span().Start), int(name.Stop - x.Span().Start), given})
		default:
			err = l.refuse(name.Start, "let it begin with a constant, or with what is taken", "%s begins with %s, which only %s has", l.m.Label, m.Label, l.m.Owner.Name)
		}
		return err == nil
	})
	return edited(text, edits), err
}

// given is what a use gives for a taken value, or its default.
func (w *draft) given(u *links.Use, m *design.Member) (string, bool) {
	for _, g := range u.Node.Links {
		if g.Member == m {
			return inParens(g.Syntax.Value, w.text(g.Syntax.Value)), true
		}
	}
	if cell, ok := m.Syntax.(*syntax.Cell); ok && cell.Value != nil {
		return inParens(cell.Value, w.text(cell.Value)), true
	}
	return "", false
}

// textEdit is an edit in a piece of text, by offsets.
type textEdit struct {
	from, to int
	text     string
}

func edited(text string, edits []textEdit) string {
	slices.SortFunc(edits, func(a, b textEdit) int { return b.from - a.from })
	for _, e := range edits {
		text = text[:e.from] + e.text + text[e.to:]
	}
	return text
}

// innermost is the nearest each around a use, or nil.
func innermost(path []design.Node) (each *design.Each) {
	for _, n := range path {
		if e, ok := n.(*design.Each); ok {
			each = e
		}
	}
	return each
}

// inList keeps the cell of every item: a list of keys for what is true or false and begins as false, a
// list of records with the key for anything else. What is kept of an item goes with it.
func (l *lifting) inList(u *links.Use, each *design.Each) error {
	m := l.m
	cell := m.Syntax.(*syntax.Cell)
	if each.By == nil {
		return l.refuse(each.Syntax.Start, "write by and the key of an item", "the items here have no key, so what is kept of each could not be found again")
	}
	if l.o.As != AsReport {
		return l.refuse(u.Node.Start, "--as report", "%s is used for every item of a list, and only a report tells which one changes", m.Owner.Name)
	}
	if cell.Value == nil || readOf(l.m.Owner, cell.Value) != nil {
		return l.refuse(m.Pos(), "let it begin with a constant", "%s begins with what only %s has, and each item would begin otherwise", m.Label, m.Owner.Name)
	}
	user, key := u.User, l.text(each.Syntax.By)
	keyType := types.Widen(each.By.Expr.Type()).String()
	same := strings.ReplaceAll(key, each.Syntax.Var.Text+".", "x.")
	if key == each.Syntax.Var.Text {
		same = "x"
	}
	first, t := l.text(cell.Value), l.typeText(m)
	items := inParens(each.Syntax.List, l.text(each.Syntax.List))
	if t == "boolean" && first == "false" {
		name := l.free(user, m.Label+upper(listName(each)))
		l.addMember(user, l.moved(cell.Span(), fmt.Sprintf("holds %s: %s[] = []", name, keyType)), beforeHolds...)
		l.result.cells = append(l.result.cells, cellName{user.Name, name})
		l.did("%s.%s is a list of keys in %s now, %s: what has it is in it", m.Owner.Name, m.Label, user.Name, name)
		l.forget(u, items, fmt.Sprintf("%s = %[1]s.filter(k => %s.some(x => %s == k))", name, items, same))
		l.link(u, fmt.Sprintf("%s.includes(%s)", name, key), "", func(v string) string {
			return fmt.Sprintf("%[1]s = %[2]s ? [...%[1]s, %[3]s] : %[1]s.filter(k => k != %[3]s)", name, v, key)
		})
		return nil
	}
	name := l.free(user, m.Label+"Of"+upper(listName(each)))
	l.addMember(user, l.moved(cell.Span(), fmt.Sprintf("holds %s: { key: %s, value: %s }[] = []", name, keyType, t)), beforeHolds...)
	l.result.cells = append(l.result.cells, cellName{user.Name, name})
	l.did("%s.%s is a list of records in %s now, %s, by the key of the item", m.Owner.Name, m.Label, user.Name, name)
	l.forget(u, items, fmt.Sprintf("%s = %[1]s.filter(k => %s.some(x => %s == k.key))", name, items, same))
	value := fmt.Sprintf("%s.find(k => k.key == %s)?.value ?? %s", name, key, first)
	if types.Nullable(m.Type()) {
		value = fmt.Sprintf("%[1]s.some(k => k.key == %[2]s) ? %[1]s.find(k => k.key == %[2]s)?.value ?? null : %[3]s", name, key, first)
	}
	l.link(u, value, "", func(v string) string {
		return fmt.Sprintf("%[1]s = [...%[1]s.filter(k => k.key != %[2]s), { key: %[2]s, value: %[3]s }]", name, key, v)
	})
	return nil
}

// listName is what the items of an each are called together.
func listName(each *design.Each) string {
	if name := lastName(each.Syntax.List); name != "" {
		return name
	}
	return each.Syntax.Var.Text + "s"
}

// forget lets go of what is kept of items that are gone, where the list is one of the component: a
// list that never changes loses none.
func (l *lifting) forget(u *links.Use, items, does string) {
	for _, n := range u.Path {
		if n == design.Node(innermost(u.Path)) {
			break
		}
		if _, ok := n.(*design.Each); ok {
			return // the list is of an item around it
		}
	}
	l.addMember(u.User, fmt.Sprintf("follows %s { %s }", items, does), append(beforeActs, "timer")...)
}
