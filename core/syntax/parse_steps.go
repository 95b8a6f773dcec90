package syntax

import (
	"strings"

	"lien/core/html"
	"lien/core/source"
)

func (p *parser) scenario(start source.Pos) {
	s := &Scenario{Name: p.textLit("the scenario's name")}
	if p.isWord("from") || p.isWord("on") || p.isWord("with") {
		p.fail("write start \"...\" as its first step, with the name of a start", "where a scenario begins is said by its first step")
	}
	s.At = p.since(start)
	p.add(s)
	p.block(func() { s.Steps = append(s.Steps, p.step()) }, "step")
	s.At = p.since(start)
}

var stepWords = []string{"start", "press", "tick", "untick", "type", "clear", "choose", "key", "focus", "blur",
	"set", "hover", "rightpress", "hold", "release", "drag", "paste", "wait", "reply", "fail", "call", "shows", "lacks", "inside", "expect", "reports"}

func (p *parser) step() *Step {
	start := p.pos()
	if !p.is(Ident) {
		p.failEntry("start a step with press, type, shows, lacks, expect, ...", "a step")
	}
	s := &Step{Verb: p.word()}
	p.next()
	p.stepRest(s)
	s.At = p.since(start)
	if !p.lineEnds() {
		p.strayBehind(s)
	}
	return s
}

// strayBehind says what is wrong with what stands behind a step, where people write it by habit.
func (p *parser) strayBehind(s *Step) {
	before := p.file.Slice(s.Start, p.end())
	at := p.here().Span()
	switch {
	case p.isWord("times"):
		p.failAt(at, "write the step once for each time", "a step is done once")
	case s.Text != nil && s.Target == nil, s.Target != nil && s.Target.Start < p.pos() && (p.isWord("on") || p.isWord("at")):
		p.placedBehind(before)
	case s.Target == nil || s.Target.Start >= p.pos():
	case p.is(LBrack) && p.peek(1) == Number:
		p.fail("write "+before+" 2 for the second", "which of several is told by a number behind the name")
	case p.is(Ident) && IsState(p.word()):
		count, from := "", s.Target.Start
		if c := s.Target.Count; c != nil {
			count, from = p.textOf(c.Span())+" ", c.Span().End
		}
		rest := strings.TrimSpace(p.file.Slice(from, p.end()))
		p.failAt(at, "write "+s.Verb+" "+count+p.word()+" "+rest, "a state stands before the role")
	case p.is(Ident) && s.Target.Name == nil && s.Target.Role != "" && p.peek(1) != Number && p.peek(1) != String:
		from := p.pos()
		for !p.lineEnds() && p.is(Ident) {
			p.next()
		}
		name := p.file.Slice(from, p.end())
		p.failAt(source.Span{Start: from, End: p.end()}, "write "+before+` "`+name+`"`, "the name of an element is a text")
	case (p.is(TemplateWhole) || p.is(TemplateHead)) && s.Target.Name == nil:
		p.fail("write it in \"...\"", "the name of an element is a text that is always the same")
	}
}

