package cli

import (
	"context"
	"slices"
	"strings"

	"github.com/urfave/cli/v3"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/links"
	"lien/core/source"
)

func mapCommand(t *terminal) *cli.Command {
	return &cli.Command{
		Name:      "map",
		Usage:     "who holds, shows and changes each cell, and how does it travel?",
		ArgsUsage: "[DESIGN]",
		Flags: []cli.Flag{
			formatFlag("text", "json"),
			&cli.StringFlag{Name: "of", Usage: "only `NAME`: a component, or a cell (wares, or kiln-room.wares) with every place on its way"},
		},
		Description: `For every cell: its holder, what shows it, what else asks for it (handlers, what follows
it, services, first values) and what changes it. A sign tells how the value gets there: ↓ linked
down to a child, ↑ reported up to a parent, ↕ tied to a child's own, ◦ through a
context, ▫ handed out by a slot, ≈ sent over a channel, · a call on the way.

Example, on the demo:
  lien demo --to kiln
  lien map kiln
  lien map kiln --of kiln-room.wares`,
		Action: func(_ context.Context, c *cli.Command) error { return runMap(t, c) },
	}
}

func runMap(t *terminal, c *cli.Command) error {
	if err := t.setColor(c); err != nil {
		return err
	}
	d, err := loadRunnable(t, c)
	if err != nil {
		return err
	}
	g := links.Of(d)
	cells, detail, err := pick(d, g, c.String("of"))
	if err != nil {
		return err
	}
	if c.String("format") == "json" {
		return t.json(mapJSON(d, g, cells))
	}
	t.mapText(d, g, cells, detail)
	if c.String("of") == "" {
		t.constants(d, g)
	}
	return nil
}

// pick chooses the cells that a name speaks of: all, a component's, those of
// one name, or the one of a component; and tells whether it speaks of cells.
func pick(d *design.Design, g *links.Graph, name string) ([]*design.Member, bool, error) {
	all := g.Cells()
	if name == "" { // one that is always tied is a cell of who ties it
		return slices.DeleteFunc(all, g.Tied), false, nil
	}
	var list []*design.Member
	var names, labels []string
	for _, m := range all {
		full := m.Owner.Name + "." + m.Label
		names, labels = append(names, full), append(labels, m.Label)
		if name == full || name == m.Owner.Name || name == m.Label {
			list = append(list, m)
		}
	}
	if len(list) == 0 && d.Component(name) == nil {
		for _, c := range d.Components {
			names = append(names, c.Name)
		}
		if near := finding.Nearest(name, labels); near != "" {
			return nil, false, usagef("did you mean "+near+"?", "there is no cell or component %s", name)
		}
		return nil, false, usagef(didYouMean(name, names, "the cells and components are: "), "there is no cell or component %s", name)
	}
	return list, d.Component(name) == nil, nil
}

func (t *terminal) mapText(d *design.Design, g *links.Graph, cells []*design.Member, detail bool) {
	if len(cells) == 0 {
		t.printf("no cell is held here\n")
	}
	for i, m := range cells {
		if i > 0 {
			t.printf("\n")
		}
		j := g.Journey(m)
		t.printf("%s %s %s\n", t.paint(bold, m.Owner.Name), m.Kind, t.heading(d, m))
		t.paths(d, "shown", j.Shown, detail)
		if len(j.Asked) > 0 {
			t.paths(d, "asked", j.Asked, detail)
		}
		t.paths(d, "changed", j.Changed, detail)
		if detail {
			if n := j.PassedOnBy(); len(n) > 0 {
				t.printf("  %s  %s\n", pad("passed", 7), "on by "+strings.Join(n, ", ")+", which neither shows nor changes it")
			}
		}
	}
}

// constants tells where the constants of a design get to.
func (t *terminal) constants(d *design.Design, g *links.Graph) {
	for _, c := range d.Consts {
		if len(g.Consts[c]) == 0 {
			continue
		}
		t.printf("\n%s %s: %s  %s\n", t.paint(bold, "const"), c.Label, c.Type(), t.paint(dim, short(d, c.Syntax.Name.Span())))
		t.paths(d, "shown", constPaths(g, c), false)
	}
}

func constPaths(g *links.Graph, c *design.Const) (list []*links.Path) {
	for _, s := range g.Consts[c] {
		list = append(list, &links.Path{Component: s.Component, What: s.What, At: s.At})
	}
	return list
}

// heading is a cell's declaration and where it stands.
func (t *terminal) heading(d *design.Design, m *design.Member) string {
	text := m.Label + ": " + m.Type().String()
	if m.Aside {
		text = "aside " + text
	}
	return text + "  " + t.paint(dim, short(d, m.At))
}

