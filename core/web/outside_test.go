package web

import (
	"fmt"
	"strings"
	"testing"

	"lien/core/drive"
)

// studio is a design whose components are used from plain HTML.
const studio = `context rack {
  takes limit: number = 1
  shares chosen: string[] = []
  derives has(id: string) = chosen.includes(id)
  action toggle(id: string) { chosen = has(id) ? chosen.filter(c => c != id) : [...chosen, id].slice(-limit) }
}

component rack-group {
  takes limit: number = 1
  shares value: string[] = []
  supplies rack { limit <- limit; chosen <-> value }
  view { fieldset { slot; output ` + "`${value.join(\" and \")}`" + ` } }
}

component rack-box {
  takes label: string = "?"
  uses rack
  view { button ` + "`${label}`" + ` { aria-pressed <- rack.has(label); click -> rack.toggle(label) } }
}

type Ware = { id: string, name: string }

component ware-card {
  takes label: string = "Ware"
  takes heat: number = 20
  takes fired: boolean
  takes ware: Ware?
  takes format: (n: number) => string
  shares open: boolean = false
  emits pick(id: string, at: number)
  offers full, times, reset
  derives full = heat > 1000
  derives times(n: number) = heat * n
  action reset() { open = false; picked = 0 }
  holds picked: number = 0
  on unmount { log "gone" }

  view {
    button ` + "`${label}`" + ` { aria-expanded <- open; click -> open = !open }
    button "Pick" { click -> { picked += 1; emit pick(ware?.id ?? "none", picked) } }
    p ` + "`${format(heat)}, ${fired ? \"fired\" : \"raw\"}, ${ware?.name ?? \"no ware\"}, ${picked}`" + `
    when open { slot { p "empty" } }
    slot foot { p "no foot" }
  }
}

component step-pager {
  takes count: number = 3
  holds page: number = 0
  action turn(by: number) { page = Math.min(count - 1, Math.max(0, page + by)) }
  view { slot controls(page <- page + 1, turn <- turn) { p "no controls" } }
}

component glaze-field {
  shares value: string = "ash" field
  view { button ` + "`Glaze ${value}`" + ` { disabled <- disabled; click -> value = value == "ash" ? "tin" : "ash" } }
}

component name-card {
  takes content: string = "c"
  takes last: number = 1
  takes constructor: string = "k"
  takes size: "small" | "large" = "small"
  takes heat: number
  takes double: number = last * 2
  shares root: string = "r"
  shares given: boolean = false
  emits set(toString: string)
  offers start, fills, valueOf
  action start() { root = "started" }
  derives fills = ` + "`${content} ${root}`" + `
  derives valueOf(el: string) = el + content
  view {
    button "Set" { click -> { given = !given; emit set(root) } }
    p ` + "`${content} ${last} ${constructor} ${root} ${given} ${size} ${heat} ${double}`" + `
  }
}

component fail-clock {
  holds n: number = 0
  holds rows: number[] = [1, 2]
  timer wrong after 100 { n = 1 / (n - n) }
  timer again every 100 { n = n + 1; if (n == 2) n = 1 / (n - n) }
  view {
    button "Wrong" { click -> start wrong }
    button "Again" { click -> start again }
    button "Both" { click -> rows = [1, 1] }
    each r in rows by r { em ` + "`${r}`" + ` }
    p ` + "`${n} ${running(wrong)}`" + `
  }
}

component late-form {
  holds said: string = "?"
  view {
    form named card {
      submit(v) -> said = ` + "`${v.maker} ${card.touched} ${card.dirty}`" + `
      input { name <- "maker"; aria-label <- "Maker" }
      button "Send"
      button "Reset" { type <- "reset" }
    }
    p ` + "`${said}`" + `
  }
}

component studio-page { view { ware-card { fired <- true; ware <- null; format <- asIt }; rack-group { rack-box { label <- "in" } }; step-pager; glaze-field { name <- "g" }; name-card { heat <- 1 }; fail-clock; late-form } }

derives asIt(n: number) = ` + "`${n}`" + `

start studio-page
`