func (p *parser) stepRest(s *Step) {
	switch s.Verb {
	case "start":
		s.Text = p.textLit("a start's name")
	case "press", "rightpress", "hold", "release":
		if s.Verb == "press" {
			p.keyPressed()
		}
		p.placed(s)
		s.Twice = s.Verb == "press" && !p.nl() && p.acceptWord("twice")
		p.with(s)
	case "hover":
		p.placed(s)
	case "drag":
		s.Target = p.target()
		if s.Outside = !p.nl() && p.acceptWord("outside"); s.Outside {
			return
		}
		p.expectWord("onto", "or outside after what is dragged")
		s.Onto = p.target()
	case "tick", "untick", "clear", "focus":
		s.Target = p.target()
	case "type", "paste":
		s.Text = p.textLit("what is typed or pasted")
		p.expectWord("into", "after what is typed or pasted")
		s.Target = p.target()
	case "choose":
		s.Text = p.textLit("the option")
		p.expectWord("in", "after the option")
		s.Target = p.target()
	case "key":
		p.bareKey()
		start := p.pos()
		s.Text = p.textLit("a key")
		p.heldBeside(start, s.Text.Value)
		if p.acceptWord("on") {
			s.Target = p.target()
		}
	case "set":
		s.Target = p.target()
		p.expectWord("to", "before the value")
		s.Value = p.expr()
	case "blur":
	case "wait", "expect":
		if k := p.peek(1); s.Verb == "wait" && p.isWord("for") && (k == Number || k == String || k == Ident) {
			at := p.here().Span()
			p.next()
			write := "write wait " + p.word()
			if k != Number {
				from := p.pos()
				for !p.lineEnds() {
					p.next()
				}
				write = "write wait 1000, and then shows " + p.textOf(p.since(from).Span())
			}
			p.failAt(at, write, "wait takes how long, in milliseconds")
		}
		s.Value = p.condition()
		p.afterValue(s)
	case "call":
		s.Service = p.tag("the root component's name")
		p.expect(Dot, "between the component and what it offers")
		s.Name = p.ident("the name of what it offers")
		s.Call = true
		s.Args = p.optionalArgs()
	case "reply", "fail":
		s.Service = p.tag("a service's name")
		p.expect(Dot, "between the service and what was asked")
		s.Name = p.ident("the name of what was asked")
		s.Call = p.is(LParen) && !p.nl()
		s.Args = p.optionalArgs()
		s.Nth = p.nth()
		if s.Verb == "fail" && !p.nl() && p.acceptWord("with") {
			s.Text = p.textLit("what the failure says")
		}
		p.strayReply(s)
	case "shows", "lacks":
		if p.is(String) && !p.nl() {
			s.Text = p.textLit("a text")
			return
		}
		if p.isWord("text") && p.sameLine(1) && p.peek(1) == String {
			at := p.here().Span()
			p.next()
			p.failAt(source.Span{Start: at.Start, End: p.here().Stop}, "write "+s.Verb+" "+p.word(), "a text stands alone")
		}
		s.Target = p.target()
	case "inside":
		s.Target = p.target()
		p.block(func() { s.Steps = append(s.Steps, p.step()) }, "step")
	case "reports":
		s.Name = p.ident("an event's name")
		s.Call = p.is(LParen)
		s.Args = p.optionalArgs()
	default:
		p.at--
		p.unknownStep(s.Verb)
	}
}

// afterValue reports what people write behind wait and expect: a unit, and an element.
func (p *parser) afterValue(s *Step) {
	role, name := s.Value.(*Name)
	switch {
	case s.Verb == "wait":
		p.unitBehind(s.Value, "wait")
	case name && p.is(String) && p.sameLine(0):
		by := " "
		if !html.NamedByContent(role.Text) {
			by = " containing "
		}
		p.failAt(source.Span{Start: role.Start, End: p.here().Stop}, "write shows "+role.Text+by+p.word(), "expect takes a condition; what the page shows is told by shows")
	}
}

// otherSteps are words by which steps are looked for, with what stands for them here.
var otherSteps = map[string]string{
	"click": "press", "dblclick": "press ... twice", "tap": "press", "check": "tick", "uncheck": "untick", "select": "choose",
	"fill": "type", "enter": "type", "see": "shows", "sees": "shows", "assert": "expect", "after": "wait", "sleep": "wait",
	"then": "shows", "hides": "lacks", "keypress": "key", "open": "start", "emits": "reports", "drop": "drag ... onto",
}

func (p *parser) unknownStep(verb string) {
	at := p.here().Span()
	if write := otherSteps[verb]; write != "" {
		p.failAt(at, "write "+write+" in its place", "%s is not the start of a step", verb)
	}
	if write := sentences[verb]; write != "" {
		p.failAt(at, write, "%s is not the start of a step", verb)
	}
	start, line := p.pos(), p.at
	service := p.hyphened()
	if p.is(Dot) && p.peek(1) == Ident {
		p.next()
		p.next()
		asked := p.textOf(p.since(start).Span())
		p.at = line
		p.failAt(at, "write reply "+asked+" or fail "+asked+" where it is a service, call "+asked+" where the root offers it", "a step says what is done with %s", service)
	}
	p.at = line
	p.unknownWord(verb, stepWords, "a step")
}

// placed reads where the mouse goes: to an element, or outside of all, where an element may be named that has to be there.
func (p *parser) placed(s *Step) {
	s.Outside = !p.nl() && p.acceptWord("outside")
	if s.Outside && (p.lineEnds() || p.isWord("with") || p.isWord("twice")) {
		return
	}
	s.Target = p.target()
}

// keyPressed reports a key where an element is pressed: press key "Enter", press Enter. Roles are written in small letters.
func (p *parser) keyPressed() {
	at, name := p.here().Span(), p.word()
	switch {
	case p.isWord("key") && p.sameLine(1) && (p.peek(1) == String || p.peek(1) == Ident):
		p.next()
		at.End, name = p.here().Stop, strings.Trim(p.word(), `"`)
	case !p.is(Ident) || p.nl() || !html.IsKey(name) || html.KeyMeant(name) == "":
		return
	}
	p.failAt(at, `write key "`+keyNamed(name)+`"`, "press takes an element; a key has a step of its own")
}

