package draw

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/links"
	"lien/core/picture"
	"lien/core/types"
)

// house is a design as cards and wires, each card with what it was made of.
type house struct {
	d       *design.Design
	g       *links.Graph
	cards   map[*design.Component]*card
	rows    map[any]*row // by member, channel hearing, timer body, ...
	order   []*design.Component
	wires   []*wire
	wiresOf map[*card][]int // by the card that they leave, once they are all there
	uses    map[*design.Component][]*design.Component
	inside  map[*design.Component][]*design.Component // what is drawn with each, once asked for
	slots   map[*design.Component]string              // in whose slots it is shown
	users   map[*design.Component][]*design.Component
	numbers map[*design.Component]int // the sheets that they are drawn whole on
	counts  map[change]int            // since an earlier design; nil where there is none
	gone    []*card                   // components that are gone since
}

// House draws the components of a design with all that links them. A design
// too large for one sheet is drawn on several.
func House(d *design.Design) []*picture.Picture {
	return newHouse(d).sheets()
}

func newHouse(d *design.Design) *house {
	h := &house{
		d: d, g: links.Of(d), cards: map[*design.Component]*card{}, rows: map[any]*row{},
		slots: map[*design.Component]string{}, users: map[*design.Component][]*design.Component{},
		numbers: map[*design.Component]int{},
	}
	h.findUsers()
	for _, c := range h.roots() {
		h.enter(c, 0)
	}
	for _, c := range d.Components {
		h.enter(c, 0)
	}
	h.deepen()
	h.wrong()
	for _, c := range h.order {
		h.wire(c)
	}
	return h
}

// findUsers finds who uses, opens or supplies whom.
func (h *house) findUsers() {
	for _, c := range h.d.Components {
		for _, u := range h.g.Uses[c] {
			if !slices.Contains(h.users[c], u.User) {
				h.users[c] = append(h.users[c], u.User)
			}
			for _, around := range u.Path {
				if host, ok := around.(*design.Use); ok {
					h.slots[c] = host.Component.Name
				}
			}
		}
	}
}

// roots are the components that starts mount, then those that nothing uses.
func (h *house) roots() []*design.Component {
	var list []*design.Component
	for _, s := range h.d.Starts {
		if s.Root != nil && !slices.Contains(list, s.Root) {
			list = append(list, s.Root)
		}
	}
	for _, c := range h.d.Components {
		if len(h.users[c]) == 0 && !slices.Contains(list, c) {
			list = append(list, c)
		}
	}
	return list
}

// enter makes the cards of a component and of all that it uses, in the order
// of its text.
func (h *house) enter(c *design.Component, column int) {
	if h.cards[c] != nil {
		return
	}
	k := &card{name: c.Name, column: column, order: float64(len(h.order)), double: c.IsContext}
	h.cards[c] = k
	h.order = append(h.order, c)
	h.fill(c, k)
	for _, s := range c.Supplies {
		h.enter(s.Use.Component, column)
	}
	for _, u := range h.used(c) {
		h.enter(u, column+1)
	}
}

// used are the components that one uses or opens, in the order of its text.
func (h *house) used(c *design.Component) []*design.Component {
	if h.uses == nil {
		h.uses = map[*design.Component][]*design.Component{}
		for _, o := range h.d.Components {
			for _, u := range h.users[o] {
				if list := h.uses[u]; !o.IsContext && (len(list) == 0 || list[len(list)-1] != o) {
					h.uses[u] = append(list, o)
				}
			}
		}
		for u, list := range h.uses {
			slices.SortStableFunc(list, func(a, b *design.Component) int { return h.firstUse(a, u) - h.firstUse(b, u) })
		}
	}
	return h.uses[c]
}

// firstUse is where in a component's text another one first stands.
func (h *house) firstUse(of, in *design.Component) int {
	for _, u := range h.g.Uses[of] {
		if u.User == in {
			return int(u.Node.Span().Start)
		}
	}
	return 0
}

