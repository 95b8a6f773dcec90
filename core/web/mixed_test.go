package web

import (
	"math/rand/v2"
	"strings"
	"testing"
)

// TestMixed: pages written at random, with forms, dialogs, questions, gathered lists and what takes the focus, or with
// handlers in handlers and with elements that do something by themselves, are the engine's after every step of walks at
// random.
func TestMixed(t *testing.T) {
	t.Parallel()
	many, steps := 4, 8
	if *judge {
		many, steps = 60**more, 60
	}
	walks(t, many, steps, func(job int) (string, *rand.Rand) {
		r := rand.New(rand.NewPCG(uint64(job/2), 34))
		if job%2 == 1 {
			return nested(r), r
		}
		return mixed(r), r
	})
}

// mixed is a page with tabs, rows that are edited, a form and dialogs.
func mixed(r *rand.Rand) string {
	g := &generating{Rand: r}
	g.line("type Ware = { id: string, name: string, kg: number, fired: boolean }\n\nchannel news(text: string)\n")
	g.line("service kiln-log {\n  load(n: number): Ware[] replies [{ id: `s${n}`, name: \"Saved\", kg: n, fired: false }] after %d fails \"offline\"\n  save(w: Ware) %s\n}\n", g.IntN(3)*150, g.pick("after 100 fails \"full\"", "fails \"full\", `no room for ${w.name}`"))
	g.dialog()
	g.control()
	g.tab()
	g.row()
	g.mixedPage()
	return g.String()
}

// dialog is what is opened above the page.
func (g *generating) dialog() {
	g.line("component ask-box {\n  takes name: string\n  %s\n  emits answered(ok: boolean)\n  holds sure: boolean = false\n  %s", g.pick("", "emits dismissed()"), g.pick("", "on mount { send news(`asked ${name}`) }", "on unmount { send news(`closed ${name}`) }", "timer late after 200 { leave }\n  on mount { start late }"))
	g.line("  view {\n    div {\n      role <- \"dialog\"\n      aria-label <- `Ask ${name}`\n      %s\n      label { input { type <- \"checkbox\"; checked <-> sure }; `Sure ${name}` }\n      button `Yes ${name}` { disabled <- !sure; click -> leave answered(true) }\n      button `No ${name}` { click -> %s }\n    }\n  }\n}\n",
		g.pick("", `keydown(e) -> if (e.key == "Escape") e.preventDefault()`, `keydown(e) -> if (e.key == "Escape") { e.preventDefault(); sure = !sure }`, `keydown(e) -> if (e.key == "Escape" && sure) leave`), g.pick("leave answered(false)", "leave", "{ emit answered(sure); leave }"))
}

// control is a component that is a form control.
func (g *generating) control() {
	g.line("component glaze-box {\n  shares value: string[] = %s field\n  takes options: string[]\n  view {\n    fieldset {\n      disabled <- disabled\n      legend \"Glazes\"\n      each o in options by o { label { input { type <- \"checkbox\"; checked <- value.includes(o); change -> value = value.includes(o) ? value.filter(x => x != o) : [...value, o] }; `glaze ${o}` } }\n      %s\n    }\n  }\n}\n",
		g.pick("[]", "[\"ash\"]"), g.pick("", "button \"None\" { click -> value = [] }", "when value.length > 1 { p `many ${value.length}` }"))
}

// tab is gathered by the page, and takes the focus.
func (g *generating) tab() {
	g.line("component pane-tab {\n  takes title: string\n  uses%s panes\n  offers title\n  offers takeFocus() { handle.focus() }\n  view {\n    button named handle `Tab ${title}` { role <- \"tab\"; aria-selected <- %s; click -> %s; focus -> %s }\n    when %s { section { slot } }\n  }\n}\n",
		"", "panes.shown == title", "panes.pick(title)", g.pick("log title", "send news(title)"), g.pick("panes.shown == title", "panes.shown == title || panes.picked == null"))
	g.line("context panes {\n  holds picked: string? = null\n  takes first: string?\n  derives shown = picked ?? first\n  emits chose(title: string)\n  action pick(title: string) { picked = %s; emit chose(title) }\n}\n", g.pick("title", "picked == title ? null : title"))
}

