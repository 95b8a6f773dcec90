package cli

import (
	"fmt"
	"strings"

	"github.com/mattn/go-runewidth"

	"lien/core/engine"
	"lien/core/play"
	"lien/core/source"
	"lien/core/story"
	"lien/core/value"
)

// body is how many lines lie between the head and the foot.
func (m *tryModel) body() int { return max(3, m.height-3) }

// screen is all that is seen: the page to the left, what it comes from to the right.
func (m *tryModel) screen() string {
	if m.width < 40 || m.height < 8 {
		return fit("too small: lien try needs 40 x 8", m.width)
	}
	left := m.width*11/20 - 1
	right := m.width - left - 3
	page, side := m.page(left), m.beside(right)
	var b strings.Builder
	b.WriteString(m.t.reverse(fit(m.head(), m.width)) + "\n")
	for i := range m.body() {
		var l, r string
		if i < len(page) {
			l = page[i]
		}
		if i < len(side) {
			r = side[i]
		}
		b.WriteString(l + strings.Repeat(" ", max(0, left-shownWidth(l))) + m.t.paint(dim, " │ ") + r + "\n")
	}
	b.WriteString(fit(m.foot(), m.width) + "\n")
	b.WriteString(m.t.paint(dim, fit("Tab move  Enter press  t time  a answer  f fail  u undo  r redo  v view  ? more", m.width)))
	return b.String()
}

func (t *terminal) reverse(s string) string { return t.paint(inverse, s) }

// fit makes a text exactly as wide as there is room.
func fit(s string, width int) string {
	s = strings.Map(func(r rune) rune {
		if r < ' ' {
			return ' '
		}
		return r
	}, source.Visible(s))
	if runewidth.StringWidth(s) > width {
		s = runewidth.Truncate(s, width, "…")
	}
	return runewidth.FillRight(s, width)
}

// shownWidth is the width of a text without its styles.
func shownWidth(s string) int { return runewidth.StringWidth(unstyled.Replace(s)) }

func (m *tryModel) head() string {
	all, done := m.session.Acts()
	s := fmt.Sprintf(" %s   step %d", m.session.Start.Root.Name, done)
	if len(all) > done {
		s += fmt.Sprintf(" of %d", len(all))
	}
	return s + "   " + clock(m.session.Engine().Now())
}

// clock writes simulated time.
func clock(ms float64) string {
	sec := int(ms / 1000)
	return fmt.Sprintf("%d:%02d.%03d", sec/60, sec%60, int(ms)%1000)
}

func (m *tryModel) foot() string {
	switch {
	case m.ask == nil:
		return m.said
	case m.ask.options != nil:
		return fmt.Sprintf("%s: ‹ %s ›", m.ask.what, m.ask.options[m.ask.at])
	}
	return m.ask.what + ": " + string(m.ask.text) + "▏"
}

// page is the part of the page around the chosen line.
func (m *tryModel) page(width int) []string {
	n := m.body()
	if m.cursor < m.top {
		m.top = max(0, m.cursor)
	}
	if m.cursor >= m.top+n {
		m.top = m.cursor - n + 1
	}
	m.top = max(0, min(m.top, len(m.lines)-n))
	var out []string
	for i := m.top; i < len(m.lines) && len(out) < n; i++ {
		l := m.lines[i]
		mark := "  "
		if i == m.cursor {
			mark = "› "
		}
		text := fit(mark+strings.Repeat("  ", l.Indent)+strings.Replace(l.Text, "paragraph containing ", "", 1), width)
		switch {
		case i == m.cursor:
			text = m.t.reverse(text)
		case !m.operable(i):
			text = m.t.paint(dim, text)
		}
		out = append(out, text)
	}
	if len(m.lines) == 0 {
		out = append(out, fit("  the page is empty", width))
	}
	return out
}

