package syntax

import (
	"slices"
	"strings"

	"lien/core/html"
	"lien/core/source"
)

// What people write in laws and scenarios as other tools have it.

// strayInLaw reports a law whose clauses stand in no block.
func (p *parser) strayInLaw(name *Text) {
	if clause := p.is(Ident) && slices.Contains(clauseWords, p.word()); clause || p.is(Colon) && !p.nl() {
		p.fail("write law "+p.textOf(name.Span())+" { always ... }", "the clauses of a law stand in a block")
	}
}

// otherClauses are words by which the clauses of laws are looked for, with what stands for them here.
var otherClauses = map[string]string{
	"eventually": "write can ... where it is to be possible, leads ... to ... where it is to come", "after": "write leads ... to ...", "whenever": "write leads ... to ...",
	"once": "write leads ... to ...", "if": "write always !(...) || ...: where the first holds, the second does", "possible": "write can", "reachable": "write can",
	"invariant": "write always", "ensure": "write always", "must": "write always", "assert": "write always", "require": "write always", "not": "write never", "expect": "write always",
}

// unknownClause reports a word that begins no clause of a law.
func (p *parser) unknownClause(w string) {
	if write := otherClauses[w]; write != "" {
		p.failAt(p.here().Span(), write, "%s is not the start of a clause of a law", w)
	}
	if k := p.peek(1); (k == Dot || k == LParen || precedence[k] > 0) && p.sameLine(1) {
		start := p.pos()
		p.condition()
		at := p.since(start).Span()
		p.failAt(at, "write always "+p.textOf(at)+", or never, can, turn", "a law says when its condition holds")
	}
	p.unknownWord(w, clauseWords, "a clause of a law")
}

// implied reports a implies b, in a clause of a law.
func (p *parser) implied(c *Clause) {
	if !p.isWord("implies") || p.nl() {
		return
	}
	if p.next(); !p.lineEnds() {
		then := p.textOf(p.condition().Span())
		p.failAt(source.Span{Start: c.Value.Span().Start, End: p.end()}, "write "+c.Kind+" !("+p.textOf(c.Value.Span())+") || "+then, "there is no operator implies")
	}
}

// placedBehind reports where an element stands behind what is done to it: press button "Load" on kiln-page.
func (p *parser) placedBehind(before string) {
	at := p.here().Span()
	if !p.is(Ident) || p.word() != "on" && p.word() != "in" && p.word() != "at" {
		return
	}
	if p.next(); p.lineEnds() {
		p.at--
		return
	}
	from := p.pos()
	for !p.lineEnds() {
		p.next()
	}
	p.failAt(at, "write inside "+p.textOf(p.since(from).Span())+" { "+before+" }", "where an element stands is said around the step")
}

// sentences are words of steps that are sentences elsewhere, with what is written here.
var sentences = map[string]string{
	"given": "a scenario begins with start \"...\", where a start of this name gives the first values", "when": "write the step alone", "and": "write the step alone",
	"not": "write lacks in place of not shows", "repeat": "write the steps once for each time", "for": "write the steps once for each time", "loop": "write the steps once for each time",
}

// strayReply reports a value behind reply, and what a failure says.
func (p *parser) strayReply(s *Step) {
	asked := p.file.Slice(s.Service.Start, p.end())
	switch {
	case p.lineEnds():
	case s.Verb == "fail" && p.is(String):
		p.fail("write fail "+asked+" with "+p.word(), "what a failure says stands behind with")
	case s.Verb == "reply" && (p.is(LBrack) || p.is(LBrace) || p.is(String) || p.isWord("with")):
		p.fail("write "+asked+"(...): ... replies ... in the service", "what is replied stands where the service is declared")
	}
}

// strayTarget reports how elements are told apart elsewhere: first button, button named "x", button "x"[1].
func (p *parser) strayTarget(t *Target, start source.Pos) {
	switch w := p.word(); {
	case p.nl():
	case t.Role == "first" || t.Role == "second" || t.Role == "third" || t.Role == "last" || t.Role == "nth":
		if p.is(Ident) {
			p.failAt(source.Span{Start: start, End: p.here().Stop}, "write button \"...\" 2 for the second", "which of several is told by a number behind the name")
		}
	case p.is(Ident) && html.IsRole(w) && !html.IsRole(t.Role) && !strings.Contains(t.Role, "-"):
		write := "the states are: " + joinWords(stateWords)
		if is, ok := strings.CutPrefix(t.Role, "un"); ok && IsState(is) {
			write = "write lacks " + is + " " + w + ", or shows and another state"
		}
		p.failAt(source.Span{Start: start, End: p.end()}, write, "there is no state %s", t.Role)
	case p.is(Ident) && p.peek(1) == String && (w == "named" || w == "called" || w == "labelled" || w == "labeled" || w == "text"):
		head := p.textOf(p.since(start).Span())
		at := p.here().Span()
		p.next()
		p.failAt(at, "write "+head+" "+p.word(), "the name stands right behind the role")
	}
}
