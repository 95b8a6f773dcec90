package form_test

import (
	"flag"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"lien/core/compare"
	"lien/core/design"
	"lien/core/form"
)

var judge = flag.Bool("judge", false, "hold many more random handlers against the search")

// TestRandomHandlers: of handlers written at random, each read is exchanged in turn: a constant for what it was made of,
// worked out later, and anything else for something else. Where the two have one form nobody can tell them apart.
func TestRandomHandlers(t *testing.T) {
	many := uint64(25)
	if *judge {
		many = 600
	}
	changed, same := 0, 0
	for seed := range many {
		text, draws := handlers(seed, -1)
		before := design.Parse("kiln.lien", text)
		if before.Failed() || form.Alike(before, before, before.Starts[0], before.Starts[0]) != "" {
			continue // it compares what is never equal, or has no form
		}
		for change := range draws {
			other, _ := handlers(seed, change)
			after := design.Parse("kiln.lien", other)
			if after.Failed() || other == text {
				continue // a constant is read before it is there
			}
			changed++
			if form.Alike(before, after, before.Starts[0], after.Starts[0]) != "" {
				continue
			}
			same++
			if compare.Run(before, after, compare.Options{Plain: true, Pairs: 300, Time: 5 * time.Second}).Differs() {
				t.Errorf("seed %d: they have one form, and can be told apart:\n%s\n%s", seed, text, other)
			}
		}
	}
	t.Logf("of %d changed ones %d have the form that they had", changed, same)
	if changed < 10*int(many) || same < int(many) {
		t.Error("too few to tell anything")
	}
}

// writing is a design that is written at random. The draw at the change is another one.
type writing struct {
	*rand.Rand
	change, drawn int
	names         []string          // that can be read
	first         map[string]string // what constants were made of
	item          bool              // an item of the list can be read
}

// pick draws one of a list.
func (w *writing) pick(list ...string) string {
	i := w.IntN(len(list))
	if w.drawn == w.change {
		i = (i + 1) % len(list)
	}
	w.drawn++
	return list[i]
}

// handlers is a page with handlers at random, and how much was drawn for them; with a change another one.
func handlers(seed uint64, change int) (text string, draws int) {
	w := &writing{Rand: rand.New(rand.NewPCG(seed, 1)), change: change, names: []string{"a", "b", "c"}, first: map[string]string{}}
	var out strings.Builder
	out.WriteString("channel news(n: number)\n\ncomponent step-part {\n  takes n: number\n  emits step(by: number)\n  view { button `Step ${n}` { click -> emit step(n + 1) } }\n}\n\ncomponent kiln-page {\n" +
		"  holds a: number = 0\n  holds b: number = 1\n  holds c: number = 2\n  holds l: { id: number, n: number }[] = [{ id: 1, n: 0 }, { id: 2, n: 1 }]\n  timer cool after 100 { a = 0 }\n" +
		"  hears news(n) { a = (a + n) % 3 }\n  action add(n: number) { b = (b + n) % 3 }\n\n  view {\n")
	fmt.Fprintf(&out, "    button \"One\" { click -> %s }\n", w.block(2))
	fmt.Fprintf(&out, "    step-part { n <- c; step(by) -> { c = by %% 3; if (by >= 0) %s } }\n", w.block(2))
	w.item = true
	fmt.Fprintf(&out, "    each w in l by w.id { button `Item ${w.id}` { click -> %s } }\n", w.block(2))
	out.WriteString("    output `${a} ${b} ${c} ${l.map(x => x.n).join(\" \")} ${running(cool)}`\n  }\n}\n\nstart kiln-page\n")
	return out.String(), w.drawn
}

// block is a block of statements; what is named in it is read in it alone.
func (w *writing) block(depth int) string {
	names := len(w.names)
	list := make([]string, 2+w.IntN(2))
	for i := range list {
		list[i] = w.statement(depth)
	}
	w.names = w.names[:names:names]
	return "{ " + strings.Join(list, "; ") + " }"
}

func (w *writing) statement(depth int) string {
	kind := w.IntN(12)
	if depth == 0 {
		kind %= 6 // no more blocks
	}
	switch kind {
	case 0, 1:
		return w.pick("a", "b", "c") + " = " + w.value()
	case 2, 11:
		name := fmt.Sprintf("k%d", len(w.first)+1)
		w.first[name] = w.value()
		w.names = append(w.names, name)
		return "const " + name + " = " + w.first[name]
	case 3:
		return w.pick("send news", "add") + "(" + w.value() + ")"
	case 4:
		return "l = l.map(x => ({ ...x, n: (x.n + " + w.value() + ") % 3 }))"
	case 5:
		return w.pick("start cool", "stop cool", "log 1")
	case 6, 7:
		return "if (" + w.value() + w.pick(" > 0", " == 1", " < 2") + ") " + w.block(depth-1) + " else " + w.block(depth-1)
	case 8:
		return "for (x of [1, 2]) " + w.block(depth-1)
	}
	return "c = " + w.value()
}

// value is an expression from 0 to 2.
func (w *writing) value() string {
	list := append([]string{"0", "1", "running(cool) ? 1 : 0"}, w.names...)
	for _, n := range w.names[3:] {
		list = append(list, n, n) // constants tell most
	}
	if w.item {
		list = append(list, "w.n", "w.n")
	}
	if w.IntN(3) == 0 {
		return "(" + w.read(list) + " + " + w.read(list) + ") % 3"
	}
	return w.read(list)
}

// read draws what is read. In place of a constant the change works out later what that was made of.
func (w *writing) read(list []string) string {
	at := w.drawn
	x := list[w.IntN(len(list))]
	w.drawn++
	if first := w.first[x]; at == w.change && first != "" {
		return "(" + first + ")"
	} else if at == w.change {
		return "(" + list[len(list)-1] + ")"
	}
	return "(" + x + ")"
}
