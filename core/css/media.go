package css

import (
	"strconv"
	"strings"

	"github.com/tdewolff/parse/v2/css"
)

// Screen is what a page is shown on, by the features of Media Queries 4: width and height in pixels,
// prefers-color-scheme and so on.
type Screen map[string]string

// Usual is the screen of a start that says none.
func Usual() Screen {
	return Screen{"width": "1280px", "height": "800px", "prefers-color-scheme": "light", "prefers-reduced-motion": "no-preference",
		"prefers-contrast": "no-preference", "forced-colors": "none", "hover": "hover", "pointer": "fine", "any-hover": "hover", "any-pointer": "fine",
		"scripting": "enabled", "update": "fast", "color": "8"}
}

// screenFeatures are those that a start can set, with the values that they can have; nil: a number of pixels.
var screenFeatures = map[string][]string{"width": nil, "height": nil, "prefers-color-scheme": {"light", "dark"},
	"prefers-reduced-motion": {"no-preference", "reduce"}, "prefers-contrast": {"no-preference", "more", "less"}, "forced-colors": {"none", "active"}}

// ParseScreen reads (width: 390px) and (prefers-color-scheme: dark), over what is usual. What is wrong with it is "" or
// a sentence.
func ParseScreen(text string) (Screen, string) {
	s := Usual()
	for _, part := range strings.Split(text, " and ") {
		part = strings.TrimSpace(part)
		name, v, ok := strings.Cut(strings.TrimSuffix(strings.TrimPrefix(part, "("), ")"), ":")
		name, v = strings.TrimSpace(name), strings.TrimSpace(v)
		values, known := screenFeatures[name]
		if !ok || !strings.HasPrefix(part, "(") || !strings.HasSuffix(part, ")") {
			return s, "a screen is written (width: 390px) and (prefers-color-scheme: dark)"
		}
		if !known {
			return s, name + " is not set by a start: width, height, prefers-color-scheme, prefers-reduced-motion, prefers-contrast and forced-colors are"
		}
		if n, isPixels := pixels(v); values == nil && (!isPixels || n <= 0 || n > 10_000) {
			return s, name + " is a number of pixels: (" + name + ": 390px)"
		}
		if values != nil && !contains(values, v) {
			return s, name + " is " + strings.Join(values, " or ")
		}
		s[name] = v
	}
	return s, ""
}

func contains(list []string, v string) bool {
	for _, x := range list {
		if x == v {
			return true
		}
	}
	return false
}

// pixels is a length that does not depend on an element.
func pixels(v string) (float64, bool) {
	for unit, px := range map[string]float64{"px": 1, "rem": 16, "em": 16, "in": 96, "cm": 96 / 2.54, "mm": 96 / 25.4, "pt": 96.0 / 72} {
		if head, ok := strings.CutSuffix(v, unit); ok {
			if n, err := strconv.ParseFloat(head, 64); err == nil {
				return n * px, true
			}
		}
	}
	if v == "0" {
		return 0, true
	}
	return 0, false
}

// Shows says whether a list of media queries holds for a screen: Maybe where it asks for what is not known of one.
func (s Screen) Shows(head []token) Truth {
	best := No
	r := &mediaReader{screen: s}
	for _, t := range head {
		if !t.blank() {
			r.tokens = append(r.tokens, t)
		}
	}
	if len(r.tokens) == 0 {
		return Yes
	}
	for {
		best = max(best, r.query())
		if !r.accept(css.CommaToken, ",") {
			break
		}
	}
	if r.at < len(r.tokens) {
		return Maybe
	}
	return best
}

type mediaReader struct {
	screen Screen
	tokens []token
	at     int
}

func (r *mediaReader) peek() token {
	if r.at < len(r.tokens) {
		return r.tokens[r.at]
	}
	return token{}
}

func (r *mediaReader) accept(kind css.TokenType, text string) bool {
	if t := r.peek(); t.kind == kind && strings.EqualFold(t.text, text) {
		r.at++
		return true
	}
	return false
}

func (r *mediaReader) word(w string) bool { return r.accept(css.IdentToken, w) }

func (r *mediaReader) query() Truth {
	not := r.word("not")
	r.word("only")
	out := Yes
	if t := r.peek(); t.kind == css.IdentToken {
		r.at++
		out = truth(strings.EqualFold(t.text, "all") || strings.EqualFold(t.text, "screen"))
		if r.word("and") {
			out = min(out, r.condition())
		}
	} else {
		out = r.condition()
	}
	if not {
		return Yes - out
	}
	return out
}

func (r *mediaReader) condition() Truth {
	out := r.single()
	for {
		switch {
		case r.word("and"):
			out = min(out, r.single())
		case r.word("or"):
			out = max(out, r.single())
		default:
			return out
		}
	}
}

func (r *mediaReader) single() Truth {
	if r.word("not") {
		return Yes - r.single()
	}
	if !r.accept(css.LeftParenthesisToken, "(") {
		r.at = len(r.tokens)
		return Maybe
	}
	if t := r.peek(); t.kind == css.LeftParenthesisToken || t.is(css.IdentToken, "not") {
		out := r.condition()
		r.accept(css.RightParenthesisToken, ")")
		return out
	}
	var words []string
	for r.at < len(r.tokens) && r.peek().kind != css.RightParenthesisToken {
		t := r.tokens[r.at]
		r.at++
		if n := len(words); n > 0 && t.is(css.DelimToken, "=") && strings.ContainsAny(words[n-1], "<>") {
			words[n-1] += "="
			continue
		}
		words = append(words, strings.ToLower(t.text))
	}
	r.at++
	return r.feature(words)
}

// feature is (width), (min-width: 400px) or (400px <= width < 700px).
func (r *mediaReader) feature(words []string) Truth {
	switch len(words) {
	case 1:
		v, ok := r.screen[words[0]]
		if !ok {
			return Maybe
		}
		return truth(v != "none" && v != "no-preference" && v != "0")
	case 3:
		if words[1] == ":" {
			return r.equals(words[0], words[2])
		}
		if _, isNumber := pixels(words[0]); isNumber {
			return r.compares(words[2], flip(words[1]), words[0])
		}
		return r.compares(words[0], words[1], words[2])
	case 5:
		return min(r.compares(words[2], flip(words[1]), words[0]), r.compares(words[2], words[3], words[4]))
	}
	return Maybe
}

func flip(op string) string {
	return strings.NewReplacer("<", ">", ">", "<").Replace(op)
}

func (r *mediaReader) equals(name, v string) Truth {
	if rest, ok := strings.CutPrefix(name, "min-"); ok {
		return r.compares(rest, ">=", v)
	}
	if rest, ok := strings.CutPrefix(name, "max-"); ok {
		return r.compares(rest, "<=", v)
	}
	if name == "orientation" {
		w, _ := pixels(r.screen["width"])
		h, _ := pixels(r.screen["height"])
		return truth((v == "portrait") == (h >= w))
	}
	have, ok := r.screen[name]
	if !ok {
		return Maybe
	}
	a, isA := pixels(have)
	b, isB := pixels(v)
	if isA && isB {
		return truth(a == b)
	}
	return truth(have == v)
}

func (r *mediaReader) compares(name, op, v string) Truth {
	a, isA := pixels(r.screen[name])
	b, isB := pixels(v)
	if !isA || !isB {
		return Maybe
	}
	switch op {
	case "<":
		return truth(a < b)
	case "<=":
		return truth(a <= b)
	case ">":
		return truth(a > b)
	case ">=":
		return truth(a >= b)
	case "=":
		return truth(a == b)
	}
	return Maybe
}