// row is an item with a draft of its own.
func (g *generating) row() {
	g.line("component ware-row {\n  takes ware: Ware\n  emits change(w: Ware)\n  emits drop(id: string)\n  holds draft from ware.name\n  holds editing: boolean = false\n  derives done = ware.fired set v { emit change({ ...ware, fired: v }) }\n  %s", g.pick("", "follows ware.name { draft = ware.name }", "follows editing { if (!editing) send news(draft) }", "on unmount { send news(`gone ${ware.name}`) }"))
	g.line("  view {\n    li {\n      .fired <- ware.fired\n      when editing {\n        input named box { aria-label <- `Name of ${ware.id}`; value <-> draft; keydown(e) -> { if (e.key == \"Enter\") { emit change({ ...ware, name: draft }); editing = false } else if (e.key == \"Escape\") { editing = false } }; blur -> %s }\n      } else { span `${ware.name} ${ware.kg.toFixed(1)}` }", g.pick("log draft", "editing = false"))
	g.line("      button `Edit ${ware.id}` { aria-expanded <- editing; click -> { editing = !editing; %s } }\n      label { input { type <- \"checkbox\"; checked <-> done }; `Fired ${ware.id}` }\n      input { type <- \"number\"; aria-label <- `Kg of ${ware.id}`; value <- ware.kg; change(e) -> emit change({ ...ware, kg: Number(e.value) ?? %s }) }\n      button `Drop ${ware.id}` { click -> emit drop(ware.id) }\n    }\n  }\n}\n", g.pick("", "draft = ware.name"), g.pick("0", "1 / 0"))
}

func (g *generating) mixedPage() {
	g.line("component kiln-page {\n  holds wares: Ware[] = [{ id: \"a\", name: \"Bowl\", kg: 1, fired: false }, { id: \"b\", name: \"Jug\", kg: 2.5, fired: true }]\n  holds said: string = \"\"\n  holds count: number = 0\n  holds locked: boolean = false\n  holds kind: \"low\" | \"high\" = \"low\"\n  gathers pane-tab as tabs\n  supplies panes as own { first <- tabs[0]?.title; chose(title) -> %s }\n  hears news(text) { %s }", g.pick("count += 1", "said = title", "locked = false"), g.pick("said = text", "said = `${said} ${text}`.slice(-20)", "count += text.length"))
	g.line("  action change(w: Ware) { wares = wares.map(x => x.id == w.id ? w : x) }")
	g.line("  action ask1(w: Ware) { open %sask-box { name <- w.name; answered(ok) -> if (ok) wares = wares.filter(x => x.id != w.id) else said = \"kept\" } }", g.pick("modal ", "modal ", ""))
	g.line("  view {\n    pane-tab { title <- \"List\"")
	g.line("      ul { each w in %s by w.id { ware-row { ware <- w; change -> change; drop(id) -> %s } } }", g.pick("wares", "wares.toSorted((a, b) => a.kg - b.kg)", "wares.filter(w => !locked || !w.fired)"), g.pick("wares = wares.filter(x => x.id != id)", "ask1(w)"))
	g.line("      button \"Load\" { click -> ask kiln-log.load(count) { got(list) -> wares = [...wares.filter(w => !list.some(x => x.id == w.id)), ...list]; failed(why) -> said = why } }")
	g.line("      button \"Save\" { click -> { for (w of wares) ask kiln-log.save(w) { got -> count += 1; failed(why) -> said = why } } }\n    }")
	g.line("    pane-tab { title <- \"Form\"; p `${count} booked` }")
	g.form()
	g.line("    %s", g.pick("", "when !locked { pane-tab { title <- \"More\"; details { open <- count > 2; summary \"What\"; p `${said}` } } }", "when count < 3 { pane-tab { title <- \"More\"; button \"First\" { click -> tabs[0]?.takeFocus() } } } else { p \"no more\" }"))
	g.line("    button \"Lock\" { aria-pressed <- locked; click -> locked = !locked }\n    button \"Next\" { click -> { const at = tabs.findIndex(t => t.title == own.shown); const next = tabs.at((at + 1) %% tabs.length); own.pick(next?.title ?? \"List\"); next?.takeFocus() } }")
	g.line("    output `${said} ${count} ${locked} ${kind} ${own.shown ?? \"none\"} ${tabs.map(t => t.title).join()} ${wares.map(w => `${w.name}:${w.kg}`).join()}`\n  }\n}\n\nstart kiln-page")
}

