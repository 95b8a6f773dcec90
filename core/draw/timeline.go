package draw

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/finding"
	"lien/core/picture"
	"lien/core/story"
	"lien/core/value"
)

// Scenario draws one scenario in time, from the top down: a column for every
// instance that something happens in, a band for every step.
func Scenario(d *design.Design, s *design.Scenario) []*picture.Picture {
	steps, res := story.Trace(d, s)
	t := &timeline{d: d, name: s.Name}
	if all := len(steps); all > mostSteps {
		steps = steps[:mostSteps]
		t.name = fmt.Sprintf("%s (the first %d of %d steps)", s.Name, mostSteps, all)
	}
	t.findLanes(steps)
	t.page()
	for _, st := range steps {
		t.step(st)
	}
	if res.Failure != nil {
		t.failed(res.Failure)
	}
	t.finish()
	for i, p := range t.pages {
		if len(t.pages) > 1 {
			p.Title = fmt.Sprintf("%s, sheet %d of %d", t.title(), i+1, len(t.pages))
		}
	}
	return t.pages
}

const (
	mostSteps  = 1000 // that are drawn
	laneWide   = 190.0
	laneNarrow = 130.0
	gutter     = 210.0 // of the column of users, time and the world
	line       = 18.0
	band       = 22.0
	mostLanes  = 9
	pageEnd    = 960.0
)

// timeline is a scenario being drawn.
type timeline struct {
	d     *design.Design
	name  string
	paths []string // of the lanes, from left to right
	width float64  // of a lane
	pages []*picture.Picture
	p     *picture.Picture
	y     float64
	top   float64 // where the lanes begin
	began map[string]float64
	words []string // what the page shows, in words
	short bool     // lanes are components rather than instances
}

// findLanes finds the instances that anything happens in.
func (t *timeline) findLanes(steps []story.Traced) {
	seen := func(path string) {
		if path = t.key(path); path != "" && !slices.Contains(t.paths, path) {
			t.paths = append(t.paths, path)
		}
	}
	visit := func() {
		t.paths = nil
		for _, st := range steps {
			for _, r := range st.Turns {
				if r.Target != nil {
					seen(r.Target.Instance().Path())
				}
				for i := range r.Entries {
					if told(&r.Entries[i]) {
						seen(r.Entries[i].Path())
						if r.Entries[i].Kind == engine.Reported {
							seen(above(r.Entries[i].Path()))
						}
					}
				}
			}
		}
	}
	if visit(); len(t.paths) > mostLanes {
		t.short = true
		visit()
	}
	slices.SortStableFunc(t.paths, func(a, b string) int { return strings.Count(a, " > ") - strings.Count(b, " > ") })
	t.width = laneWide
	if len(t.paths) > 6 {
		t.width = laneNarrow
	}
}

// key is the lane of an instance.
func (t *timeline) key(path string) string {
	if !t.short || path == "" {
		return path
	}
	name, _, _ := strings.Cut(last(path), "[")
	return name
}

// told says whether an entry is worth a line: names of elements are not.
func told(en *engine.Entry) bool {
	return en.Path() != "" && (en.Kind != engine.Changed || !isHandle(en.Was) && !isHandle(en.Is))
}

func isHandle(v value.Value) bool {
	return v != nil && v.Kind() == value.InstanceKind
}

// above is the path of the one who uses an instance.
func above(path string) string {
	if i := strings.LastIndex(path, " > "); i >= 0 {
		return path[:i]
	}
	return ""
}

func last(path string) string { return path[strings.LastIndex(path, " > ")+1:] }

// x is where the life line of an instance stands; the gutter has none.
func (t *timeline) x(path string) float64 {
	return margin + gutter + t.width*float64(max(0, slices.Index(t.paths, t.key(path)))) + 12
}

func (t *timeline) title() string { return "Scenario " + value.Show(value.String(t.name)) }

