package draw

import (
	"slices"
	"strings"

	"lien/core/picture"
)

// picture paints what was laid out.
func (l *layout) picture() *picture.Picture {
	w, h := l.size()
	titleWidth := picture.Width(l.title, 18, true)
	for _, s := range l.lines {
		titleWidth = max(titleWidth, picture.Width(s, textSize, false))
	}
	w = max(w, min(titleWidth, 900)+2*margin, 480)
	p := &picture.Picture{Width: w, Title: l.title, Desc: strings.TrimSpace(l.desc + " " + l.describe())}
	p.Marks = append(p.Marks, picture.NewText(margin, margin+16, 18, true, picture.Ink, l.title, w-2*margin))
	for i, s := range l.lines {
		p.Marks = append(p.Marks, picture.NewText(margin, margin+36+16*float64(i), textSize, false, picture.Soft, s, w-2*margin))
	}
	for _, faint := range []bool{true, false} { // what matters lies above the rest
		for k, runs := range l.channels {
			for _, r := range runs {
				if r.net.faint == faint {
					p.Marks = append(p.Marks, l.group(r, k))
				}
			}
		}
	}
	for _, c := range l.cards {
		p.Marks = append(p.Marks, c.paint())
	}
	marks, below := l.legendMarks(h, w)
	p.Marks = append(p.Marks, marks...)
	p.Height = below + margin
	return p
}

// group is the lines of a run, with what they stand for.
func (l *layout) group(r *run, k int) *picture.Group {
	n := r.net
	g := &picture.Group{Title: strings.Join(append([]string{l.nameOf(n.kind)}, n.text...), " · ")}
	x := l.lefts[k] + l.widths[k] + lead + spacing*float64(r.track)
	r.in.X = l.lefts[k]
	first := n.lanes[k] == nil
	if first {
		r.in.X += l.widths[k]
	}
	above, below := true, true
	for i, o := range r.outs { // from the top: the farthest brings the upright line
		if o.Y < r.in.Y {
			g.Marks = append(g.Marks, l.branch(r, k, x, o, above, first))
			above = false
		}
		o = r.outs[len(r.outs)-1-i]
		if o.Y > r.in.Y {
			g.Marks = append(g.Marks, l.branch(r, k, x, o, below, first))
			below = false
		}
	}
	for _, o := range r.outs {
		if o.Y == r.in.Y {
			g.Marks = append(g.Marks, l.branch(r, k, x, o, above && below, first))
		}
	}
	return g
}

// branch is the line to one exit: all the way from where the net comes in, or
// from the upright line that is there already.
func (l *layout) branch(r *run, k int, x float64, o exit, whole, first bool) *picture.Line {
	n := r.net
	lk := looks[n.kind]
	line := &picture.Line{Stroke: lk.role, Width: lk.width, Dash: lk.dash}
	if n.faint {
		line.Stroke, line.Width = picture.Faint, 1
	}
	o.X = l.lefts[k] + l.widths[k]
	if o.right {
		o.X = l.lefts[k+1]
	}
	turn := picture.Point{X: x, Y: o.Y}
	switch {
	case whole && o.Y == r.in.Y && o.right:
		line.Points = []picture.Point{r.in, o.Point}
	case whole:
		line.Points = []picture.Point{r.in, {X: x, Y: r.in.Y}, turn, o.Point}
	default:
		line.Points = []picture.Point{turn, o.Point}
	}
	start, end := lk.start, lk.end
	if !n.out {
		start, end = end, start
	}
	if whole && first {
		line.Start = start
	}
	if o.far {
		line.End = end
	}
	return line
}

// paint draws a card.
func (c *card) paint() *picture.Group {
	ink, soft, edge, width := picture.Ink, picture.Soft, picture.Edge, 1.0
	switch {
	case c.change != stays:
		edge, width = c.change.roleOf(), 2
	case c.faint || c.quiet:
		ink, soft, edge = picture.Edge, picture.Edge, picture.Faint
	case c.strong:
		edge, width = picture.Hold, 2
	}
	box := &picture.Box{X: c.x, Y: c.y, W: c.w, H: c.height(), Round: 6, Fill: picture.Card, Stroke: edge, Width: width, Solid: true}
	if c.dashed {
		box.Dash = []float64{4, 3}
	}
	g := &picture.Group{Marks: []picture.Mark{box}}
	head := &picture.Box{X: c.x + 1, Y: c.y + 1, W: c.w - 2, H: header - 3, Round: 5, Fill: picture.Head}
	if c.faint {
		head.Fill = picture.Ground
	}
	g.Marks = append(g.Marks, head)
	if c.double {
		g.Marks = append(g.Marks, &picture.Box{X: c.x + 3, Y: c.y + 3, W: c.w - 6, H: c.height() - 6, Round: 4, Stroke: edge, Width: 1, Dash: box.Dash})
	}
	g.Marks = append(g.Marks,
		picture.NewText(c.x+indent, c.y+17, nameSize, true, ink, c.name, c.w-2*indent),
		picture.NewText(c.x+indent, c.y+32, wordSize, false, soft, c.sub, c.w-2*indent))
	word := ""
	for i, r := range c.rows {
		y := c.y + header + grid*float64(i)
		g.Marks = append(g.Marks, c.paintRow(r, y, r.word != word)...)
		word = r.word
	}
	return g
}

