package css

import "testing"

// TestShows: media queries as Media Queries 4 has them, for a screen of 390 by 844 pixels by night.
func TestShows(t *testing.T) {
	s, wrong := ParseScreen("(width: 390px) and (height: 844px) and (prefers-color-scheme: dark) and (prefers-reduced-motion: reduce)")
	if wrong != "" {
		t.Fatal(wrong)
	}
	for query, want := range map[string]Truth{
		"": Yes, "all": Yes, "screen": Yes, "print": No, "not print": Yes, "only screen": Yes, "speech": No,
		"(width: 390px)": Yes, "(min-width: 390px)": Yes, "(min-width: 391px)": No, "(max-width: 24.375rem)": Yes, "(max-width: 24em)": No,
		"(width > 389px)": Yes, "(width >= 390px)": Yes, "(width < 390px)": No, "(width <= 390px)": Yes, "(width = 390px)": Yes,
		"(390px <= width)": Yes, "(391px <= width)": No, "(300px < width < 400px)": Yes, "(300px < width < 390px)": No, "(400px > width > 300px)": Yes,
		"(orientation: portrait)": Yes, "(orientation: landscape)": No, "(height >= 800px)": Yes,
		"(prefers-color-scheme: dark)": Yes, "(prefers-color-scheme: light)": No, "(prefers-reduced-motion)": Yes, "(prefers-contrast)": No,
		"(hover: hover)": Yes, "(hover)": Yes, "(pointer: coarse)": No, "(any-pointer: fine)": Yes, "(forced-colors: active)": No,
		"screen and (min-width: 300px)": Yes, "print and (min-width: 300px)": No, "not screen and (min-width: 300px)": No,
		"(min-width: 300px) and (max-width: 350px)": No, "(min-width: 900px) or (max-width: 400px)": Yes, "not (min-width: 900px)": Yes,
		"(not (min-width: 900px)) and (hover)": Yes, "((min-width: 900px) or (hover)) and (width)": Yes,
		"print, (width: 390px)": Yes, "print, speech": No, "(min-width: 900px), (prefers-color-scheme: dark)": Yes,
		"(color)": Yes, "(aspect-ratio > 1)": Maybe, "(unheard-of: yes)": Maybe, "not (unheard-of: yes)": Maybe, "(unheard-of) and (min-width: 900px)": No,
		"(unheard-of) or (min-width: 300px)": Yes, "(min-width: wide)": Maybe, "(min-width: 1cm)": Yes, "(min-width: 5in)": No, "(width > 0)": Yes, "nonsense nonsense": Maybe,
	} {
		text := "@media " + query + " { a { top: 0 } }"
		sheet, problems := Parse(text)
		if len(problems) > 0 {
			t.Errorf("%s: %v", query, problems)
			continue
		}
		if got := s.Shows(sheet.Items[0].Head); got != want {
			t.Errorf("@media %s: %d, want %d", query, got, want)
		}
	}
}

// TestUnseen: what decides whether something is shown and is not looked at is told, once each.
func TestUnseen(t *testing.T) {
	h := &Hiding{}
	h.Add(sheet(t, `.a:target { display: none } .b:target, .c:hover { display: none }
@container (width > 1px) { .a { display: none } } @media (aspect-ratio > 1) { .b { visibility: hidden } }
@starting-style { .a { display: none } } .d:nth-child(2 of .x) { display: none } .e:fullscreen { color: red }`), "")
	got := h.Unseen(func(name string) bool { return name == "hover" || name == "nth-child" })
	want := []string{":nth-child(2 of .x)", ":target", "@container", "@media (aspect-ratio > 1)", "@starting-style"}
	if len(got) != len(want) {
		t.Fatalf("unseen are %q", got)
	}
	for i := range got {
		if got[i] != want[i] {
			t.Errorf("unseen are %q, want %q", got, want)
		}
	}
	if !h.Asks("hover") || h.Asks("focus") || (*Hiding)(nil).Asks("hover") {
		t.Error("what is asked for is told wrong")
	}
}

// TestUnknown: properties that CSS does not know, but for those that describe something else.
func TestUnknown(t *testing.T) {
	s := sheet(t, `a { colour: red; COLOR: red; --own: 1; -webkit-x: 1; b { colr: 1 } } @font-face { src: x; unicode-range: y } @media print { c { tpo: 0 } }
@keyframes k { to { opcity: 0 } } @property --x { syntax: "*"; inherits: false } @page { size: A4; colr: 1 }`)
	var got []string
	for _, it := range s.Unknown() {
		got = append(got, it.Name)
	}
	if len(got) != 4 || got[0] != "colour" || got[1] != "colr" || got[2] != "tpo" || got[3] != "opcity" {
		t.Errorf("unknown are %q", got)
	}
	frames := 0
	s.Frames(func(name string, _ *Item) {
		if frames++; name != "k" {
			t.Errorf("there are @keyframes %s", name)
		}
	})
	if frames != 1 || s.Rules() != 3 {
		t.Errorf("%d @keyframes, %d rules", frames, s.Rules())
	}
}