// deepen puts every component to the right of all that use it, and a context
// below its supplier. Uses that lead back, of components that are nested in
// themselves, do not count.
func (h *house) deepen() {
	type link struct {
		to   *design.Component
		step int
	}
	links := map[*design.Component][]link{}
	var after []*design.Component // each after all that it leads to
	const open, done = 1, 2
	seen := map[*design.Component]int{}
	var visit func(c *design.Component)
	visit = func(c *design.Component) {
		seen[c] = open
		add := func(to *design.Component, step int) {
			if seen[to] == 0 {
				visit(to)
			}
			if seen[to] == done {
				links[c] = append(links[c], link{to, step})
			}
		}
		for _, s := range c.Supplies {
			add(s.Use.Component, 0)
		}
		for _, u := range h.used(c) {
			add(u, 1)
		}
		seen[c] = done
		after = append(after, c)
	}
	for _, c := range h.order {
		if seen[c] == 0 {
			visit(c)
		}
	}
	for _, c := range slices.Backward(after) {
		for _, l := range links[c] {
			k := h.cards[l.to]
			k.column = max(k.column, h.cards[c].column+l.step)
		}
	}
}

// fill gives a card what its component declares, the state it holds first.
func (h *house) fill(c *design.Component, k *card) {
	k.sub = h.subtitle(c)
	for _, kinds := range [][]design.Kind{{design.Holds, design.Shares}, {design.Derives}, {design.Takes}, {design.Used}, {design.Gathered}, {design.Named}, {design.Emits}, {design.Action}, {design.Timer}} {
		for _, m := range c.Members {
			if slices.Contains(kinds, m.Kind) && !m.Implied {
				h.member(k, m)
			}
		}
	}
	for _, f := range c.Follows {
		h.does(k, f, "follows", h.d.Text(f.Syntax.Value.Span()), f.Body)
	}
	for _, x := range c.Hearings {
		h.does(k, x, "hears", x.Channel.Name, x.Body)
	}
	for _, x := range c.Hooks {
		h.does(k, x, "on", map[bool]string{true: "unmount", false: "mount"}[x.Unmount], x.Body)
	}
	for _, s := range c.Slots {
		r := &row{word: "slot", text: strings.TrimSpace(s.Name + " " + handed(s))}
		h.rows[s] = r
		k.rows = append(k.rows, r)
	}
	rules := 0
	for _, s := range h.d.StylesOf(c) {
		rules += s.Sheet.Rules()
	}
	if rules > 0 {
		k.rows = append(k.rows, &row{word: "style", text: finding.Count(rules, "rule")})
	}
}

// handed tells what a slot hands to its content.
func handed(s *design.SlotPlace) string {
	if s.Name == "" && len(s.Names) == 0 {
		return "content of its user's"
	}
	if len(s.Names) == 0 {
		return ""
	}
	return "hands out " + strings.Join(s.Names, ", ")
}

// subtitle tells what a component is in the design.
func (h *house) subtitle(c *design.Component) string {
	var names []string
	for _, u := range h.users[c] {
		if u != c {
			names = append(names, u.Name)
		}
	}
	const most = 12 // more than that nobody reads under a name
	if n := len(names) - most; n > 1 {
		names = append(names[:most], fmt.Sprintf("and %d more", n))
	}
	who := strings.Join(names, ", ")
	switch {
	case c.IsContext && who != "":
		return "context, supplied by " + who
	case c.IsContext:
		return "context that nothing supplies"
	case c.Opened:
		return "opened by " + who
	case h.slots[c] != "" && h.slots[c] != who:
		return "used by " + who + ", in " + h.slots[c]
	case who != "":
		return "used by " + who
	}
	for _, s := range h.d.Starts {
		if s.Root == c {
			return "where it starts"
		}
	}
	return "nothing uses it"
}

// member adds the row of a member.
func (h *house) member(k *card, m *design.Member) {
	r := &row{word: m.Kind.String(), text: m.Label, whole: firstLine(h.d.Text(m.Syntax.Span())), cell: m.IsCell(), tied: h.g.Tied(m)}
	switch m.Kind {
	case design.Holds, design.Shares, design.Takes:
		r.text += ": " + typeText(m)
		if m.Aside {
			r.word = "aside"
		}
	case design.Derives:
		r.text = m.Label + readsText(m.Init)
		if m.Offered {
			r.word = "offers"
		}
	case design.Used:
		if m.Context == nil {
			return
		}
		if m.Label != m.Context.Name {
			r.text = m.Context.Name + " as " + m.Label
		}
		if names := reachedIn(m.Owner, m.Context); len(names) > 0 {
			r.text += ": " + strings.Join(names, ", ")
		}
	case design.Named:
		c := componentOf(m)
		if c == nil {
			return
		}
		r.text += ": " + c.Name
	case design.Gathered:
		var names []string
		for _, c := range m.Kinds {
			names = append(names, c.Name)
		}
		r.text += ": " + strings.Join(names, " | ")
	case design.Emits:
		r.text += sigText(m.Sig)
	case design.Action, design.Timer:
		r.text += doesText(effects(m.Body))
		if m.Offered {
			r.word = "offers"
		}
	}
	h.rows[m] = r
	k.rows = append(k.rows, r)
}

