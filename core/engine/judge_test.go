package engine

import (
	"fmt"
	"strings"
)

// snapshot writes the whole page: elements with attributes, classes and
// properties, texts, and the focus.
func snapshot(e *Engine) string {
	var out strings.Builder
	var walk func(nodes []Node, depth int)
	walk = func(nodes []Node, depth int) {
		for _, n := range nodes {
			pad := strings.Repeat(" ", depth)
			if n.Element == nil {
				fmt.Fprintf(&out, "%s%q\n", pad, n.Text)
				continue
			}
			el := n.Element
			props := el.Props()
			was, custom := props.Was(), props.Custom()
			props.Held = nil
			fmt.Fprintf(&out, "%s%s %v %+v %q %q", pad, el.Tag(), el.Classes(), props, was, custom)
			for _, a := range el.t.attrs {
				if v, ok := el.Attr(a.name); ok && !a.class {
					fmt.Fprintf(&out, " %s=%q", a.name, v)
				}
			}
			if e.Focus() == el {
				out.WriteString(" focus")
			}
			out.WriteByte('\n')
			walk(el.Children(), depth+1)
		}
	}
	walk(e.Page(), 0)
	return out.String()
}

// nodesOf lists every node that the rendered tree needs.
func nodesOf(e *Engine) []*node {
	var list []*node
	var block func(b *Block)
	var parts func(ps []part)
	parts = func(ps []part) {
		for _, p := range ps {
			switch p := p.(type) {
			case *Element:
				parts(p.parts)
				continue
			case *usePart:
				list = append(list, instanceNodes(p.inst)...)
			}
			for _, b := range p.blocks() {
				block(b)
			}
		}
	}
	block = func(b *Block) {
		list = append(list, b.nodes...)
		for i := range b.locals {
			list = append(list, &b.locals[i])
		}
		parts(b.parts)
	}
	if e.root != nil {
		list = append(list, instanceNodes(e.root)...)
		block(e.root.body)
	}
	for _, o := range e.openings {
		list = append(list, o.use.block.nodes...)
		parts([]part{o.use})
	}
	return list
}

// instanceNodes are the nodes of an instance and of the contexts it supplies.
func instanceNodes(i *Instance) []*node {
	list := append([]*node(nil), i.nodes...)
	for at := range i.values {
		list = append(list, &i.values[at])
	}
	for _, c := range i.contexts {
		list = append(list, instanceNodes(c)...)
	}
	return list
}

// judge works everything out from scratch, and says what the turns before
// left stale or forgot to let go of.
func judge(e *Engine) error {
	e.end()
	nodes := nodesOf(e)
	known := map[*node]bool{}
	for _, n := range nodes {
		known[n] = true
	}
	for _, n := range nodes {
		for _, s := range n.subs {
			if !known[s.to] && !e.keeps { // what is kept to be put back reads on
				return fmt.Errorf("%s is still read by something that is gone", n.label)
			}
		}
		if n.busy {
			return fmt.Errorf("%s is still being worked out", n.label)
		}
	}
	before := snapshot(e)
	for _, n := range nodes {
		if n.code != nil {
			n.state = clean
			e.mark(n, dirty)
		}
	}
	e.refreshAll()
	e.end()
	if after := snapshot(e); after != before {
		return fmt.Errorf("the page was\n%s\nbut from scratch it is\n%s", before, after)
	}
	return nil
}