func (g *generating) form() {
	g.line("      form named booking {\n        aria-label <- \"Booking\"\n        submit(values) -> %s", g.pick("said = `${values.maker} ${values.glazes.join()}`", "{ said = values.note; count += 1; booking.reset() }", "wares = [...wares, { id: `f${count}`, name: values.maker, kg: values.kg ?? 0, fired: values.fast ?? false }]"))
	g.line("        label { \"Maker\"; input { name <- \"maker\"; required <- %s; value <- %s } }", g.pick("false", "locked"), g.pick("\"Ada\"", "said"))
	g.line("        label { \"Kg\"; input { type <- \"number\"; name <- \"kg\"; min <- 0 } }\n        label { \"Note\"; textarea { name <- \"note\"; value <- %s } }", g.pick("\"\"", "kind"))
	g.line("        label { input { type <- \"checkbox\"; name <- \"fast\"; checked <- %s; disabled <- %s }; \"Fast\" }", g.pick("true", "false", "locked"), g.pick("locked", "false"))
	g.line("        each k in [\"low\", \"high\"] by k { label { input { type <- \"radio\"; name <- \"kind\"; value <- k; checked <- %s }; `Kind ${k}` } }", g.pick("k == kind", "k == \"high\""))
	g.line("        select { name <- \"shelf\"; aria-label <- \"Shelf\"; %s; option \"top\"; option \"low\" }", g.pick("disabled <- locked", "hidden <- false"))
	g.line("        select { aria-label <- \"Kind\"; value <-> kind; option \"low\"; option \"high\" }")
	g.line("        %s glaze-box { name <- \"glazes\"; options <- %s }\n        %s", g.pick("", "p `dirty ${booking.dirty}`\n       "), g.pick("[\"ash\", \"tin\"]", "wares.map(w => w.id)"), g.pick("p `${booking.values.maker} ${booking.values.kind ?? \"none\"} ${booking.values.glazes.length} ${booking.values.kg ?? \"-\"}`", "p `${booking.touched} ${booking.dirty}`"))
	g.line("        button \"Book\" { disabled <- %s }\n        button \"Clear\" { type <- \"reset\" }\n        button \"Start over\" { type <- \"button\"; click -> booking.reset() }\n      }", g.pick("false", "booking.values.maker == \"\"", "!booking.dirty"))
}