func (c *card) paintRow(r *row, y float64, first bool) []picture.Mark {
	ink, soft := picture.Ink, picture.Soft
	if c.faint || r.faint || c.quiet {
		ink, soft = picture.Edge, picture.Edge
	}
	var marks []picture.Mark
	if r.cell {
		bar := &picture.Box{X: c.x + 4, Y: y + 1, W: c.w - 8, H: grid - 2, Round: 3, Fill: picture.HoldGround}
		ink, soft = picture.Hold, picture.Hold
		switch {
		case c.faint || r.faint:
			bar.Fill, bar.Stroke, bar.Width = picture.None, picture.Faint, 1
			ink, soft = picture.Edge, picture.Edge
		case r.tied:
			bar.Fill, bar.Stroke, bar.Width = picture.None, picture.Tie, 1
			ink, soft = picture.Tie, picture.Tie
		default:
			marks = append(marks, &picture.Box{X: c.x + 4, Y: y + 1, W: 4, H: grid - 2, Fill: picture.Hold})
		}
		marks = append([]picture.Mark{bar}, marks...)
	}
	if r.wrong {
		ink, soft = picture.Message, picture.Message
	}
	if first && !c.plain {
		marks = append(marks, picture.NewText(c.x+indent+2, y+14, wordSize, false, soft, r.word, words-6))
	}
	t := picture.NewText(c.x+indent+c.words(), y+14, textSize, r.cell, ink, r.text, c.w-2*indent-c.words())
	if r.whole != "" && t.Whole == "" {
		t.Whole = r.whole
	}
	return append(append(marks, t), c.paintChange(r, y)...)
}

// legendMarks explains what occurs, below y, and gives where it ends.
func (l *layout) legendMarks(y, width float64) ([]picture.Mark, float64) {
	type sample struct {
		text string
		draw func(x, y float64) picture.Mark
	}
	var samples []sample
	for _, s := range l.legend {
		if !l.holds() {
			break
		}
		samples = append(samples, sample{s, func(x, y float64) picture.Mark {
			return &picture.Group{Marks: []picture.Mark{
				&picture.Box{X: x, Y: y - 9, W: 34, H: 12, Round: 3, Fill: picture.HoldGround},
				&picture.Box{X: x, Y: y - 9, W: 4, H: 12, Fill: picture.Hold}}}
		}})
	}
	if l.ties() {
		samples = append(samples, sample{"a cell that another holds", func(x, y float64) picture.Mark {
			return &picture.Box{X: x, Y: y - 9, W: 34, H: 12, Round: 3, Stroke: picture.Tie, Width: 1}
		}})
	}
	for k := range kinds {
		lk := looks[k]
		if !l.occurs(k) {
			continue
		}
		samples = append(samples, sample{l.nameOf(k), func(x, y float64) picture.Mark {
			return &picture.Line{Points: []picture.Point{{X: x, Y: y - 4}, {X: x + 34, Y: y - 4}}, Stroke: lk.role, Width: lk.width, Dash: lk.dash, Start: lk.start, End: lk.end}
		}})
	}
	if len(samples) == 0 {
		return nil, y
	}
	var marks []picture.Mark
	x := margin
	y += 12
	for _, s := range samples {
		w := 40 + picture.Width(s.text, 11, false)
		if x+w > width-margin && x > margin {
			x, y = margin, y+18
		}
		marks = append(marks, s.draw(x, y), picture.NewText(x+40, y, 11, false, picture.Soft, s.text, width-2*margin-40))
		x += w + 22
	}
	return marks, y
}

// holds says whether any state is held on the sheet.
func (l *layout) holds() bool {
	return slices.ContainsFunc(l.cards, func(c *card) bool {
		return slices.ContainsFunc(c.rows, func(r *row) bool { return r.cell && !r.tied })
	})
}

// ties says whether a cell is shown that is tied to another's.
func (l *layout) ties() bool {
	return slices.ContainsFunc(l.cards, func(c *card) bool {
		return !c.faint && slices.ContainsFunc(c.rows, func(r *row) bool { return r.tied && !r.faint })
	})
}

// nameOf is what the legend calls wires of a kind.
func (p *plan) nameOf(k kind) string {
	if name := p.names[k]; name != "" {
		return name
	}
	return looks[k].legend
}

func (l *layout) occurs(k kind) bool {
	for _, n := range l.nets {
		if n.kind == k && !n.faint {
			return true
		}
	}
	return false
}