// page begins a page, with the names of the lanes.
func (t *timeline) page() {
	t.finish()
	width := max(margin+gutter+t.width*float64(len(t.paths))+margin+60, 560)
	t.p = &picture.Picture{Width: width, Title: t.title()}
	t.pages = append(t.pages, t.p)
	t.began, t.words = map[string]float64{}, nil
	t.text(margin, margin+16, 18, true, picture.Ink, t.title(), width-2*margin)
	t.text(margin, margin+34, textSize, false, picture.Soft, "From the top down: what was done, and what it led to in whom.", width-2*margin)
	t.top = margin + 50
	t.text(margin, t.top+22, textSize, true, picture.Soft, "user, time, world", gutter-20)
	for _, p := range t.paths {
		x := t.x(p) - 8
		box := &picture.Box{X: x, Y: t.top, W: t.width - 12, H: 34, Round: 5, Fill: picture.Head, Stroke: picture.Edge, Width: 1, Solid: true}
		t.add(&picture.Group{Title: p, Marks: []picture.Mark{box,
			picture.NewText(x+8, t.top+15, textSize, true, picture.Ink, strings.TrimSpace(strings.TrimPrefix(last(p), "> ")), t.width-28),
			picture.NewText(x+8, t.top+28, wordSize, false, picture.Soft, underneath(p), t.width-28)}})
		t.began[p] = t.top + 34
	}
	t.y = t.top + 34 + 12
}

func underneath(path string) string {
	if a := above(path); a != "" {
		return "in " + strings.TrimPrefix(last(a), "> ")
	}
	return ""
}

func (t *timeline) add(m picture.Mark) { t.p.Marks = append(t.p.Marks, m) }

func (t *timeline) text(x, y, size float64, bold bool, fill picture.Role, s string, width float64) {
	t.add(picture.NewText(x, y, size, bold, fill, s, width))
}

// finish ends a page: with the life lines under all else, and its height.
func (t *timeline) finish() {
	if t.p == nil {
		return
	}
	var lives []picture.Mark
	for _, p := range t.paths {
		x := t.x(p)
		lives = append(lives, &picture.Line{Points: []picture.Point{{X: x, Y: t.began[p]}, {X: x, Y: t.y}}, Stroke: picture.Faint, Width: 1, Dash: []float64{2, 3}})
	}
	t.p.Marks = append(lives, t.p.Marks...)
	t.p.Height = t.y + margin
	t.p.Desc = strings.Join(t.words, ". ")
}

// need begins another page where height is not left on this one.
func (t *timeline) need(height float64) {
	if t.y+height > pageEnd {
		t.page()
	}
}

// step draws a step with its turns.
func (t *timeline) step(st story.Traced) {
	text, checks := "start", false
	at := ""
	if st.Step != nil {
		text = t.d.Text(st.Step.Span())
		at = fmt.Sprint(t.d.Set.Position(st.Step.Span().Start).Line)
		checks = st.Step.Looks()
	}
	t.need(band + 3*line)
	t.words = append(t.words, text)
	width := t.p.Width - 2*margin
	if checks {
		t.text(margin+8, t.y+13, 11, false, picture.Soft, "· "+firstLine(text), width-16)
		t.y += line
		return
	}
	t.y += 6
	t.add(&picture.Box{X: margin, Y: t.y, W: width, H: band - 2, Round: 4, Fill: picture.Head})
	t.text(margin+8, t.y+14, textSize, true, picture.Ink, firstLine(text), width-80)
	if at != "" {
		t.text(margin+width-56, t.y+14, wordSize, false, picture.Soft, "line "+at, 50)
	}
	t.y += band + 2
	for _, r := range story.Fold(st.Turns) {
		t.turn(r, st.Step == nil)
	}
}

// turn draws what one turn did.
func (t *timeline) turn(r story.Turn, mounting bool) {
	if len(r.Entries) == 0 && r.Failure == nil && !mounting && r.Refreshed == 0 {
		return // an event that nothing hears
	}
	cause := r.Head()
	t.need(2 * line)
	if r.Target != nil {
		t.arrow(margin+8, t.x(r.Target.Instance().Path()), cause, downKind, picture.Ink, gutter-20)
	} else {
		t.text(margin+8, t.y+13, textSize, false, picture.Ink, cause, gutter-20)
		t.y += line
	}
	for i := range r.Entries {
		if en := &r.Entries[i]; told(en) {
			t.entry(en)
		}
	}
	if r.Failure != nil {
		t.text(margin+8, t.y+13, textSize, true, picture.Message, "the turn fails: "+r.Failure.Message, t.p.Width-2*margin-16)
		t.y += line
	}
	note := fmt.Sprintf("%d of %s shown anew", r.Refreshed, finding.Count(r.Pieces, "piece"))
	if mounting {
		note = finding.Count(r.Pieces, "piece") + " mounted"
	}
	t.text(margin+8, t.y+12, wordSize, false, picture.Soft, note, gutter-20)
	t.y += line
}

