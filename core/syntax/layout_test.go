package syntax

import (
	"strings"
	"testing"
)

// TestLayout: one construct at a time, as written and as laid out. An empty
// want says that it is laid out already.
func TestLayout(t *testing.T) {
	for _, c := range []struct{ text, want string }{
		{"type  Glaze=\"ash\"|\"shino\"", "type Glaze = \"ash\" | \"shino\""},
		{"type T = (string|null)[]", "type T = (string | null)[]"},
		{"type T = string ?", "type T = string?"},
		{"type F = (a:string,b?:number)=>void", "type F = (a: string, b?: number) => void"},
		{"type W = {\n  id: string\n  n?: number\n}", "type W = {\n  id: string,\n  n?: number,\n}"},
		{"type W = {id:string;n:number}", "type W = { id: string, n: number }"},
		{"const a=-1", "const a = -1"},
		{"const a = - -1", "const a = - -1"},
		{"const a = !b&&!(c||d)", "const a = !b && !(c || d)"},
		{"const a=b?c:d", "const a = b ? c : d"},
		{"const a = b\n  ? c\n  : d", ""},
		{"const a = b +\n  c", "const a = b\n  + c"},
		{"const a=[1,2,]", "const a = [1, 2]"},
		{"const a = [\n1,2]", "const a = [\n  1,\n  2,\n]"},
		{"const a = [\n  // one\n  1, // after\n  2,\n]", ""},
		{"const a={...b,c:1,d}", "const a = { ...b, c: 1, d }"},
		{"const a = {}", ""},
		{"const a = `x ${ b } y`", "const a = `x ${b} y`"},
		{"const a = xs.map(x=>x+1)", "const a = xs.map(x => x + 1)"},
		{"const a = xs.reduce((s,x)=>s+x,0)", "const a = xs.reduce((s, x) => s + x, 0)"},
		{"const a = xs\n  .map(x => x)\n  .filter(x => x > 1)", ""},
		{"const a = x?.y?.[0]??1", "const a = x?.y?.[0] ?? 1"},
		{"const a = (1+2)*3", "const a = (1 + 2) * 3"},
		{"derives f(n:number):number=n*2", "derives f(n: number): number = n * 2"},
		{"channel news( text:string )", "channel news(text: string)"},
		{"use   \"../x\"", "use \"../x\""},
		{"start page", ""},
		{"start \"empty\" page{a<-1;b=2}", "start \"empty\" page { a <- 1; b = 2 }"},
		{"law \"l\"{always a;never b}", "law \"l\" { always a; never b }"},
		{"law \"l\" on \"s\" {\n  turn a\n}", ""},
		{"law \"l\" { samples textbox \"M\" [\"a\",\"\"] }", "law \"l\" { samples textbox \"M\" [\"a\", \"\"] }"},
		{"scenario \"s\"{press button \"x\"}", "scenario \"s\" { press button \"x\" }"},
		{"scenario \"s\" {\n  inside row \"a\" { shows 2 checked checkbox \"b\" }\n  type \"x\" into textbox \"n\"\n  choose \"a\" in combobox \"g\"\n  key \"Tab\"\n  set slider \"h\" to 3\n  reports done(1)\n  reports done\n  wait 5\n  call a-b.go(1)\n  reply log.load\n  fail log.load(1) with \"full\"\n  press outside menu \"m\"\n  shows textbox \"n\" holding \"x\" in group \"g\"\n}", ""},
		{"component a-b{}", "component a-b {}"},
		{"component a-b{view{p}}", "component a-b {\n  view { p }\n}"},
		{"component a-b {\n  takes x:string=\"y\"\n  shares v:boolean=false field\n  holds aside n=1\n  holds d from x\n}", "component a-b {\n  takes x: string = \"y\"\n  shares v: boolean = false field\n  holds aside n = 1\n  holds d from x\n}"},
		{"component a-b {\n  emits pick( id:string )\n  emits close\n  offers full\n  offers reset(){a=1}\n}", "component a-b {\n  emits pick(id: string)\n  emits close()\n  offers full\n  offers reset() { a = 1 }\n}"},
		{"component a-b {\n  timer t every 5{a=1}\n  timer u( x:string )after x.length{a=1}\n}", "component a-b {\n  timer t every 5 { a = 1 }\n  timer u(x: string) after x.length { a = 1 }\n}"},
		{"component a-b {\n  uses rack?as r\n  uses rack{full->a=1}\n  supplies rack as s{limit<-1}\n  gathers x-y,z-w as all\n  hears news(t){a=t}\n}", "component a-b {\n  uses rack? as r\n  uses rack { full -> a = 1 }\n  supplies rack as s { limit <- 1 }\n  gathers x-y, z-w as all\n  hears news(t) { a = t }\n}"},
		{"component a-b {\n  derives d=a\n    set v{a=v}\n}", "component a-b {\n  derives d = a\n    set v { a = v }\n}"},
		{"component a-b {\n  action go() {\n    if (a) b()\n    else { c() }\n    for (x of xs) { d(x) }\n  }\n}", ""},
		{"component a-b {\n  action go() {\n    open modal s{a<-1;b(x)->c=x}\n    leave done(1)\n    ask s.o(1){got(x)->a=x;failed(w)->b=w}\n    send news(1)\n    start t\n    stop t()\n    log 1,2\n  }\n}", "component a-b {\n  action go() {\n    open modal s { a <- 1; b(x) -> c = x }\n    leave done(1)\n    ask s.o(1) { got(x) -> a = x; failed(w) -> b = w }\n    send news(1)\n    start t\n    stop t()\n    log 1, 2\n  }\n}"},
		{"component a-b {\n  view {\n    input.big.red named box{value<->x;.on<-y}\n  }\n}", "component a-b {\n  view {\n    input.big.red named box { value <-> x; .on <- y }\n  }\n}"},
		{"component a-b {\n  view {\n    p {\n      a <- 1\n      aria-label <- 2\n\n      bb -> c\n      d(e) -> f\n    }\n  }\n}", "component a-b {\n  view {\n    p {\n      a          <- 1\n      aria-label <- 2\n\n      bb   -> c\n      d(e) -> f\n    }\n  }\n}"},
		{"component a-b {\n  view {\n    when a { p } else when b { q } else {\n      i\n    }\n  }\n}", ""},
		{"component a-b {\n  view {\n    each x at i in xs by x.id{slot row(a<-x){p}}\n    fill row( a ){ p }\n    slot\n  }\n}", "component a-b {\n  view {\n    each x at i in xs by x.id { slot row(a <- x) { p } }\n    fill row(a) { p }\n    slot\n  }\n}"},
		{"// a\n\n\n// b\nconst x = 1 // c\n\n\n\nconst y = 2\n// d", "// a\n\n// b\nconst x = 1 // c\n\nconst y = 2\n// d"},
		{"const a = 1 // x\nconst long = 2 // y", "const a = 1    // x\nconst long = 2 // y"},
		{"component a-b {\n  // only a comment\n}", ""},
		{"component a-b { // behind the brace\n  takes x: string\n\n  // before the end\n}", ""},
		{"component a-b {}\ncomponent c-d {}", "component a-b {}\n\ncomponent c-d {}"},
		{"service s{a()after 3}", "service s {\n  a() after 3\n}"},
	} {
		want := c.want
		if want == "" {
			want = c.text
		}
		got := strings.TrimSuffix(layOut(t, c.text), "\n")
		if got != want {
			t.Errorf("%s\nis laid out as\n%s\nwant\n%s", c.text, got, want)
		}
		if again := strings.TrimSuffix(layOut(t, got), "\n"); again != got {
			t.Errorf("a second time:\n%s", again)
		}
	}
}

// TestWidth: a block on one line that does not fit is opened.
func TestWidth(t *testing.T) {
	long := "component a-b {\n  view { p \"" + strings.Repeat("x", 60) + "\"; p \"" + strings.Repeat("y", 60) + "\" }\n}\n"
	got := layOut(t, long)
	if lines := strings.Split(got, "\n"); len(lines) != 7 {
		t.Errorf("laid out as\n%s", got)
	}
}
