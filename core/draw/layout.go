package draw

import (
	"cmp"
	"math"
	"slices"

	"lien/core/picture"
)

// The layout goes from left to right. Cards stand in columns; between two
// columns lies a channel in which lines go up and down. A line that goes past
// a column has a lane of its own there, so that it runs through no card.

// layout is a plan being laid out.
type layout struct {
	*plan
	columns  [][]*item // by column, from top to bottom
	widths   []float64
	lefts    []float64
	channels [][]*run // by channel, the one to the right of each column
	tracks   []int    // by channel: how many lines stand beside each other
	nets     []*net
	top      float64
	bottom   float64
}

// middle is the height of the line in a lane: between those of all rows.
func (it *item) middle() float64 { return it.y + lane/2 }

// item is what stands in a column: a card, or the lane of a net.
type item struct {
	card *card
	net  *net
	order,
	y float64
	column int
}

func (it *item) height() float64 {
	if it.card != nil {
		return it.card.height() + grid
	}
	return lane
}

// net is the wires of one kind that meet at one end: the one further to the left.
type net struct {
	kind  kind
	root  end
	out   bool // they lead away from the root
	faint bool
	far   []end
	lanes map[int]*item // by column
	text  []string
}

// run is a net in one channel: where it comes in, and where it goes on.
type run struct {
	net     *net
	in      picture.Point
	outs    []exit
	low, up float64 // the span of its upright part
	track   int
}

// exit is where a net leaves a channel.
type exit struct {
	picture.Point
	far   bool // at a card, rather than into a lane
	right bool // to the right
}

// arrange lays a plan out.
func (p *plan) arrange() *layout {
	l := &layout{plan: p}
	p.wrap()
	l.nest()
	last := 0
	for _, c := range p.cards {
		last = max(last, c.column)
	}
	l.columns = make([][]*item, last+1)
	for _, c := range p.cards {
		l.columns[c.column] = append(l.columns[c.column], &item{card: c, order: c.order, column: c.column})
	}
	for _, list := range l.columns {
		slices.SortStableFunc(list, func(a, b *item) int { return cmp.Compare(a.order, b.order) })
	}
	l.lay()
	for k, list := range l.columns {
		slices.SortStableFunc(list, func(a, b *item) int { return cmp.Compare(a.order, b.order) })
		l.widths = append(l.widths, narrow)
		for _, it := range list {
			if it.card != nil {
				l.widths[k] = max(l.widths[k], it.card.fit())
			}
		}
	}
	l.stack()
	l.route()
	return l
}

// nest joins wires into nets.
func (l *layout) nest() {
	type key struct {
		kind  kind
		root  end
		out   bool
		faint bool
	}
	nets := map[key]*net{}
	for _, w := range l.wires {
		root, far, out := w.from, w.to, true
		if far.card.column < root.card.column || far.card.column == root.card.column && (w.kind == upKind || w.kind == gatherKind) {
			root, far, out = far, root, false
		}
		k := key{w.kind, root, out, w.faint}
		n := nets[k]
		if n == nil {
			n = &net{kind: w.kind, root: root, out: out, faint: w.faint, lanes: map[int]*item{}}
			nets[k] = n
			l.nets = append(l.nets, n)
		}
		n.far = append(n.far, far)
		if w.text != "" && !slices.Contains(n.text, w.text) {
			n.text = append(n.text, w.text)
		}
	}
}

// wrap moves cards on to the next column where theirs is full, so that a
// component with many parts does not make the picture tall.
func (p *plan) wrap() {
	for k, full := 0, true; full; k++ {
		var list []*card
		full = false
		for _, c := range p.cards {
			if c.column == k {
				list = append(list, c)
			}
			full = full || c.column > k
		}
		slices.SortStableFunc(list, func(a, b *card) int { return cmp.Compare(a.order, b.order) })
		y := 0.0
		for i, c := range list {
			y += c.height() + grid
			if y > p.tall && i > 0 && !c.double {
				p.push(list[i:], k+1)
				full = true
				break
			}
		}
	}
}