// bareKey reports the name of a key that stands without quotes.
func (p *parser) bareKey() {
	if p.is(Ident) && !p.nl() {
		p.fail(`write key "`+keyNamed(p.word())+`"`, "the name of a key is a text")
	}
}

// heldBeside reports keys that are held beside another one and stand behind it, as they do behind a press.
func (p *parser) heldBeside(start source.Pos, key string) {
	if !p.isWord("with") || p.peek(1) != String {
		return
	}
	p.next()
	held := strings.Trim(p.word(), `"`)
	p.failAt(source.Span{Start: start, End: p.here().Stop}, `write key "`+held+"+"+key+`"`, "keys that are held stand before the key, in its text")
}

// keyNamed is the key that is meant by a word, or the word itself.
func keyNamed(word string) string {
	if meant := html.KeyMeant(word); meant != "" {
		return meant
	}
	return word
}

// with reads the keys that are held beside a press.
func (p *parser) with(s *Step) {
	if !p.nl() && p.acceptWord("with") {
		s.With = p.textLit("the keys that are held")
	}
}

// target reads an element as people name it: states, role, name.
func (p *parser) target() *Target {
	start := p.pos()
	t := &Target{}
	if p.is(String) && !p.nl() {
		if t.Class = p.textLit("a class"); !strings.HasPrefix(t.Class.Value, ".") {
			p.instead(t.Class.Span(), "an element is named by its role, too: a text alone is a class, and begins with a dot",
				"write button "+p.textOf(t.Class.Span())+", or another role")
		}
		t.At = p.since(start)
		return t
	}
	if p.is(Number) {
		t.Count = p.operand()
	}
	for p.is(Ident) && IsState(p.word()) && p.sameLine(1) && p.peek(1) == Ident {
		t.States = append(t.States, p.word())
		p.next()
	}
	p.strayArticle()
	w := p.tag("a role, such as button or textbox")
	if isHyphenated(w.Text) {
		t.Component = w
		t.Nth = p.nth()
	} else {
		t.Role = w.Text
	}
	p.strayTarget(t, start)
	p.targetRest(t)
	t.At = p.since(start)
	return t
}

// strayArticle reports words that sentences have before the name of a thing.
func (p *parser) strayArticle() {
	if !p.is(Ident) || !p.sameLine(1) || p.peek(1) != Ident && p.peek(1) != String {
		return
	}
	word := p.here().Span()
	switch p.word() {
	case "the", "a", "an", "on", "over", "at":
		if p.peek(1) == Ident {
			p.instead(word, "an element is told by its role alone", "leave "+p.word()+" out").Mend("leave it out", word, "")
			p.next()
		}
	case "not", "no":
		p.failAt(word, "write lacks in place of shows "+p.word(), "what is not shown has a step of its own")
	}
}

func (p *parser) targetRest(t *Target) {
	if p.is(String) && !p.nl() {
		t.Name = p.textLit("a name")
	}
	if t.Nth == nil {
		t.Nth = p.nth()
	}
	for p.is(Ident) && !p.nl() {
		switch p.word() {
		case "holding":
			p.next()
			t.Holding = p.textLit("what it holds")
		case "containing":
			p.next()
			t.Containing = p.textLit("what it contains")
		case "in":
			p.next()
			t.In = p.target()
		case "with":
			if k := p.peek(1); k != Dot && k != Ident || !p.sameLine(1) { // which is a key, or a failure
				return
			}
			p.next()
			p.having(t)
		default:
			return
		}
	}
}

// having reads .class or name "value" behind with; several classes may follow each other.
func (p *parser) having(t *Target) {
	if !p.is(Dot) {
		h := &Having{Name: p.tag("an attribute")}
		if p.is(String) && !p.nl() {
			h.Value = p.textLit("its value")
		}
		h.At = p.since(h.Name.Start)
		t.With = append(t.With, h)
		return
	}
	for p.is(Dot) && !p.nl() {
		start := p.pos()
		p.next()
		name := p.tag("a class")
		t.With = append(t.With, &Having{p.since(start), true, name, nil})
	}
}

// nth reads which of several is meant, if that is told.
func (p *parser) nth() Expr {
	if p.is(Number) && !p.nl() {
		return p.operand()
	}
	return nil
}

func isHyphenated(s string) bool {
	for i := 0; i < len(s); i++ {
		if s[i] == '-' {
			return true
		}
	}
	return false
}