// reachedIn are the members of a context that a component reads or calls.
func reachedIn(c, context *design.Component) []string {
	var names []string
	design.Visitor{Expr: func(e types.Expr) {
		if sel, ok := e.(*types.Select); ok {
			if m, ok := sel.Member.(*design.Member); ok && m.Owner == context && !slices.Contains(names, m.Label) {
				names = append(names, m.Label)
			}
		}
	}}.Component(c)
	return names
}

// does adds the row of something that runs by itself.
func (h *house) does(k *card, what any, word, text string, b *design.Body) {
	r := &row{word: word, text: text + doesText(effects(b))}
	h.rows[what] = r
	k.rows = append(k.rows, r)
}

func doesText(list []effect) string {
	if len(list) == 0 {
		return ""
	}
	texts := make([]string, len(list))
	for i, e := range list {
		texts[i] = e.text
	}
	return " → " + strings.Join(texts, ", ")
}

// readsText tells what a derived value is worked out from.
func readsText(u *design.Unit) string {
	if u == nil || u.Expr == nil {
		return ""
	}
	var names []string
	for _, m := range links.Direct(u.Expr) {
		if !slices.Contains(names, m.Label) {
			names = append(names, m.Label)
		}
	}
	if len(names) == 0 {
		return ""
	}
	return " ← " + strings.Join(names, ", ")
}

// firstLine is the first line of a text, with a sign that there is more.
func firstLine(s string) string {
	line, _, more := strings.Cut(s, "\n")
	if more {
		line += " …"
	}
	return line
}

func typeText(m *design.Member) string {
	if t := m.Type(); t != nil {
		return t.String()
	}
	return "?"
}

func sigText(sig []types.Param) string {
	var names []string
	for _, p := range sig {
		names = append(names, p.Name)
	}
	return "(" + strings.Join(names, ", ") + ")"
}

// componentOf is the component that a name stands for, or nil for an element.
func componentOf(m *design.Member) *design.Component {
	t, ok := types.NonNull(m.Type()).(types.Instance)
	if !ok {
		return nil
	}
	c, _ := t.Of.(*design.Component)
	return c
}

// wrong marks what could not be understood in a component.
func (h *house) wrong() {
	for _, f := range h.d.Errors() {
		for _, c := range h.order {
			if at := c.Syntax.Span(); f.Span.Start >= at.Start && f.Span.Start < at.End {
				k := h.cards[c]
				k.rows = append(k.rows, &row{word: "unclear", text: f.Message, wrong: true})
			}
		}
	}
}

// at is the end of a wire at a member, or nothing where its card has none.
func (h *house) at(c *design.Component, what any) end {
	return end{h.cards[c], h.rows[what]}
}

// add adds a wire between cards, once.
func (h *house) add(k kind, from, to end, text string) {
	p := plan{wires: h.wires}
	p.add(&wire{kind: k, from: from, to: to, text: text})
	h.wires = p.wires
}

// wire adds all wires that a component's text makes.
func (h *house) wire(c *design.Component) {
	for _, m := range c.Members {
		h.down(c, m)
		h.reach(c, m)
		for _, x := range h.g.Hears[m] {
			h.up(m, x)
		}
	}
	h.doings(c)
	h.handedOut(c)
	for _, u := range h.used(c) {
		if !h.linked(c, u) {
			h.add(usesKind, end{h.cards[c], nil}, end{h.cards[u], nil}, "")
		}
	}
}

// down adds the wires of values linked or tied from a member.
func (h *house) down(c *design.Component, m *design.Member) {
	for _, l := range h.g.Feeds[m] {
		if !l.Near || h.rows[l.To] == nil {
			continue
		}
		from := h.at(c, m)
		if l.User != c { // a context's, linked on by one who reaches it
			from = h.reached(l.User, c)
		}
		k := downKind
		if l.Tie {
			k = tieKind
		}
		if from.row == nil && from.card == nil {
			continue
		}
		h.add(k, from, h.at(l.To.Owner, l.To), l.Text)
	}
}

// reached is where a component has hold of a context: its uses row, or the
// context that it supplies.
func (h *house) reached(c, context *design.Component) end {
	for _, m := range c.Members {
		if m.Kind == design.Used && m.Context == context {
			return h.at(c, m)
		}
	}
	return end{h.cards[context], nil}
}