// push moves cards to a column, and what is linked from them further on.
func (p *plan) push(list []*card, column int) {
	for _, c := range list {
		if c.column >= column {
			continue
		}
		was := c.column
		c.column = column
		var next []*card
		for _, w := range p.wires {
			for _, pair := range [][2]*card{{w.from.card, w.to.card}, {w.to.card, w.from.card}} {
				if pair[0] == c && pair[1] != c && pair[1].column > was && pair[1].column <= column {
					next = append(next, pair[1])
				}
			}
		}
		p.push(next, column+1)
	}
}

// lay gives every net a lane in each column that it goes past, in the gap
// between two cards that is nearest to where it comes from.
func (l *layout) lay() {
	tops := make([][]float64, len(l.columns))
	cards := make([][]*item, len(l.columns))
	for k, list := range l.columns {
		cards[k] = list[:len(list):len(list)]
		y := l.top
		for _, it := range list {
			it.card.y = y
			tops[k] = append(tops[k], y)
			y += it.height()
		}
	}
	for i, n := range l.nets {
		from := n.root.y()
		for k := n.root.card.column + 1; k < n.last(); k++ {
			order, best := math.Inf(1), math.Inf(1)
			for j, it := range cards[k] {
				if d := math.Abs(tops[k][j] - from); d < best {
					order, best = it.order-0.5, d
				}
			}
			if last := len(cards[k]) - 1; last >= 0 && math.Abs(tops[k][last]+cards[k][last].height()-from) < best {
				order = cards[k][last].order + 0.5
			}
			it := &item{net: n, order: order + float64(i)*1e-6, column: k}
			n.lanes[k] = it
			l.columns[k] = append(l.columns[k], it)
		}
	}
}

func (n *net) last() int {
	k := 0
	for _, f := range n.far {
		k = max(k, f.card.column)
	}
	return k
}

// stack gives everything its height: near what it is linked to on the left, as
// far as the column has room.
func (l *layout) stack() {
	l.top = margin + grid*float64(2+max(1, len(l.lines)))
	l.bottom = l.top
	tallest := 0.0
	for k := range l.columns {
		tallest = max(tallest, l.rest(k, 0))
	}
	for k, list := range l.columns {
		top := l.top + grid/2*float64(k%2)
		y := top
		for i, it := range list {
			it.y = max(y, min(l.wish(it), top+tallest-l.rest(k, i)))
			if it.card != nil {
				it.y = top + math.Ceil((it.y-top)/grid-0.01)*grid
				it.card.y = it.y
			} else {
				it.y = top + math.Ceil((it.y-top)/lane-0.01)*lane
			}
			y = it.y + it.height()
			l.bottom = max(l.bottom, y)
		}
	}
}

// rest is the height that a column needs from its i-th item on.
func (l *layout) rest(k, i int) float64 {
	sum := 0.0
	for _, it := range l.columns[k][i:] {
		sum += it.height()
	}
	return sum
}

// wish is where an item would stand best: so that the first line to it is straight.
func (l *layout) wish(it *item) float64 {
	best := math.Inf(1)
	for _, n := range l.nets {
		if it.net == n {
			best = min(best, n.entry(it.column)-lane/2)
		}
		for _, f := range n.far {
			if it.card != nil && f.card == it.card && n.root.card.column < it.column {
				best = min(best, n.entry(it.column)-f.offset())
			}
		}
	}
	if math.IsInf(best, 1) {
		return 0
	}
	return best
}

// entry is the height at which a net comes to a column.
func (n *net) entry(k int) float64 {
	if lane := n.lanes[k-1]; lane != nil {
		return lane.middle()
	}
	return n.root.y() + n.kind.shift()
}

// offset is how far below the top of its card an end lies.
func (e end) offset() float64 {
	for i, r := range e.card.rows {
		if r == e.row {
			return header + grid*float64(i) + grid/2
		}
	}
	return grid / 2
}

