package design_test

// declared are mistakes in declarations, types, places that are written, and
// steps; the ones about links and events stand beside TestMistakes.
var declared = []mistake{
	{
		name: "two types of one name",
		text: "type Shelf = string\ntype Shelf = number // <<\n",
		rule: "declared-twice", words: "two types named Shelf", remedy: "another name",
	},
	{
		name: "a type with the name of one of the language",
		text: "type Key = { id: string } // <<\n",
		rule: "declared-twice", words: "Key is a type of the language", remedy: "another name",
	},
	{
		name: "a type that starts small",
		text: "type shelf = { id: string } // <<\n",
		rule: "declared-twice", words: "starts with a capital", remedy: "write type Shelf",
	},
	{
		name: "a type of itself",
		text: "type Loop = Loop | null // <<\n",
		rule: "in-a-circle", words: "the type Loop is made of itself", remedy: "Loop[]",
	},
	{
		name: "a type of itself by way of another",
		text: "type Inner = Outer | string\ntype Outer = number | Other // <<\ntype Other = Outer | null\n",
		rule: "in-a-circle", words: "the type Outer is made of itself", remedy: "Outer[]",
	},
	{
		name: "a function that calls itself",
		text: "type Part = { id: string, parts: Part[] }\nderives count(p: Part): number = p.parts.reduce((sum, q) => sum + count(q), 1) // <<\n",
		rule: "in-a-circle", words: "count is worked out from itself", remedy: "name their parent",
	},
	{
		name: "a type that is not there",
		text: page("holds w: Wares? = null // <<", "p `${w == null}`"),
		rule: "not-in-scope", words: "there is no type Wares", remedy: "did you mean Ware?",
	},
	{
		name: "a field that is declared twice",
		text: "type Shelf = {\n  id: string\n  id: number // <<\n}\n",
		rule: "declared-twice", words: "the field id is declared twice", remedy: "remove one",
	},
	{
		name: "a number that is not one of the literals",
		text: page("holds step: -1 | 0 | 1 = 2 // <<", "p `${step}`"),
		rule: "wrong-type", words: "-1 | 0 | 1", remedy: "",
	},
	{
		name: "two constants of one name",
		text: "const most = 3\nconst most = 4 // <<\n",
		rule: "declared-twice", words: "named most", remedy: "another name",
	},
	{
		name: "two channels of one name",
		text: "channel bell(text: string)\nchannel bell(n: number) // <<\n",
		rule: "declared-twice", words: "two channels named bell", remedy: "another name",
	},
	{
		name: "an address without a place",
		text: "service firing-log {\n  light() by GET \"/light\" // <<\n}\n",
		rule: "never-used", words: "does not say where it is", remedy: "write service firing-log at \"/api\"",
	},
	{
		name: "a place without an address",
		text: "service firing-log at \"/api\" {\n  light(n: number) // <<\n}\n",
		rule: "not-given", words: "light does not say how it is asked", remedy: "write light(n: number) by GET \"/light\"",
	},
	{
		name: "a service at a word",
		text: "service firing-log at \"api\" { // <<\n  light() by GET \"/light\"\n}\n",
		rule: "wrong-type", words: "a path of the page's own host", remedy: "write at \"/api\"",
	},
	{
		name: "a method that there is not",
		text: "service firing-log at \"/api\" {\n  light() by FETCH \"/light\" // <<\n}\n",
		rule: "wrong-type", words: "HTTP is asked by GET", remedy: "write one of them",
	},
	{
		name: "an address that is none",
		text: "service firing-log at \"/api\" {\n  light(id: string) by GET \"/light/{id\" // <<\n}\n",
		rule: "wrong-type", words: "this is no address", remedy: "URI template",
	},
	{
		name: "a variable that is no parameter",
		text: "service firing-log at \"/api\" {\n  light(kiln: string) by POST \"/light/{kilm}\" // <<\n}\n",
		rule: "not-in-scope", words: "light has no kilm", remedy: "did you mean kiln?",
	},
	{
		name: "a record in an address",
		text: "type Firing = { heat: number }\nservice firing-log at \"/api\" {\n  light(f: Firing) by GET \"/light{?f}\" // <<\n}\n",
		rule: "wrong-type", words: "cannot stand in an address", remedy: "name a field of it",
	},
	{
		name: "a parameter that is not sent",
		text: "service firing-log at \"/api\" {\n  light(kiln: string) by GET \"/light\" // <<\n}\n",
		rule: "never-used", words: "kiln is not sent", remedy: "write it into the address: /light{?kiln}",
	},
	{
		name: "a style in a context",
		text: "context shelf {\n  holds full: boolean = false\n  style { p { top: 0 } } // <<\n}\n",
		rule: "wrong-type", words: "a context shows nothing", remedy: "move it to the component",
	},
	{
		name: "a style in a view",
		text: page("", "style { p { top: 0 } } // <<"),
		rule: "unreadable", words: "styles stand in the component", remedy: "move it out of the view",
	},
	{
		name: "a style that is no file of styles",
		text: "style file(\"base.txt\") // <<\n",
		rule: "data-differs", words: "style files end in .css", remedy: "name such a file",
	},
	{
		name: "a style that brings in another one",
		text: "style { @import \"x.css\"; } // <<\n",
		rule: "not-in-scope", words: "brings in no other one", remedy: "style file(",
	},
	{
		name: "a screen that is none",
		text: page("", "p \"x\"") + "start \"small\" test-page { screen \"small\" } // <<\n",
		rule: "wrong-type", words: "a screen is written (width: 390px)", remedy: "for example",
	},
	{
		name: "two screens",
		text: page("", "p \"x\"") + "start \"small\" test-page {\n  screen \"(width: 390px)\"\n  screen \"(height: 390px)\" // <<\n}\n",
		rule: "declared-twice", words: "two screens", remedy: "join them with and",
	},
	{
		name: "a class on what is opened",
		text: page("action ask() { open one-part { .wide <- true; ware <- ware; act <- () => act } } // <<", "p \"x\""),
		rule: "not-taken", words: "what is opened takes no classes", remedy: "put .wide on its own element",
	},
	{
		name: "two operations of one name",
		text: "service firing-log {\n  ask()\n  ask(id: string) // <<\n}\n",
		rule: "declared-twice", words: "two operations named ask", remedy: "another name",
	},
	{
		name: "a write to a constant of the component",
		text: page("const most = 3", `button "b" { click -> { most = 4 } } // <<`),
		rule: "wrong-type", words: "most is a constant", remedy: "holds most",
	},
	{
		name: "a write to a constant of the design",
		text: "const most = 3\n" + page("", `button "b" { click -> { most = 4 } } // <<`),
		rule: "wrong-type", words: "most is a constant", remedy: "holds ... = most",
	},
	{
		name: "a write to an action",
		text: page("", `button "b" { click -> { act = 4 } } // <<`),
		rule: "wrong-type", words: "act is an action, not a cell", remedy: "write to a cell",
	},
	{
		name: "a write to a field of what is taken",
		text: page("takes given: Ware", `button "b" { click -> { given.name = "x" } } // <<`),
		rule: "written-from-below", words: "given was handed down", remedy: "emits changeGiven(value: Ware)",
	},
	{
		name: "a write to an item of what is taken",
		text: page("takes given: Ware[]", "each w in given by w.id {\n button \"b\" { click -> { w.kg = 2 } } // <<\n}"),
		rule: "written-from-below", words: "handed down", remedy: "emits changeGiven",
	},
	{
		name: "a write to an item of a part of what is taken",
		text: page("takes given: Ware[]", "each w in given.filter(g => g.kg > 1) by w.id {\n button \"b\" { click -> { w.kg = 2 } } // <<\n}"),
		rule: "written-from-below", words: "handed down", remedy: "emits changeGiven",
	},
	{
		name: "a write to a place in a list",
		text: page("holds all: Ware[] = []", "each w at i in all by w.id {\n button \"b\" { click -> { i = 2 } } // <<\n}"),
		rule: "wrong-type", words: "i is a place in a list", remedy: "write to the list",
	},
	{
		name: "a write to what is worked out in place",
		text: page("", `button "b" { click -> { ware.name.trim() = "x" } } // <<`),
		rule: "wrong-type", words: "cannot be written to", remedy: "cell.field = value",
	},
	{
		name: "a method that events do not have",
		text: page("", `button "b" { click(e) -> { e.preventDefaults() } } // <<`),
		rule: "not-in-scope", words: "an event has no method preventDefaults", remedy: "did you mean preventDefault?",
	},
	{
		name: "a value that is worked out and thrown away",
		text: page("", `button "b" { click -> { ware.name.trim() } } // <<`),
		rule: "wrong-type", words: "changes nothing", remedy: "const x = ...",
	},
	{
		name: "a list that is changed in place",
		text: page("holds all: Ware[] = []", `button "b" { click -> { all.push(ware) } } // <<`),
		rule: "not-in-scope", words: "has no method push", remedy: "write all = [...all, item]",
	},
	{
		name: "a field of another type, of an item that is added",
		text: page("holds all: Ware[] = []\naction put(id: string) {\n all = [\n...all,\n{ id: id, name: n, kg: 1 }] // <<\n}", "p `${all.length}`"),
		rule: "wrong-type", words: "name is a string, but this is a number", remedy: "write `${...}`",
	},
	{
		name: "a method that is nearly there",
		text: page("", `button "b" { click -> { ware.name.trimm() } } // <<`),
		rule: "not-in-scope", words: "has no method trimm", remedy: "did you mean trim?",
	},
	{
		name: "an element that does not exist",
		text: page("", `buton "b" // <<`),
		rule: "not-in-scope", words: "there is no element buton", remedy: "did you mean button?",
	},
	{
		name: "a class that is reported up",
		text: page("", `p { .big <-> open } // <<`),
		rule: "wrong-direction", words: "big cannot be linked with <->", remedy: "write .big <- condition",
	},
	{
		name: "an event that carries another type",
		text: page("action put(text: number) { n = text }", `one-part { ware <- ware; act <- act; pick -> put } // <<`),
		rule: "payload-differs", words: "put takes a number for text, but the event carries a string", remedy: "turn it: pick(id, n) -> put(...)",
	},
	{
		name: "a start that ties",
		text: page("", "p `${n}`") + "start test-page { n <-> 2 } // <<\n",
		rule: "wrong-direction", words: "nobody holds the other end", remedy: "write n = ...",
	},
	{
		name: "a start that hands down what is held",
		text: page("", "p `${n}`") + "start test-page { n <- 2 } // <<\n",
		rule: "wrong-direction", words: "test-page holds n itself", remedy: "write n = ...",
	},
	{
		name: "a start that seeds what is taken",
		text: page("takes limit: number = 1", "p `${limit}`") + "start test-page { limit = 2 } // <<\n",
		rule: "wrong-direction", words: "test-page takes limit", remedy: "write limit <- ...",
	},
	{
		name: "a call from outside of what is not the root",
		text: page("", "p `${n}`") + "start test-page\nscenario \"s\" { call one-part.reset() } // <<\n",
		rule: "not-in-scope", words: "the root, which is test-page", remedy: "write call test-page.reset()",
	},
	{
		name: "a call from outside of what is not offered",
		text: page("", "p `${n}`") + "start test-page\nscenario \"s\" { call test-page.act(\"x\") } // <<\n",
		rule: "not-in-scope", words: "test-page offers no method act", remedy: "",
	},
	{
		name: "an outcome passed on to what takes another type",
		text: page("", `button "b" { click -> ask log-book.load(ware.id) { got -> act } } // <<`),
		rule: "wrong-type", words: "string", remedy: "",
	},
}
