package design_test

// asked are mistakes in what laws, scenarios and starts ask for, and in what comes
// from outside: services, contexts, data.
var asked = []mistake{
	{
		name: "waiting outside of a law",
		text: page("", `when waiting(log-book.load) { p "w" } // <<`),
		rule: "not-in-scope", words: "can be asked in laws and scenarios only", remedy: "",
	},
	{
		name: "waiting for what is no operation",
		text: page("", "p `${n}`") + "start test-page\nlaw \"l\" { always !waiting(3) } // <<\n",
		rule: "wrong-type", words: "waiting takes what a service is asked", remedy: "write waiting(kiln-log.load)",
	},
	{
		name: "waiting for an operation that is not there",
		text: page("", "p `${n}`") + "start test-page\nlaw \"l\" { always !waiting(log-book.loads) } // <<\n",
		rule: "not-in-scope", words: "log-book", remedy: "did you mean load?",
	},
	{
		name: "running for a timer that is not there",
		text: page("timer forget after 10 { n = 0 }", `button "b" { click -> { start forget; if (running(forgot)) n = 1 } } // <<`),
		rule: "not-in-scope", words: "test-page has no timer forgot", remedy: "did you mean forget?",
	},
	{
		name: "running in a law for a bare name",
		text: page("timer forget after 10 { n = 0 }", `button "b" { click -> start forget }`) + "start test-page\nlaw \"l\" { never running(forget) } // <<\n",
		rule: "wrong-type", words: "in a law running takes the timer of a component", remedy: "write running(news-line.forget)",
	},
	{
		name: "running for a timer of what is no component",
		text: page("timer forget after 10 { n = 0 }", `button "b" { click -> start forget }`) + "start test-page\nlaw \"l\" { never running(the(test-page).n.forget) } // <<\n",
		rule: "wrong-type", words: "this is no component", remedy: "running(the(news-line).forget)",
	},
	{
		name: "running for a member that is no timer",
		text: page("timer forget after 10 { n = 0 }", `button "b" { click -> start forget }`) + "start test-page\nlaw \"l\" { never running(test-page.n) } // <<\n",
		rule: "not-in-scope", words: "test-page has no timer n", remedy: "its timers are: forget",
	},
	{
		name: "was of two values",
		text: page("", "p `${n}`") + "start test-page\nlaw \"l\" { turn was(1, 2) == 1 } // <<\n",
		rule: "payload-differs", words: "was takes one value", remedy: "write was(...)",
	},
	{
		name: "all of what is no name",
		text: page("", "p `${n}`") + "start test-page\nlaw \"l\" { always all(\"x\").length == 0 } // <<\n",
		rule: "wrong-type", words: "all takes a component's name", remedy: "write all(shelf-picker)",
	},
	{
		name: "two laws of one name",
		text: page("", "p `${n}`") + "start test-page\nlaw \"l\" { always true }\nlaw \"l\" { never false } // <<\n",
		rule: "declared-twice", words: "there are two laws \"l\"", remedy: "give one another name",
	},
	{
		name: "a law that leads nowhere in time",
		text: page("", "p `${n}`") + "start test-page\nlaw \"l\" { leads the(test-page).n == 1 to the(test-page).n == 0 } // <<\n",
		rule: "wrong-type", words: "it is not said by when", remedy: "within 5000",
	},
	{
		name: "a bound in a law",
		text: page("", "p `${n}`") + "start test-page\nlaw \"l\" { within the(test-page).n < 3 } // <<\n",
		rule: "wrong-direction", words: "within stands in a start", remedy: "a law about all states is always",
	},
	{
		name: "samples for what is not typed into",
		text: page("", "p `${n}`") + "start test-page\nlaw \"l\" { always true; samples button \"x\" [\"a\"] } // <<\n",
		rule: "not-in-scope", words: "nothing is typed into a button", remedy: "name a field by its role",
	},
	{
		name: "samples in a view",
		text: page("", `samples textbox "x" ["a"] // <<`),
		rule: "unreadable", words: "samples stand in a law or a start", remedy: "move it there",
	},
	{
		name: "two scenarios of one name",
		text: page("", `button "b" { click -> n += 1 }`) + "start test-page\nscenario \"s\" { press button \"b\" }\nscenario \"s\" { press button \"b\" } // <<\n",
		rule: "declared-twice", words: "there are two scenarios \"s\"", remedy: "give one another name",
	},
	{
		name: "a scenario with nothing to start",
		text: page("", `button "b" { click -> n += 1 }`) + "scenario \"s\" { press button \"b\" } // <<\n",
		rule: "not-given", words: "there is no start, so nothing can be pressed", remedy: "write start and the name",
	},
	{
		name: "a report that never comes",
		text: page("emits chose(id: string)", `button "b" { click -> emit chose("a") }`) + "start test-page\nscenario \"s\" { reports chosen(\"a\") } // <<\n",
		rule: "never-reported", words: "never reports chosen", remedy: "did you mean chose?",
	},
	{
		name: "a failure of what never fails",
		text: page("", `button "b" { click -> ask log-book.ping() }`) + "start test-page\nscenario \"s\" { press button \"b\"; fail log-book.ping } // <<\n",
		rule: "never-reported", words: "log-book.ping never fails", remedy: "write fails",
	},
	{
		name: "a failure that says something else",
		text: page("", `button "b" { click -> ask log-book.load("a") { failed(why) -> n = 1 } }`) + "start test-page\nscenario \"s\" { press button \"b\"; fail log-book.load with \"yes\" } // <<\n",
		rule: "never-reported", words: "never fails with this", remedy: "it fails with: \"no\"",
	},
	{
		name: "the nought-th of some buttons",
		text: page("", `button "b" { click -> n += 1 }`) + "start test-page\nscenario \"s\" { press button \"b\" 0 } // <<\n",
		rule: "wrong-type", words: "places are counted from 1", remedy: "write 1 for the first",
	},
	{
		name: "the one and a half-th question",
		text: page("", `button "b" { click -> ask log-book.ping() }`) + "start test-page\nscenario \"s\" { press button \"b\"; reply log-book.ping 1.5 } // <<\n",
		rule: "wrong-type", words: "places are counted from 1", remedy: "2 for the second",
	},
	{
		name: "inside a component that is not there",
		text: page("", `button "b" { click -> n += 1 }`) + "start test-page\nscenario \"s\" { inside test-pages { press button \"b\" } } // <<\n",
		rule: "not-in-scope", words: "there is no component test-pages", remedy: "did you mean test-page?",
	},
	{
		name: "a state without a role",
		text: page("", `button "b" { click -> n += 1 }`) + "start test-page\nscenario \"s\" { shows pressed \"b\" } // <<\n",
		rule: "not-in-scope", words: "there is no role pressed", remedy: "a role follows the state: pressed button",
	},
	{
		name: "a start of nothing",
		text: page("", "p `${n}`") + "start test-pages // <<\n",
		rule: "not-in-scope", words: "there is no component test-pages", remedy: "did you mean test-page?",
	},
	{
		name: "an event in a start",
		text: page("emits chose()", `button "b" { click -> emit chose() }`) + "start test-page { chose -> log \"x\" } // <<\n",
		rule: "wrong-direction", words: "a start gives values", remedy: "write one of these",
	},
	{
		name: "a context supplied twice",
		text: page("supplies rack as own\nsupplies rack as other // <<", "p `${own.chosen == null}`"),
		rule: "declared-twice", words: "test-page supplies rack twice", remedy: "from a component below",
	},
	{
		name: "a context linked where it is used",
		text: "component low-part {\n  uses rack { limit <- 2 } // <<\n  view { p `${rack.chosen == null}` }\n}\n" + page("supplies rack as own", "low-part"),
		rule: "wrong-direction", words: "a context is linked where it is supplied", remedy: "where supplies rack stands",
	},
	{
		name: "content in a context",
		text: page("supplies rack as own { p \"x\" } // <<", "p `${own.chosen == null}`"),
		rule: "content-without-slot", words: "a context has no content", remedy: "write links: name <- value",
	},
	{
		name: "an offer of what is not there",
		text: page("offers nn // <<", "p `${n}`"),
		rule: "not-in-scope", words: "test-page has no member nn to offer", remedy: "it has: ware, open, n, act",
	},
	{
		name: "two contexts of one name",
		text: page("", "p `${n}`") + "context kiln { holds a: number = 0 }\ncontext kiln { holds b: number = 0 } // <<\n",
		rule: "declared-twice", words: "two contexts named kiln", remedy: "",
	},
	{
		name: "two services of one name",
		text: page("", "p `${n}`") + "service fire-log { ping() }\nservice fire-log { ping() } // <<\n",
		rule: "declared-twice", words: "two services named fire-log", remedy: "",
	},
	{
		name: "a reply whose type is not said",
		text: page("", `button "b" { click -> ask fire-log.heat() }`) + "service fire-log {\n  heat() replies 3 // <<\n}\n",
		rule: "wrong-type", words: "heat replies a value, but its type is not said", remedy: "replies ...",
	},
	{
		name: "a reply that is not said",
		text: page("", `button "b" { click -> ask fire-log.heat() { got(x) -> n = x } }`) + "service fire-log {\n  heat(): number // <<\n}\n",
		rule: "wrong-type", words: "heat does not say what it replies", remedy: "write heat(): number replies ...",
	},
	{
		name: "data without a type",
		text: page("", "p `${n}`") + "const wares = file(\"wares.json\") // <<\n",
		rule: "wrong-type", words: "a file does not tell the type of wares", remedy: "write const wares: Ware[]",
	},
	{
		name: "data without a name",
		text: page("", "p `${n}`") + "const wares: Ware[] = file(n) // <<\n",
		rule: "wrong-type", words: "file takes the name of a data file", remedy: "write file(\"wares.json\")",
	},
	{
		name: "a value at the top that is set",
		text: page("", "p `${half(2)}`") + "derives half(x: number) = x / 2 set v { log v } // <<\n",
		rule: "wrong-type", words: "cannot be set", remedy: "move it into a component",
	},
	{
		name: "a component in capitals",
		text: page("", "p `${n}`") + "component Low-Part { view { p \"x\" } } // <<\n",
		rule: "without-hyphen", words: "written in lower case", remedy: "write low-part",
	},
	{
		name: "two views",
		text: "component two-views {\n  view { p \"a\" }\n  view { p \"b\" } // <<\n}\n",
		rule: "declared-twice", words: "two-views has two views", remedy: "keep one of them",
	},
	{
		name: "two fields",
		text: "component two-fields {\n  shares a: string = \"\" field\n  shares b: string = \"\" field // <<\n  view { p `${a}${b}` }\n}\n" + page("", "two-fields { name <- \"x\" }"),
		rule: "declared-twice", words: "it has one field", remedy: "remove field from one of them",
	},
	{
		name: "a class that is linked twice",
		text: page("", "p \"x\" { .on <- open; .on <- n > 1 } // <<"),
		rule: "declared-twice", words: "on is linked twice", remedy: "keep one of them",
	},
	{
		name: "an item and its place of one name",
		text: page("", "each w at w in [ware] by w { p \"x\" } // <<"),
		rule: "declared-twice", words: "w is declared twice here", remedy: "give one of them another name",
	},
	{
		name: "a DOM event with two values",
		text: page("", `input { aria-label <- "i"; keydown(e, f) -> n = 1 } // <<`),
		rule: "payload-differs", words: "a DOM event has one value", remedy: "write keydown(e) -> ...",
	},
	{
		name: "a value that is called for nothing",
		text: page("derives half(x: number) = x / 2", `button "b" { click -> { half(2) } } // <<`),
		rule: "wrong-type", words: "this works out a value, and changes nothing", remedy: "const x = ...",
	},
	{
		name: "an event that is not emitted",
		text: page("emits chose(id: string)", `button "b" { click -> emit chosen("a") } // <<`),
		rule: "not-in-scope", words: "does not emit chosen", remedy: "did you mean chose?",
	},
	{
		name: "a fill outside of a component",
		text: page("", "div { fill row(ware) { p \"x\" } } // <<"),
		rule: "content-without-slot", words: "this fill stands in no component", remedy: "that has slot row",
	},
}