// nested are elements in elements that hear events, and such that do something by themselves.
func nested(r *rand.Rand) string {
	g := &generating{Rand: r}
	g.line("component hook-row {\n  takes name: string\n  takes tell: (text: string) => void\n  emits went(name: string)\n  const uid = fresh()\n  holds aside seen: number = 0\n  holds times: number = 0\n  timer again(n: number) %s { times += n }\n  view {", g.pick("after 100", "every 250"))
	g.line("    div.row {\n      tabindex <- 0\n      role <- \"group\"\n      aria-label <- name\n      %s\n      %s\n      button `Go ${name}` { %s; click(e) -> { %s } }", g.handler("`row ${name}`"), g.handler("`also ${name}`"), g.pick("", "disabled <- times > 2", "hidden <- times == 1"), g.pick("times += 1", "{ seen += 1; if (seen % 2 == 0) times = seen }", "start again(1)", "e.stopPropagation(); times += 1", "emit went(name)", "stop again(1); tell(`stopped ${running(again)}`)"))
	g.line("      span { %s; tabindex <- -1; `${times} ${running(again)} ${seen == 0}` }\n    }\n  }\n}\n", g.pick("", "contextmenu(e) -> e.preventDefault()", "dblclick -> times = 0"))
	g.line("component kiln-page {\n  holds log1: string[] = []\n  holds names: string[] = [\"ash\", \"tin\", \"raw\"]\n  holds on: boolean = false\n  holds text: string = \"\"\n  holds heat: number = 40\n  holds many: string[] = [\"b\"]\n  action tell(text: string) { log1 = [...log1, text].slice(-6) }\n  derives has(name: string) = many.includes(name)\n  %s", g.pick("", "follows names from old { tell(`${old.length} to ${names.length}`) }", "follows on { tell(`on ${on}`) }"))
	g.line("  view {\n    section {\n      %s\n      %s\n      each n at i in names by %s { hook-row { name <- n; tell <- tell; went(name) -> %s } }\n    }", g.handler("\"section\""), g.pick("outside -> tell(\"outside\")", "focusin(e) -> tell(`in ${e.inside}`)", "focusout(e) -> if (!e.inside) tell(\"left\")"), g.pick("n", "n", "i"), g.pick("names = names.filter(x => x != name)", "names = [name, ...names.filter(x => x != name)]", "tell(name)"))
	g.line("    details { open %s; summary \"More\"; p { `${on}`; button \"Shut\" { click -> on = false } } }", g.pick("<-> on", "<- on", "<- on; toggle -> tell(\"toggled\")"))
	g.line("    dialog named sheet { aria-label <- \"Sheet\"; %s; p \"sheet\"; button \"Close sheet\" { click -> sheet.close() } }\n    button \"Sheet\" { click -> sheet.%s() }", g.pick("close -> tell(\"closed\")", "cancel(e) -> e.preventDefault()", "close -> on = !on"), g.pick("showModal", "show", "showModal"))
	g.line("    div named tip { popover <- \"%s\"; toggle -> tell(\"tip\"); \"tip\" }\n    button \"Tip\" { click -> tip.%s() }", g.pick("auto", "manual"), g.pick("togglePopover", "showPopover"))
	g.line("    select { multiple <- true; aria-label <- \"Many\"; change(e) -> tell(e.value); each n in [\"a\", \"b\", \"c\"] by n { option `${n}` { value <- n; selected <- has(n) } } }")
	g.line("    input { type <- \"range\"; aria-label <- \"Heat\"; min <- 0; max <- 100; step <- %s; value %s }", g.pick("10", "5"), g.pick("<-> heat", "<- heat; change(e) -> heat = Number(e.value) ?? 0", "<- heat"))
	g.line("    input { aria-label <- \"Text\"; value <- text; %s }", g.pick("input(e) -> text = e.value.toUpperCase()", "change(e) -> text = e.value.trim()", "keydown(e) -> if (e.key == \"Enter\") text = e.value", "input(e) -> if (e.value.length < 5) text = e.value", "beforeinput(e) -> if (e.data == \"1\") e.preventDefault()"))
	g.line("    div { contenteditable <- true; aria-label <- \"Note\"; role <- \"textbox\"; input(e) -> text = e.value }")
	g.line("    label { input { type <- \"checkbox\"; indeterminate <- heat == 50; checked %s }; \"On\" }", g.pick("<-> on", "<- on; click(e) -> e.preventDefault()", "<- heat > 50; change -> heat = 60"))
	g.line("    button \"Names\" { click -> names = %s }", g.pick("names.toReversed()", "names.length > 1 ? names.slice(1) : [\"ash\", \"tin\", \"raw\"]", "[...names, `n${names.length}`]", "names.toSorted((a, b) => a < b ? -1 : 1)"))
	g.line("    output `${log1.join()} ${on} ${text} ${heat} ${names.join()}`\n  }\n}\n\nstart kiln-page")
	return g.String()
}

// handler hears one of the events of the mouse, the keyboard or the focus.
func (g *generating) handler(what string) string {
	event := g.pick("click", "mousedown", "mouseup", "keydown", "keyup", "focus", "blur", "focusin", "focusout", "mouseenter", "mouseleave", "pointerdown", "pointerup", "mouseover", "input", "change", "dblclick", "contextmenu")
	return event + strings.ReplaceAll(g.pick(" -> tell(WHAT)", "(e) -> { tell(WHAT); e.stopPropagation() }", "(e) -> if (e.self) tell(WHAT)", "(e) -> tell(WHAT + e.key + e.value)", "(e) -> { e.preventDefault(); tell(WHAT) }", " -> { tell(WHAT); tell(\"again\") }"), "WHAT", what)
}
