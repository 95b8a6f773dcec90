package syntax

import (
	"fmt"
	"reflect"
	"strings"

	"lien/core/css"
	"lien/core/source"
)

// shape writes what a tree says, without where it stands: every field of
// every node, and the comments in order.
func shape(f *File) string {
	var out strings.Builder
	writeShape(&out, reflect.ValueOf(f.Decls))
	for _, c := range f.Comments {
		fmt.Fprintf(&out, "%s\n", c.Text)
	}
	return out.String()
}

func writeShape(out *strings.Builder, v reflect.Value) {
	switch v.Kind() {
	case reflect.Interface, reflect.Pointer:
		if v.IsNil() {
			out.WriteString("nil ")
			return
		}
		if sheet, ok := v.Interface().(*css.Sheet); ok {
			fmt.Fprintf(out, "%q", sheet.Format())
			return
		}
		writeShape(out, v.Elem())
	case reflect.Slice:
		out.WriteString("[")
		for i := range v.Len() {
			writeShape(out, v.Index(i))
		}
		out.WriteString("]")
	case reflect.Struct:
		fmt.Fprintf(out, "%s{", v.Type().Name())
		for i := range v.NumField() {
			if t := v.Field(i).Type(); t == reflect.TypeFor[At]() || t == reflect.TypeFor[source.Pos]() {
				continue
			}
			writeShape(out, v.Field(i))
		}
		out.WriteString("}")
	default:
		fmt.Fprintf(out, "%v ", v.Interface())
	}
}