func short(d *design.Design, at source.Span) string {
	p := d.Set.Position(at.Start)
	p.Column = 0
	return strings.TrimSuffix(p.String(), ":0")
}

// group is the paths that end in one component by the same hops.
type group struct {
	component string
	hops      []links.Hop
	whats     []string
	at        source.Span
}

// grouped joins paths that differ only in what is at their end.
func grouped(d *design.Design, paths []*links.Path, detail bool) []group {
	var list []group
	for _, p := range paths {
		what := p.What
		if detail {
			what += " (" + short(d, p.At) + ")"
		}
		if n := len(list) - 1; n >= 0 && list[n].component == p.Component.Name && sameHops(list[n].hops, p.Hops, detail) {
			if !contains(list[n].whats, what) {
				list[n].whats = append(list[n].whats, what)
			}
			continue
		}
		list = append(list, group{p.Component.Name, p.Hops, []string{what}, p.At})
	}
	return list
}

func contains(list []string, s string) bool {
	for _, x := range list {
		if x == s {
			return true
		}
	}
	return false
}

// sameHops says whether two ways read alike; in detail, whether they go by the same places.
func sameHops(a, b []links.Hop, detail bool) bool {
	return slices.EqualFunc(a, b, func(x, y links.Hop) bool {
		if !detail {
			x.At, y.At = source.Span{}, source.Span{}
		}
		return x == y
	})
}

var arrows = map[string]string{"down": "↓", "up": "↑", "tie": "↕", "context": "◦", "call": "·", "slot": "▫", "send": "≈"}

func (t *terminal) paths(d *design.Design, label string, paths []*links.Path, detail bool) {
	if len(paths) == 0 {
		t.printf("  %s  %s\n", pad(label, 7), t.paint(dim, "nowhere"))
		return
	}
	width := 0
	for _, g := range grouped(d, paths, detail) {
		width = max(width, len(g.component))
	}
	for _, g := range grouped(d, paths, detail) {
		indent := strings.Repeat(" ", 11+width+2)
		for i, line := range wrap(strings.Join(g.whats, ", "), max(24, t.width()-len(indent))) {
			if i == 0 {
				t.printf("  %s  %s  %s\n", pad(label, 7), pad(g.component, width), line)
				continue
			}
			t.printf("%s%s\n", indent, line)
		}
		label = ""
		for _, h := range g.hops {
			where := ""
			if detail {
				where = "  " + t.paint(dim, short(d, h.At))
			}
			text := h.Text
			if h.Kind == "up" {
				name, _, _ := strings.Cut(h.To, ".")
				text = name + " " + text
			}
			t.printf("%s%s %s%s\n", indent, t.paint(blue, arrows[h.Kind]), cut(text, t.width()-len(indent)-2), where)
		}
	}
}

type pathJSON struct {
	Component string    `json:"component"`
	What      string    `json:"what"`
	At        spanJSON  `json:"at"`
	Hops      []hopJSON `json:"hops"`
}

type hopJSON struct {
	Kind string   `json:"kind"`
	Text string   `json:"text"`
	To   string   `json:"to"`
	At   spanJSON `json:"at"`
}

type cellJSON struct {
	Holder  string     `json:"holder"`
	Cell    string     `json:"cell"`
	Type    string     `json:"type"`
	Aside   bool       `json:"aside"`
	At      spanJSON   `json:"at"`
	Shown   []pathJSON `json:"shown"`
	Asked   []pathJSON `json:"asked"`
	Changed []pathJSON `json:"changed"`
}

func mapJSON(d *design.Design, g *links.Graph, cells []*design.Member) any {
	out := []cellJSON{}
	for _, m := range cells {
		j := g.Journey(m)
		out = append(out, cellJSON{m.Owner.Name, m.Label, m.Type().String(), m.Aside, spanOf(d, m.At), pathsJSON(d, j.Shown), pathsJSON(d, j.Asked), pathsJSON(d, j.Changed)})
	}
	type constJSON struct {
		Name  string     `json:"name"`
		Type  string     `json:"type"`
		Shown []pathJSON `json:"shown"`
	}
	consts := []constJSON{}
	for _, c := range d.Consts {
		consts = append(consts, constJSON{c.Label, c.Type().String(), pathsJSON(d, constPaths(g, c))})
	}
	return map[string]any{"cells": out, "constants": consts}
}

func pathsJSON(d *design.Design, paths []*links.Path) []pathJSON {
	out := []pathJSON{}
	for _, p := range paths {
		hops := []hopJSON{}
		for _, h := range p.Hops {
			hops = append(hops, hopJSON{h.Kind, h.Text, h.To, spanOf(d, h.At)})
		}
		out = append(out, pathJSON{p.Component.Name, p.What, spanOf(d, p.At), hops})
	}
	return out
}
