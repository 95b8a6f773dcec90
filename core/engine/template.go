package engine

import (
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/html"
	"lien/core/page"
	"lien/core/source"
	"lien/core/types"
)

// blockTemplate is a compiled block of a view: the body of a component, a
// branch or an item.
type blockTemplate struct {
	parts []template
	level int // how many blocks with locals there are, up to this one
}

// template is a compiled piece of a block. Its order counts through the block,
// elements before what they contain.
type template interface {
	mount(e *Engine, b *Block, parent *Element) part
}

type (
	elementTemplate struct {
		order    int
		def      *design.Element
		attrs    []attrTemplate // attributes, then classes
		ties     []tieTemplate
		handlers map[string][]*body
		children []template
		named    *handle // what it is named by, or nil
		traits   page.Traits
	}
	attrTemplate struct {
		name  string
		class bool
		prop  bool // it sets a live property
		quiet bool // it cannot fail, and sets nothing
		code  *code
	}
	tieTemplate struct {
		name string
		tie
	}
	// tie is a place that something below reads and writes as its own.
	tie struct {
		code *code
		set  setter
	}
	textTemplate struct {
		order int
		code  *code
		quiet bool
	}
	whenTemplate struct {
		order    int
		def      *design.When
		code     *code // the number of the branch that shows, or -1
		branches []*blockTemplate
		still    bool // they only show something
	}
	eachTemplate struct {
		order int
		def   *design.Each
		list  *code
		by    *code // or nil
		body  *blockTemplate
	}
	useTemplate struct {
		order    int
		def      *design.Use
		links    map[int]*code // by the slot of the member that is linked down or tied
		ties     map[int]*tie  // by the slot of the shared member
		seeds    map[int]*code // by the slot of the shared member
		handlers map[*design.Member]*body
		fills    map[string]*fillTemplate
		marks    []attrTemplate // classes for the root element of the component
		named    *handle        // what it is named by, or nil
		place    int            // of several uses of the component in one view, from 1 on; 0: it is the only one
	}
	slotTemplate struct {
		order    int
		name     string
		data     []*code // what is handed out
		fallback *blockTemplate
	}
	fillTemplate struct {
		body     *blockTemplate
		receives bool // it has locals for what is handed out
		locals   int
	}
)

// block compiles a block; orders count on from those of the block around it.
func (p *program) block(nodes []design.Node) *blockTemplate { return p.blockAt(nodes, 0) }

func (p *program) blockAt(nodes []design.Node, level int) *blockTemplate {
	b := &blockBuilder{p: p, level: level}
	return &blockTemplate{parts: b.nodes(nodes), level: level}
}

type blockBuilder struct {
	p     *program
	level int
	order int
}

func (b *blockBuilder) next() int {
	b.order++
	return b.order
}

func (b *blockBuilder) nodes(nodes []design.Node) []template {
	out := make([]template, 0, len(nodes))
	for _, n := range nodes {
		switch n := n.(type) {
		case *design.Element:
			out = append(out, b.element(n))
		case *design.Text:
			out = append(out, &textTemplate{b.next(), b.p.unit(&n.Unit), b.p.risks.Harmless(n.Unit.Expr)})
		case *design.When:
			out = append(out, b.when(n))
		case *design.Each:
			out = append(out, b.each(n))
		case *design.Use:
			out = append(out, b.use(n))
		case *design.SlotPlace:
			out = append(out, b.slot(n))
		}
	}
	return out
}

func (b *blockBuilder) element(n *design.Element) template {
	t := &elementTemplate{order: b.next(), def: n, handlers: map[string][]*body{}, named: namedBy(n.Named), traits: traitsOf(n)}
	for _, a := range n.Attrs {
		t.attrs = append(t.attrs, b.attr(n, a))
	}
	t.attrs = append(t.attrs, b.marks(n.Marks)...)
	for _, n := range n.Ties {
		t.attrs = append(t.attrs, attrTemplate{n.Name, false, true, false, b.p.unit(&n.Read)})
		t.ties = append(t.ties, tieTemplate{n.Name, tie{b.p.unit(&n.Read), b.p.place(n.Write)}})
	}
	for _, h := range n.Handlers {
		t.handlers[h.Name] = append(t.handlers[h.Name], b.p.body(h.Body))
	}
	t.children = b.nodes(n.Children)
	return t
}

func (b *blockBuilder) attr(n *design.Element, a *design.Attr) attrTemplate {
	prop := html.IsProperty(n.Tag, a.Name)
	return attrTemplate{a.Name, false, prop, !prop && a.Name != "selected" && b.p.risks.Harmless(a.Unit.Expr), b.p.unit(&a.Unit)}
}

