package css

import (
	_ "embed"
	"sort"
	"strings"
)

//go:embed properties.txt
var propertyText string

// properties are those of the published CSS modules, in order.
var properties = strings.Fields(propertyText)

// Properties lists the properties that CSS knows.
func Properties() []string { return properties }

// Known says whether CSS knows a property. Custom ones, and those that carry the name of who made them, are for others to
// know.
func Known(property string) bool {
	property = strings.ToLower(property)
	if strings.HasPrefix(property, "-") {
		return true
	}
	i := sort.SearchStrings(properties, property)
	return i < len(properties) && properties[i] == property
}

// Unknown are the declarations of properties that CSS does not know. What @font-face and the like describe is no property.
func (s *Sheet) Unknown() (list []*Item) {
	s.Each(func(it *Item, around []*Item) {
		if it.Kind != Declaration || Known(it.Name) {
			return
		}
		for _, o := range around {
			if o.Kind == AtRule && !groups(o.Name) && !isKeyframes(o) {
				return
			}
		}
		list = append(list, it)
	})
	return list
}

func isKeyframes(it *Item) bool {
	return it.Kind == AtRule && strings.HasSuffix(strings.ToLower(it.Name), "keyframes")
}

// Frames are the @keyframes of a sheet by their names, which all sheets of a page share.
func (s *Sheet) Frames(visit func(name string, it *Item)) {
	s.Each(func(it *Item, _ []*Item) {
		if isKeyframes(it) {
			visit(plain(it.Head), it)
		}
	})
}