// outside shows a page of plain HTML that uses the components, and runs a program in it.
type outside struct {
	t  *testing.T
	b  *Browser
	in *drive.Browser
}

func openOutside(t *testing.T, b *Browser, html string) *outside {
	t.Helper()
	d := parse(t, studio)
	files, err := Build(d, Options{Start: d.Starts[0]})
	if err != nil {
		t.Fatal(err)
	}
	var names strings.Builder
	for _, c := range d.Components {
		fmt.Fprintf(&names, "import \"./components/%s.js\";\n", c.Name)
	}
	for i := range files {
		switch files[i].Path {
		case "index.html":
			files[i].Text = []byte("<!doctype html><html lang=en><title>Studio</title><script type=\"module\" src=\"page.js\"></script><body>" + html)
		case "page.js":
			files[i].Text = []byte(names.String())
		}
	}
	files = append(files, File{"early.js", []byte("window.early = document.querySelector('ware-card'); early.label = 'Set early'; early.heat = 5;")})
	in, err := b.show(files)
	if err != nil {
		t.Fatal(err)
	}
	return &outside{t, b, in}
}

// gives runs a program in the page, whose result is compared.
func (o *outside) gives(program, want string) {
	o.t.Helper()
	var got any
	script := "const $ = s => document.querySelector(s), text = s => $(s).textContent.trim(), done = arguments[0];\n" +
		"(async () => {" + program + "})().then(v => done(String(v)), why => done('failed: ' + why));"
	if err := o.b.session.RunAsync(script, &got); err != nil {
		o.t.Fatalf("%s: %v", program, err)
	}
	if got != want {
		var told []string
		if err := o.b.session.Run("return window.told", &told); err != nil {
			o.t.Fatal(err)
		}
		o.t.Errorf("%s\ngives %q, want %q; the console says %q", program, got, want, told)
	}
}

const card = `<ware-card label="Bowl" heat="900"></ware-card>`

