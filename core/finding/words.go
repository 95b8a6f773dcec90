package finding

import (
	"strconv"
	"strings"
)

// Count is a number of things in words: 1 value, 2 values.
func Count(n int, noun string) string {
	if n == 1 {
		return "1 " + noun
	}
	return strconv.Itoa(n) + " " + Plural(noun)
}

// Are is a number of things of which something is said: none is, 1 is, 2 are.
func Are(n int) string {
	switch n {
	case 0:
		return "none is"
	case 1:
		return "1 is"
	}
	return strconv.Itoa(n) + " are"
}

// Plural is a noun for several.
func Plural(noun string) string {
	if strings.HasSuffix(noun, "ch") {
		noun += "e"
	}
	return noun + "s"
}

// Article is a word, which is not empty, with a or an before it.
func Article(word string) string {
	if strings.IndexByte("aeiouAEIOU", word[0]) >= 0 {
		return "an " + word
	}
	return "a " + word
}