func (e end) y() float64 { return e.card.y + e.offset() }

// shift keeps wires of different kinds at one row apart.
func (k kind) shift() float64 {
	switch k {
	case upKind, gatherKind:
		return 3
	case tieKind, messageKind, opensKind:
		return -3
	}
	return 0
}

// route finds the way of every net through the channels.
func (l *layout) route() {
	l.channels = make([][]*run, len(l.columns))
	for _, n := range l.nets {
		for k := n.root.card.column; k == n.root.card.column || k < n.last(); k++ {
			l.channels[k] = append(l.channels[k], l.through(n, k))
		}
	}
	x := margin
	for k, runs := range l.channels {
		l.lefts = append(l.lefts, x)
		for _, it := range l.columns[k] {
			if it.card != nil {
				it.card.x, it.card.w = x, l.widths[k]
			}
		}
		l.tracks = append(l.tracks, tracked(runs))
		x += l.widths[k]
		if l.tracks[k] > 0 || k < len(l.channels)-1 {
			x += 2*lead + spacing*float64(max(0, l.tracks[k]-1))
		}
	}
	l.lefts = append(l.lefts, x)
}

// through is a net's run through one channel; its x are found later.
func (l *layout) through(n *net, k int) *run {
	s := n.kind.shift()
	r := &run{net: n, in: picture.Point{Y: n.entry(k + 1)}}
	for _, f := range n.far {
		switch {
		case f.card.column == k && n.root.card.column == k:
			r.outs = append(r.outs, exit{picture.Point{Y: f.y() + s}, true, false})
		case f.card.column == k+1:
			r.outs = append(r.outs, exit{picture.Point{Y: f.y() + s}, true, true})
		}
	}
	if lane := n.lanes[k+1]; lane != nil {
		r.outs = append(r.outs, exit{picture.Point{Y: lane.middle()}, false, true})
	}
	slices.SortStableFunc(r.outs, func(a, b exit) int { return cmp.Compare(a.Y, b.Y) })
	r.low, r.up = r.in.Y, r.in.Y
	for _, o := range r.outs {
		r.low, r.up = min(r.low, o.Y), max(r.up, o.Y)
	}
	return r
}

// tracked puts the upright parts of runs beside each other where they would
// touch, so that few lines cross, and gives how many stand side by side.
func tracked(runs []*run) int {
	order := slices.Clone(runs)
	slices.SortStableFunc(order, func(a, b *run) int {
		if a.falls() != b.falls() {
			return map[bool]int{true: -1, false: 1}[a.falls()]
		}
		if a.falls() {
			return cmp.Compare(b.in.Y, a.in.Y)
		}
		return cmp.Compare(a.in.Y, b.in.Y)
	})
	var tracks [][]*run
	for _, r := range order {
		if r.low == r.up && !r.back() {
			continue
		}
		r.track = slices.IndexFunc(tracks, func(t []*run) bool {
			return !slices.ContainsFunc(t, func(o *run) bool { return r.low < o.up+grid/2 && o.low < r.up+grid/2 })
		})
		if r.track < 0 {
			r.track = len(tracks)
			tracks = append(tracks, nil)
		}
		tracks[r.track] = append(tracks[r.track], r)
	}
	return len(tracks)
}

// falls says whether the net goes down more than up.
func (r *run) falls() bool { return r.up-r.in.Y > r.in.Y-r.low }

// back says whether the net goes back to the column that it comes from.
func (r *run) back() bool {
	return slices.ContainsFunc(r.outs, func(o exit) bool { return !o.right })
}

// size is the width and height of all that was laid out.
func (l *layout) size() (w, h float64) {
	n := len(l.columns) - 1
	right := l.lefts[n] + l.widths[n]
	if l.tracks[n] > 0 {
		right = l.lefts[n+1]
	}
	return right + margin, l.bottom
}