// reach adds the wire of a context, a gathered list or a named instance.
func (h *house) reach(c *design.Component, m *design.Member) {
	switch m.Kind {
	case design.Used:
		if m.Context != nil {
			h.add(contextKind, end{h.cards[m.Context], nil}, h.at(c, m), h.d.Text(m.Syntax.Span()))
		}
	case design.Gathered:
		for _, k := range m.Kinds {
			h.add(gatherKind, end{h.cards[k], nil}, h.at(c, m), h.d.Text(m.Syntax.Span()))
		}
	}
}

// up adds the wires from an event to what its handler does.
func (h *house) up(event *design.Member, x *links.Handler) {
	if h.rows[event] == nil {
		return
	}
	from, text := h.at(event.Owner, event), firstLine(h.d.Text(x.At))
	landed := false
	for _, e := range effects(x.Body) {
		if e.member != nil && e.member.Owner == x.User && h.rows[e.member] != nil {
			h.add(upKind, from, h.at(x.User, e.member), text)
			landed = true
		}
	}
	if !landed {
		h.add(upKind, from, end{h.cards[x.User], nil}, text)
	}
}

// doings adds the wires of messages, openings and calls across components.
func (h *house) doings(c *design.Component) {
	h.bodies(c, func(from end, b *design.Body) {
		for _, e := range effects(b) {
			switch {
			case e.channel != nil:
				h.message(from, e.channel)
			case e.opens != nil:
				h.add(opensKind, from, end{h.cards[e.opens], nil}, e.text)
			case e.member != nil && e.member.Owner != c && !e.member.Owner.IsContext:
				h.add(callKind, h.naming(c, e.member.Owner, from), h.at(e.member.Owner, e.member), e.text)
			}
		}
	})
}

// handedOut adds the wires of what the slots of a component hand out to those who fill them.
func (h *house) handedOut(c *design.Component) {
	for _, u := range h.g.Uses[c] {
		for _, f := range u.Node.Fills {
			for _, s := range c.Slots {
				if s.Name == f.Name && len(f.Params) > 0 && len(s.Names) > 0 {
					h.add(slotKind, h.at(c, s), end{h.cards[u.User], nil}, h.d.Text(f.At))
				}
			}
		}
	}
}

// naming is the row in which a component names an instance of another.
func (h *house) naming(c, other *design.Component, otherwise end) end {
	for _, m := range c.Members {
		if m.Kind == design.Named && h.rows[m] != nil && componentOf(m) == other {
			return h.at(c, m)
		}
	}
	return otherwise
}

func (h *house) message(from end, ch *design.Channel) {
	for _, c := range h.order {
		for _, x := range c.Hearings {
			if x.Channel == ch {
				h.add(messageKind, from, h.at(c, x), "send "+ch.Name)
			}
		}
	}
}

// bodies visits every body of a component with the row that it belongs to: the
// header for what the view's own elements hear.
func (h *house) bodies(c *design.Component, visit func(end, *design.Body)) {
	for _, m := range c.Members {
		if m.Body != nil {
			visit(h.at(c, m), m.Body)
		}
		for _, x := range m.Hears {
			visit(end{h.cards[c], nil}, x.Body)
		}
	}
	for _, f := range c.Follows {
		visit(h.at(c, f), f.Body)
	}
	for _, x := range c.Hearings {
		visit(h.at(c, x), x.Body)
	}
	for _, x := range c.Hooks {
		visit(h.at(c, x), x.Body)
	}
	design.Visitor{Node: func(n design.Node) {
		var list []*design.Handler
		switch n := n.(type) {
		case *design.Element:
			list = n.Handlers
		case *design.Use:
			list = n.Handlers
		}
		for _, x := range list {
			visit(end{h.cards[c], nil}, x.Body)
		}
	}}.Nodes(c.View)
}

// linked says whether any wire joins two components.
func (h *house) linked(a, b *design.Component) bool {
	x, y := h.cards[a], h.cards[b]
	return slices.ContainsFunc(h.wires, func(w *wire) bool {
		return w.from.card == x && w.to.card == y || w.from.card == y && w.to.card == x
	})
}

// title names the design by where it starts.
func (h *house) title() string {
	if len(h.d.Starts) > 0 && h.d.Starts[0].Root != nil {
		return h.d.Starts[0].Root.Name
	}
	if len(h.order) > 0 {
		return h.order[0].Name
	}
	return "an empty design"
}