// TestOutside: what an element of a component can do in any page: properties, attributes, events, methods, slots,
// contexts across elements, and being moved, removed and put back.
func TestOutside(t *testing.T) {
	t.Parallel() // most of the time the browser draws
	b := openBrowser(t)
	t.Run("attributes and properties", func(t *testing.T) {
		o := openOutside(t, b, card)
		o.gives(`$("ware-card").format = n => n + " degrees"; return text("ware-card p")`, "900 degrees, raw, no ware, 0")
		o.gives(`$("ware-card").ware = { id: "b", name: "Blue" }; return text("ware-card p")`, "900 degrees, raw, Blue, 0")
		o.gives(`$("ware-card").setAttribute("heat", "1200"); $("ware-card").toggleAttribute("fired"); return text("ware-card p")`, "1200 degrees, fired, Blue, 0")
		o.gives(`$("ware-card").removeAttribute("heat"); $("ware-card").label = "Jug"; return text("ware-card p") + "; " + text("ware-card button")`, "20 degrees, fired, Blue, 0; Jug")
		o.gives(`const w = $("ware-card").ware; w.name = "changed outside"; return $("ware-card").ware.name + " " + text("ware-card p").includes("Blue")`, "Blue true")
		o.gives(`return getComputedStyle($("ware-card")).display`, "contents")
	})
	t.Run("what is shared", func(t *testing.T) {
		o := openOutside(t, b, card)
		o.gives(`$("ware-card").format = String; window.heard = []; $("ware-card").addEventListener("openchange", e => heard.push(e.detail.open + " " + e.bubbles));
			$("ware-card").open = true; $("ware-card button").click(); $("ware-card button").click(); return heard.join(", ") + "; " + $("ware-card").open`, "false false, true false; true")
	})
	t.Run("events and methods", func(t *testing.T) {
		o := openOutside(t, b, card)
		o.gives(`const c = $("ware-card"); c.format = String; window.heard = []; document.addEventListener("pick", () => heard.push("bubbled"));
			c.addEventListener("pick", e => heard.push(JSON.stringify(e.detail))); c.ware = { id: "b", name: "Blue" };
			c.querySelectorAll("button")[1].click(); c.querySelectorAll("button")[1].click(); return heard.join(" ")`, `{"id":"b","at":1} {"id":"b","at":2}`)
		o.gives(`const c = $("ware-card"); c.open = true; c.reset(); return c.open + " " + c.full + " " + c.times(2) + " " + text("ware-card p")`, "false false 1800 900, raw, Blue, 0")
		o.gives(`const c = $("ware-card"); c.full = true; return c.full`, "false")
		o.gives(`const c = $("ware-card"), of = c.querySelectorAll("button")[1], picked = () => text("ware-card p").slice(-1);
			of.dispatchEvent(new Event("click")); const once = picked(); of.dispatchEvent(new Event("click", { bubbles: true })); return once + picked()`, "12")
	})
	t.Run("made by a program", func(t *testing.T) {
		o := openOutside(t, b, "<main></main>")
		o.gives(`const c = document.createElement("ware-card"); c.label = "Early"; c.heat = 5; c.format = n => "#" + n; $("main").append(c); return text("ware-card button") + " " + text("ware-card p")`, "Early #5, raw, no ware, 0")
		o.gives(`const c = document.createElement("ware-card"); $("main").append(c); return c.childNodes.length`, "0")
	})
	t.Run("given before it is defined", func(t *testing.T) {
		o := openOutside(t, b, card+`<script src="early.js"></script>`)
		o.gives(`return window.early.label + " " + window.early.heat + "; " + $("ware-card").children.length`, "Set early 5; 0")
		o.gives(`$("ware-card").format = String; return text("ware-card button") + " " + text("ware-card p")`, "Set early 5, raw, no ware, 0")
	})
	t.Run("moved, removed and put back", func(t *testing.T) {
		o := openOutside(t, b, `<div id="a">`+card+`</div><div id="b"></div>`)
		o.gives(`const c = $("ware-card"); c.format = String; c.querySelectorAll("button")[1].click(); $("#b").append(c); await null; await null; return text("#b ware-card p")`, "900, raw, no ware, 1")
		o.gives(`window.kept = $("ware-card"); kept.remove(); await null; await null; await null; return kept.textContent.trim() + "."`, ".")
		o.gives(`$("#a").append(kept); return text("#a ware-card p")`, "900, raw, no ware, 0")
	})
	t.Run("slots", func(t *testing.T) {
		o := openOutside(t, b, `<ware-card><b>inside</b> text<i slot="foot">a foot</i></ware-card><ware-card></ware-card><step-pager></step-pager>`)
		o.gives(`for (const c of document.querySelectorAll("ware-card")) { c.format = String; c.open = true } return [...document.querySelectorAll("ware-card")].map(c => [...c.children].slice(3).map(x => x.textContent).join("|")).join(" / ")`,
			"inside|a foot / empty|no foot")
		o.gives(`$("ware-card").open = false; return $("ware-card b") === null`, "true")
		o.gives(`$("ware-card").open = true; return text("ware-card b")`, "inside")
		o.gives(`const p = document.createElement("step-pager"); p.controls = ({ page, turn }) => { const x = document.createElement("button"); x.textContent = "page " + page; x.onclick = () => turn(1); return x };
			document.body.append(p); p.querySelector("button").click(); p.querySelector("button").click(); return p.textContent`, "page 3")
	})
	t.Run("contexts across elements", func(t *testing.T) {
		o := openOutside(t, b, `<rack-group limit="2"><div><rack-box label="top"></rack-box></div><rack-box label="low"></rack-box><rack-box label="floor"></rack-box></rack-group>`)
		o.gives(`for (const x of document.querySelectorAll("rack-box button")) x.click(); return text("rack-group output") + ": " + [...document.querySelectorAll("rack-box button")].map(x => x.ariaPressed).join(" ")`,
			"low and floor: false true true")
		o.gives(`window.heard = []; $("rack-group").addEventListener("valuechange", e => heard.push(e.detail.value.join())); $("rack-box button").click(); return heard.join(" ") + " " + $("rack-group").value.join()`, "floor,top floor,top")
	})
	t.Run("names that elements have", func(t *testing.T) {
		o := openOutside(t, b, `<name-card heat="5"></name-card>`)
		o.gives(`return text("name-card p")`, "c 1 k r false small 5 2")
		o.gives(`const c = $("name-card"); c.content = "C"; c.last = 4; c.constructor = "K"; c.root = "R"; return text("name-card p") + "; " + c.content + c.last + c.constructor + c.root + c.given`,
			"C 4 K R false small 5 8; C4KRfalse")
		o.gives(`const c = $("name-card"); c.start(); return c.fills + ", " + c.valueOf("a")`, "C started, aC")
		o.gives(`const c = $("name-card"); let heard = ""; c.addEventListener("set", e => heard += e.detail.toString); c.addEventListener("givenchange", e => heard += e.detail.given); $("name-card button").click(); return heard`, "startedtrue")
		o.gives(`const c = $("name-card"); c.setAttribute("content", "x"); c.remove(); await null; await null; $("body").append(c); return text("name-card p")`, "x 4 K R false small 5 8")
	})
	t.Run("what does not fit", func(t *testing.T) {
		o := openOutside(t, b, `<name-card heat="5" size="large" last="3"></name-card><name-card heat="hot"></name-card><name-card></name-card>`)
		o.gives(`return [...document.querySelectorAll("name-card")].map(c => c.children.length).join()`, "2,0,0")
		o.gives(`const c = $("name-card"); c.setAttribute("size", "huge"); c.setAttribute("heat", "warm"); c.setAttribute("last", ""); return text("name-card p")`, "c 3 k r false large 5 6")
		o.gives(`const c = $("name-card"); c.removeAttribute("heat"); c.removeAttribute("size"); c.removeAttribute("last"); return text("name-card p")`, "c 1 k r false small 5 2")
		o.gives(`const c = document.querySelectorAll("name-card")[1]; c.heat = 7; return c.textContent.includes("small 7")`, "true")
	})
	t.Run("turns that fail", func(t *testing.T) {
		o := openOutside(t, b, `<fail-clock></fail-clock>`)
		o.gives(`$("fail-clock button").click(); advance(1000); advance(1000); return text("fail-clock p") + "; " + told.length + " " + told[0].includes("not a finite number")`, "0 false; 1 true")
		o.gives(`document.querySelectorAll("fail-clock button")[1].click(); advance(100); advance(100); advance(100); return text("fail-clock p") + "; " + told.length`, "1 false; 3")
		o.gives(`document.querySelectorAll("fail-clock button")[2].click(); return [...document.querySelectorAll("fail-clock em")].map(x => x.textContent).join() + " " + told.at(-1).includes("two items of this list have the key 1")`, "1,2 true")
	})
	t.Run("forms that are asked late", func(t *testing.T) {
		o := openOutside(t, b, `<late-form></late-form>`)
		o.gives(`const i = $("late-form input"); i.focus(); i.blur(); $("late-form button").click(); return text("late-form p")`, "true false")
		o.gives(`const i = $("late-form input"); i.value = "Ada"; i.dispatchEvent(new Event("input", { bubbles: true })); $("late-form button").click(); return text("late-form p")`, "Ada true true")
		o.gives(`document.querySelectorAll("late-form button")[1].click(); const i = $("late-form input"); const was = i.value; $("late-form button").click(); return "(" + was + ") " + text("late-form p")`, "() false false")
	})
	t.Run("in a form", func(t *testing.T) {
		o := openOutside(t, b, `<form><glaze-field name="glaze"></glaze-field><button>Send</button></form>`)
		o.gives(`return new FormData($("form")).get("glaze")`, "ash")
		o.gives(`$("glaze-field button").click(); return new FormData($("form")).get("glaze") + " " + $("glaze-field").value`, "tin tin")
		o.gives(`$("glaze-field").value = "celadon"; return new FormData($("form")).get("glaze")`, "celadon")
		o.gives(`$("form").reset(); return new FormData($("form")).get("glaze") + " " + text("glaze-field button")`, "ash Glaze ash")
		o.gives(`$("glaze-field").setAttribute("disabled", ""); return $("glaze-field button").disabled`, "true")
	})
}