func (b *blockBuilder) marks(list []*design.Attr) (out []attrTemplate) {
	for _, a := range list {
		out = append(out, attrTemplate{a.Name, true, false, b.p.risks.Harmless(a.Unit.Expr), b.p.unit(&a.Unit)})
	}
	return out
}

func (b *blockBuilder) when(n *design.When) template {
	t := &whenTemplate{order: b.next(), def: n}
	var conds []*code
	var exprs []types.Expr
	locals, at := 0, source.Span{}
	for _, br := range n.Branches {
		if br.Cond != nil {
			c := b.p.unit(br.Cond)
			conds = append(conds, c)
			exprs = append(exprs, br.Cond.Expr)
			locals, at = max(locals, c.locals), c.at
		}
		t.branches = append(t.branches, b.p.blockAt(br.Body, b.level))
	}
	t.still = !slices.ContainsFunc(n.Branches, func(br *design.Branch) bool { return !b.p.still(br.Body) })
	t.code = &code{eval: branch(conds, len(n.Branches)), locals: locals, at: at, exprs: exprs, steady: len(exprs) == 1 && steady(exprs[0])}
	return t
}

// stillTags are elements that only show something.
var stillTags = strings.Fields("p span div strong em b i u s small mark code pre blockquote h1 h2 h3 h4 h5 h6 ul ol li dl dt dd " +
	"hr br section article aside header footer main nav figure figcaption time abbr sub sup")

// still says whether a part of a view only shows something, which cannot fail:
// no state is in it, nothing happens in it, and nothing outside knows of it. Where styles hide, they may ask for what
// stands beside.
func (p *program) still(nodes []design.Node) bool {
	return p.design.Hiding.Plain() && !slices.ContainsFunc(nodes, func(n design.Node) bool {
		switch n := n.(type) {
		case *design.Text:
			return !p.risks.Harmless(n.Unit.Expr)
		case *design.Element:
			return !p.stillElement(n)
		}
		return true
	})
}

func (p *program) stillElement(n *design.Element) bool {
	if !slices.Contains(stillTags, n.Tag) || n.Named != nil || len(n.Handlers)+len(n.Ties) > 0 {
		return false
	}
	for _, a := range n.Attrs {
		if slices.Contains([]string{"id", "tabindex", "contenteditable", "autofocus", "popover"}, a.Name) || html.IsProperty(n.Tag, a.Name) || !p.risks.Harmless(a.Unit.Expr) {
			return false
		}
	}
	for _, m := range n.Marks {
		if !p.risks.Harmless(m.Unit.Expr) {
			return false
		}
	}
	return p.still(n.Children)
}

func (b *blockBuilder) each(n *design.Each) template {
	t := &eachTemplate{order: b.next(), def: n, list: b.p.unit(&n.List)}
	if n.By != nil {
		t.by = b.p.unit(n.By)
	}
	t.body = b.p.blockAt(n.Body, b.level+1)
	return t
}

func (b *blockBuilder) use(n *design.Use) template {
	t := &useTemplate{order: b.next(), def: n, place: b.p.places[n], links: map[int]*code{}, ties: map[int]*tie{}, seeds: map[int]*code{},
		handlers: map[*design.Member]*body{}, fills: map[string]*fillTemplate{}, named: namedBy(n.Named)}
	t.marks = b.marks(n.Marks)
	for _, f := range n.Fills {
		receives := len(f.Params) > 0
		t.fills[f.Name] = &fillTemplate{b.p.blockAt(f.Body, f.Level), receives, f.Locals}
	}
	for _, l := range n.Links {
		t.links[l.Member.Slot] = b.p.unit(&l.Unit)
	}
	for _, l := range n.Ties {
		c := b.p.unit(&l.Unit)
		t.links[l.Member.Slot] = c
		t.ties[l.Member.Slot] = &tie{c, b.p.place(l.Place)}
	}
	for _, l := range n.Seeds {
		t.seeds[l.Member.Slot] = b.p.unit(&l.Unit)
	}
	for _, h := range n.Handlers {
		t.handlers[h.Event] = b.p.body(h.Body)
	}
	return t
}

// placesOf numbers the uses of a component of which a view has several, so that they can be told apart.
func placesOf(d *design.Design) map[*design.Use]int {
	places := map[*design.Use]int{}
	for _, c := range d.Components {
		uses := map[*design.Component][]*design.Use{}
		design.Visitor{Node: func(n design.Node) {
			if u, ok := n.(*design.Use); ok {
				uses[u.Component] = append(uses[u.Component], u)
			}
		}}.Nodes(c.View)
		for _, list := range uses {
			for i, u := range list {
				if len(list) > 1 {
					places[u] = i + 1
				}
			}
		}
	}
	return places
}