// arrow draws an arrow between two life lines, and what it stands for above it.
func (t *timeline) arrow(from, to float64, text string, k kind, ink picture.Role, width float64) {
	t.backed(from+8, t.y+12, false, ink, text, width)
	y := t.y + 19
	lk := looks[k]
	l := &picture.Line{Points: []picture.Point{{X: from, Y: y}, {X: to, Y: y}}, Stroke: lk.role, Width: lk.width, Dash: lk.dash, Start: lk.start, End: lk.end}
	t.add(&picture.Group{Title: text, Marks: []picture.Mark{l}})
	t.y += line + 8
}

// entry draws one thing that happened.
func (t *timeline) entry(en *engine.Entry) {
	t.need(2 * line)
	x := t.x(en.Path())
	width := min(t.p.Width-margin-x-16, 440)
	t.words = append(t.words, fmt.Sprintf("%s %s %s", en.Path(), en.Kind, en.What))
	switch en.Kind {
	case engine.Reported:
		text := en.What + value.BriefArgs(en.Args, 30)
		if to := above(en.Path()); to != "" && en.Heard > 0 {
			t.arrow(x, t.x(to), text, upKind, picture.Up, width)
		} else if to == "" {
			t.arrow(x, margin+8, text, upKind, picture.Up, width)
		} else {
			t.mark(x, text+": nobody listens", picture.Message, width)
		}
	case engine.Changed:
		for i, d := range value.Differences(en.Was, en.Is, 4) {
			if i == 3 {
				t.change(x, en.What+": and more", width)
				break
			}
			t.change(x, en.What+d.Path+" = "+partText(d.Is), width)
		}
	case engine.SentTo:
		t.mark(x, "send "+en.What+value.BriefArgs(en.Args, 30), picture.Message, width)
	case engine.Followed, engine.Mounts, engine.Unmounts:
		t.mark(x, map[engine.EntryKind]string{engine.Followed: "follows " + en.What, engine.Mounts: "on mount", engine.Unmounts: "on unmount"}[en.Kind], picture.Soft, width)
	case engine.Acted:
		t.mark(x, en.What+value.BriefArgs(en.Args, 30), picture.Ink, width)
	case engine.Opens, engine.Leaves, engine.Logged:
		t.mark(x, string(en.Kind)+" "+en.What, picture.Call, width)
	default:
		t.mark(x, string(en.Kind)+" "+en.What+value.BriefArgs(en.Args, 30), picture.Call, width)
	}
}

// mark draws a dot on a life line with a text beside it.
func (t *timeline) mark(x float64, text string, ink picture.Role, width float64) {
	t.add(&picture.Box{X: x - 2.5, Y: t.y + 6, W: 5, H: 5, Round: 2.5, Fill: ink})
	t.backed(x+8, t.y+13, false, ink, text, width)
	t.y += line
}

// backed writes a text over the life lines that it meets.
func (t *timeline) backed(x, y float64, bold bool, ink picture.Role, text string, width float64) {
	s := picture.NewText(x, y, textSize, bold, ink, text, width)
	t.add(&picture.Box{X: x - 2, Y: y - 11, W: picture.Width(s.Text, textSize, bold) + 4, H: 14, Fill: picture.Ground})
	t.add(s)
}

// change draws a cell's new value.
func (t *timeline) change(x float64, text string, width float64) {
	s := picture.NewText(x+8, t.y+13, textSize, true, picture.Hold, text, width)
	t.add(&picture.Box{X: x - 3, Y: t.y + 1, W: picture.Width(s.Text, textSize, true) + 18, H: line - 2, Round: 3, Fill: picture.HoldGround, Solid: true})
	t.add(&picture.Box{X: x - 3, Y: t.y + 1, W: 4, H: line - 2, Fill: picture.Hold})
	t.add(s)
	t.y += line
}

func partText(v value.Value) string {
	if v == nil {
		return "gone"
	}
	return value.Brief(v, 60)
}

// failed draws how the scenario ended.
func (t *timeline) failed(f *story.Failure) {
	t.need(2 * line)
	t.text(margin+8, t.y+14, textSize, true, picture.Message, f.Message, t.p.Width-2*margin-16)
	t.y += line
}