// beside is what stands beside the page.
func (m *tryModel) beside(width int) []string {
	n := m.body()
	if m.pane != allPane {
		list := m.section(m.pane, width)
		m.side = max(0, min(m.side, len(list)-n+1))
		return append([]string{m.title(m.pane, width)}, clip(list[m.side:], n-1, width)...)
	}
	coming := m.section(comingPane, width)
	third := min(max(1, len(coming)), n/5+1)
	turn := min(max(2, len(m.section(turnPane, width))), n*2/5)
	var out []string
	for _, s := range []struct {
		pane  pane
		lines int
	}{{statePane, n - third - turn - 3}, {turnPane, turn}, {comingPane, third}} {
		out = append(out, m.title(s.pane, width))
		list := clip(m.section(s.pane, width), s.lines, width)
		for len(list) < s.lines {
			list = append(list, "")
		}
		out = append(out, list...)
	}
	return out
}

// clip keeps n lines, and tells how many more there are.
func clip(list []string, n, width int) []string {
	if len(list) <= n || n < 1 {
		return list[:min(len(list), max(0, n))]
	}
	return append(list[:n-1:n-1], fit(fmt.Sprintf("… %d more, v shows them", len(list)-n+1), width))
}

func (m *tryModel) title(p pane, width int) string {
	name := strings.ToUpper(paneNames[p][:1]) + paneNames[p][1:]
	return m.t.paint(bold, fit(name+" "+strings.Repeat("─", max(0, width-len(name)-1)), width))
}

// section is the lines of one part of what stands beside the page.
func (m *tryModel) section(p pane, width int) []string {
	var list []string
	add := func(s style, text string) { list = append(list, m.t.paint(s, fit(text, width))) }
	switch p {
	case statePane:
		changed := m.changed()
		for _, h := range play.Cells(m.session.Engine()) {
			add(bold, tail(m.short(h.Path), width))
			for _, c := range h.Cells {
				mark, s := "  ", plain
				if changed[h.Path+"."+c.Name] {
					mark, s = "* ", green
				}
				add(s, mark+c.Name+" = "+value.Brief(c.Value, max(12, width-len(c.Name)-5)))
			}
		}
	case turnPane:
		a := m.session.Last()
		turns := []*engine.Record{m.session.Mount}
		if a != nil {
			add(bold, a.Step)
			turns = a.Turns
			if a.Err != nil {
				add(red, "failed: "+a.Err.Error())
			}
		}
		for _, r := range story.Fold(turns) {
			lines := story.TurnLines(r)
			if r.Times == 1 {
				lines = lines[1:]
			}
			for _, line := range lines {
				add(plain, m.short(strings.TrimPrefix(line, "  ")))
			}
		}
		if a != nil && len(list) == 1 {
			add(dim, "nothing heard it")
		}
	case comingPane:
		waiting := 0
		for _, c := range m.session.Engine().Coming() {
			text := "timer " + c.Text + " in " + clock(c.In)
			if !c.Timer {
				waiting++
				text = fmt.Sprintf("%d asked %s", waiting, c.Text)
				if c.In >= 0 {
					text += ", replies in " + clock(c.In)
				}
			}
			add(plain, text)
		}
		if len(list) == 0 {
			add(dim, "nothing")
		}
	case stepsPane:
		all, done := m.session.Acts()
		for i, a := range all {
			s, mark := plain, ""
			if i >= done {
				s, mark = dim, "(taken back) "
			}
			add(s, fmt.Sprintf("%d %s%s", i+1, mark, a.Step))
		}
		if len(list) == 0 {
			add(dim, "nothing was done yet")
		}
	}
	return list
}

// short leaves out the root that all paths begin with.
func (m *tryModel) short(line string) string {
	return strings.ReplaceAll(line, m.session.Start.Root.Name+" > ", "")
}

// tail is the end of an instance's path, as far as there is room.
func tail(path string, width int) string {
	for runewidth.StringWidth(path) > width {
		_, rest, ok := strings.Cut(strings.TrimPrefix(path, "… > "), " > ")
		if !ok {
			break
		}
		path = "… > " + rest
	}
	return path
}

// changed are the cells that the last act changed.
func (m *tryModel) changed() map[string]bool {
	list := map[string]bool{}
	if a := m.session.Last(); a != nil {
		for _, r := range a.Turns {
			for _, c := range r.Changes {
				list[c.Path+"."+c.Cell] = true
			}
		}
	}
	return list
}
